using System.Text.Json.Nodes;
using System.Text.RegularExpressions;
using AnchorBend.Modeling.Catalog;

namespace AnchorBend.Modeling.Documents;

/// <summary>Says of a finding which part it is at, and what one click would do about it.</summary>
sealed class FindingFixes(ModelDocument document, SourceMap map, PartCatalog catalog)
{
    public Finding Completed(Finding finding)
    {
        var placed = finding.Place is null ? finding with { Place = map.Around(finding.Part)?.Path } : finding;
        return placed.Fix is not null ? placed : placed with { Fix = FixOf(placed) };
    }

    FindingFix? FixOf(Finding finding) =>
        finding switch
        {
            { Code: "duplicate-name", Item: null, Place: { } place } => Rename(place),
            { Code: "unknown-name", Replacement: { } near, Item: { } item } => Respell(finding, item, near),
            { Code: "unconnected", Item: { } port } when Exactly(finding) is { } place => Zero(place, port),
            { Code: "no-reference", Item: { } point } when Exactly(finding) is { } place => Ground(place, point),
            _ => null,
        };

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
        var wrong = Regex.Match(finding.Message, "'([^']+)'").Groups[1].Value;
        var (path, text) =
            Exactly(finding) is { } place && place.Node.Parameters.TryGetValue(item, out var own)
                ? (DocumentPath.Of("definitions", place.Definition, "parts", place.Path.Id, "parameters", item), own)
            : LevelOf(finding) is { } level && level.Diagram.Parameters.TryGetValue(item, out var shared)
                ? (DocumentPath.Of("definitions", level.Id, "parameters", item, "value"), shared.Value)
            : ("", "");
        if (path.Length == 0 || wrong.Length == 0)
            return null;
        var mended = Regex.Replace(text, $@"\b{Regex.Escape(wrong)}\b", near);
        return new FindingFix($"Use '{near}'", [new PatchOperation("replace", path, mended)]);
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
