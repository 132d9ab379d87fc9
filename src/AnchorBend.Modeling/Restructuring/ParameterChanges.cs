using AnchorBend.Language.Syntax;
using AnchorBend.Modeling.Documents;

namespace AnchorBend.Modeling.Restructuring;

/// <summary>Puts a parameter of a part on the face of the level it stands on: every use of the level can set it then.</summary>
public sealed record LiftParameter : Restructuring
{
    public required string Part { get; init; }

    public required string Parameter { get; init; }

    /// <summary>The name it has on the face; the parameter's own where that is free.</summary>
    public string? Name { get; init; }

    internal override Restructured On(LevelAt level)
    {
        var part = level.Part(Part);
        var described = level.Catalog.Find(part.Type) is null
            ? null
            : level.Catalog.Describe(part.Type).Parameters.FirstOrDefault(p => p.Name == Parameter && p.Type == "Real" && !p.IsArray);
        if (described is null)
            throw new DocumentException($"'{DocumentLimits.Short(Parameter)}' of '{part.Name}' is no number that a face could ask for.");
        var name = Free(level, string.IsNullOrWhiteSpace(Name) ? Parameter : Name.Trim());
        var node = new ParameterNode
        {
            Value = part.Parameters.GetValueOrDefault(Parameter, described.Default),
            Description = described.Description is { Length: > 0 } about ? $"{about} of {part.Name}" : null,
            Unit = described.Unit,
            Minimum = described.Minimum,
            Maximum = described.Maximum,
        };
        var diagram = level.Diagram with
        {
            Parameters = new Dictionary<string, ParameterNode>(level.Diagram.Parameters) { [name] = node },
            Parts = new Dictionary<string, PartNode>(level.Diagram.Parts)
            {
                [Part] = part with
                {
                    Parameters = new Dictionary<string, string>(part.Parameters) { [Parameter] = ExpressionText.Name(name) },
                },
            },
        };
        return new Restructured($"Put {Parameter} of {part.Name} on the face", level.With(diagram), [Part]);
    }

    static string Free(LevelAt level, string wanted)
    {
        var taken = level.Spoken();
        taken.UnionWith(level.Diagram.Parameters.Keys.Concat(level.Diagram.Parts.Values.Select(p => p.Name)));
        var name = wanted;
        for (var n = 2; taken.Contains(name); n++)
            name = $"{wanted}_{n}";
        return name;
    }
}

/// <summary>Gives a named parameter of a level another name, in all that speaks of it.</summary>
public sealed record RenameParameter : Restructuring
{
    public required string Name { get; init; }

    public required string To { get; init; }

    internal override Restructured On(LevelAt level)
    {
        var to = To.Trim();
        if (!level.Diagram.Parameters.ContainsKey(Name))
            throw new DocumentException($"There is no parameter '{DocumentLimits.Short(Name)}' on this level.");
        if (!Lexer.IsPlainIdentifier(to))
            throw new DocumentException(
                $"'{DocumentLimits.Short(to)}' cannot be the name of a parameter: take letters, digits and underscores, a letter first."
            );
        if (level.Diagram.Parameters.ContainsKey(to) || level.Diagram.Parts.Values.Any(p => p.Name == to))
            throw new DocumentException($"The name '{DocumentLimits.Short(to)}' is taken on this level.");
        var meant = Below(level.Document, level.Id, Name).ToList();
        if (
            level.Spoken().Contains(to)
            || meant.Any(id =>
                level.Document.Definitions[id] is DiagramDefinition d
                && (d.Parameters.ContainsKey(to) || d.Parts.Values.Any(p => p.Name == to))
            )
        )
            throw new DocumentException(
                $"The name '{DocumentLimits.Short(to)}' means something else on this level or below it; "
                    + "fields that speak of either could not be told apart."
            );
        var document = level.Document;
        foreach (var id in meant)
            document = document.With(id, Renamed((DiagramDefinition)document.Definitions[id], Name, to));
        var here = (DiagramDefinition)document.Definitions[level.Id];
        document = document.With(
            level.Id,
            here with
            {
                Parameters = here.Parameters.ToDictionary(p => p.Key == Name ? to : p.Key, p => p.Value),
            }
        );
        var type = DefinitionReference.OfOwn(level.Id);
        foreach (
            var (id, diagram) in document
                .Definitions.ToList()
                .Where(d => d.Value is DiagramDefinition)
                .Select(d => (d.Key, (DiagramDefinition)d.Value))
        )
            if (diagram.Parts.Values.Any(p => p.Type == type && p.Parameters.ContainsKey(Name)))
                document = document.With(
                    id,
                    diagram with
                    {
                        Parts = diagram.Parts.ToDictionary(
                            p => p.Key,
                            p =>
                                p.Value.Type == type
                                    ? p.Value with
                                    {
                                        Parameters = p.Value.Parameters.ToDictionary(f => f.Key == Name ? to : f.Key, f => f.Value),
                                    }
                                    : p.Value
                        ),
                    }
                );
        return new Restructured($"Rename {Name}", document, []);
    }

    static DiagramDefinition Renamed(DiagramDefinition diagram, string from, string to) =>
        DiagramTexts.Renamed(diagram, r => r.Parts.Count == 1 && r.Parts[0].Name == from ? ExpressionText.Name(to) : null);

    /// <summary>The diagram itself and those below it in which the name means this parameter.</summary>
    static IEnumerable<string> Below(ModelDocument document, string id, string name)
    {
        var seen = new HashSet<string> { id };
        var open = new Stack<string>(seen);
        while (open.TryPop(out var at))
        {
            yield return at;
            foreach (var part in ((DiagramDefinition)document.Definitions[at]).Parts.Values)
                if (
                    document.DiagramOf(part) is { } inner
                    && !inner.Parameters.ContainsKey(name)
                    && DefinitionReference.Parse(part.Type).Key is var below
                    && seen.Add(below)
                )
                    open.Push(below);
        }
    }
}
