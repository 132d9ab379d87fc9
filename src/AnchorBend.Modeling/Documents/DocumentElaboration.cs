using AnchorBend.Language;
using AnchorBend.Language.Binding;
using AnchorBend.Language.Syntax;
using AnchorBend.Language.Units;
using AnchorBend.Modeling.Catalog;
using AnchorBend.Modeling.Flat;
using AnchorBend.Modeling.Flattening;
using AnchorBend.Modeling.Written;

namespace AnchorBend.Modeling.Documents;

/// <summary>A document made into a flat model, with findings told in terms of the document.</summary>
/// <param name="Map">Leads from the flat model back to what was drawn.</param>
public sealed record Elaboration(FlatModel Model, IReadOnlyList<Finding> Findings, SourceMap Map)
{
    public bool HasErrors => Findings.Any(f => f.Severity == Severity.Error);
}

/// <summary>Elaborates a model: each of its definitions is a class (<see cref="DiagramClass"/>), the root's is flattened.</summary>
public static class DocumentElaboration
{
    /// <param name="catalog">The catalog of this document (<see cref="PartCatalog.Of"/>).</param>
    /// <param name="overrides">Parameter values by path, as typed.</param>
    public static Elaboration Elaborate(ModelDocument document, PartCatalog catalog, IReadOnlyDictionary<string, string>? overrides = null)
    {
        catalog = catalog.For(document);
        var map = new SourceMap(document, catalog);
        var findings = new List<Finding>([
            .. OwnTexts(document, catalog, map),
            .. OfWritten(document, map),
            .. SheetParameters.Problems(document),
        ]);
        var parsed = ParseOverrides(overrides, document, map, findings);
        findings.AddRange(OfClasses(map, catalog));
        var (model, found) = Flattener.Flatten(catalog.Find(DefinitionReference.OfOwn(document.Root))!, catalog, parsed);
        findings.AddRange(found);
        findings.AddRange(Choices(map, model));
        MarkPlayed(map, catalog, model);
        NameSignals(map, model, findings);
        findings.AddRange(DocumentReferences.Broken(document, map, path => model.Find(path) is not null));
        var fixes = new FindingFixes(document, map, catalog);
        return new Elaboration(model, [.. findings.Select(f => fixes.Completed(OfItem(document, map, f)))], map);
    }

    /// <summary>What is told with a line of the class of a chart or table is of an item in it; the line itself says nothing.</summary>
    static Finding OfItem(ModelDocument document, SourceMap map, Finding finding) =>
        finding is { At.Line: > 0, Inner: null }
        && map.Around(finding.Part) is { } place
        && Written(document, place.Node.Type) is { } written
            ? finding with
            {
                At = default,
                Place = place.Path,
                Inner = written.ItemAt(finding.At),
            }
            : finding;

    /// <summary>Errors in the texts of own parts that the model holds or uses.</summary>
    static IEnumerable<Finding> OwnTexts(ModelDocument document, PartCatalog catalog, SourceMap map)
    {
        var problems = catalog.Problems.ToList();
        if (problems.Count == 0)
            yield break;
        var own = document.Definitions.Values.OfType<TextDefinition>().Select(d => d.Name).ToHashSet();
        var used = document.Definitions.Values.OfType<DiagramDefinition>().SelectMany(d => d.Parts.Values).Select(p => p.Type).ToHashSet();
        foreach (var (name, error) in problems)
            if (own.Contains(name) || used.Contains(name))
                yield return new Finding(
                    Severity.Error,
                    error.Code,
                    Written(document, name) is { } written
                        ? $"{written.Name}: {error.Message}"
                        : $"{name}, line {error.At.Line}: {error.Message}",
                    "",
                    Written(document, name)?.Name ?? name,
                    Written(document, name) is null ? error.At : default,
                    error.Suggestion
                )
                {
                    Place = Written(document, name) is null ? null : PlaceOf(map, name)?.Path,
                    Inner = error.Item,
                };
    }

    /// <summary>The first part of a type.</summary>
    static PartPlace? PlaceOf(SourceMap map, string type) => map.Parts.FirstOrDefault(p => p.Node.Type == type);

    /// <summary>What is seen in the charts and tables that are used, at the first place of each.</summary>
    static IEnumerable<Finding> OfWritten(ModelDocument document, SourceMap map)
    {
        foreach (var (id, definition) in document.Definitions)
            if (definition is Written.WrittenDefinition written && PlaceOf(map, DefinitionReference.OfOwn(id)) is { } place)
                foreach (var found in written.Review())
                    yield return new Finding(
                        found.Severity,
                        found.Code,
                        found.Message,
                        map.NameOf(place.Path)!,
                        Suggestion: found.Suggestion
                    )
                    {
                        Place = place.Path,
                        Inner = found.Item,
                    };
    }

    /// <summary>The chart or table that a type is; its class was written, so that lines of it say nothing.</summary>
    static Written.WrittenDefinition? Written(ModelDocument document, string type) =>
        DefinitionReference.Parse(type) is { IsOwn: true, Key: var id }
            ? document.Definitions.GetValueOrDefault(id) as Written.WrittenDefinition
            : null;

    /// <summary>What is wrong in a diagram is told once, at the first place where it is used.</summary>
    static IEnumerable<Finding> OfClasses(SourceMap map, PartCatalog catalog)
    {
        var told = new HashSet<DiagramDefinition>(ReferenceEqualityComparer.Instance);
        foreach (var (path, name, diagram) in map.Levels)
        {
            if (!told.Add(diagram))
                continue;
            foreach (var finding in catalog.FindingsOf(diagram))
                yield return name.Length == 0
                    ? finding
                    : finding with
                    {
                        Part = finding.Part.Length == 0 ? name : $"{name}.{finding.Part}",
                        Place = finding.Place is { } place ? path.Then(place.Id) : null,
                    };
        }
    }

    /// <summary>Scalar parameters of sources are what a run is played with.</summary>
    static void MarkPlayed(SourceMap map, PartCatalog catalog, FlatModel model)
    {
        var sources = new Dictionary<string, bool>();
        foreach (var variable in model.Variables)
        {
            if (variable.Role != VariableRole.Parameter || variable.IsStructural || map.Find(variable.Owner) is not { } place)
                continue;
            var type = place.Node.Type;
            if (!sources.TryGetValue(type, out var isSource))
                sources[type] = isSource = catalog.Find(type) is not null && DrivenParts.SourceOf(catalog.Describe(type)) is not null;
            variable.IsPlayed =
                isSource && variable.Type is ScalarType.Real or ScalarType.Integer or ScalarType.Boolean && !variable.Name.EndsWith(']');
        }
    }

    /// <summary>Slots whose parameter names none of their alternatives.</summary>
    static IEnumerable<Finding> Choices(SourceMap map, FlatModel model)
    {
        foreach (var (path, name, diagram) in map.Levels)
        {
            if (diagram.Slot is not { } chooser || !model.Words.TryGetValue($"{name}.{chooser}", out var chosen))
                continue;
            var names = Slots.Of(diagram).Select(a => a.Name).ToList();
            if (!names.Contains(chosen))
                yield return new Finding(
                    Severity.Error,
                    "no-alternative",
                    $"'{name}' has no alternative '{DocumentLimits.Short(chosen)}'.",
                    name,
                    chooser,
                    Suggestion: Nearest.Of(chosen, names) is { } near
                        ? $"Did you mean {near}?"
                        : $"Choose one of {string.Join(", ", names)}."
                )
                {
                    Place = path,
                };
        }
    }

    static bool IsColumn(ModelDocument document, string path, string name) =>
        document.Sheets.Values.Any(s => s.Chooser == path && s.Columns.Values.Any(c => c.Name == name));

    static bool IsChoice(DiagramDefinition slot, string name) => Slots.Of(slot).Any(a => a.Name == name);

    static Dictionary<string, Expression> ParseOverrides(
        IReadOnlyDictionary<string, string>? overrides,
        ModelDocument document,
        SourceMap map,
        List<Finding> findings
    )
    {
        var parsed = new Dictionary<string, Expression>();
        foreach (var (path, text) in overrides ?? new Dictionary<string, string>())
        {
            // An alternative or a column may be named without quotation marks.
            if (
                IsColumn(document, path, text)
                || map.Levels.Any(l => l.Diagram.Slot is { } chooser && $"{l.Name}.{chooser}" == path && IsChoice(l.Diagram, text))
            )
            {
                parsed[path] = new StringLiteral(text, default);
                continue;
            }

            try
            {
                parsed[path] = Parser.ParseField(text);
            }
            catch (LanguageException e)
            {
                findings.Add(new Finding(Severity.Error, e.Error.Code, e.Error.Message, "", path, e.Error.At, e.Error.Suggestion));
            }
        }

        return parsed;
    }

    /// <summary>Gives signals the names and units that the user gave them, level by level.</summary>
    static void NameSignals(SourceMap map, FlatModel model, List<Finding> findings)
    {
        foreach (var (path, level, diagram) in map.Levels)
        foreach (var (key, signal) in diagram.Signals)
        {
            if (!SignalReference.TryParse(key, out var port) || port.Part.Steps.Count != 1 || !diagram.Parts.ContainsKey(port.Part.Id))
                continue;
            var reference = new SignalReference(path.Then(port.Part.Id), port.Port);
            if (map.NameOf(reference) is not { } variableName || model.Find(variableName) is not { } variable)
                continue;
            Finding Warning(string code, string message, string? suggestion) =>
                new(Severity.Warning, code, message, map.NameOf(reference.Part)!, port.Port, Suggestion: suggestion);
            if (signal.Unit is { Length: > 0 } symbol)
            {
                if (Unit.TryParse(symbol, out var unit, out var problem))
                {
                    variable.Unit ??= unit.Coherent();
                    variable.DisplayUnit = symbol;
                }
                else
                {
                    findings.Add(Warning("unit", problem, UnitTable.Closest(symbol)));
                }
            }

            if (signal.Name is not { Length: > 0 } own)
                continue;
            var name = level.Length == 0 ? own : $"{level}.{own}";
            if (model.Find(name) is not null)
                findings.Add(Warning("duplicate-name", $"The signal name '{own}' is used twice; paths tell them apart.", null));
            else
                model.Aliases[name] = variable.Index;
        }
    }
}
