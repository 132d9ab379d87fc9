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
            for (var i = 0; i < plan.Discretes.Length; i++)
            {
                var value = memory[plan.Discretes[i]];
                ref var before = ref memory[layout.PreviousBase + i];
                if (value.Equals(before))
                    continue;
                before = value;
                last = plan.Discretes[i];
                changed = true;
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
