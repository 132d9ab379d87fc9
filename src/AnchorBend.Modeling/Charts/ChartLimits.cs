using AnchorBend.Modeling.Documents;

namespace AnchorBend.Modeling.Charts;

/// <summary>What charts may hold.</summary>
static class ChartLimits
{
    const int MostStates = 2000,
        MostTransitions = 3000,
        MostNames = 1000,
        MostBends = 200,
        LongestText = 10_000;

    /// <exception cref="DocumentException">It holds more, or is broken.</exception>
    public static void Check(ChartDefinition chart)
    {
        if (chart.Names is null || chart.States is null || chart.Transitions is null)
            throw new DocumentException("A collection of the document is null.");
        DocumentLimits.AtMost($"states in {chart.Name}", chart.States.Count, MostStates);
        DocumentLimits.AtMost($"transitions in {chart.Name}", chart.Transitions.Count, MostTransitions);
        DocumentLimits.AtMost($"names in {chart.Name}", chart.Names.Count, MostNames);
        Within(chart.Period, "The period");
        var known = new HashSet<string>();
        foreach (var (id, name) in chart.Names)
        {
            if (name?.Name is null || name.Type is null || !PartPath.IsId(id) || !Enum.IsDefined(name.Kind) || !double.IsFinite(name.Order))
                throw new DocumentException($"The name '{DocumentLimits.Short(id)}' of {chart.Name} is incomplete.");
            DocumentLimits.Within(name.Name, DocumentLimits.LongestName, "A name of a chart");
            if (!known.Add(name.Name))
                throw new DocumentException($"{chart.Name} has two names '{DocumentLimits.Short(name.Name)}'.");
            foreach (var text in (string?[])[name.Type, name.Unit, name.Start, name.Description])
                Within(text, "A text of a name");
        }

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
