using System.Text.RegularExpressions;
using AnchorBend.Language.Syntax;
using AnchorBend.Modeling.Catalog;
using AnchorBend.Modeling.Documents;
using AnchorBend.Modeling.Written;

namespace AnchorBend.Modeling.Restructuring;

/// <summary>Gives a name of the chart or table at the level another name, in its texts, on its parts and in what speaks of them.</summary>
public sealed record RenameName : Restructuring
{
    /// <summary>Its id.</summary>
    public required string Name { get; init; }

    public required string To { get; init; }

    public override Restructured Of(ModelDocument document, PartCatalog catalog)
    {
        if (!PartPath.TryParse(Level, out var path) || document.Written(path) is not { } found)
            throw new DocumentException("There are no names at this level any more.");
        var (id, definition) = found;
        if (!definition.Names.TryGetValue(Name, out var node))
            throw new DocumentException($"The {definition.Noun} has no such name any more.");
        var (from, to) = (node.Name, To.Trim());
        if (!Lexer.IsPlainIdentifier(to))
            throw new DocumentException(
                $"'{DocumentLimits.Short(to)}' cannot be a name: take letters, digits and underscores, a letter first."
            );
        if (definition.Names.Values.Any(n => n.Name == to) || definition.Names.Values.Any(n => Words.Of(n.Type).Contains(to)))
            throw new DocumentException($"The {definition.Noun} has a name '{to}' already.");
        var before = document;
        var name = new Regex($@"(?<![\w.'])({Regex.Escape(from)})(?![\w'])", RegexOptions.None, TimeSpan.FromSeconds(1));
        var renamed = definition.WithTexts(text => text is null ? null : name.Replace(text, to), e => e == from ? to : e);
        document = document.With(id, renamed with { Names = With(definition.Names, Name, node with { Name = to }) });
        var type = DefinitionReference.OfOwn(id);
        foreach (var (of, level) in before.Definitions)
        {
            if (level is not DiagramDefinition diagram)
                continue;
            var parts = diagram.Parts.Where(p => p.Value.Type == type).Select(p => p.Key).ToHashSet();
            if (parts.Count > 0)
                document = document.With(of, OnParts(diagram, parts, from, to));
        }

        return new Restructured(
            $"Rename {from}",
            SignalIdentities.Changed(before, document, r => Signal(before, type, r, from, to)),
            [Name]
        );
    }

    internal override Restructured On(LevelAt level) => throw new DocumentException("A name is renamed where it stands.");

    static string Signal(ModelDocument document, string type, string reference, string from, string to) =>
        SignalReference.TryParse(reference, out var signal) && signal.Port == from && document.Part(signal.Part)?.Part.Type == type
            ? new SignalReference(signal.Part, to).ToString()
            : reference;

    static Dictionary<string, T> With<T>(Dictionary<string, T> all, string key, T value) => new(all) { [key] = value };

    static DiagramDefinition OnParts(DiagramDefinition diagram, HashSet<string> parts, string from, string to)
    {
        PortReference Port(PortReference end) => parts.Contains(end.Part) && end.Port == from ? end with { Port = to } : end;
        return diagram with
        {
            Parts = diagram.Parts.ToDictionary(
                p => p.Key,
                p =>
                    parts.Contains(p.Key)
                        ? p.Value with
                        {
                            Parameters = p.Value.Parameters.ToDictionary(v => v.Key == from ? to : v.Key, v => v.Value),
                        }
                        : p.Value
            ),
            Wires = diagram.Wires.ToDictionary(w => w.Key, w => w.Value with { From = Port(w.Value.From), To = Port(w.Value.To) }),
            Signals = diagram.Signals.ToDictionary(
                s => parts.Any(p => s.Key == $"{p}.{from}") ? $"{s.Key[..s.Key.IndexOf('.', StringComparison.Ordinal)]}.{to}" : s.Key,
                s => s.Value
            ),
        };
    }
}
