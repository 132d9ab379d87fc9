namespace AnchorBend.Language.Syntax;

/// <summary>The names that an expression speaks of.</summary>
public static class References
{
    /// <summary>All references in reading order, but those to the iterators of a comprehension around them.</summary>
    public static IEnumerable<Reference> In(Expression? expression) => In(expression, []);

    static IEnumerable<Reference> In(Expression? expression, HashSet<string> bound) =>
        expression switch
        {
            Reference r => (bound.Contains(r.Parts[0].Name) ? [] : (Reference[])[r]).Concat(
                r.Parts.SelectMany(p => p.Subscripts).SelectMany(s => In(s, bound))
            ),
            Unary u => In(u.Operand, bound),
            Binary b => In(b.Left, bound).Concat(In(b.Right, bound)),
            Call c => c.Arguments.Concat(c.Named.Select(n => n.Value)).SelectMany(a => In(a, bound)),
            Conditional c => c.Branches.SelectMany(b => In(b.Condition, bound).Concat(In(b.Value, bound))).Concat(In(c.Otherwise, bound)),
            ArrayLiteral a => a.Elements.SelectMany(e => In(e, bound)),
            MatrixLiteral m => m.Rows.SelectMany(r => r).SelectMany(e => In(e, bound)),
            RangeExpression r => In(r.First, bound).Concat(In(r.Step, bound)).Concat(In(r.Last, bound)),
            Comprehension c => In(c.Element, [.. bound, .. c.Iterators.Select(i => i.Name)])
                .Concat(c.Iterators.SelectMany(i => In(i.Range, bound))),
            TupleExpression t => t.Elements.SelectMany(e => In(e, bound)),
            Quantity q => In(q.Value, bound),
            _ => [],
        };

    /// <summary>
    /// The expression with references exchanged, but those to iterators and those inside a value that is typed with a unit; the same object
    /// where none is.
    /// </summary>
    public static Expression With(Expression expression, Func<Reference, Expression> change) => With(expression, change, []);

    static Expression With(Expression expression, Func<Reference, Expression> change, HashSet<string> bound)
    {
        Expression Of(Expression e) => With(e, change, bound);
        List<Expression> All(IReadOnlyList<Expression> list) => [.. list.Select(Of)];
        switch (expression)
        {
            case Reference r:
                return bound.Contains(r.Parts[0].Name) ? r : change(r);
            case Unary u:
                return u with { Operand = Of(u.Operand) };
            case Binary b:
                return b with { Left = Of(b.Left), Right = Of(b.Right) };
            case Call c:
                return c with { Arguments = All(c.Arguments), Named = [.. c.Named.Select(n => (n.Name, Of(n.Value)))] };
            case Conditional c:
                return c with { Branches = [.. c.Branches.Select(b => (Of(b.Condition), Of(b.Value)))], Otherwise = Of(c.Otherwise) };
            case ArrayLiteral a:
                return a with { Elements = All(a.Elements) };
            case MatrixLiteral m:
                return m with { Rows = [.. m.Rows.Select(r => (IReadOnlyList<Expression>)All(r))] };
            case RangeExpression r:
                return r with { First = Of(r.First), Step = r.Step is null ? null : Of(r.Step), Last = Of(r.Last) };
            case Comprehension c:
                return c with
                {
                    Element = With(c.Element, change, [.. bound, .. c.Iterators.Select(i => i.Name)]),
                    Iterators = [.. c.Iterators.Select(i => (i.Name, Of(i.Range)))],
                };
            default:
                return expression;
        }
    }
}
