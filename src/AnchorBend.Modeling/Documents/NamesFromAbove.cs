namespace AnchorBend.Modeling.Documents;

/// <summary>
/// Names that a diagram speaks of without declaring them, and that a level above declares as a parameter: the nearest one means it. Each
/// part on the way hands such a name down, so that in the equation language every class is complete in itself.
/// </summary>
public sealed class NamesFromAbove
{
    readonly Dictionary<string, DiagramDefinition> diagrams;
    readonly Dictionary<string, HashSet<string>> needs = [],
        handed = [];

    readonly Dictionary<string, List<string>> below = [];
    readonly ILookup<string, string> uses = Enumerable.Empty<string>().ToLookup(n => n);

    public NamesFromAbove(ModelDocument document)
    {
        diagrams = document.Definitions.Where(d => d.Value is DiagramDefinition).ToDictionary(d => d.Key, d => (DiagramDefinition)d.Value);
        (root, sheets) = (document.Root, new SheetNames(document));
        if (diagrams.Count < 2 && sheets.IsEmpty)
            return;
        foreach (var (id, diagram) in diagrams)
        {
            below[id] =
            [
                .. diagram
                    .Parts.Values.Select(p => DefinitionReference.Parse(p.Type))
                    .Where(t => t.IsOwn && diagrams.ContainsKey(t.Key))
                    .Select(t => t.Key)
                    .Distinct(),
            ];
            needs[id] = id == root && sheets.IsEmpty ? [] : [.. ParameterUses.In(diagram).Where(n => !Declares(id, n))];
            handed[id] = [];
        }

        Grow(id => below[id].SelectMany(b => needs[b]).Where(n => !Declares(id, n)), needs);
        FromSheets = sheets.Closure(needs.GetValueOrDefault(root) ?? [], n => Declares(root, n));
        fromSheets = [.. FromSheets];
        needs[root] = [];
        // From the root down: what a level declares or is handed, it hands on.
        uses = below.SelectMany(b => b.Value.Select(inner => (Inner: inner, Outer: b.Key))).ToLookup(u => u.Inner, u => u.Outer);
        Grow(id => needs[id].Where(n => uses[id].Any(outer => Knows(outer, n))), handed);
    }

    readonly string root;
    readonly SheetNames sheets;
    readonly HashSet<string> fromSheets = [];

    /// <summary>The names of sheets that the model speaks of; the root declares them.</summary>
    public IReadOnlyList<string> FromSheets { get; } = [];

    /// <summary>The names that parts of a definition are handed from above.</summary>
    public IReadOnlySet<string> Of(string definition) => handed.TryGetValue(definition, out var names) ? names : Nothing;

    static readonly HashSet<string> Nothing = [];

    /// <summary>Whether a level has a parameter of that name, its own or one from above.</summary>
    public bool Knows(string definition, string name) =>
        diagrams.TryGetValue(definition, out var diagram) && diagram.Parameters.ContainsKey(name)
        || Of(definition).Contains(name)
        || definition == root && fromSheets.Contains(name);

    /// <summary>What values a parameter has that a level knows: Real, Boolean or String.</summary>
    public string TypeOf(string definition, string name) => TypeOf(definition, name, []);

    /// <summary>The unit that a parameter is declared in which a level knows; null where it comes with the value.</summary>
    public string? UnitOf(string definition, string name)
    {
        var around = new HashSet<string>();
        for (var open = new Stack<string>([definition]); open.TryPop(out var at); )
        {
            if (!around.Add(at) || !diagrams.TryGetValue(at, out var diagram))
                continue;
            if (diagram.Parameters.TryGetValue(name, out var parameter))
                return TypeOf(at, name) == ParameterTypes.Real && parameter.Unit is { Length: > 0 } unit ? unit : null;
            if (at == root && fromSheets.Contains(name))
                return sheets[name].Row is { } row ? SheetParameters.UnitOf(row) : null;
            foreach (var outer in uses[at].Where(o => Knows(o, name)))
                open.Push(outer);
        }

        return null;
    }

    string TypeOf(string definition, string name, HashSet<(string, string)> around)
    {
        // What depends on itself is told of when the model is put together.
        if (!around.Add((definition, name)) || !diagrams.TryGetValue(definition, out var diagram))
            return ParameterTypes.Real;
        if (diagram.Parameters.TryGetValue(name, out var parameter))
            return ParameterTypes.Of(parameter.Value, n => TypeOf(definition, n, around));
        if (definition == root && fromSheets.Contains(name))
            return sheets.TypeOf(name, n => TypeOf(root, n, around));
        return uses[definition].Where(outer => Knows(outer, name)).Select(outer => TypeOf(outer, name, around)).FirstOrDefault()
            ?? ParameterTypes.Real;
    }

    bool Declares(string definition, string name) =>
        diagrams[definition].Parameters.ContainsKey(name) || diagrams[definition].Parts.Values.Any(p => p.Name == name);

    /// <summary>Adds to the sets until nothing is new.</summary>
    void Grow(Func<string, IEnumerable<string>> more, Dictionary<string, HashSet<string>> sets)
    {
        for (var grew = true; grew; )
        {
            grew = false;
            foreach (var id in diagrams.Keys)
            foreach (var name in more(id).ToList())
                grew |= sets[id].Add(name);
        }
    }
}
