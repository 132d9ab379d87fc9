namespace AnchorBend.Language.Syntax;

/// <summary>Algorithm sections.</summary>
public sealed partial class Parser
{
    AlgorithmSection Algorithm(bool initial)
    {
        var at = Current.At;
        var statements = new List<Statement>();
        while (SkipRemains() || !AtSectionEnd)
        {
            var before = index;
            try
            {
                statements.Add(StatementLine());
            }
            catch (LanguageException e)
            {
                Recover(e, before);
            }
        }

        if (At("else") || At("elseif") || At("elsewhen"))
            throw Unexpected("a statement");
        return new AlgorithmSection(initial, statements, at);
    }

    List<Statement> StatementBody()
    {
        var body = new List<Statement>();
        while (!AtSectionEnd)
            body.Add(StatementLine());
        return body;
    }

    Statement StatementLine()
    {
        Enter();
        var statement = StatementCore();
        Leave();
        Description();
        if (At("annotation"))
            Annotation();
        Expect(";");
        return statement;
    }

    Statement StatementCore()
    {
        var at = Current.At;
        if (Accept("if"))
        {
            var (branches, otherwise) = (new List<(Expression, IReadOnlyList<Statement>)>(), new List<Statement>());
            do branches.Add((ConditionThen(), StatementBody()));
            while (Accept("elseif"));
            if (Accept("else"))
                otherwise = StatementBody();
            ExpectEnd("if");
            return new IfStatement(branches, otherwise, at);
        }

        if (Accept("for"))
        {
            var iterators = Iterators();
            Expect("loop");
            var body = StatementBody();
            ExpectEnd("for");
            return new ForStatement(iterators, body, at);
        }

        if (Accept("while"))
        {
            var condition = Expression();
            Expect("loop");
            var body = StatementBody();
            ExpectEnd("while");
            return new WhileStatement(condition, body, at);
        }

        if (Accept("when"))
        {
            var branches = new List<(Expression, IReadOnlyList<Statement>)>();
            do branches.Add((ConditionThen(), StatementBody()));
            while (Accept("elsewhen"));
            ExpectEnd("when");
            return new WhenStatement(branches, at);
        }

        if (Accept("break"))
            return new BreakStatement(at);
        if (Accept("return"))
            return new ReturnStatement(at);
        var left = Expression();
        if (At("="))
            throw new LanguageException("syntax", "Statements of an algorithm assign with ':='.", Current.At, "Write ':='.");
        if (!At(":="))
            return left is Call call ? new CallStatement(call, at) : throw Unexpected("':='");
        Expect(":=");
        var value = Expression();
        return left switch
        {
            Reference target => new AssignStatement(target, value, at),
            TupleExpression tuple when value is Call many => new AssignManyStatement([.. tuple.Elements.Select(TargetOf)], many, at),
            TupleExpression => throw new LanguageException("syntax", "Several targets take the results of a function call.", value.At),
            _ => throw new LanguageException("syntax", "Only a variable can be assigned to.", at),
        };
    }

    static Reference? TargetOf(Expression? element) =>
        element switch
        {
            null => null,
            Reference target => target,
            _ => throw new LanguageException("syntax", "Only a variable can be assigned to.", element.At),
        };

    Expression ConditionThen()
    {
        var condition = Expression();
        Expect("then");
        return condition;
    }

    void ExpectEnd(string of)
    {
        Expect("end");
        Expect(of);
    }

    /// <summary>Keeps the error and goes on behind the next semicolon.</summary>
    void Recover(LanguageException e, int before)
    {
        errors.Add(e.Error);
        depth = Math.Min(depth, MaximumDepth / 2);
        SkipPast(";");
        if (index == before)
            index++;
    }
}
