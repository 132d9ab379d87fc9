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
}
