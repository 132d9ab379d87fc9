namespace AnchorBend.Language.Syntax;

/// <summary>All expressions that stand in a class, with those inside of others.</summary>
public static class ClassExpressions
{
    public static IEnumerable<Expression> In(ClassDefinition definition) =>
        definition
            .Elements.OfType<ComponentDeclaration>()
            .SelectMany(c => Of(c.Modification).Concat(Of(c.Condition)))
            .Concat(definition.Elements.OfType<ExtendsClause>().SelectMany(e => Of(e.Modification)))
            .Concat(definition.Equations.Concat(definition.InitialEquations).SelectMany(Of))
            .Concat(definition.Algorithms.SelectMany(a => a.Statements).SelectMany(Of));

    static IEnumerable<Expression> Of(Modification? modification) =>
        modification is null ? [] : Of(modification.Binding).Concat(modification.Arguments.SelectMany(a => Of(a.Value)));

    static IEnumerable<Expression> Of(Equation equation) =>
        equation switch
        {
            EqualEquation e => Of(e.Left).Concat(Of(e.Right)),
            IfEquation i => i.Branches.SelectMany(b => Of(b.Condition).Concat(b.Body.SelectMany(Of))).Concat(i.Otherwise.SelectMany(Of)),
            WhenEquation w => w.Branches.SelectMany(b => Of(b.Condition).Concat(b.Body.SelectMany(Of))),
            ForEquation f => f.Iterators.SelectMany(i => Of(i.Range)).Concat(f.Body.SelectMany(Of)),
            CallEquation c => Of(c.Call),
            _ => [],
        };

    static IEnumerable<Expression> Of(Statement statement) =>
        statement switch
        {
            AssignStatement a => Of(a.Value),
            AssignManyStatement a => Of(a.Call),
            IfStatement i => i.Branches.SelectMany(b => Of(b.Condition).Concat(b.Body.SelectMany(Of))).Concat(i.Otherwise.SelectMany(Of)),
            WhenStatement w => w.Branches.SelectMany(b => Of(b.Condition).Concat(b.Body.SelectMany(Of))),
            ForStatement f => f.Iterators.SelectMany(i => Of(i.Range)).Concat(f.Body.SelectMany(Of)),
            WhileStatement w => Of(w.Condition).Concat(w.Body.SelectMany(Of)),
            CallStatement c => Of(c.Call),
            _ => [],
        };

    static IEnumerable<Expression> Of(Expression? expression)
    {
        if (expression is null)
            return [];
        IEnumerable<Expression> inside = expression switch
        {
            Reference r => r.Parts.SelectMany(p => p.Subscripts),
            Unary u => [u.Operand],
            Binary b => [b.Left, b.Right],
            Call c => c.Arguments.Concat(c.Named.Select(n => n.Value)),
            Conditional c => c.Branches.SelectMany(b => (Expression[])[b.Condition, b.Value]).Append(c.Otherwise),
            ArrayLiteral a => a.Elements,
            MatrixLiteral m => m.Rows.SelectMany(r => r),
            RangeExpression r => ((Expression?[])[r.First, r.Step, r.Last]).OfType<Expression>(),
            Comprehension c => c.Iterators.Select(i => i.Range).Append(c.Element),
            TupleExpression t => t.Elements.OfType<Expression>(),
            Quantity q => [q.Value],
            _ => [],
        };
        return inside.SelectMany(Of).Prepend(expression);
    }
}
