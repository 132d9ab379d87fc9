using AnchorBend.Compiler.Analysis;
using AnchorBend.Compiler.Emission;
using AnchorBend.Compiler.Planning;
using AnchorBend.Language.Terms;
using AnchorBend.Modeling.Flat;
using AnchorBend.Numerics;
using AnchorBend.Simulation.Events;

namespace AnchorBend.Simulation;

/// <summary>Events: finding the instant, iterating to a fixed point, knowing the next time event.</summary>
public sealed unsafe partial class Simulator
{
    const int MaximumEventIterations = 200;

    double nextTimeEvent = double.PositiveInfinity;

    /// <summary>The next time event that is not a discontinuity coming out of a delay.</summary>
    double nextOtherEvent = double.PositiveInfinity;

    /// <summary>For each delay those whose output its source feels at once, and the level of what comes out of it now.</summary>
    HashSet<int>[] delayPaths = [];

    int[] levels = [];

    double lastEvent = double.NegativeInfinity;
    int closeEvents;

    /// <summary>Whether the last event set a state or a discrete value.</summary>
    bool changedAtEvent;

    /// <summary>The comparison with time that makes the next time event, by its place among the relations; −1 where it is none.</summary>
    int nextRelation = -1;

    /// <summary>Relations that compare with time, by place.</summary>
    int[] timeRelations = [];

    /// <summary>Variables whose delay changes.</summary>
    int[] varyingDelays = [];

    /// <summary>Flags of the sample clocks in memory.</summary>
    int[] clockFlags = [];

    /// <summary>Variables that lie in memory and are computed there.</summary>
    int[] computed = [];

    (string Text, RunProfile.Counter Counter)?[] relationCounters = [];
    RunProfile.Counter[] clockCounters = [];

    /// <summary>Everything that events ask of a plan, looked up once.</summary>
    void IndexEvents()
    {
        timeRelations = [.. Enumerable.Range(0, plan.Relations.Count).Where(r => plan.Relations[r].Compare is not null)];
        varyingDelays = [.. plan.Model.Delays.Where(d => d.Varying >= 0).Select(d => d.Varying)];
        clockFlags = [.. plan.Model.Clocks.Select(c => c.Flag)];
        relationCounters = new (string, RunProfile.Counter)?[plan.Relations.Count];
        clockCounters = [.. plan.Model.Clocks.Select(c => profile.CounterOf(c.Owner, "sample time"))];
        knots = new double[]?[plan.TimeTables.Count];
        (delayPaths, levels) = (DelayPaths.Find(plan), new int[plan.Model.Delays.Count]);
        computed = [.. plan.Blocks.SelectMany(b => b.Determines).Where(v => plan.StateSlot[v] < 0 && plan.DerivativeSlot[v] < 0)];
    }

    string Count(int relation)
    {
        var owner = plan.Relations[relation].Owner;
        if (relationCounters[relation] is not { } known)
        {
            var text = TermText.Print(plan.Relations[relation].Term, plan.Model.NameOf);
            relationCounters[relation] = known = (text, profile.CounterOf(owner, text));
        }

        known.Counter.Count++;
        return known.Text;
    }

    void Note(double time, int relation)
    {
        var what = Count(relation);
        if (events.Count < 10_000)
            events.Add(new RunEvent(time, plan.Relations[relation].Owner, what));
    }

    void HandleEvent(double time, bool isStateEvent)
    {
        if (options.RecordEvents && options.OutputTimes is null)
            Record(time);
        var isBreakOnly = !isStateEvent && time < nextOtherEvent;
        var lowest = DelayHistory.HighestBreak + 1;
        for (var d = 0; d < levels.Length; d++)
            lowest = Math.Min(lowest, levels[d] = model.Delays[d].PassBreaks(time));
        if (isBreakOnly && lowest > 0)
        {
            HandleBend(time);
            return;
        }

        if (nextRelation >= 0 && time >= ValueNow(plan.Relations[nextRelation].Compare!))
            Count(nextRelation);
        model.FromLeft = false;
        if (time >= ticks.Next)
            TakeTicks(time);
        else
            IterateEvent(time, false);
        PropagateDiscontinuities(time, isBreakOnly && !changedAtEvent);
        ThrowIfNotFinite(time);
        CheckAssertions(time);
        GuardChattering(time);
        known = Known.Nothing;
        ForgetDiscontinuities();
        integrator.Restart(time, model.States, StepAfter(time));
        PlanTimeEvents(time);
        if (options.OutputTimes is null)
            RecordAfterEvent(time);
    }

    /// <summary>
    /// Goes on from an instant at which only derivatives of delayed signals jump. No value does, so nothing is decided anew here: a
    /// condition that has its crossing at this very instant is found as one, and not by what rounding makes of its past on both sides.
    /// </summary>
    void HandleBend(double time)
    {
        model.FromLeft = false;
        changedAtEvent = false;
        PropagateDiscontinuities(time, true);
        ForgetDiscontinuities();
        known = Known.Nothing;
        integrator.Restart(time, model.States, StepAfter(time));
        // Time events are planned from values of now.
        model.Evaluate(time, model.States, model.StateDerivatives, EvaluationMode.Derivatives);
        PlanTimeEvents(time, settle: false);
        if (options.OutputTimes is null)
            RecordAfterEvent(time);
    }

    /// <summary>Events this close to each other, as a part of the step, one after the other.</summary>
    const double Close = 1e-3;
    const int FewClose = 3;

    /// <summary>
    /// The step to try after an event: the one before it, unless events follow each other within a small part of it. Then a mode much
    /// faster than the step decides about them, and the values within a step that leaps over it would mislead.
    /// </summary>
    double StepAfter(double time)
    {
        var (gap, step) = (time - lastEvent, integrator.NextStep);
        lastEvent = time;
        closeEvents = gap < Close * step ? closeEvents + 1 : 0;
        return closeEvents < FewClose
            ? step
            : Math.Min(step, Math.Max(100 * gap, 16 * (Math.BitIncrement(Math.Abs(time)) - Math.Abs(time))));
    }

    /// <summary>What jumps now goes into the delays: what comes out of others, or, where something else happened too, anything.</summary>
    void PropagateDiscontinuities(double time, bool isBreakOnly)
    {
        for (var d = 0; d < levels.Length; d++)
        {
            var level = isBreakOnly ? DelayHistory.HighestBreak + 1 : 0;
            for (var from = 0; from < levels.Length && level > 0; from++)
                level = Math.Min(level, delayPaths[d].Contains(from) ? levels[from] : levels[from] + 1);
            model.Delays[d].Break(time, level);
        }
    }

    /// <summary>The right side of an event; an output point that meets it is this row.</summary>
    void RecordAfterEvent(double time)
    {
        var isOutput = nextOutputTime <= time;
        if (isOutput || options.RecordEvents)
            Record(time);
        if (isOutput)
            PlanOutput(nextOutput + 1);
    }

    void TakeTicks(double time)
    {
        ticks.Take(time, k =>
        {
            model.Memory[clockFlags[k]] = 1;
            clockCounters[k].Count++;
        });
        IterateEvent(time, false);
    }

    /// <summary>Evaluates until nothing changes any more (Modelica Language Specification 3.6, appendix B).</summary>
    void IterateEvent(double time, bool initial)
    {
        var memory = model.Memory;
        var layout = compiled.Layout;
        changedAtEvent = false;
        for (var iteration = 0; ; iteration++)
        {
            model.Evaluate(time, model.States, model.StateDerivatives, EvaluationMode.Event);
            var changed = ApplyReinits(time);
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

            changedAtEvent |= changed;
            if (!changed && !(initial && wasInitial) && iteration > 0)
                return;
            if (iteration < MaximumEventIterations)
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

    double Previous(int variable)
    {
        var slot = plan.DiscreteSlot[plan.Representative[variable]];
        return slot >= 0 ? model.Memory[compiled.Layout.PreviousBase + slot] : model.Value(variable);
    }

    /// <summary>
    /// Gives every relation its present truth. Generated code leaves out relations in branches not taken; if one kept an old truth, it
    /// would seem to change at once.
    /// </summary>
    void InitialiseRelations(double time)
    {
        if (plan.Relations.Count == 0)
            return;
        var memory = model.Memory + compiled.Layout.RelationBase;
        if (zeroes.Length > 0)
        {
            fixed (double* g = zeroes)
                model.EventIndicators(time, model.States, model.StateDerivatives, g);
            foreach (var k in watchedZeros)
                if (Differs(k, zeroes[k]))
                    memory[compiled.StateRelations[k]] = 1 - memory[compiled.StateRelations[k]];
        }

        foreach (var r in timeRelations)
            memory[r] = time >= ValueNow(plan.Relations[r].Compare!) == plan.Relations[r].TrueAfter ? 1 : 0;
    }

    void PlanTimeEvents(double now, bool settle = true)
    {
        if (settle)
            InitialiseRelations(now);
        var next = ticks.Next;
        nextRelation = -1;
        foreach (var r in timeRelations)
        {
            var instant = ValueNow(plan.Relations[r].Compare!);
            if (instant > now && instant < next)
                (next, nextRelation) = (instant, r);
        }

        for (var t = 0; t < plan.TimeTables.Count; t++)
        {
            var (table, rateTerm, held) = plan.TimeTables[t];
            var (abscissa, rate) = (ValueNow(table.Abscissa), ValueNow(rateTerm));
            if (!(rate > 0))
            {
                // Nothing tells when a falling abscissa leaves its stretch, so the table is read as it is.
                model.Memory[compiled.Layout.AbscissaBase + held] = double.NaN;
                continue;
            }

            // Sums of times round, and the knot must have been reached.
            var knot = now + (TableLookup.NextKnot(abscissa, KnotsOf(t), table.Kind) - abscissa) / rate;
            knot += 2 * (Math.BitIncrement(Math.Abs(knot)) - Math.Abs(knot));
            if (knot > now && knot < next)
                next = knot;
        }

        nextOtherEvent = next;
        foreach (var delay in model.Delays)
            next = Math.Min(next, delay.NextBreak);

        nextTimeEvent = next;
    }

    /// <summary>Knots of the tables read along time; they hold for the run where parameters alone decide them.</summary>
    double[]?[] knots = [];

    double[] KnotsOf(int table)
    {
        if (knots[table] is { } known)
            return known;
        var terms = plan.TimeTables[table].Table.Knots.ToArray();
        double[] values = [.. terms.Select(ValueNow)];
        if (Array.TrueForAll(terms, k => Dependence.OnParameters(k, plan.Model)))
            knots[table] = values;
        return values;
    }

    TermEvaluator? now;

    /// <summary>The value of a term after an evaluation in event mode.</summary>
    double ValueNow(Term term) =>
        (now ??= new TermEvaluator(v => model.Value(v), Previous, d => model.Delayed(d, model.Memory[FlatModel.TimeIndex]))).Evaluate(term);

    void GuardChattering(double time)
    {
        if (!IsChattering(time))
            return;
        var recent = events.Count > 0 ? events[^1] : null;
        throw new SimulationException(
            new SimulationFailure(
                "chattering",
                $"{chatterCount} events within {time - crowdStart:G3} s at {time:G8} s: {recent?.What ?? "a condition"} switches to and fro.",
                recent?.Part ?? "",
                null,
                time,
                "Give the switch hysteresis, or put a lag behind it."
            )
        );
    }

    /// <summary>Counts one more switching; whether too many came without progress worth mentioning.</summary>
    bool IsChattering(double time)
    {
        if (chatterCount > 0 && time - crowdStart <= 1e-7 * (options.End - options.Start))
            return ++chatterCount >= options.ChatteringLimit;
        (chatterCount, crowdStart) = (1, time);
        return false;
    }
}
