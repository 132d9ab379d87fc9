using AnchorBend.Modeling.Documents;

namespace AnchorBend.Workbench.Cases;

/// <summary>Cases as they stand: by their groups, those without one last.</summary>
public static class CaseOrder
{
    public static IEnumerable<(string Id, CaseNode Node)> Of(ModelDocument document) =>
        document
            .Cases.Select(c => (c.Key, c.Value))
            .OrderBy(c =>
                c.Value.Group is { } group && document.CaseGroups.TryGetValue(group, out var found) ? found.Order : double.PositiveInfinity
            )
            .ThenBy(c => c.Value.Group, StringComparer.Ordinal)
            .ThenBy(c => c.Value.Order);
}
