using AnchorBend.Compiler.Emission;
using AnchorBend.Compiler.Planning;
using AnchorBend.Language;
using AnchorBend.Language.Terms;

namespace AnchorBend.Compiler.Lowering;

/// <summary>
/// Turns the steps of a sequence into routines of limited size. Slots lie in memory, where the variables lie that they end as, so a long
/// run of steps can be cut anywhere; what decided about steps that were cut is kept in memory as well.
/// </summary>
sealed class StepLowering(ExecutionPlan plan, MemoryLayout layout, SequenceTerm term, int[] slots, string owner)
{
    /// <summary>Steps branch more than terms do, and the just-in-time compiler gives up on methods of some 2,000 branches.</summary>
    const int MostWeight = PlanLowering.ChunkWeight / 3;

    readonly List<Routine> routines = [];
    readonly TermLowering terms = new(plan, layout, new CommonSubexpressions(CommonSubexpressions.Dear))
    {
        Steps = (term.Operands.ToArray(), slots),
    };

    /// <summary>Statements that wait for a routine, and what they are under.</summary>
    readonly List<Statement> waiting = [];
    IReadOnlyList<Test> under = [];
    int weight;

    public List<Routine> Routines()
    {
        foreach (var copy in Begin())
            Add(copy, [], 2);
        Run(term.Sequence.Steps, []);
        Cut();
        return routines;
    }

    /// <summary>Each slot begins with what its variable was before the event.</summary>
    IEnumerable<Statement> Begin()
    {
        var (to, from, count) = (0, 0, 0);
        for (var s = 0; s < slots.Length; s++)
        {
            if (term.Sequence.Initial[s] is not (>= 0 and var initial))
                continue;
            if (terms.Value(term.Operands[initial]) is not PlaceCode { Space: Space.Memory } before)
            {
                yield return new StoreStatement(new PlaceCode(Space.Memory, slots[s]), terms.Value(term.Operands[initial]), -1);
                continue;
            }

            if (count > 0 && slots[s] == to + count && before.Index == from + count)
            {
                count++;
                continue;
            }

            if (count > 0)
                yield return new CopyStatement(to, from, count);
            (to, from, count) = (slots[s], before.Index, 1);
        }

        if (count > 0)
            yield return new CopyStatement(to, from, count);
    }

    void Run(IReadOnlyList<Step> steps, IReadOnlyList<Test> tests)
    {
        foreach (var step in steps)
        {
            WorkBudget.Current.Check();
            if (tests.Count == 0)
                WorkBudget.Current.Operations(Weight(step), owner);
            if (step is ChoiceStep choice && Weight(choice) > MostWeight)
            {
                // Too much for one routine: what decides is kept, and the parts follow one by one.
                var place = new PlaceCode(Space.Memory, layout.Reserve(1));
                Add(
                    new StoreStatement(
                        place,
                        new ChooseCode(terms.Holds(choice.Condition), new NumberCode(1), new NumberCode(0), choice.Origin),
                        -1
                    ),
                    tests,
                    PlanLowering.Weight(choice.Condition)
                );
                Run(choice.Then, [.. tests, new NonZeroTest(place)]);
                Run(choice.Otherwise, [.. tests, new NotTest(new NonZeroTest(place))]);
                continue;
            }

            Add(Lowered(step), tests, Weight(step));
        }
    }

    void Add(Statement statement, IReadOnlyList<Test> tests, int cost)
    {
        if (weight > 0 && weight + cost > MostWeight)
            Cut();
        if (waiting.Count > 0 && !ReferenceEquals(under, tests))
            Close();
        under = tests;
        waiting.Add(statement);
        weight += cost;
    }

    readonly List<Statement> closed = [];

    /// <summary>Puts the tests around what waits.</summary>
    void Close()
    {
        if (waiting.Count == 0)
            return;
        IReadOnlyList<Statement> body = [.. waiting];
        for (var t = under.Count - 1; t >= 0; t--)
            body = [new IfStatement(under[t], body, [])];
        closed.AddRange(body);
        waiting.Clear();
    }

    void Cut()
    {
        Close();
        if (closed.Count == 0)
            return;
        routines.Add(new Routine("steps", [new GuardStatement(EvaluationMode.Event, [.. closed])], terms.Locals, false));
        closed.Clear();
        weight = 0;
    }

    Statement Lowered(Step step) =>
        step switch
        {
            SetStep set => new StoreStatement(new PlaceCode(Space.Memory, slots[set.Slot]), terms.Value(set.Value), -1, set.Origin),
            ChoiceStep choice => new IfStatement(
                terms.Holds(choice.Condition),
                [.. choice.Then.Select(Lowered)],
                [.. choice.Otherwise.Select(Lowered)],
                choice.Origin
            ),
            _ => throw new InvalidOperationException($"unknown step {step.GetType().Name}"),
        };

    static int Weight(Step step) =>
        step switch
        {
            SetStep set => 2 + PlanLowering.Weight(set.Value),
            ChoiceStep choice => 1 + PlanLowering.Weight(choice.Condition) + choice.Then.Sum(Weight) + choice.Otherwise.Sum(Weight),
            _ => 0,
        };
}
