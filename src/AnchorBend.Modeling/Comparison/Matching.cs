using AnchorBend.Modeling.Documents;

namespace AnchorBend.Modeling.Comparison;

/// <summary>
/// Which definition and which part of one state is which of another: by id where the states are of one history, else by name. Ids mean
/// nothing between models that were made apart, so those that are called otherwise and are of another type are not the same.
/// </summary>
sealed class Matching
{
    readonly Dictionary<string, string> rightOf = [],
        leftOf = [];

    readonly ModelDocument left,
        right;

    public Matching(ModelDocument left, ModelDocument right)
    {
        (this.left, this.right) = (left, right);
        Pair(left.Root, right.Root);
        foreach (var (id, definition) in left.Definitions)
            if (right.Definitions.TryGetValue(id, out var other) && other.GetType() == definition.GetType() && IsSame(definition, other))
                Pair(id, id);
        var byName = right
            .Definitions.Where(d => !leftOf.ContainsKey(d.Key))
            .GroupBy(d => (d.Value.Name, d.Value.GetType()))
            .ToDictionary(g => g.Key, g => g.First().Key);
        foreach (var (id, definition) in left.Definitions)
            if (!rightOf.ContainsKey(id) && byName.TryGetValue((definition.Name, definition.GetType()), out var other))
                Pair(id, other);
    }

    void Pair(string a, string b)
    {
        if (rightOf.ContainsKey(a) || leftOf.ContainsKey(b))
            return;
        (rightOf[a], leftOf[b]) = (b, a);
    }

    /// <summary>Whether two definitions of one id are states of one: called the same, or with parts in common.</summary>
    static bool IsSame(Definition a, Definition b) =>
        a.Name == b.Name
        || a is DiagramDefinition one
            && b is DiagramDefinition other
            && one.Parts.Any(p => other.Parts.TryGetValue(p.Key, out var same) && same.Name == p.Value.Name);

    public string? RightOf(string definition) => rightOf.GetValueOrDefault(definition);

    public string? LeftOf(string definition) => leftOf.GetValueOrDefault(definition);

    /// <summary>A type of the right as the left would say it; null where the left has no such definition.</summary>
    public string? TypeOnLeft(string type) =>
        DefinitionReference.Parse(type) is not { IsOwn: true, Key: var id } ? type
        : LeftOf(id) is { } known ? DefinitionReference.OfOwn(known)
        : null;

    /// <summary>Parts of the right by those of the left.</summary>
    public Dictionary<string, string> Parts(DiagramDefinition a, DiagramDefinition b)
    {
        var result = new Dictionary<string, string>();
        foreach (var (id, part) in a.Parts)
            if (b.Parts.TryGetValue(id, out var other) && (other.Name == part.Name || TypeOnLeft(other.Type) == part.Type))
                result[id] = id;
        var taken = result.Values.ToHashSet();
        var byName = b.Parts.Where(p => !taken.Contains(p.Key)).GroupBy(p => p.Value.Name).ToDictionary(g => g.Key, g => g.First().Key);
        foreach (var (id, part) in a.Parts)
            if (!result.ContainsKey(id) && byName.Remove(part.Name, out var other))
                result[id] = other;
        return result;
    }

    /// <summary>Definitions of the right that a type needs and the left does not have; null where their ids mean something else
    /// there.</summary>
    public IReadOnlyList<string>? Missing(string type)
    {
        if (DefinitionReference.Parse(type) is not { IsOwn: true, Key: var id })
            return [];
        var missing = right.NeededBy(id).Where(d => LeftOf(d) is null).ToList();
        return missing.Any(left.Definitions.ContainsKey) ? null : missing;
    }
}
