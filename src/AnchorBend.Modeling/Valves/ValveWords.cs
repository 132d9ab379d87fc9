namespace AnchorBend.Modeling.Valves;

/// <summary>What a valve does, in words.</summary>
public static class ValveWords
{
    /// <summary>A path as it is called in tables.</summary>
    public static string Way(ValveDefinition valve, ValvePathNode path) => $"{Port(valve, path.From)} → {Port(valve, path.To)}";

    /// <summary>What is open between two positions; null where the overlap of each path says it.</summary>
    public static string? Between(ValveDefinition valve) =>
        valve.Positions.Count < 2
            ? null
            : valve.Transition switch
            {
                Transition.Closed => "Between two positions everything is closed.",
                Transition.Open => "Between two positions the paths of both are open.",
                _ => null,
            };

    static string Port(ValveDefinition valve, string id) => valve.Ports.GetValueOrDefault(id)?.Name ?? "?";

    /// <summary>What a position joins and closes.</summary>
    public static string Of(ValveDefinition valve, ValvePositionNode position)
    {
        var joined = position
            .Paths.Values.OrderBy(p => p.Order)
            .Select(p =>
                $"{Port(valve, p.From)} goes to {Port(valve, p.To)}"
                + p.Kind switch
                {
                    PathKind.Check => " through a check valve",
                    PathKind.Orifice => " through an orifice",
                    _ => "",
                }
            )
            .ToList();
        var used = position.Paths.Values.SelectMany(p => (string[])[p.From, p.To]).ToHashSet();
        var closed = valve.OrderedPorts.Where(p => !used.Contains(p.Key)).Select(p => p.Value.Name).ToList();
        if (closed.Count > 0)
            joined.Add(closed.Count == 1 ? $"{closed[0]} is closed" : $"{string.Join(", ", closed[..^1])} and {closed[^1]} are closed");
        return joined.Count == 0 ? "Nothing is joined." : $"{string.Join("; ", joined)}.";
    }
}
