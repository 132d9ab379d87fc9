namespace AnchorBend.Language.Syntax;

/// <summary>Equation sections.</summary>
public sealed partial class Parser
{
    bool AtSectionEnd =>
        Current.Kind == TokenKind.End
        || (
            Current.Kind == TokenKind.Keyword
            && (
                Current.Text
                    is "end"
                        or "equation"
                        or "protected"
                        or "public"
                        or "annotation"
                        or "algorithm"
                        or "elseif"
                        or "else"
                        or "elsewhen"
                || (Current.Text == "initial" && Peek().Text is "equation" or "algorithm")
            )
        );

    void EquationSection(List<Equation> into)
    {
        while (SkipRemains() || !AtSectionEnd)
        {
            var before = index;
            try
            {
                into.Add(EquationStatement());
            }
            catch (LanguageException e)
            {
                Recover(e, before);
            }
        }

        if (At("else") || At("elseif") || At("elsewhen"))
            throw Unexpected("an equation");
    }

    /// <summary>After an error inside a block: goes over what is left of the block, so that the section goes on behind it.</summary>
    bool SkipRemains()
    {
        var start = index;
        while (errors.Count > 0)
        {
            if (At("end") && Peek().Text is "if" or "for" or "when" or "while")
            {
                index += 2;
                Accept(";");
            }
            else if (At("else"))
                index++;
            else if (At("elseif") || At("elsewhen"))
                while (Current.Kind != TokenKind.End && !Accept("then") && !At(";"))
                    index++;
            else
                break;
        }

        return index > start && !AtSectionEnd;
    }

    List<Equation> Body()
    {
        var body = new List<Equation>();
        while (!AtSectionEnd)
            body.Add(EquationStatement());
        return body;
    }

    Equation EquationStatement()
    {
        Enter();
        var equation = EquationCore();
        Leave();
        Description();
        if (At("annotation") && Annotation() is var annotation && equation is ConnectEquation connect)
            equation = connect with { Annotation = annotation };
        Expect(";");
        return equation;
    }

    Equation EquationCore()
    {
        var at = Current.At;
        if (At("if"))
            return IfOrExpressionEquation(at);
        if (Accept("for"))
        {
            var iterators = Iterators();
            Expect("loop");
            var body = Body();
            Expect("end");
            Expect("for");
            return new ForEquation(iterators, body, at);
        }

        if (Accept("when"))
        {
            var branches = new List<(Expression, IReadOnlyList<Equation>)>();
            do
            {
                var condition = Expression();
                Expect("then");
                branches.Add((condition, Body()));
            } while (Accept("elsewhen"));
            Expect("end");
            Expect("when");
            return new WhenEquation(branches, at);
        }

        if (Accept("connect"))
        {
            Expect("(");
            var first = ReferenceOnly();
            Expect(",");
            var second = ReferenceOnly();
            Expect(")");
            return new ConnectEquation(first, second, at);
        }

        var left = Expression();
        if (Accept("="))
            return new EqualEquation(left, Expression(), at);
        if (left is Call call && !At(":="))
            return new CallEquation(call, at);
        throw Unexpected("'='");
    }

    /// <summary>An equation that starts with <c>if</c>: a block of equations, or an expression before the equal sign.</summary>
    Equation IfOrExpressionEquation(Position at)
    {
        var start = index;
        Expect("if");
        var condition = Expression();
        Expect("then");
        if (IsExpressionBranch())
        {
            index = start;
            var left = Expression();
            Expect("=");
            return new EqualEquation(left, Expression(), at);
        }

        var branches = new List<(Expression, IReadOnlyList<Equation>)> { (condition, Body()) };
        while (Accept("elseif"))
        {
            condition = Expression();
            Expect("then");
            branches.Add((condition, Body()));
        }

        IReadOnlyList<Equation> otherwise = Accept("else") ? Body() : [];
        Expect("end");
        Expect("if");
        return new IfEquation(branches, otherwise, at);
    }

    /// <summary>Looks ahead without effect: an expression followed by else or elseif, with no equal sign.</summary>
    bool IsExpressionBranch()
    {
        var start = index;
        var savedDepth = depth;
        try
        {
            Expression();
            return At("else") || At("elseif");
        }
        catch (LanguageException)
        {
            return false;
        }
        finally
        {
            index = start;
            depth = savedDepth;
        }
    }
}
