using AnchorBend.Language.Syntax;
using AnchorBend.Modeling.Catalog;
using AnchorBend.Modeling.Documents;

namespace AnchorBend.Modeling.Restructuring;

/// <summary>A port that wires need which led out of a selection.</summary>
/// <param name="Id">Id of the port part inside.</param>
/// <param name="Inner">The ends inside.</param>
/// <param name="Outer">The ends outside, each with the wire that led to it.</param>
sealed record CutPort(
    string Id,
    PartNode Node,
    bool IsOutput,
    bool IsPhysical,
    IReadOnlyList<PortReference> Inner,
    IReadOnlyList<(PortReference End, string Wire)> Outer
)
{
    /// <summary>The port part's own port on its diagram.</summary>
    public PortReference Own => new(Id, PortPart.OwnPort(Node.Type));
}

/// <summary>The ports of a subsystem to be: kinds, names, sides and places.</summary>
sealed class SubsystemPorts(LevelAt level, HashSet<string> moved, Frame frame)
{
    const double Distance = 96,
        Row = 48,
        Column = 64;

    readonly PartSizes sizes = new(level.Diagram, level.Catalog);

    /// <summary>Wires that share a port.</summary>
    sealed record Cut(
        List<(string Wire, PortReference Inner, PortReference Outer)> Wires,
        bool IsOutput,
        string Type,
        string? Kind,
        int? Size
    );

    public IReadOnlyList<CutPort> Make()
    {
        var ids = level.Diagram.Parts.ToDictionary(p => p.Key, _ => true);
        // A port called as something that a field speaks of would be meant instead.
        var names = level.Spoken();
        names.UnionWith(moved.Select(id => level.Diagram.Parts[id].Name));
        var made = new List<(CutPort Port, string Side)>();
        foreach (var cut in Cuts())
        {
            var id = NewIds.In(ids, "p");
            ids.Add(id, true);
            var name = NewIds.Name(NameOf(cut), names);
            names.Add(name);
            var side = SideOf(cut);
            var parameters = new Dictionary<string, string>();
            if (cut.Kind is not null)
                parameters["kind"] = $"Kind.{cut.Kind}";
            if (cut.Size is { } size)
                parameters[PortPart.Size] = size.ToString(System.Globalization.CultureInfo.InvariantCulture);
            if (side != (cut.Type == Output ? "right" : "left"))
                parameters["side"] = cut.Type is Input or Output ? $"Side.{side}" : side;
            var node = new PartNode
            {
                Type = cut.Type,
                Name = name,
                Parameters = parameters,
                Flip = side == "right" && cut.Type is not (Input or Output),
            };
            var port = new CutPort(
                id,
                node,
                cut.IsOutput,
                cut.Type is not (Input or Output),
                [.. cut.Wires.Select(w => w.Inner).Distinct()],
                [.. cut.Wires.DistinctBy(w => w.Outer).Select(w => (w.Outer, w.Wire))]
            );
            made.Add((port, side));
        }

        return Placed(made);
    }

    const string Input = "InputPort",
        Output = "OutputPort",
        Bundle = "BundlePort";

    List<Cut> Cuts()
    {
        var cuts = new List<Cut>();
        foreach (var (id, wire) in level.Diagram.Wires)
        {
            var leavesAtFrom = moved.Contains(wire.From.Part);
            if (leavesAtFrom == moved.Contains(wire.To.Part) || !level.Diagram.Parts.ContainsKey((leavesAtFrom ? wire.To : wire.From).Part))
                continue;
            var (inner, outer) = leavesAtFrom ? (wire.From, wire.To) : (wire.To, wire.From);
            var (type, kind, size) = TypeOf(wire);
            bool Shares(Cut c) =>
                c.Type == type
                && c.Wires.Any(w =>
                    type == Input ? w.Outer == outer
                    : type == Output ? w.Inner == inner
                    : w.Inner == inner || w.Outer == outer
                );
            var sharing = cuts.Where(Shares).ToList();
            if (sharing.Count == 0)
                cuts.Add(new Cut([(id, inner, outer)], type == Output, type, kind, size));
            else
            {
                sharing[0].Wires.Add((id, inner, outer));
                // A wire may join two networks that were none before.
                foreach (var other in sharing.Skip(1))
                {
                    sharing[0].Wires.AddRange(other.Wires);
                    cuts.Remove(other);
                }
            }

            (string, string?, int?) TypeOf(WireNode w)
            {
                if (Described(inner) is { Domain: not null } physical)
                    return (physical.Type, null, SizeOf(inner) ?? SizeOf(outer));
                if (IsBundle(inner) || IsBundle(outer))
                    return (Bundle, null, null);
                var port = Described(w.From) ?? Described(w.To);
                var kind = port?.Type switch
                {
                    "Boolean" => "truth",
                    "Integer" => "whole",
                    _ => null,
                };
                return (leavesAtFrom ? Output : Input, kind, SizeOf(w.From) ?? SizeOf(w.To));
            }
        }

        return cuts;
    }

    PortDescription? Described(PortReference end)
    {
        var type = level.Diagram.Parts[end.Part].Type;
        if (level.Catalog.Find(type) is not { } definition || BundlePart.Is(definition))
            return null;
        return PortPart
            .Placed(level.Catalog.Describe(type), level.Diagram.Parts[end.Part])
            .Ports.FirstOrDefault(p => p.Name == end.Port || p.Name == end.Port.Split('[', '.')[0]);
    }

    /// <summary>How many elements a vector has, as far as the texts of the part at this end say; null for one signal.</summary>
    int? SizeOf(PortReference end)
    {
        if (Described(end) is not { IsVector: true } port || port.Domain is not null && port.Name != end.Port)
            return null;
        var node = level.Diagram.Parts[end.Part];
        var described = level.Catalog.Describe(node.Type);
        return PortCount.Known(port, parameter =>
            node.Parameters.GetValueOrDefault(parameter) ?? described.Parameters.FirstOrDefault(p => p.Name == parameter)?.Default ?? ""
        );
    }

    bool IsBundle(PortReference end) =>
        Described(end) is { } port
            ? port.Type is "Bundle" or Bundle
            : BundlePart.Is(level.Catalog.Find(level.Diagram.Parts[end.Part].Type)) && end.Port == BundlePart.Whole;

    /// <summary>The name of the signal, else that of the port it has inside.</summary>
    string NameOf(Cut cut)
    {
        var (_, inner, outer) = cut.Wires[0];
        var source = cut.Type == Input ? outer : inner;
        var signal = level.Diagram.Signals.GetValueOrDefault($"{source.Part}.{source.Port}")?.Name;
        return signal is { Length: > 0 } ? signal : inner.Port.Split('[', '.')[0];
    }

    /// <summary>Where the wire leaves: signals go across, to the side that the other end lies on; networks to any side.</summary>
    string SideOf(Cut cut)
    {
        var (x, y) = Frame.Around(cut.Wires.Select(w => FrameOf(w.Outer.Part))).Middle;
        if (cut.Type is not (Input or Output))
            return frame.Holds(x, y) ? "left" : frame.SideTowards(x, y);
        return frame.Left <= x && x <= frame.Right ? (cut.IsOutput ? "right" : "left")
            : x < frame.Left ? "left"
            : "right";
    }

    Frame FrameOf(string part) => Frame.Of(level.Diagram.Parts[part], sizes.Of(part));

    /// <summary>Ports stand around the parts, each level with what it leads to, and not on each other.</summary>
    List<CutPort> Placed(List<(CutPort Port, string Side)> made)
    {
        var result = new List<CutPort>();
        foreach (var side in made.GroupBy(m => m.Side))
        {
            var isColumn = side.Key is "left" or "right";
            var least = double.NegativeInfinity;
            foreach (var (port, wanted) in side.Select(m => (m.Port, Wanted(m.Port, isColumn))).OrderBy(p => p.Item2))
            {
                var at = Frame.Snapped(Math.Max(wanted, least));
                least = at + (isColumn ? Row : Column);
                var (x, y) = side.Key switch
                {
                    "left" => (frame.Left - Distance, at),
                    "right" => (frame.Right + Distance - 48, at),
                    "top" => (at, frame.Top - Distance),
                    _ => (at, frame.Bottom + Distance - 32),
                };
                result.Add(port with { Node = port.Node with { X = Frame.Snapped(x), Y = Frame.Snapped(y) } });
            }
        }

        return result;
    }

    double Wanted(CutPort port, bool isColumn)
    {
        var (x, y) = Frame.Around(port.Inner.Select(e => FrameOf(e.Part))).Middle;
        return isColumn ? y - 16 : x - 24;
    }
}
