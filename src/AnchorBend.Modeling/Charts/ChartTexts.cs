using AnchorBend.Modeling.Written;

namespace AnchorBend.Modeling.Charts;

/// <summary>What the texts of states and transitions read and set.</summary>
static class ChartTexts
{
    public static WrittenTexts Of(ChartStateNode state) =>
        Together([WrittenTexts.OfStatements(state.Entry), WrittenTexts.OfStatements(state.While), WrittenTexts.OfStatements(state.Exit)]);

    public static WrittenTexts Of(ChartTransitionNode transition) =>
        Together([
            WrittenTexts.OfStatements(transition.Action),
            .. new[] { transition.Guard, transition.After, transition.Every, transition.HeldFor }.Select(WrittenTexts.OfCondition),
            transition.Event is { } waits ? WrittenTexts.None with { Reads = new HashSet<string> { waits } } : WrittenTexts.None,
        ]);

    public static WrittenTexts Together(IEnumerable<WrittenTexts> all)
    {
        var (reads, sets) = (new HashSet<string>(), new HashSet<string>());
        foreach (var texts in all)
        {
            reads.UnionWith(texts.Reads);
            sets.UnionWith(texts.Sets);
        }

        return new WrittenTexts(reads, sets);
    }
}
