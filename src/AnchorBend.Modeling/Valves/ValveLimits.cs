using AnchorBend.Modeling.Documents;
using AnchorBend.Modeling.Written;

namespace AnchorBend.Modeling.Valves;

/// <summary>What a valve may hold.</summary>
public static class ValveLimits
{
    public const int LeastPorts = 2,
        MostPorts = 6,
        MostPositions = 5;

    const int MostPaths = 15,
        LongestText = 200,
        LongestCurve = 5_000;

    /// <exception cref="DocumentException">It holds more, or is broken.</exception>
    public static void Check(ValveDefinition valve)
    {
        if (valve.Ports is null || valve.Positions is null || valve.Neutral is null)
            throw new DocumentException($"A collection of the valve '{DocumentLimits.Short(valve.Name)}' is null.");
        NameLimits.Check(valve);
        if (
            !Enum.IsDefined(valve.Medium)
            || !Enum.IsDefined(valve.Actuation)
            || !Enum.IsDefined(valve.Dynamics)
            || !Enum.IsDefined(valve.Transition)
        )
            throw new DocumentException($"A choice of the valve '{DocumentLimits.Short(valve.Name)}' is none that there is.");
        DocumentLimits.AtMost($"ports of {valve.Name}", valve.Ports.Count, MostPorts);
        DocumentLimits.AtMost($"positions of {valve.Name}", valve.Positions.Count, MostPositions);
        foreach (
            var text in (string?[])
                [
                    valve.FullPressure,
                    valve.Stroke,
                    valve.Lag,
                    valve.Frequency,
                    valve.Damping,
                    valve.Mass,
                    valve.Spring,
                    valve.Friction,
                    valve.JetAngle,
                    valve.Leakage,
                    valve.LeakageDrop,
                    valve.Discharge,
                ]
        )
            Within(text, valve, LongestText);
        foreach (var (id, port) in valve.Ports)
        {
            if (
                port is null
                || string.IsNullOrWhiteSpace(port.Name)
                || !PartPath.IsId(id)
                || !double.IsFinite(port.Order)
                || !Enum.IsDefined(port.Side)
            )
                throw Incomplete(valve, "port", id);
            DocumentLimits.Within(port.Name, 12, "The name of a port");
            DocumentLimits.Within(port.Description, LongestText, "What a port is for");
        }

        foreach (var (id, position) in valve.Positions)
        {
            if (
                position?.Paths is null
                || string.IsNullOrWhiteSpace(position.Name)
                || !PartPath.IsId(id)
                || !double.IsFinite(position.Order)
            )
                throw Incomplete(valve, "position", id);
            DocumentLimits.Within(position.Name, DocumentLimits.LongestName, "The name of a position");
            DocumentLimits.AtMost("paths of a position", position.Paths.Count, MostPaths);
            foreach (var (path, node) in position.Paths)
            {
                if (
                    node?.From is null
                    || node.To is null
                    || !PartPath.IsId(path)
                    || !double.IsFinite(node.Order)
                    || !Enum.IsDefined(node.Kind)
                )
                    throw Incomplete(valve, "path", path);
                foreach (var text in (string?[])[node.From, node.To, node.Flow, node.Drop, node.Overlap, node.Cracking, node.Diameter])
                    Within(text, valve, LongestText);
                DocumentLimits.Within(node.Curve, LongestCurve, "The curve of a path");
            }
        }
    }

    static void Within(string? text, ValveDefinition valve, int most)
    {
        if (text is null)
            throw new DocumentException($"A text of the valve '{DocumentLimits.Short(valve.Name)}' is null.");
        DocumentLimits.Within(text, most, "A text of a valve");
    }

    static DocumentException Incomplete(ValveDefinition of, string what, string id) =>
        new($"The {what} '{DocumentLimits.Short(id)}' of the valve {of.Name} is incomplete.");
}
