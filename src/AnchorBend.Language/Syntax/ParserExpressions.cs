namespace AnchorBend.Language.Syntax;

/// <summary>Expressions by precedence: if, range, or, and, not, relation, sum, product, power, primary.</summary>
public sealed partial class Parser
{
    Expression Expression()
    {
        Enter();
        try
        {
            return At("if") ? IfExpression() : Range();
        }
        finally
        {
            Leave();
        }
    }

    Conditional IfExpression()
    {
        var at = Current.At;
        Expect("if");
        var branches = new List<(Expression, Expression)>();
        do
        {
            var condition = Expression();
            Expect("then");
            branches.Add((condition, Expression()));
            if (branches.Count > MaximumDepth)
                throw new LanguageException("nesting", $"More than {MaximumDepth} branches.", at, "Use a table.");
        } while (Accept("elseif"));
        Expect("else");
        return new Conditional(branches, Expression(), at);
    }

    Expression Range()
    {
        var at = Current.At;
        var first = Or();
        if (!At(":") || Peek().Text is "]" or "," or ")")
            return first;
        Expect(":");
        var second = Or();
        return Accept(":") ? new RangeExpression(first, second, Or(), at) : new RangeExpression(first, null, second, at);
    }

    Expression Or() => Chain(And, static t => t == "or" ? BinaryKind.Or : null);

    Expression And() => Chain(Not, static t => t == "and" ? BinaryKind.And : null);

    Expression Not()
    {
        var at = Current.At;
        return Accept("not") ? new Unary(UnaryKind.Not, Relation(), at) : Relation();
    }

    Expression Relation()
    {
        var left = Sum();
        var at = Current.At;
        if (Current.Kind != TokenKind.Symbol)
            return left;
        BinaryKind? kind = Current.Text switch
        {
            "==" => BinaryKind.Equal,
            "<>" => BinaryKind.NotEqual,
            "<" => BinaryKind.Less,
            "<=" => BinaryKind.LessOrEqual,
            ">" => BinaryKind.Greater,
            ">=" => BinaryKind.GreaterOrEqual,
            _ => null,
        };
        if (kind is null)
            return left;
        index++;
        return new Binary(kind.Value, left, Sum(), at);
    }

    Expression Sum()
    {
        var at = Current.At;
        if (Accept("-"))
            return SumTail(new Unary(UnaryKind.Minus, Product(), at));
        if (Accept("+"))
            return SumTail(new Unary(UnaryKind.Plus, Product(), at));
        return SumTail(Product());
    }

    Expression SumTail(Expression first) =>
        Chain(
            Product,
            static t =>
                t switch
                {
                    "+" => BinaryKind.Add,
                    "-" => BinaryKind.Subtract,
                    ".+" => BinaryKind.ElementAdd,
                    ".-" => BinaryKind.ElementSubtract,
                    _ => null,
                },
            first
        );

    Expression Product() => Chain(Power, static t => t switch
            {
                "*" => BinaryKind.Multiply,
                "/" => BinaryKind.Divide,
                ".*" => BinaryKind.ElementMultiply,
                "./" => BinaryKind.ElementDivide,
                _ => null,
            });

    Expression Chain(Func<Expression> operand, Func<string, BinaryKind?> kindOf, Expression? first = null)
    {
        var left = first ?? operand();
        for (var length = 0; Current.Kind is TokenKind.Symbol or TokenKind.Keyword && kindOf(Current.Text) is { } kind; length++)
        {
            var at = Current.At;
            if (length >= MaximumChain)
                throw new LanguageException(
                    "nesting",
                    $"More than {MaximumChain} operators in a row.",
                    at,
                    "Use sum() or product() of an array."
                );
            index++;
            left = new Binary(kind, left, operand(), at);
        }

        return left;
    }

    Expression Power()
    {
        var left = Primary();
        var at = Current.At;
        if (Accept("^"))
            return new Binary(BinaryKind.Power, left, Primary(), at);
        return Accept(".^") ? new Binary(BinaryKind.ElementPower, left, Primary(), at) : left;
    }

    Expression Primary()
    {
        var token = Current;
        switch (token.Kind)
        {
            case TokenKind.Number:
                index++;
                return Measured(new NumberLiteral(token.Value, token.IsInteger, token.At));
            case TokenKind.String:
                index++;
                return new StringLiteral(token.Text, token.At);
            case TokenKind.Identifier:
                return ReferenceOrCall();
        }

        if (token.Kind == TokenKind.Symbol)
        {
            if (Accept("("))
                return Bracketed(token.At);

            if (At("{"))
                return Array();
            if (At("["))
                return Matrix();
            // A sign in front of an operand, as in 2 * -3: the standard wants brackets, users do not.
            if (Accept("-"))
            {
                Enter();
                var operand = Power();
                Leave();
                return new Unary(UnaryKind.Minus, operand, token.At);
            }
        }

        if (token.Kind == TokenKind.Keyword)
        {
            if (Accept("true"))
                return new BooleanLiteral(true, token.At);
            if (Accept("false"))
                return new BooleanLiteral(false, token.At);
            if (Accept("end"))
                return new EndOfDimension(token.At);
            if (token.Text is "der" or "initial" && Peek().Text == "(")
            {
                index++;
                return Arguments(token.Text, token.At);
            }
        }

        throw Unexpected("an expression");
    }

    /// <summary>An expression in brackets, or the list of results of a function call: <c>(a, , b)</c>.</summary>
    Expression Bracketed(Position at)
    {
        var elements = new List<Expression?>();
        do elements.Add(At(",") || At(")") ? null : Expression());
        while (Accept(","));
        Expect(")");
        return elements is [{ } only] ? only
            : elements.Count > 1 ? new TupleExpression(elements, at)
            : throw new LanguageException("syntax", "An expression is expected between the brackets.", at);
    }

    Expression Array()
    {
        var at = Current.At;
        Expect("{");
        Enter();
        var elements = new List<Expression>();
        if (!At("}"))
        {
            elements.Add(Expression());
            if (Accept("for"))
            {
                var iterators = Iterators();
                Expect("}");
                Leave();
                return new Comprehension(elements[0], iterators, at);
            }

            while (Accept(","))
                elements.Add(Expression());
        }

        Expect("}");
        Leave();
        return new ArrayLiteral(elements, at);
    }

    MatrixLiteral Matrix()
    {
        var at = Current.At;
        Expect("[");
        Enter();
        var rows = new List<IReadOnlyList<Expression>>();
        do
        {
            var row = new List<Expression> { Expression() };
            while (Accept(","))
                row.Add(Expression());
            rows.Add(row);
        } while (Accept(";"));
        Expect("]");
        Leave();
        return new MatrixLiteral(rows, at);
    }

    List<(string, Expression)> Iterators()
    {
        var iterators = new List<(string, Expression)>();
        do
        {
            var name = Identifier("the name of an index");
            Expect("in");
            iterators.Add((name, Expression()));
        } while (Accept(","));
        return iterators;
    }

    Expression ReferenceOrCall()
    {
        var at = Current.At;
        if (Peek().Text == "(" && Peek().Kind == TokenKind.Symbol)
            return Arguments(Identifier(), at);
        return ReferenceAt(at);
    }

    Expression ReferenceAt(Position at)
    {
        var parts = new List<ReferencePart>();
        do
        {
            var name = Identifier();
            var subscripts = new List<Expression>();
            if (Accept("["))
            {
                do
                {
                    var start = Current.At;
                    subscripts.Add(At(":") && Peek().Text is "]" or "," && Accept(":") ? new WholeDimension(start) : Expression());
                } while (Accept(","));
                Expect("]");
            }

            parts.Add(new ReferencePart(name, subscripts));
        } while (Accept("."));
        if (At("("))
            return Arguments(string.Join('.', parts.Select(p => p.Name)), at);
        return new Reference(parts, at);
    }

    Reference ReferenceOnly()
    {
        var at = Current.At;
        return ReferenceAt(at) as Reference ?? throw new LanguageException("syntax", "A name is expected here, not a call.", at);
    }

    Call Arguments(string function, Position at)
    {
        Expect("(");
        Enter();
        var positional = new List<Expression>();
        var named = new List<(string, Expression)>();
        if (!At(")"))
        {
            do
            {
                if (Current.Kind == TokenKind.Identifier && Peek().Text == "=" && Peek().Kind == TokenKind.Symbol)
                {
                    var name = Identifier();
                    Expect("=");
                    named.Add((name, Expression()));
                    continue;
                }

                var value = Expression();
                if (Accept("for"))
                    value = new Comprehension(value, Iterators(), value.At);
                positional.Add(value);
            } while (Accept(","));
        }

        Expect(")");
        Leave();
        return new Call(function, positional, named, at);
    }
}
