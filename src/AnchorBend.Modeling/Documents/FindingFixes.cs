using System.Text.Json.Nodes;
using System.Text.RegularExpressions;
using AnchorBend.Language.Syntax;
using AnchorBend.Modeling.Catalog;
using AnchorBend.Modeling.Flattening;
using AnchorBend.Modeling.Restructuring;

namespace AnchorBend.Modeling.Documents;

/// <summary>Says of a finding which part it is at, and what one click would do about it.</summary>
sealed partial class FindingFixes(ModelDocument document, SourceMap map, PartCatalog catalog)
{
    public Finding Completed(Finding finding)
    {
        var placed = finding.Place is null ? finding with { Place = map.Around(finding.Part)?.Path } : finding;
        return placed.Fix is not null ? placed : placed with { Fix = FixOf(placed), Others = [.. Creations(placed)] };
    }

    /// <summary>A name that nobody declares can become a parameter: of the level alone, of its face, or of the model.</summary>
    IEnumerable<FindingFix> Creations(Finding finding)
    {
        if (finding is not { Code: "unknown-name", Item: { } item } || Typed(finding, item) is not { } typed)
            yield break;
        var name = Wrong(finding);
        // What the equations of a text speak of is another matter.
        if (!Lexer.IsPlainIdentifier(name) || !ParameterUses.Names(typed.Text).Contains(name))
            yield break;
        FindingFix Creation(string label, string definition, bool isDerived) =>
            new(
                label,
                [
                    new PatchOperation(
                        "add",
                        DocumentPath.Of("definitions", definition, "parameters", name),
                        new JsonObject
                        {
                            ["value"] = "1",
                            ["unit"] = FieldText.IsName(typed.Text, name) ? typed.Unit : null,
                            ["isDerived"] = isDerived,
                        }
                    ),
                ]
            );
        if (typed.Definition != document.Root)
        {
            var level = document.Definitions[typed.Definition].Name;
            yield return Creation($"Create '{name}' on the face of {level}", typed.Definition, false);
            yield return Creation($"Create '{name}' for this level alone", typed.Definition, true);
        }

        yield return Creation($"Create '{name}' for the whole model", document.Root, false);
    }

    static string Wrong(Finding finding) => Regex.Match(finding.Message, "'([^']+)'").Groups[1].Value;

    /// <summary>What was typed where a finding is: the definition whose diagram it stands in, the place of the text, and the unit of
    /// the field.</summary>
    (string Definition, string Path, string Text, string? Unit)? Typed(Finding finding, string item)
    {
        if (Exactly(finding) is { } place && place.Node.Parameters.TryGetValue(item, out var own))
        {
            var unit = catalog.Find(place.Node.Type) is null
                ? null
                : catalog.Describe(place.Node.Type).Parameters.FirstOrDefault(p => p.Name == item)?.Unit;
            return (
                place.Definition,
                DocumentPath.Of("definitions", place.Definition, "parts", place.Path.Id, "parameters", item),
                own,
                unit
            );
        }

        return LevelOf(finding) is { } level && level.Diagram.Parameters.TryGetValue(item, out var shared)
            ? (level.Id, DocumentPath.Of("definitions", level.Id, "parameters", item, "value"), shared.Value, shared.Unit)
            : null;
    }

    FindingFix? FixOf(Finding finding) =>
        finding switch
        {
            { Code: "duplicate-name", Item: null, Place: { } place } => Rename(place),
            { Code: "unknown-name", Replacement: { } near, Item: { } item } => Respell(finding, item, near),
            { Code: "decimal-comma", Item: { } item } => Pointed(finding, item),
            { Code: "unconnected", Item: { } port } when Exactly(finding) is { } place => Zero(place, port),
            { Code: "bundle-undeclared", Replacement: { } near, Item: { } member } when Exactly(finding) is { } place => Respell(
                place,
                member,
                near
            ),
            { Code: "bundle-unwritten" } when Exactly(finding) is { } place => Joined(place),
            { Code: ConnectionSets.CellsDiffer } => SameCells(finding),
            { Code: "no-reference", Item: { } point } when Exactly(finding) is { } place => Ground(place, point),
            _ => null,
        };

    [GeneratedRegex(@"^'(?<a>.+)\.(?<port>[^.']+)' has (?<n>\d+) cells and '(?<b>.+)\.(?<other>[^.']+)' has (?<m>\d+)\.")]
    private static partial Regex TwoRows();

    /// <summary>The part with fewer cells gets as many as the other, where a parameter of its own is their number.</summary>
    FindingFix? SameCells(Finding finding)
    {
        if (TwoRows().Match(finding.Message) is not { Success: true } rows)
            return null;
        var (first, second) = (int.Parse(rows.Groups["n"].Value), int.Parse(rows.Groups["m"].Value));
        var (part, port, cells) =
            first > second
                ? (rows.Groups["b"].Value, rows.Groups["other"].Value, first)
                : (rows.Groups["a"].Value, rows.Groups["port"].Value, second);
        if (
            LevelOf(finding) is not { } level
            || level.Diagram.Parts.FirstOrDefault(p => p.Value.Name == part) is not { Value: { } node, Key: var id }
            || catalog.Find(node.Type) is null
            || catalog.Describe(node.Type) is not { } described
            || described.Ports.FirstOrDefault(p => p.Name == port)?.Size is not { } size
            || described.Parameters.All(p => p.Name != size)
        )
            return null;
        return new FindingFix(
            $"Give '{part}' {cells} cells",
            [
                new PatchOperation(
                    "add",
                    DocumentPath.Of("definitions", level.Id, "parts", id, "parameters", size),
                    cells.ToString(System.Globalization.CultureInfo.InvariantCulture)
                ),
            ]
        );
    }

    /// <summary>The drawn part that a finding is at, not one that it is inside of.</summary>
    PartPlace? Exactly(Finding finding) => map.Find(finding.Part);

    FindingFix? Rename(PartPath place)
    {
        if (document.Level(place.Above) is not { } level || document.Part(place) is not { } twin)
            return null;
        var free = level.Diagram.FreeName(twin.Part.Name);
        return new FindingFix(
            $"Rename to '{free}'",
            [new PatchOperation("replace", DocumentPath.Part(level.Id, place.Id) + "/name", free)]
        );
    }

    FindingFix? Respell(Finding finding, string item, string near)
    {
        var wrong = Wrong(finding);
        if (wrong.Length == 0 || Typed(finding, item) is not { } typed)
            return null;
        var mended = Regex.Replace(typed.Text, $@"\b{Regex.Escape(wrong)}\b", near);
        return new FindingFix($"Use '{near}'", [new PatchOperation("replace", typed.Path, mended)]);
    }

    FindingFix? Pointed(Finding finding, string item) =>
        Typed(finding, item) is { } typed && DecimalComma.Mended(typed.Text) is { } mended
            ? new FindingFix($"Write {mended}", [new PatchOperation("replace", typed.Path, mended)])
            : null;

    /// <summary>A member of a bundle under the name that its type has for it, with the wires to it.</summary>
    FindingFix? Respell(PartPlace place, string wrong, string near)
    {
        if (catalog.Find(place.Node.Type) is not { } type || !BundlePart.Is(type))
            return null;
        var members = BundlePart.Members(place.Node, type);
        if (!members.Contains(wrong) || members.Contains(near))
            return null;
        var part = DocumentPath.Part(place.Definition, place.Path.Id);
        var operations = new List<PatchOperation>
        {
            new("add", $"{part}/parameters/{BundlePart.List}", string.Join(", ", members.Select(m => m == wrong ? near : m))),
        };
        var end = new PortReference(place.Path.Id, wrong);
        foreach (var (id, wire) in ((DiagramDefinition)document.Definitions[place.Definition]).Wires)
        {
            if (wire.From == end)
                operations.Add(new("replace", DocumentPath.Wire(place.Definition, id) + "/from/port", near));
            if (wire.To == end)
                operations.Add(new("replace", DocumentPath.Wire(place.Definition, id) + "/to/port", near));
        }

        return new FindingFix($"Call it '{near}'", operations);
    }

    /// <summary>The members that a type declares and the part does not join yet.</summary>
    FindingFix? Joined(PartPlace place)
    {
        if (
            catalog.Find(place.Node.Type) is not { } type
            || !BundlePart.Is(type)
            || !BundlePart.Joins(type)
            || BundlePart.TypeOf(place.Node, catalog) is not { } name
        )
            return null;
        var members = BundlePart.Members(place.Node, type);
        var more = catalog.Find(name)!.Components.Select(c => c.Name).Where(n => !members.Contains(n)).ToList();
        return more.Count == 0
            ? null
            : new FindingFix(
                more.Count == 1 ? $"Join '{more[0]}', too" : $"Join all {members.Count + more.Count} members",
                [
                    new PatchOperation(
                        "add",
                        $"{DocumentPath.Part(place.Definition, place.Path.Id)}/parameters/{BundlePart.List}",
                        string.Join(", ", members.Concat(more))
                    ),
                ]
            );
    }

    /// <summary>The level whose own parameter a finding is about.</summary>
    (string Id, DiagramDefinition Diagram)? LevelOf(Finding finding) =>
        document.Level(finding.Part.Length == 0 ? PartPath.Root : Exactly(finding)?.Path ?? PartPath.Root);

    FindingFix? Zero(PartPlace target, string port)
    {
        var part = target.Node;
        if (catalog.Zero is not { } zero)
            return null;
        return FindingFix.Connecting(
            "Connect a constant zero",
            target.Definition,
            (DiagramDefinition)document.Definitions[target.Definition],
            zero.Name,
            "Zero",
            part.X + (part.Flip ? 160 : -128),
            part.Y,
            part.Flip,
            zero.Ports[0].Name,
            target.Path.Id,
            port,
            new JsonObject { [zero.Traits.Zero!] = "0" }
        );
    }

    /// <summary>Networks without a reference are electrical; what ends a line there gives one.</summary>
    FindingFix? Ground(PartPlace target, string point) =>
        catalog.EndOf("electrical") is not { } ground
            ? null
            : FindingFix.Connecting(
                ground.Traits.EndsAs!,
                target.Definition,
                (DiagramDefinition)document.Definitions[target.Definition],
                ground.Name,
                ground.Title,
                target.Node.X - 48,
                target.Node.Y + 112,
                false,
                ground.Ports[0].Name,
                target.Path.Id,
                point,
                []
            );
}
