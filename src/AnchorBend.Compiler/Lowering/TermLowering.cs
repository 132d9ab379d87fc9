using AnchorBend.Compiler.Planning;
using AnchorBend.Language.Terms;
using AnchorBend.Modeling.Flat;

namespace AnchorBend.Compiler.Lowering;

/// <summary>Turns the terms of one routine into code. The arithmetic is the evaluator's, operation by operation, so results agree bit for
/// bit.</summary>
sealed partial class TermLowering(ExecutionPlan plan, MemoryLayout layout, CommonSubexpressions shared)
{
    /// <summary>How many values stay in locals. More would not fit into registers and be spilled, a second store for each.</summary>
    const int RememberedValues = 10;

    /// <summary>Values of variables that are at hand in locals of the present routine.</summary>
    readonly Dictionary<int, int> locals = [];
    readonly Queue<int> recent = new();

    /// <summary>How many conditions the present place is under: what is computed there may not be at hand later.</summary>
    int conditions;

    /// <summary>The operands of the steps that are lowered, and where their slots lie; nothing outside of steps.</summary>
    public (Term[] Operands, int[] Slots) Steps { get; init; } = ([], []);

    /// <summary>How many locals are used so far.</summary>
    public int Locals { get; private set; }

    public int NewLocal() => Locals++;

    /// <summary>Notes that a variable's value is in a local as well as in memory, until newer ones take its place.</summary>
    public void Remember(int variable, int local)
    {
        locals[variable] = local;
        recent.Enqueue(variable);
        if (recent.Count > RememberedValues)
            locals.Remove(recent.Dequeue());
    }

    /// <summary>Notes a value that is in a local only.</summary>
    public void Keep(int variable, int local) => locals[variable] = local;

    public void Forget()
    {
        locals.Clear();
        recent.Clear();
        shared.Forget();
    }

    /// <summary>Where a variable's value lies.</summary>
    public PlaceCode Place(int variable) =>
        plan.StateSlot[variable] >= 0 ? new PlaceCode(Space.States, plan.StateSlot[variable])
        : plan.DerivativeSlot[variable] >= 0 ? new PlaceCode(Space.Derivatives, plan.DerivativeSlot[variable])
        : new PlaceCode(Space.Memory, variable);

    static PlaceCode Memory(int place) => new(Space.Memory, place);

    Code Load(int variable) =>
        variable == FlatModel.TimeIndex ? new TimeCode()
        : locals.TryGetValue(variable, out var local) ? new LocalCode(local)
        : Place(variable);

    bool IsParameterOnly(Term term) =>
        term switch
        {
            ConstantTerm => true,
            VariableTerm v => v.Index >= 0 && plan.Model.Variables[v.Index].Role == VariableRole.Parameter,
            PreviousTerm or DelayTerm or SlotTerm or OperandTerm => false,
            _ => AllParameters(term.Operands),
        };

    /// <summary>Whether a term of parameters has its value in memory.</summary>
    bool IsHoisted(Term term) => IsParameterOnly(term) && layout.Hoist(term) >= 0;

    bool AllParameters(ReadOnlySpan<Term> operands)
    {
        foreach (var operand in operands)
            if (!IsParameterOnly(operand))
                return false;
        return true;
    }

    /// <summary>The value of a term.</summary>
    public Code Value(Term term)
    {
        switch (term)
        {
            case ConstantTerm c:
                return new NumberCode(c.Value);
            case VariableTerm v:
                return Load(v.Index);
            case PreviousTerm p:
                // The value of a continuous variable before the event is its present one until reinit changes it.
                return plan.DiscreteSlot[p.Index] >= 0 ? Memory(layout.PreviousBase + plan.DiscreteSlot[p.Index]) : Load(p.Index);
            case SlotTerm s:
                return Memory(Steps.Slots[s.Slot]);
            case OperandTerm a:
                return Value(Steps.Operands[a.Number]);
            case DelayTerm d:
                return new DelayCode(d.Delay, d.Duration is { } duration ? Value(duration) : null);
        }

        if (term is not TableTerm && IsParameterOnly(term) && layout.Hoist(term) is var hoisted and >= 0)
            return Memory(hoisted);
        if (!shared.Contains(term, out var number, out var known))
            return Computed(term);
        if (known is { } local)
            return new LocalCode(local);
        var value = Computed(term);
        if (conditions > 0)
            return value;
        var kept = NewLocal();
        shared.Keep(number, kept);
        return new LetCode(kept, value);
    }

    Code Computed(Term term)
    {
        switch (term)
        {
            case OperationTerm { Kind: Operator.Not or Operator.And or Operator.Or or (>= Operator.Less and <= Operator.NotEqual) }
            or RelationTerm:
                return new TruthCode(Holds(term));
            case OperationTerm { Kind: Operator.Power, Right: ConstantTerm { Value: var n } } o
                when n == Math.Floor(n) && Math.Abs(n) is >= 2 and <= TermEvaluator.LargestProduct:
                return new PowerCode(Value(o.Left), (int)n);
            case OperationTerm o:
                return new OperationCode(o.Kind, Value(o.Left), o.Operands.Length == 2 ? Value(o.Right) : null);
            case ConditionalTerm c:
                var condition = Holds(c.Condition);
                conditions++;
                var (then, otherwise) = (Value(c.Then), Value(c.Otherwise));
                conditions--;
                return new ChooseCode(condition, then, otherwise, c.Origin);
            case TableTerm t:
                return Table(t);
            case CallTerm f:
                return new CallCode(f.Function, [.. f.Operands.ToArray().Select(Value)]);
            default:
                throw new InvalidOperationException($"unknown term {term.GetType().Name}");
        }
    }

    TableCode Table(TableTerm t)
    {
        var knots = t.Knots.ToArray();
        var values = t.Values.ToArray();
        if (!AllParameters(knots) || !AllParameters(values))
            throw new InvalidOperationException("a table's knots and values must be parameters");
        var place = layout.HoistRow([.. knots, .. values]);
        var held = plan.HeldAbscissas.TryGetValue(t.Abscissa.Key, out var number) ? layout.AbscissaBase + number : -1;
        return new TableCode(Value(t.Abscissa), place, t.Count, t.Kind, t.Slope, held, t.Origin);
    }
}
