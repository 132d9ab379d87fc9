using AnchorBend.Interchange.Sheets;
using AnchorBend.Modeling.Documents;

namespace AnchorBend.Workbench.FaultTrees;

/// <summary>What a fault tree comes to as a table of cells: the top event, its minimal cut sets by rank, how much each event
/// counts.</summary>
public static class FaultTreeTable
{
    public static byte[] Write(FaultTreeNode tree, FaultTreeView view, SpreadsheetForm form)
    {
        string Name(string id) => tree.Events.GetValueOrDefault(id)?.Name ?? id;
        var rows = new List<IReadOnlyList<object?>>
        {
            new object?[] { "what", "events", "probability", "share", "Birnbaum", "times" },
            new object?[] { "top event", tree.Name, view.Probability, null, null, null },
        };
        foreach (var set in view.CutSets)
            rows.Add(["cut set", string.Join(" and ", set.Events.Select(Name)), set.Probability, null, null, null]);
        foreach (var i in view.Importances)
            rows.Add(["event", Name(i.Event), view.Events.TryGetValue(i.Event, out var p) ? p : null, i.Share, i.Birnbaum, i.Achievement]);
        return SpreadsheetFile.Write(rows, form);
    }
}
