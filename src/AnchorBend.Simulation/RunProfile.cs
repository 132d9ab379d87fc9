using System.Runtime.CompilerServices;
using AnchorBend.Compiler.Emission;
using AnchorBend.Compiler.Planning;
using AnchorBend.Language.Terms;

namespace AnchorBend.Simulation;

/// <summary>Why a run takes its time, with names: what made events, which states kept the steps short, where the arithmetic goes.</summary>
sealed class RunProfile
{
    /// <summary>Steps between two looks at the limiting state.</summary>
    const int LookEvery = 8;

    const int MostEntries = 12;

    /// <summary>How often one thing happened.</summary>
    internal sealed class Counter
    {
        public long Count;
    }

    readonly Dictionary<(string Part, string What), Counter> events = [];
    readonly Dictionary<int, long> limits = [];
    long looks,
        steps;

    /// <summary>The counter of one kind of event, to be kept by who counts.</summary>
    public Counter CounterOf(string part, string what) =>
        events.TryGetValue((part, what), out var counter) ? counter : events[(part, what)] = new Counter();

    /// <summary>Notes a step.</summary>
    [MethodImpl(MethodImplOptions.AggressiveInlining)]
    public void Step(Numerics.Integration.Integrator integrator, ExecutionPlan plan)
    {
        if (++steps % LookEvery == 0)
            Look(integrator, plan);
    }

    void Look(Numerics.Integration.Integrator integrator, ExecutionPlan plan)
    {
        var slot = integrator.LimitingState;
        if (slot < 0)
            return;
        looks++;
        limits[plan.States[slot]] = limits.GetValueOrDefault(plan.States[slot]) + 1;
    }

    public IReadOnlyList<EventCount> Events() =>
        [
            .. events
                .Where(e => e.Value.Count > 0)
                .OrderByDescending(e => e.Value.Count)
                .ThenBy(e => e.Key.Part, StringComparer.Ordinal)
                .Take(MostEntries)
                .Select(e => new EventCount(e.Key.Part, e.Key.What, e.Value.Count)),
        ];

    public IReadOnlyList<PartShare> Limits(ExecutionPlan plan) =>
        [
            .. limits
                .OrderByDescending(l => l.Value)
                .ThenBy(l => l.Key)
                .Take(MostEntries)
                .Select(l => new PartShare(plan.Model.Variables[l.Key].Owner, plan.Model.NameOf(l.Key), (double)l.Value / looks)),
        ];

    /// <param name="iterations">Newton iterations for each solution of each loop.</param>
    public static IReadOnlyList<PartShare> Work(CompiledPlan compiled, Func<int, double> iterations)
    {
        var work = new Dictionary<string, double>();
        foreach (var block in compiled.Plan.Blocks)
        {
            if (block.Class != BlockClass.Dynamic)
                continue;
            var weight =
                block is AssignmentBlock a ? Size(a.Value)
                : block is LoopBlock l
                    ? (l.Inner.Sum(i => Size(i.Value)) + l.Residuals.Sum(Size))
                        * (l.IsSparse ? 4 : 1 + l.Torn.Length)
                        * Math.Max(1, iterations(Array.IndexOf(compiled.Loops, l)))
                : 0;
            foreach (var owner in block.Owners)
                work[owner] = work.GetValueOrDefault(owner) + weight / block.Owners.Count;
        }

        var all = Math.Max(1e-300, work.Values.Sum());
        return
        [
            .. work.OrderByDescending(w => w.Value)
                .ThenBy(w => w.Key, StringComparer.Ordinal)
                .Take(MostEntries)
                .Select(w => new PartShare(w.Key, w.Key, w.Value / all)),
        ];
    }

    static double Size(Term term)
    {
        // Functions such as a sine cost as much as some ten additions.
        double size = term switch
        {
            OperationTerm { Kind: >= Operator.SquareRoot or Operator.Power or Operator.Atan2 } => 10,
            TableTerm => 15,
            CallTerm => 60,
            DelayTerm => 30,
            _ => 1,
        };
        if (term is TableTerm t)
            return size + Size(t.Abscissa);
        foreach (var operand in term.Operands)
            size += Size(operand);
        return size;
    }
}
