using AnchorBend.Compiler.Emission;
using AnchorBend.Compiler.Lowering;
using AnchorBend.Compiler.Planning;
using AnchorBend.Modeling.Flat;
using AnchorBend.Simulation.Stepping;

namespace AnchorBend.Simulation.Events;

/// <summary>Decides discrete values and relations at an event.</summary>
sealed unsafe class EventIteration(Motion motion, EventIndicators indicators, TimeEvents times)
{
    const int MostIterations = 200;

    readonly ExecutionPlan plan = motion.Plan;
    readonly ModelInstance model = motion.Model;

    readonly StateReinits reinits = new(motion);

    /// <summary>Flags of the sample clocks in memory.</summary>
    readonly int[] clockFlags = [.. motion.Plan.Model.Clocks.Select(c => c.Flag)];

    /// <summary>Discrete variables that lie side by side, and where their values from before do.</summary>
    readonly (int First, int At, int Count)[] runs = [.. Runs(motion.Plan.Discretes)];

    static IEnumerable<(int First, int At, int Count)> Runs(int[] discretes)
    {
        for (var at = 0; at < discretes.Length; )
        {
            var count = 1;
            while (at + count < discretes.Length && discretes[at + count] == discretes[at] + count)
                count++;
            yield return (discretes[at], at, count);
            at += count;
        }
    }

    /// <summary>Whether the last event set a state or a discrete value.</summary>
    public bool HasChanged { get; private set; }

    /// <summary>A clock ticks at the event that is iterated next.</summary>
    public void Tick(int clock) => model.Memory[clockFlags[clock]] = 1;

    /// <summary>Evaluates until nothing changes any more (Modelica Language Specification 3.6, appendix B).</summary>
    public void Iterate(double time, bool initial)
    {
        var memory = model.Memory;
        var layout = motion.Compiled.Layout;
        HasChanged = false;
        for (var iteration = 0; ; iteration++)
        {
            motion.Evaluate(time, EvaluationMode.Event);
            var changed = reinits.Apply(time);
            foreach (var flag in clockFlags)
                memory[flag] = 0;
            var wasInitial = memory[FlatModel.InitialFlagIndex] != 0;
            memory[FlatModel.InitialFlagIndex] = 0;
            var last = -1;
            foreach (var (first, at, count) in runs)
            {
                // Most have not changed, down to their bits.
                var values = memory + first;
                var before = memory + layout.PreviousBase + at;
                var size = count * sizeof(double);
                if (new ReadOnlySpan<byte>(values, size).SequenceEqual(new ReadOnlySpan<byte>(before, size)))
                    continue;
                for (var i = 0; i < count; i++)
                {
                    if (values[i].Equals(before[i]))
                        continue;
                    before[i] = values[i];
                    last = first + i;
                    changed = true;
                }
            }

            HasChanged |= changed;
            if (!changed && !(initial && wasInitial) && iteration > 0)
                return;
            if (iteration < MostIterations)
                continue;
            var owner = last >= 0 ? plan.Model.Variables[last] : null;
            throw new SimulationException(
                new SimulationFailure(
                    "event-iteration",
                    $"The event at {time:G8} s does not settle: '{owner?.Name}' keeps changing.",
                    owner?.Owner ?? "",
                    owner?.Name,
                    time,
                    "Two conditions switch each other on and off; use pre(…) in one of them or give one hysteresis."
                )
            );
        }
    }

    /// <summary>
    /// Gives every relation its present truth. Generated code leaves out relations in branches not taken; if one kept an old truth, it
    /// would seem to change at once.
    /// </summary>
    public void InitialiseRelations(double time)
    {
        if (plan.Relations.Count == 0)
            return;
        var memory = model.Memory + motion.Compiled.Layout.RelationBase;
        if (indicators.Count > 0)
        {
            fixed (double* g = indicators.Values)
                model.EventIndicators(time, model.States, model.StateDerivatives, g);
            foreach (var k in indicators.Watched)
                if (indicators.Differs(k, indicators.Values[k]))
                    memory[motion.Compiled.StateRelations[k]] = 1 - memory[motion.Compiled.StateRelations[k]];
        }

        foreach (var r in times.Relations)
            memory[r] = time >= motion.ValueNow(plan.Relations[r].Compare!) == plan.Relations[r].TrueAfter ? 1 : 0;
    }
}
