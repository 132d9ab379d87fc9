using AnchorBend.Language.Terms;

namespace AnchorBend.Language.Tests;

/// <summary>Terms drawn by lot over a few variables.</summary>
sealed class TermGenerator(int seed, int variables)
{
    static readonly Operator[] One =
    [
        Operator.Negate,
        Operator.Absolute,
        Operator.Sin,
        Operator.Cos,
        Operator.Exp,
        Operator.Tanh,
        Operator.Atan,
    ];
    static readonly Operator[] Two =
    [
        Operator.Add,
        Operator.Subtract,
        Operator.Multiply,
        Operator.Divide,
        Operator.Minimum,
        Operator.Maximum,
        Operator.Atan2,
    ];

    readonly Random random = new(seed);

    /// <summary>Built without simplification, so that every kind and nesting occurs.</summary>
    public Term Next(int depth) =>
        depth == 0 || random.Next(8) == 0
            ? Leaf()
            : random.Next(9) switch
            {
                0 => new OperationTerm(One[random.Next(One.Length)], Next(depth - 1)),
                1 => new ConditionalTerm(Condition(depth - 1), Next(depth - 1), Next(depth - 1)),
                2 => new TableTerm(
                    [Next(depth - 1), Term.Of(-1), Term.Of(0), Term.Of(1), .. Enumerable.Range(0, 3).Select(_ => Term.Of(random.Next(5)))],
                    (TableKind)random.Next(2),
                    false
                ),
                _ => new OperationTerm(Two[random.Next(Two.Length)], Next(depth - 1), Next(depth - 1)),
            };

    Term Leaf() => random.Next(3) == 0 ? Term.Of(random.Next(-3, 4) * 0.5) : new VariableTerm(random.Next(variables));

    Term Condition(int depth)
    {
        var kind = random.Next(2) == 0 ? Operator.Less : Operator.GreaterOrEqual;
        return random.Next(2) == 0 ? new RelationTerm(kind, Next(depth), Leaf()) : new OperationTerm(kind, Next(depth), Leaf());
    }

    /// <summary>A copy in which one thing is another: a number, a variable, an operator, a kind of comparison.</summary>
    public Term Changed(Term term)
    {
        if (term.Operands.Length > 0 && random.Next(3) > 0)
        {
            var operands = term.Operands.ToArray();
            var which = random.Next(operands.Length);
            operands[which] = Changed(operands[which]);
            return With(term, operands);
        }

        return term switch
        {
            ConstantTerm c => new ConstantTerm(c.Value == 0 ? (double.IsNegative(c.Value) ? 0.0 : -0.0) : Math.BitIncrement(c.Value)),
            VariableTerm v => new VariableTerm(v.Index + 1),
            RelationTerm r => new OperationTerm(r.Kind, r.Left, r.Right),
            OperationTerm { Operands.Length: 2 } o => new OperationTerm(
                o.Kind == Operator.Add ? Operator.Subtract : Operator.Add,
                o.Left,
                o.Right
            ),
            OperationTerm o => new OperationTerm(o.Kind == Operator.Sin ? Operator.Cos : Operator.Sin, o.Left),
            ConditionalTerm c => new ConditionalTerm(c.Condition, c.Otherwise, new OperationTerm(Operator.Negate, c.Then)),
            TableTerm t => new TableTerm(t.Operands.ToArray(), t.Kind == TableKind.Steps ? TableKind.Linear : TableKind.Steps, t.Slope),
            _ => new OperationTerm(Operator.Negate, term),
        };
    }

    public static Term With(Term term, Term[] operands) =>
        term switch
        {
            RelationTerm r => new RelationTerm(r.Kind, operands[0], operands[1]),
            OperationTerm { Operands.Length: 1 } o => new OperationTerm(o.Kind, operands[0]),
            OperationTerm o => new OperationTerm(o.Kind, operands[0], operands[1]),
            ConditionalTerm => new ConditionalTerm(operands[0], operands[1], operands[2]),
            TableTerm t => new TableTerm(operands, t.Kind, t.Slope),
            _ => term,
        };

    /// <summary>A copy of other objects and the same meaning.</summary>
    public static Term Copy(Term term) =>
        term switch
        {
            ConstantTerm c => new ConstantTerm(c.Value),
            VariableTerm v => new VariableTerm(v.Index),
            _ => With(term, [.. term.Operands.ToArray().Select(Copy)]),
        };
}
