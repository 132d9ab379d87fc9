using AnchorBend.Modeling.Charts;
using AnchorBend.Modeling.Documents;

namespace AnchorBend.Workbench.Coverage;

/// <summary>
/// Transitions of a chart that can follow each other through a state between them, with how often they did: transition-pair coverage
/// (J. Offutt, Sh. Liu, A. Abdurazik, P. Ammann, "Generating test data from state-based specifications", Software Testing, Verification
/// and Reliability 13, 2003).
/// </summary>
static class TransitionPairs
{
    /// <summary>More are no list that anybody reads.</summary>
    const int Most = 300;

    /// <param name="counts">Of each transition, row by row: how often it had been taken.</param>
    public static IReadOnlyDictionary<string, long> Of(ChartDefinition chart, IReadOnlyDictionary<string, double[]> counts)
    {
        var entering = chart.Transitions.Where(t => counts.ContainsKey(t.Key)).ToLookup(t => t.Value.To ?? t.Value.From, t => t.Key);
        var pairs = new Dictionary<string, long>();
        foreach (var (id, transition) in chart.Transitions)
            if (counts.ContainsKey(id))
                foreach (var before in entering[transition.From])
                    if (pairs.Count < Most)
                        pairs[$"{before}>{id}"] = 0;
        if (pairs.Count == 0)
            return pairs;
        var rows = counts.Values.Min(c => c.Length);
        // By which transition each state was entered last.
        var by = new Dictionary<string, string>();
        for (var row = 0; row < rows; row++)
        {
            List<string> taken = [.. counts.Where(c => c.Value[row] > (row == 0 ? 0 : c.Value[row - 1])).Select(c => c.Key)];
            while (taken.Count > 0)
            {
                // Several of one instant follow each other: what leads into a state goes before what leads out of it.
                var next = taken.Find(t => !taken.Any(o => o != t && To(o) == chart.Transitions[t].From)) ?? taken[0];
                taken.Remove(next);
                if (by.GetValueOrDefault(chart.Transitions[next].From) is { } before && pairs.ContainsKey($"{before}>{next}"))
                    pairs[$"{before}>{next}"]++;
                by[To(next)] = next;
            }
        }

        return pairs;

        string To(string transition) => chart.Transitions[transition].To ?? chart.Transitions[transition].From;
    }
}
