using System.Text.Json;
using AnchorBend.Modeling.Documents;
using AnchorBend.Workbench.Studies;
using AnchorBend.Workbench.Views;

namespace AnchorBend.Workbench.FaultTrees;

/// <summary>The least sets of faults that a search has found, as a fault tree: a gate for each set of several, one over all.</summary>
public static class FoundTree
{
    static readonly JsonSerializerOptions Json = new(JsonSerializerDefaults.Web);

    /// <exception cref="DocumentException">The study looks for no sets of faults, or has found none.</exception>
    public static ActionView Of(StudyJob job, ModelDocument present)
    {
        var sets = job.CutSets() ?? throw new DocumentException("Only a search for sets of faults makes a fault tree.");
        if (sets.Count == 0)
            throw new DocumentException("No set of faults was found, so there is nothing that a tree could tell.");
        var (events, gates) = (new Dictionary<string, TreeEventNode>(), new Dictionary<string, TreeGateNode>());
        var factors = job.Run.Table.Factors;
        string EventOf(int factor)
        {
            var id = $"e{factor + 1}";
            var fault = factors[factor].Target.StartsWith(RowSettings.Fault, StringComparison.Ordinal)
                ? factors[factor].Target[RowSettings.Fault.Length..]
                : null;
            events.TryAdd(id, new TreeEventNode { Name = factors[factor].Label, Fault = fault });
            return id;
        }

        var inputs = new List<string>();
        foreach (var set in sets)
        {
            List<string> ids = [.. set.Select(EventOf)];
            if (ids.Count == 1)
            {
                inputs.Add(ids[0]);
                continue;
            }

            var gate = $"g{gates.Count + 1}";
            gates[gate] = new TreeGateNode
            {
                Name = string.Join(" and ", ids.Select(i => events[i].Name)),
                Kind = "and",
                Inputs = ids,
            };
            inputs.Add(gate);
        }

        var requirement = job.Study.Search?.Worst is { Length: > 0 } id ? id : null;
        var name =
            requirement is not null && present.Requirements.TryGetValue(requirement, out var of) ? $"{of.Name}: missed" : job.Study.Name;
        gates["top"] = new TreeGateNode
        {
            Name = name,
            Kind = "or",
            Inputs = inputs,
        };
        var key = "t1";
        for (var n = 2; present.FaultTrees.ContainsKey(key); n++)
            key = $"t{n}";
        var tree = new FaultTreeNode
        {
            Name = name,
            Order = present.FaultTrees.Values.Select(t => t.Order).DefaultIfEmpty().Max() + 1,
            Top = "top",
            Requirement = requirement,
            Gates = gates,
            Events = events,
        };
        return new ActionView(
            "Make a fault tree of what was found",
            [new PatchOperation("add", DocumentPath.Of("faultTrees", key), JsonSerializer.SerializeToNode(tree, Json))]
        );
    }
}
