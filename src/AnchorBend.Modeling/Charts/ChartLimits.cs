using AnchorBend.Modeling.Documents;
using AnchorBend.Modeling.Written;

namespace AnchorBend.Modeling.Charts;

/// <summary>What charts may hold.</summary>
static class ChartLimits
{
    const int MostStates = 2000,
        MostTransitions = 3000,
        MostBends = 200,
        LongestText = 10_000;

    /// <exception cref="DocumentException">It holds more, or is broken.</exception>
    public static void Check(ChartDefinition chart)
    {
        if (chart.States is null || chart.Transitions is null)
            throw new DocumentException("A collection of the document is null.");
        DocumentLimits.AtMost($"states in {chart.Name}", chart.States.Count, MostStates);
        DocumentLimits.AtMost($"transitions in {chart.Name}", chart.Transitions.Count, MostTransitions);
        NameLimits.Check(chart);
        Within(chart.Period, "The period");
        foreach (var (id, state) in chart.States)
        {
            if (state is null || string.IsNullOrWhiteSpace(state.Name) || !PartPath.IsId(id) || !Enum.IsDefined(state.Kind))
                throw new DocumentException($"The state '{DocumentLimits.Short(id)}' of {chart.Name} is incomplete.");
            DocumentLimits.Within(state.Name, DocumentLimits.LongestName, "The name of a state");
            if (!double.IsFinite(state.Order + state.X + state.Y + state.Width + state.Height))
                throw new DocumentException($"The state {state.Name} is not on the chart.");
            foreach (var text in (string?[])[state.Entry, state.While, state.Exit])
                Within(text, $"An action of the state {state.Name}");
        }

        foreach (var (id, t) in chart.Transitions)
        {
            if (t?.From is null || t.Bends is null || t.Bends.Contains(null!) || !PartPath.IsId(id) || !double.IsFinite(t.Priority))
                throw new DocumentException($"The transition '{DocumentLimits.Short(id)}' of {chart.Name} is incomplete.");
            DocumentLimits.AtMost("bends of a transition", t.Bends.Count, MostBends);
            foreach (var text in (string?[])[t.Event, t.Guard, t.Action, t.After, t.Every, t.HeldFor])
                Within(text, "A text of a transition");
        }

        // States that stand in each other, or junctions that lead around, are told by the tree.
        _ = new ChartTree(chart);
    }

    static void Within(string? text, string what) => DocumentLimits.Within(text, LongestText, what);
}
