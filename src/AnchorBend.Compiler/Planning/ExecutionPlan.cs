using AnchorBend.Language.Terms;
using AnchorBend.Modeling.Flat;

namespace AnchorBend.Compiler.Planning;

/// <summary>When a block has to be evaluated.</summary>
public enum BlockClass
{
    /// <summary>Derivatives or event functions need it: at every evaluation.</summary>
    Dynamic,

    /// <summary>Only looked at: at output points and events.</summary>
    Output,

    /// <summary>Constant between events: at events only.</summary>
    Event,
}

/// <summary>One step of the plan.</summary>
public abstract class PlanBlock
{
    public BlockClass Class { get; internal set; }

    /// <summary>Discrete variables that the block reads as they are, though they follow from it: an event repeats both until they
    /// agree.</summary>
    public IReadOnlySet<int>? Held { get; internal set; }

    /// <summary>Variables the block determines.</summary>
    public abstract IEnumerable<int> Determines { get; }

    /// <summary>Everything the block computes, in the order of evaluation.</summary>
    public abstract IEnumerable<Term> Terms { get; }

    /// <summary>Parts whose equations are solved here.</summary>
    public required IReadOnlyList<string> Owners { get; init; }

    /// <summary>The part that a finding about this block is told at; empty for the model.</summary>
    public string Owner => Owners.Count > 0 ? Owners[0] : "";
}

/// <summary><c>variable := value</c>.</summary>
public sealed class AssignmentBlock(int variable, Term value) : PlanBlock
{
    public int Variable { get; } = variable;

    public Term Value { get; } = value;

    public override IEnumerable<int> Determines => [Variable];

    public override IEnumerable<Term> Terms => [Value];
}

/// <summary>
/// An algebraic loop: with the torn variables known, the inner assignments follow one by one; Newton's method makes the residuals zero.
/// </summary>
public sealed class LoopBlock : PlanBlock
{
    public required int[] Torn { get; init; }

    public required AssignmentBlock[] Inner { get; init; }

    public required Term[] Residuals { get; init; }

    /// <summary>Whether the residuals are linear in the torn variables, so that one Newton step is exact.</summary>
    public required bool IsLinear { get; init; }

    /// <summary>
    /// Whether nothing is torn: all unknowns are solved for at once with a sparse Jacobian. Long chains of inner assignments would carry
    /// every error of a guess on, larger at each link.
    /// </summary>
    public bool IsSparse { get; init; }

    /// <summary>Where all is solved for at once: how most of the unknowns follow from the start values of a few, so that the first guess
    /// agrees with itself.</summary>
    public IReadOnlyList<AssignmentBlock> Guesses { get; init; } = [];

    public override IEnumerable<int> Determines => [.. Torn, .. Inner.Select(i => i.Variable)];

    public override IEnumerable<Term> Terms => [.. Inner.Select(i => i.Value), .. Residuals];
}

public enum RelationKind
{
    /// <summary>Changes with the states: watched by a event indicator.</summary>
    State,

    /// <summary>Compares time with a value that is constant between events: known in advance.</summary>
    Time,

    /// <summary>Changes at events only.</summary>
    Held,
}

/// <summary>A table whose abscissa grows with time.</summary>
/// <param name="Rate">How fast, by parameters alone.</param>
/// <param name="Held">The number of the abscissa among those that are held.</param>
public sealed record TimeTable(TableTerm Table, Term Rate, int Held);

/// <summary>An event-making relation. Its truth is held in memory between events.</summary>
/// <param name="Compare">For <see cref="RelationKind.Time"/>: the instant at which time passes.</param>
public sealed record PlanRelation(RelationTerm Term, RelationKind Kind, Term? Compare, string Owner)
{
    /// <summary>For a time relation: true while time is at or beyond the instant (else: while before it).</summary>
    public bool TrueAfter { get; init; }
}

/// <summary>What the run does, in order: the sorted form of a flat model.</summary>
public sealed class ExecutionPlan
{
    public required FlatModel Model { get; init; }

    /// <summary>For every variable the one that holds its value; itself where it is no alias.</summary>
    public required int[] Representative { get; init; }

    /// <summary>State variables, in the order of the state vector.</summary>
    public required int[] States { get; init; }

    /// <summary>Derivative variable of each state.</summary>
    public required int[] Derivatives { get; init; }

    public required IReadOnlyList<PlanBlock> Blocks { get; init; }

    public required IReadOnlyList<PlanRelation> Relations { get; init; }

    public required IReadOnlyDictionary<RelationTerm, int> RelationIndex { get; init; }

    /// <summary>Relations in steps that compare time with something: the instant from which on they hold, or up to which.</summary>
    public required IReadOnlyDictionary<RelationTerm, (Term Instant, bool TrueAfter)> StepRelations { get; init; }

    /// <summary>Discrete variables with a value from before the event.</summary>
    public required int[] Discretes { get; init; }

    /// <summary>Changes of states at events, in representatives.</summary>
    public required IReadOnlyList<FlatReinit> Reinits { get; init; }

    /// <summary>Conditions that must hold, in representatives.</summary>
    public required IReadOnlyList<FlatAssertion> Assertions { get; init; }

    /// <summary>Tables read along time: their knots are time events, and between these the stretch they are read from is held.</summary>
    public required IReadOnlyList<TimeTable> TimeTables { get; init; }

    /// <summary>The abscissas of these tables, by their keys, numbered.</summary>
    public required IReadOnlyDictionary<string, int> HeldAbscissas { get; init; }

    /// <summary>For a model of high index: where the states were chosen from, and the derivatives that became algebraic.</summary>
    public (ReducedModel Model, int[] Dummies)? Reduced { get; internal set; }

    /// <summary>
    /// What must hold at the start beside the fixed values of states: the model's initial equations, then fixed values of other variables.
    /// </summary>
    public required IReadOnlyList<FlatEquation> StartEquations { get; init; }

    /// <summary>The variable whose fixed value each of these is; −1 for an equation of the model.</summary>
    public int FixedVariableOf(int startEquation) =>
        startEquation < Model.InitialEquations.Count ? -1 : ((VariableTerm)StartEquations[startEquation].Left).Index;

    /// <summary>Position of each variable in the state vector; −1 for others.</summary>
    public int[] StateSlot { get; private set; } = [];

    /// <summary>Position of each variable in the derivative vector; −1 for others.</summary>
    public int[] DerivativeSlot { get; private set; } = [];

    /// <summary>Position of each discrete variable in <see cref="Discretes"/>; −1 for others.</summary>
    public int[] DiscreteSlot { get; private set; } = [];

    internal void Index()
    {
        StateSlot = Slots(States);
        DerivativeSlot = Slots(Derivatives);
        DiscreteSlot = Slots(Discretes);
    }

    int[] Slots(int[] variables)
    {
        var slots = new int[Model.Variables.Count];
        Array.Fill(slots, -1);
        for (var i = 0; i < variables.Length; i++)
            slots[variables[i]] = i;
        return slots;
    }

    public int RepresentativeOf(string name) => Model.Find(name) is { } v ? Representative[v.Index] : -1;
}
