namespace AnchorBend.Modeling.Documents;

/// <summary>What fault trees may hold.</summary>
static class FaultTreeLimits
{
    const int MostTrees = 200,
        MostPlaces = 2000,
        MostInputs = 200,
        LongestText = 10_000;

    public static void Hold(ModelDocument document)
    {
        if (document.FaultTrees is not { } trees)
            throw new DocumentException("A collection of the document is null.");
        DocumentLimits.AtMost("fault trees", trees.Count, MostTrees);
        foreach (var (id, tree) in trees)
        {
            if (!PartPath.IsId(id) || tree?.Name is not { Length: > 0 } name)
                throw new DocumentException($"The fault tree '{DocumentLimits.Short(id)}' is incomplete.");
            Check(name, tree);
        }
    }

    static void Check(string name, FaultTreeNode tree)
    {
        var incomplete = new DocumentException($"The fault tree '{DocumentLimits.Short(name)}' is incomplete.");
        DocumentLimits.Within(name, DocumentLimits.LongestName, "The name of a fault tree");
        DocumentLimits.Within(tree.Description, LongestText, "The description of a fault tree");
        DocumentLimits.Within(tree.Requirement, DocumentLimits.LongestName, "The requirement of a fault tree");
        if (tree is not { Top: not null, Duration: not null, Gates: { } gates, Events: { } events } || !double.IsFinite(tree.Order))
            throw incomplete;
        DocumentLimits.Within(tree.Duration, DocumentLimits.LongestName, "The time of a fault tree");
        DocumentLimits.AtMost($"gates and events of {name}", gates.Count + events.Count, MostPlaces);
        foreach (var (id, gate) in gates)
        {
            if (
                !PartPath.IsId(id)
                || gate is not { Name.Length: > 0, Kind: "and" or "or" or "vote", Least: >= 1, Inputs: { } inputs }
                || inputs.Any(i => i is null)
            )
                throw incomplete;
            DocumentLimits.Within(gate.Name, DocumentLimits.LongestName, "The name of a gate");
            DocumentLimits.AtMost($"inputs of {gate.Name}", inputs.Count, MostInputs);
        }

        foreach (var (id, e) in events)
        {
            if (!PartPath.IsId(id) || gates.ContainsKey(id) || e is not { Name.Length: > 0, Value: not null })
                throw incomplete;
            DocumentLimits.Within(e.Name, DocumentLimits.LongestName, "The name of an event");
            DocumentLimits.Within(e.Value, DocumentLimits.LongestName, "The rate of an event");
            DocumentLimits.Within(e.Fault, DocumentLimits.LongestName, "The fault of an event");
        }
    }
}
