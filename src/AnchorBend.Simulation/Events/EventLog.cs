using AnchorBend.Language.Terms;
using AnchorBend.Simulation.Stepping;

namespace AnchorBend.Simulation.Events;

/// <summary>The events of a run: the first of them one by one, all of them counted by part and condition.</summary>
sealed class EventLog(RunProfile profile)
{
    /// <summary>Events that are kept one by one.</summary>
    const int MostEvents = 10_000;

    /// <summary>Conditions up to which it takes less to walk them than to make code for them.</summary>
    const int MostWalked = 16;

    readonly List<RunEvent> events = [];
    double[] truths = [];
    readonly HashSet<string> warned = [];
    Motion motion = null!;
    (string Text, RunProfile.Counter Counter)?[] relationCounters = [];
    RunProfile.Counter[] clockCounters = [];

    public IReadOnlyList<RunEvent> Events => events;

    public RunEvent? Last => events.Count > 0 ? events[^1] : null;

    /// <summary>The run goes on with another motion.Plan.</summary>
    public void Follow(Motion next)
    {
        motion = next;
        relationCounters = new (string, RunProfile.Counter)?[next.Plan.Relations.Count];
        clockCounters = [.. next.Plan.Model.Clocks.Select(c => profile.CounterOf(c.Owner, "sample time"))];
    }

    public void CountTick(int clock) => clockCounters[clock].Count++;

    public string Count(int relation)
    {
        var owner = motion.Plan.Relations[relation].Owner;
        if (relationCounters[relation] is not { } known)
        {
            var text = TermText.Print(motion.Plan.Relations[relation].Term, motion.Plan.Model.NameOf);
            relationCounters[relation] = known = (text, profile.CounterOf(owner, text));
        }

        known.Counter.Count++;
        return known.Text;
    }

    public void Note(double time, int relation)
    {
        var what = Count(relation);
        if (events.Count < MostEvents)
            events.Add(new RunEvent(time, motion.Plan.Relations[relation].Owner, what));
    }

    /// <summary>Stops where a condition that the model asserts does not hold; a warning is noted once.</summary>
    public void CheckAssertions(double time)
    {
        var all = motion.Plan.Assertions;
        var areWalked = all.Count <= MostWalked;
        if (!areWalked)
        {
            if (truths.Length != all.Count)
                truths = new double[all.Count];
            motion.Model.Evaluate(motion.Compiled.Assertions, time, truths);
        }

        for (var a = 0; a < all.Count; a++)
        {
            if ((areWalked ? motion.ValueNow(all[a].Condition) : truths[a]) != 0)
                continue;
            var assertion = all[a];
            if (assertion.IsError)
                throw new SimulationException(
                    new SimulationFailure(
                        "assertion",
                        $"{Sentence(assertion.Message)} (at {time:G8} s)",
                        assertion.Owner,
                        null,
                        time,
                        $"The model demands {TermText.Print(assertion.Condition, motion.Plan.Model.NameOf)}."
                    )
                );
            if (warned.Add(assertion.Message))
                events.Add(new RunEvent(time, assertion.Owner, $"warning: {assertion.Message}"));
        }
    }

    static string Sentence(string text) => text.EndsWith('.') || text.EndsWith('!') ? text : text + ".";
}
