using AnchorBend.Compiler.Emission;
using AnchorBend.Compiler.Lowering;
using AnchorBend.Compiler.Planning;
using AnchorBend.Language.Terms;
using AnchorBend.Modeling.Flat;

namespace AnchorBend.Compiler.Analysis;

/// <summary>
/// Left minus right side of each state relation. Where the variables on the way to the states are few, they are written out, so that the
/// function can be computed at any state without the rest of the model and has a slope along the motion.
/// </summary>
sealed class EventIndicators
{
    /// <summary>Up to this weight a function with its variables written out is cheaper than an evaluation of the model.</summary>
    const int MostWeight = 80;

    /// <summary>Up to this weight of all together: they share a method, which must stay of a size that is optimised.</summary>
    const int MostInAll = 1200;

    readonly ExecutionPlan plan;
    readonly Dictionary<int, Term> values = [];

    public EventIndicators(ExecutionPlan plan, int[] relations)
    {
        this.plan = plan;
        foreach (var block in relations.Length > 0 ? plan.Blocks : [])
            if (block is AssignmentBlock a)
                values[a.Variable] = a.Value;
        Terms = [.. relations.Select(r => TermBuilder.Subtract(plan.Relations[r].Term.Left, plan.Relations[r].Term.Right))];
        Slopes = new Term[relations.Length];
        Array.Fill(Slopes, Term.Zero);
        IsDirect = new bool[relations.Length];
        var written = new Term?[relations.Length];
        var room = MostInAll;
        for (var i = 0; i < written.Length && room > 0; i++)
            if ((written[i] = Written(Terms[i])) is { } term)
                room -= PlanLowering.Weight(term);
        if (room <= 0)
            return;
        for (var i = 0; i < written.Length; i++)
        {
            if (written[i] is not { } term)
                continue;
            IsDirect[i] = true;
            (Terms[i], Slopes[i]) = (term, SlopeOf(term));
            Collect(term, i);
        }
    }

    public Term[] Terms { get; }

    /// <summary>Their derivatives along time; zero where they are not known.</summary>
    Term[] Slopes { get; }

    /// <summary>The functions, the non-smooth points' arguments, and the derivatives of both along time.</summary>
    public Term[] WithSlopes =>
        [.. Terms, .. NonSmoothPoints.Select(k => k.Argument), .. Slopes, .. NonSmoothPoints.Select(k => SlopeOf(k.Argument))];

    /// <summary>Which ones depend on states, time and what is held between events alone.</summary>
    public bool[] IsDirect { get; }

    /// <summary>What passes zero where a function has a non-smooth point, and the function it belongs to.</summary>
    public List<(Term Argument, int Function)> NonSmoothPoints { get; } = [];

    void Collect(Term term, int function)
    {
        if (term is RelationTerm)
            return;
        var nonSmooth = term switch
        {
            OperationTerm { Kind: Operator.Absolute } o => o.Left,
            OperationTerm { Kind: Operator.Minimum or Operator.Maximum } o => TermBuilder.Subtract(o.Left, o.Right),
            ConditionalTerm { Condition: OperationTerm { Kind: >= Operator.Less and <= Operator.GreaterOrEqual } o } =>
                TermBuilder.Subtract(o.Left, o.Right),
            _ => null,
        };
        if (nonSmooth is not null)
            NonSmoothPoints.Add((nonSmooth, function));
        foreach (var operand in term.Operands)
            Collect(operand, function);
    }

    Term SlopeOf(Term term) => TermDerivative.Of(term, Rate);

    Term Rate(Term leaf) =>
        leaf is not VariableTerm v ? Term.Zero
        : v.Index == FlatModel.TimeIndex ? Term.One
        : plan.StateSlot[v.Index] is >= 0 and var slot ? new VariableTerm(plan.Derivatives[slot])
        : Term.Zero;

    /// <summary>The term in states, time and what is held; null where it cannot be written so, or at length only.</summary>
    Term? Written(Term term)
    {
        var room = MostWeight;
        return Write(term, ref room);
    }

    /// <summary>Keeps every operation as it is, so that the function rounds as the model does.</summary>
    Term? Write(Term term, ref int room)
    {
        if (--room < 0)
            return null;
        switch (term)
        {
            // Truths are held between events.
            case ConstantTerm or RelationTerm:
                return term;
            case VariableTerm { Index: var index }:
                if (IsGiven(index))
                    return term;
                return values.TryGetValue(index, out var value) ? Write(value, ref room) : null;
            case PreviousTerm { Index: var index }:
                return plan.DiscreteSlot[index] >= 0 || plan.StateSlot[index] >= 0 ? term : null;
            case DelayTerm:
                return null;
        }

        var operands = new Term[term.Operands.Length];
        for (var i = 0; i < operands.Length; i++)
        {
            if (Write(term.Operands[i], ref room) is not { } operand)
                return null;
            operands[i] = operand;
        }

        return term switch
        {
            OperationTerm { Kind: var kind } => operands.Length == 1
                ? new OperationTerm(kind, operands[0])
                : new OperationTerm(kind, operands[0], operands[1]),
            ConditionalTerm c => new ConditionalTerm(operands[0], operands[1], operands[2], c.Origin),
            TableTerm t => new TableTerm(operands, t.Kind, t.Slope),
            CallTerm f => new CallTerm(f.Function, operands),
            _ => null,
        };
    }

    bool IsGiven(int variable) =>
        variable == FlatModel.TimeIndex || plan.StateSlot[variable] >= 0 || plan.Model.Variables[variable].Role != VariableRole.Continuous;
}
