using AnchorBend.Modeling.Written;

namespace AnchorBend.Modeling.Valves;

/// <summary>What can be seen in a valve without running it.</summary>
sealed class ValveReview(ValveDefinition valve)
{
    readonly List<WrittenFinding> found = [];

    void Tell(Severity severity, string code, string message, string? item, string suggestion) =>
        found.Add(new WrittenFinding(severity, "valve-" + code, message, item, suggestion));

    public IReadOnlyList<WrittenFinding> All()
    {
        var used = valve.Paths().SelectMany(p => (string[])[p.Path.From, p.Path.To]).ToHashSet();
        foreach (var (id, port) in valve.OrderedPorts)
            if (!used.Contains(id))
                Tell(
                    Severity.Warning,
                    "unused-port",
                    $"The port {port.Name} is joined in no position.",
                    id,
                    "Draw a path to it, or delete it."
                );
        if (!valve.Paths().Any())
            Tell(Severity.Warning, "empty", $"The valve '{valve.Name}' joins nothing yet.", null, "Draw paths between its ports.");
        foreach (var (id, position) in valve.OrderedPositions)
        {
            var twice = position
                .Paths.Values.GroupBy(p => string.CompareOrdinal(p.From, p.To) < 0 ? (p.From, p.To) : (p.To, p.From))
                .FirstOrDefault(g => g.Count() > 1);
            if (twice is not null)
                Tell(
                    Severity.Warning,
                    "two-paths",
                    $"In the position {position.Name} two paths join {ValveWords.Way(valve, twice.First())}.",
                    id,
                    "Delete one of them; their flows add up."
                );
        }

        if (valve.Actuation == Actuation.PilotOneSide && valve.NeutralAt > 0 && valve.NeutralAt < valve.Positions.Count - 1)
            Tell(
                Severity.Warning,
                "one-side",
                "Pressure at one end moves the spool to one side only: the positions on the other side are never reached.",
                valve.Neutral,
                "Make an outer position the neutral one, or pilot it at both ends."
            );
        foreach (var (from, to, overlap) in Meanwhile())
            Tell(
                Severity.Information,
                "transition",
                FormattableString.Invariant(
                    $"Between {from} and {to} both are open for {overlap:G3} of the stroke: what they join meets for a moment."
                ),
                null,
                "Give their paths more overlap for a closed transition."
            );
        return found;
    }

    /// <summary>Neighbouring positions whose paths are open together, with the share of the stroke.</summary>
    IEnumerable<(string From, string To, double Overlap)> Meanwhile()
    {
        var positions = valve.OrderedPositions;
        for (var i = 0; i + 1 < positions.Count; i++)
        {
            double Reach(ValvePositionNode p) =>
                p.Paths.Values.Select(q => 1 - (ValveNumbers.Plain(q.Overlap) ?? 0)).DefaultIfEmpty(0).Max();
            var both = Reach(positions[i].Value) + Reach(positions[i + 1].Value) - 1;
            if (both > 1e-9)
                yield return (positions[i].Value.Name, positions[i + 1].Value.Name, both * valve.Step);
        }
    }
}
