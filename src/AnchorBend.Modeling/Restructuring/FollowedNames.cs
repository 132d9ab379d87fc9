using AnchorBend.Modeling.Documents;
using AnchorBend.Modeling.Written;

namespace AnchorBend.Modeling.Restructuring;

/// <summary>
/// What speaks of parts, of named signals, and of states, transitions, phases and rules follows when an edit gives these other names or
/// places.
/// </summary>
public static class FollowedNames
{
    /// <summary>Whether an operation can give something another name.</summary>
    public static bool Matters(PatchOperation operation) =>
        JsonPatch.Steps(operation.Path)
            is ["definitions", _, "parts", _, "name"]
                or ["definitions", _, "parts", _]
                or ["definitions", _, "signals", ..]
                or ["definitions", _, "states" or "phases" or "rules", _, "name" or "parent" or "order"]
                or ["definitions", _, "states" or "phases" or "rules" or "transitions", _];

    /// <summary>The operations that have to follow an edit.</summary>
    /// <param name="before">The document in which all names lead somewhere.</param>
    /// <param name="after">What the edit made of it.</param>
    public static IReadOnlyList<PatchOperation> After(ModelDocument before, ModelDocument after)
    {
        var renamed = new Dictionary<string, IReadOnlyDictionary<string, string>>();
        foreach (var (id, definition) in after.Definitions)
            if (
                definition is WrittenDefinition now
                && before.Definitions.GetValueOrDefault(id) is WrittenDefinition was
                && !ReferenceEquals(was, now)
                && Renamed(was.Tells(), now.Tells()) is { Count: > 0 } names
            )
                renamed[DefinitionReference.OfOwn(id)] = names;
        string Changed(string identity) =>
            SignalReference.TryParse(identity, out var signal)
            && before.Part(signal.Part)?.Part.Type is { } type
            && renamed.TryGetValue(type, out var names)
            && names.TryGetValue(signal.Port, out var name)
                ? new SignalReference(signal.Part, name).ToString()
                : identity;
        if (renamed.Count == 0)
            return DocumentDifference.Between(after, MeasureNames.Followed(before, after, identity => identity));
        var followed = SignalIdentities.Changed(before, after, Changed);
        foreach (var (id, definition) in after.Definitions)
            if (definition is DiagramDefinition diagram && Signals(diagram, renamed) is { } signals)
                followed = followed.With(id, diagram with { Signals = signals });
        return DocumentDifference.Between(after, followed);
    }

    static Dictionary<string, string> Renamed(IReadOnlyDictionary<string, string> was, IReadOnlyDictionary<string, string> now) =>
        was.Where(w => now.TryGetValue(w.Key, out var name) && name != w.Value).ToDictionary(w => w.Value, w => now[w.Key]);

    /// <summary>What is said of signals of the level by their new names; null where none has one.</summary>
    static Dictionary<string, SignalNode>? Signals(
        DiagramDefinition diagram,
        Dictionary<string, IReadOnlyDictionary<string, string>> renamed
    )
    {
        var changes = false;
        var signals = new Dictionary<string, SignalNode>();
        foreach (var (key, signal) in diagram.Signals)
        {
            var dot = key.IndexOf('.', StringComparison.Ordinal);
            var name =
                dot > 0
                && diagram.Parts.GetValueOrDefault(key[..dot]) is { } part
                && renamed.GetValueOrDefault(part.Type)?.GetValueOrDefault(key[(dot + 1)..]) is { } other
                    ? $"{key[..dot]}.{other}"
                    : key;
            changes |= name != key;
            signals[name] = signal;
        }

        return changes ? signals : null;
    }
}
