using AnchorBend.Modeling.Documents;

namespace AnchorBend.Modeling.Comparison;

/// <summary>What differs between two states of one diagram.</summary>
sealed class DiagramComparison
{
    readonly Matching matching;
    readonly ModelDocument rightModel;
    readonly string id;
    readonly DiagramDefinition left,
        right;

    /// <summary>Parts of the right by those of the left, and the other way round.</summary>
    readonly Dictionary<string, string> there,
        here;

    readonly List<Difference> found = [];

    DiagramComparison(Matching matching, ModelDocument rightModel, string id, DiagramDefinition left, DiagramDefinition right)
    {
        (this.matching, this.rightModel, this.id, this.left, this.right) = (matching, rightModel, id, left, right);
        there = matching.Parts(left, right);
        here = there.ToDictionary(p => p.Value, p => p.Key);
    }

    /// <param name="id">The left's definition.</param>
    public static List<Difference> Between(
        Matching matching,
        ModelDocument rightModel,
        string id,
        DiagramDefinition left,
        DiagramDefinition right
    )
    {
        if (ReferenceEquals(left, right))
            return [];
        var comparison = new DiagramComparison(matching, rightModel, id, left, right);
        comparison.Parts();
        comparison.Wires();
        comparison.Signals();
        ModelComparison.Entries("area", left.Areas, right.Areas, (_, a) => a.Text, comparison.found, ["definitions", id, "areas"]);
        ModelComparison.Entries("note", left.Notes, right.Notes, (_, n) => Short(n.Text), comparison.found, ["definitions", id, "notes"]);
        comparison.Parameters();
        comparison.Own();
        return comparison.found;
    }

    static string Short(string text) => text.Length > 60 ? text[..60] + "…" : text;

    string At(string collection, string entry) => DocumentPath.Of("definitions", id, collection, entry);

    void Parts()
    {
        foreach (var (part, node) in left.Parts)
        {
            if (!there.TryGetValue(part, out var other))
            {
                found.Add(new Difference("part", node.Name, Change.Removed, part, null, [], Without(part)));
                continue;
            }

            var now = right.Parts[other];
            if (ReferenceEquals(node, now))
                continue;
            var mapped = now with { Type = matching.TypeOnLeft(now.Type) ?? now.Type };
            var fields = Fields
                .Between(Fields.Node(node), Fields.Node(mapped), f => f is "onlyWhen" or "type")
                .ConvertAll(f => f.Field == "type" ? f with { Left = Called(node.Type, null), Right = Called(null, now.Type) } : f);
            if (fields.Count > 0)
                found.Add(
                    new Difference(
                        "part",
                        now.Name,
                        Fields.OnlyPlaces(fields) ? Change.Moved : Change.Changed,
                        part,
                        other,
                        fields,
                        matching.TypeOnLeft(now.Type) is null ? [] : [new PatchOperation("add", At("parts", part), Fields.Node(mapped))]
                    )
                );
        }

        foreach (var (part, node) in right.Parts)
            if (!here.ContainsKey(part))
                found.Add(new Difference("part", node.Name, Change.Added, null, part, [], With(part, node)));
    }

    /// <summary>A type as people read it.</summary>
    string Called(string? onLeft, string? onRight)
    {
        var reference = DefinitionReference.Parse(onLeft ?? onRight!);
        if (!reference.IsOwn)
            return reference.Key;
        return onLeft is null ? rightModel.Definitions.GetValueOrDefault(reference.Key)?.Name ?? reference.Key
            : matching.RightOf(reference.Key) is { } other ? rightModel.Definitions[other].Name
            : reference.Key;
    }

    List<PatchOperation> Without(string part) =>
        [
            .. left
                .Wires.Where(w => w.Value.From.Part == part || w.Value.To.Part == part)
                .Select(w => new PatchOperation("remove", At("wires", w.Key))),
            new PatchOperation("remove", At("parts", part)),
        ];

    /// <summary>A part of the right on the left, with the definitions that it needs and its wires to what is there.</summary>
    List<PatchOperation> With(string part, PartNode node)
    {
        if (left.Parts.ContainsKey(part) || matching.Missing(node.Type) is not { } missing)
            return [];
        var operations = missing
            .Select(m => new PatchOperation("add", DocumentPath.Of("definitions", m), Fields.Node(rightModel.Definitions[m])))
            .ToList();
        operations.Add(
            new PatchOperation("add", At("parts", part), Fields.Node(node with { Type = matching.TypeOnLeft(node.Type) ?? node.Type }))
        );
        foreach (var (wire, ends) in right.Wires)
            if ((ends.From.Part == part || ends.To.Part == part) && !left.Wires.ContainsKey(wire) && OnLeft(ends, part) is { } mapped)
                operations.Add(new PatchOperation("add", At("wires", wire), Fields.Node(mapped)));
        return operations;
    }

    /// <summary>A wire of the right with the left's parts at its ends; null where one is not there.</summary>
    /// <param name="coming">A part of the right that comes to the left under its own id.</param>
    WireNode? OnLeft(WireNode wire, string? coming = null)
    {
        string? Part(string part) => part == coming ? part : here.GetValueOrDefault(part);
        return Part(wire.From.Part) is { } from && Part(wire.To.Part) is { } to
            ? wire with
            {
                From = wire.From with { Part = from },
                To = wire.To with { Part = to },
            }
            : null;
    }

    void Wires()
    {
        var known = new Dictionary<(PortReference, PortReference), string>();
        foreach (var (wire, ends) in right.Wires)
            if (OnLeft(ends) is { } mapped)
                known.TryAdd((mapped.From, mapped.To), wire);
        var same = new HashSet<string>();
        foreach (var (wire, ends) in left.Wires)
        {
            if (!known.TryGetValue((ends.From, ends.To), out var other))
            {
                found.Add(
                    new Difference(
                        "wire",
                        Name(left, ends),
                        Change.Removed,
                        wire,
                        null,
                        [],
                        [new PatchOperation("remove", At("wires", wire))]
                    )
                );
                continue;
            }

            same.Add(other);
            var now = OnLeft(right.Wires[other])!;
            var fields = Fields.Between(Fields.Node(ends), Fields.Node(now), _ => false);
            if (fields.Count > 0)
                found.Add(
                    new Difference(
                        "wire",
                        Name(left, ends),
                        Change.Moved,
                        wire,
                        other,
                        fields,
                        [new PatchOperation("add", At("wires", wire), Fields.Node(now))]
                    )
                );
        }

        foreach (var (wire, ends) in right.Wires)
            if (!same.Contains(wire))
                found.Add(
                    new Difference(
                        "wire",
                        Name(right, ends),
                        Change.Added,
                        null,
                        wire,
                        [],
                        OnLeft(ends) is { } mapped && !left.Wires.ContainsKey(wire)
                            ? [new PatchOperation("add", At("wires", wire), Fields.Node(mapped))]
                            : []
                    )
                );
    }

    static string Name(DiagramDefinition diagram, WireNode wire)
    {
        string End(PortReference end) => $"{diagram.Parts.GetValueOrDefault(end.Part)?.Name ?? "?"}.{end.Port}";
        return $"{End(wire.From)} → {End(wire.To)}";
    }

    /// <summary>Signals are known by the ports that they come from.</summary>
    void Signals()
    {
        var mapped = new Dictionary<string, SignalNode>();
        foreach (var (key, signal) in right.Signals)
        {
            var cut = key.IndexOf('.', StringComparison.Ordinal);
            if (cut > 0 && here.TryGetValue(key[..cut], out var part))
                mapped[part + key[cut..]] = signal;
        }

        string Called(string key, SignalNode node)
        {
            var cut = key.IndexOf('.', StringComparison.Ordinal);
            return node.Name ?? (cut > 0 && left.Parts.TryGetValue(key[..cut], out var part) ? part.Name + key[cut..] : key);
        }

        foreach (var key in left.Signals.Keys.Concat(mapped.Keys).Distinct())
        {
            var (before, now) = (left.Signals.GetValueOrDefault(key), mapped.GetValueOrDefault(key));
            var fields = Fields.Between(Fields.Node(before ?? new SignalNode()), Fields.Node(now ?? new SignalNode()), f => f == "unit");
            if (fields.Count == 0 && (before is null) == (now is null))
                continue;
            found.Add(
                new Difference(
                    "signal",
                    Called(key, (now ?? before)!),
                    before is null ? Change.Added
                        : now is null ? Change.Removed
                        : Change.Changed,
                    before is null ? null : key,
                    now is null ? null : key,
                    fields,
                    [
                        now is null
                            ? new PatchOperation("remove", At("signals", key))
                            : new PatchOperation("add", At("signals", key), Fields.Node(now)),
                    ]
                )
            );
        }
    }

    /// <summary>Parameters have no ids but their names.</summary>
    void Parameters() =>
        ModelComparison.Entries(
            "parameter",
            left.Parameters,
            right.Parameters,
            (name, _) => name,
            found,
            ["definitions", id, "parameters"]
        );

    /// <summary>The diagram's own name, description and face.</summary>
    void Own()
    {
        static DiagramDefinition Alone(DiagramDefinition d) =>
            new()
            {
                Name = d.Name,
                Description = d.Description,
                Face = d.Face,
                Slot = d.Slot,
            };
        foreach (var field in Fields.Between(Fields.Node(Alone(left)), Fields.Node(Alone(right)), f => f == "slot"))
        {
            var path = DocumentPath.Of("definitions", id, field.Field);
            var now = Fields.Node(Alone(right)).AsObject()[field.Field]?.DeepClone();
            found.Add(
                new Difference(
                    "face",
                    right.Name,
                    Change.Changed,
                    id,
                    id,
                    [field],
                    [now is null ? new PatchOperation("remove", path) : new PatchOperation("add", path, now)]
                )
            );
        }
    }
}
