using AnchorBend.Compiler.Emission;
using AnchorBend.Compiler.Planning;
using AnchorBend.Language.Terms;
using AnchorBend.Modeling.Flat;

namespace AnchorBend.Compiler.Analysis;

/// <summary>
/// Where the right side of the equations has discontinuities or jumps that make no events: absolute values, the larger and the smaller of
/// two values, signs and comparisons inside <c>noEvent</c>, and the knots of tables that are not read along time.
/// </summary>
public sealed unsafe class Discontinuities
{
    /// <summary>The number line cut at zero.</summary>
    static readonly Term[] AtZero = [Term.Zero];

    readonly ExecutionPlan plan;
    readonly HashSet<string> known = [];
    readonly List<Term> arguments = [];
    readonly List<string> owners = [];
    readonly List<Term[]> knots = [];
    readonly CodeStretch[] code = [];

    /// <summary>Collects the discontinuities of a plan and makes code for what passes them.</summary>
    internal Discontinuities(CompiledPlan compiled)
    {
        plan = compiled.Plan;
        foreach (var block in plan.Blocks)
        {
            // What is only looked at bends no motion.
            if (block.Class != BlockClass.Dynamic)
                continue;
            foreach (var term in block.Terms)
                Collect(term, block.Owner);
        }

        FollowWaves = arguments.Exists(a =>
            TermBuilder.Any(a, t => t is VariableTerm v && plan.StateSlot[v.Index] < 0 && ChangesBetweenEvents(t))
        );
        if (arguments.Count > 0)
            code = PlanEmitter.Stretches(compiled, arguments);
    }

    public int Count => arguments.Count;

    /// <summary>Whether a discontinuity may be passed there and back without a state that feels it on the way.</summary>
    public bool FollowWaves { get; }

    /// <summary>What passes each discontinuity.</summary>
    public IReadOnlyList<Term> Arguments => arguments;

    /// <summary>The part whose equation has each discontinuity.</summary>
    public IReadOnlyList<string> Owners => owners;

    /// <summary>For each discontinuity the terms of parameters at which its argument passes from one stretch to the next, in rising
    /// order.</summary>
    public IReadOnlyList<Term[]> Knots => knots;

    /// <summary>The arguments after an evaluation at the same time and state.</summary>
    public void Evaluate(ModelRuntime runtime, double time, double* x, double* dx, double* memory, double* result)
    {
        foreach (var stretch in code)
            stretch.Method(runtime, time, x, dx, memory, EvaluationMode.Derivatives, result + stretch.Offset);
    }

    void Collect(Term term, string owner)
    {
        switch (term)
        {
            case RelationTerm:
                // Held between events: what it compares bends nothing.
                return;
            case OperationTerm { Kind: Operator.Absolute or Operator.Sign } o:
                Add(o.Left, AtZero, owner);
                break;
            case OperationTerm { Kind: Operator.Minimum or Operator.Maximum or >= Operator.Less and <= Operator.GreaterOrEqual } o:
                Add(TermBuilder.Subtract(o.Left, o.Right), AtZero, owner);
                break;
            case TableTerm { Kind: TableKind.Linear or TableKind.Steps } table
                when !plan.TimeTables.Any(t => ReferenceEquals(t.Table, table)):
                Add(table.Abscissa, [.. table.Knots], owner);
                break;
        }

        foreach (var operand in term.Operands)
            Collect(operand, owner);
    }

    void Add(Term argument, Term[] at, string owner)
    {
        if (!TermBuilder.Any(argument, ChangesBetweenEvents))
            return;
        if (!known.Add($"{argument}|{string.Join<Term>(' ', at)}"))
            return;
        arguments.Add(argument);
        knots.Add(at);
        owners.Add(owner);
    }

    bool ChangesBetweenEvents(Term term) =>
        term is DelayTerm
        || term is VariableTerm v
            && (
                v.Index == FlatModel.TimeIndex
                || plan.StateSlot[v.Index] >= 0
                || plan.Model.Variables[v.Index].Role == VariableRole.Continuous
            );
}
