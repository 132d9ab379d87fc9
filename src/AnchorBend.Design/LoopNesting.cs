using AnchorBend.Compiler.Preparation;

namespace AnchorBend.Design;

/// <summary>Loops inside one another: a controller whose output is the set-point of another one, through whatever lies between, closes its
/// loop around the other's.</summary>
public static class LoopNesting
{
    /// <summary>For each controller the one whose loop lies next around its own; null for the outermost ones.</summary>
    /// <param name="parts">Paths of parts with a set-point r, a measured value y and an output u.</param>
    public static IReadOnlyDictionary<string, string?> Of(PreparedModel prepared, IReadOnlyList<string> parts)
    {
        var around = parts.ToDictionary(p => p, _ => (string?)null);
        if (prepared.Compiled?.Plan is not { } plan)
            return around;
        int? Place(string name) => prepared.Model.Find(name) is { } v ? plan.Representative[v.Index] : null;
        var flow = new SignalFlow(plan);
        // What comes back as a measured value is no set-point.
        var measured = parts.Select(p => Place($"{p}.y")).OfType<int>().ToHashSet();
        var reach = parts.ToDictionary(
            p => p,
            p => Place($"{p}.u") is { } output ? flow.From(output, measured.Where(m => m != output).ToHashSet()) : []
        );
        foreach (var inner in parts)
        {
            var outer = parts.Where(p => p != inner && Place($"{inner}.r") is { } r && reach[p].Contains(r)).ToList();
            // The next one around is inside all the others.
            around[inner] = outer.MaxBy(p => outer.Count(o => o != p && Place($"{p}.r") is { } r && reach[o].Contains(r)));
        }

        return around;
    }
}
