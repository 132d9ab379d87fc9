using System.Text.Json.Nodes;
using AnchorBend.Language;
using AnchorBend.Language.Syntax;
using AnchorBend.Modeling.Catalog;
using AnchorBend.Modeling.Flat;
using AnchorBend.Modeling.Flattening;

namespace AnchorBend.Modeling.Documents;

/// <summary>A document made into a flat model, with findings told in terms of the document.</summary>
/// <param name="PartIds">Part ids by path of the part in the flat model.</param>
public sealed record Elaboration(FlatModel Model, IReadOnlyList<Finding> Findings, IReadOnlyDictionary<string, string> PartIds)
{
    public bool HasErrors => Findings.Any(f => f.Severity == Severity.Error);
}

/// <summary>Turns a diagram into a class of components and connections, and that into a flat model.</summary>
public static class DocumentElaboration
{
    /// <param name="overrides">Parameter values by path, as typed.</param>
    public static Elaboration Elaborate(ModelDocument document, PartCatalog catalog, IReadOnlyDictionary<string, string>? overrides = null)
    {
        var findings = new List<Finding>();
        foreach (var (name, error) in catalog.Problems)
            if (document.Classes.ContainsKey(name) || document.Parts.Values.Any(p => p.Type == name))
                findings.Add(
                    new Finding(
                        Severity.Error,
                        error.Code,
                        $"{name}, line {error.At.Line}: {error.Message}",
                        "",
                        name,
                        error.At,
                        error.Suggestion
                    )
                );
        var (definition, ids) = ToClass(document, catalog, findings);
        var (model, found) = Flattener.Flatten(definition, catalog, ParseOverrides(overrides, findings));
        findings.AddRange(found);
        NameSignals(document, model, findings);
        findings.AddRange(DocumentReferences.Broken(document, path => model.Find(path) is not null));
        return new Elaboration(model, [.. findings.Select(f => WithFix(document, f, ids))], ids);
    }

    static Dictionary<string, Expression> ParseOverrides(IReadOnlyDictionary<string, string>? overrides, List<Finding> findings)
    {
        var parsed = new Dictionary<string, Expression>();
        foreach (var (path, text) in overrides ?? new Dictionary<string, string>())
        {
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

    /// <summary>The class that a diagram stands for; what cannot be expressed becomes a finding.</summary>
    public static (ClassDefinition Definition, Dictionary<string, string> PartIds) ToClass(
        ModelDocument document,
        PartCatalog catalog,
        List<Finding> findings
    )
    {
        var elements = new List<Element>();
        var ids = new Dictionary<string, string>();
        var names = new HashSet<string>();
        foreach (var (name, parameter) in document.Parameters)
        {
            names.Add(name);
            if (Field(parameter.Value, "", name, findings) is { } value)
                elements.Add(
                    new ComponentDeclaration("Real", name, default)
                    {
                        Variability = Variability.Parameter,
                        Description = parameter.Description,
                        Modification = Modification.Of(value),
                    }
                );
        }

        foreach (var (id, part) in document.Parts)
        {
            if (!names.Add(part.Name))
            {
                findings.Add(
                    new Finding(
                        Severity.Error,
                        "duplicate-name",
                        $"The name '{part.Name}' is used twice.",
                        id,
                        null,
                        Suggestion: "Rename one of them."
                    )
                );
                continue;
            }

            ids[part.Name] = id;
            if (catalog.Find(part.Type) is null)
            {
                findings.Add(
                    new Finding(
                        Severity.Error,
                        "unknown-class",
                        $"There is no part of type '{part.Type}' in the catalog or the model.",
                        part.Name
                    )
                );
                continue;
            }

            var arguments = new List<ModificationArgument>();
            var isBundle = BundlePart.Is(catalog.Find(part.Type));
            if (isBundle && BundlePart.Unusable(part, catalog.Find(part.Type)!) is { } wrong)
                findings.Add(
                    new Finding(
                        Severity.Error,
                        "bundle-member",
                        Lexer.ReservedWords.Contains(wrong)
                            ? $"'{wrong}' is a word of the equation language, so it cannot be the name of a member."
                            : $"'{wrong}' cannot be the name of a member.",
                        part.Name,
                        BundlePart.List,
                        Suggestion: Lexer.ReservedWords.Contains(wrong)
                            ? $"Try {wrong}_1."
                            : "Take letters, digits and underscores, and a letter first."
                    )
                );
            foreach (var (name, text) in isBundle ? [] : part.Parameters)
                if (Field(text, part.Name, name, findings) is { } value)
                    arguments.Add(new ModificationArgument(name, Modification.Of(value), false, false, value.At));
            elements.Add(new ComponentDeclaration(part.Type, part.Name, default) { Modification = new Modification(arguments, null) });
        }

        var equations = new List<Equation>();
        foreach (var (id, wire) in document.Wires)
        {
            if (LooseWires.Problem(document, catalog, id, wire) is { } problem)
            {
                findings.Add(problem);
                continue;
            }

            var (from, to) = (End(document, catalog, wire.From)!, End(document, catalog, wire.To)!);

            equations.Add(new ConnectEquation(from, to, default));
        }

        return (
            new ClassDefinition(ClassKind.Model, document.Name, document.Description, false, elements, equations, [], null, default),
            ids
        );
    }

    /// <summary>A port as the text of a connection names it; null where there is none.</summary>
    public static Reference? End(ModelDocument document, PartCatalog catalog, PortReference port)
    {
        if (!document.Parts.TryGetValue(port.Part, out var part))
            return null;
        if (port.Port == BundlePart.Whole && BundlePart.Is(catalog.Find(part.Type)))
            return new Reference([new ReferencePart(part.Name, [])], default);
        try
        {
            return Parser.ParseExpression(port.Port) is Reference inner
                ? new Reference([new ReferencePart(part.Name, []), .. inner.Parts], default)
                : null;
        }
        catch (LanguageException)
        {
            return null;
        }
    }

    static Expression? Field(string text, string part, string item, List<Finding> findings)
    {
        try
        {
            return Parser.ParseField(text);
        }
        catch (LanguageException e)
        {
            findings.Add(new Finding(Severity.Error, e.Error.Code, e.Error.Message, part, item, e.Error.At, e.Error.Suggestion));
            return null;
        }
    }

    static void NameSignals(ModelDocument document, FlatModel model, List<Finding> findings)
    {
        foreach (var (key, signal) in document.Signals)
        {
            var dot = key.IndexOf('.');
            if (dot < 0 || !document.Parts.TryGetValue(key[..dot], out var part))
                continue;
            if (model.Find(part.Name + key[dot..]) is not { } variable)
                continue;
            if (signal.Unit is { Length: > 0 } symbol)
            {
                if (Language.Units.Unit.TryParse(symbol, out var unit, out var problem))
                {
                    variable.Unit ??= unit.Coherent();
                    variable.DisplayUnit = symbol;
                }
                else
                {
                    findings.Add(
                        new Finding(
                            Severity.Warning,
                            "unit",
                            problem,
                            part.Name,
                            key[(dot + 1)..],
                            Suggestion: Language.Units.UnitTable.Closest(symbol)
                        )
                    );
                }
            }

            if (signal.Name is not { Length: > 0 } name)
                continue;
            if (model.Find(name) is not null)
                findings.Add(
                    new Finding(
                        Severity.Warning,
                        "duplicate-name",
                        $"The signal name '{name}' is used twice; paths tell them apart.",
                        part.Name,
                        key[(dot + 1)..]
                    )
                );
            else
                model.Aliases[name] = variable.Index;
        }
    }

    static Finding WithFix(ModelDocument document, Finding finding, Dictionary<string, string> ids)
    {
        var partName = finding.Part;
        if (finding.Code == "duplicate-name" && document.Parts.TryGetValue(finding.Part, out var twin))
        {
            var free = FreeName(document, twin.Name);
            return finding with
            {
                Fix = new FindingFix(
                    $"Rename to '{free}'",
                    [new PatchOperation("replace", $"/parts/{JsonPatch.Escape(finding.Part)}/name", free)]
                ),
            };
        }

        if (finding.Code == "unknown-name" && finding.Replacement is { } near && finding.Item is { } item)
        {
            var (path, text) =
                ids.TryGetValue(partName, out var id) && document.Parts[id].Parameters.TryGetValue(item, out var own)
                    ? ($"/parts/{JsonPatch.Escape(id)}/parameters/{JsonPatch.Escape(item)}", own)
                : document.Parameters.TryGetValue(item, out var shared) ? ($"/parameters/{JsonPatch.Escape(item)}/value", shared.Value)
                : ("", "");
            var wrong = System.Text.RegularExpressions.Regex.Match(finding.Message, "'([^']+)'").Groups[1].Value;
            if (path.Length > 0 && wrong.Length > 0)
            {
                var mended = System.Text.RegularExpressions.Regex.Replace(
                    text,
                    $@"\b{System.Text.RegularExpressions.Regex.Escape(wrong)}\b",
                    near
                );
                return finding with { Fix = new FindingFix($"Use '{near}'", [new PatchOperation("replace", path, mended)]) };
            }
        }

        if (finding.Code == "unconnected" && finding.Item is { } port && ids.TryGetValue(partName, out var target))
        {
            var part = document.Parts[target];
            return finding with
            {
                Fix = FindingFix.Connecting(
                    "Connect a constant zero",
                    document,
                    "Constant",
                    "Zero",
                    part.X + (part.Flip ? 160 : -128),
                    part.Y,
                    part.Flip,
                    "y",
                    target,
                    port,
                    new JsonObject { ["k"] = "0" }
                ),
            };
        }

        if (finding.Code == "no-reference" && finding.Item is { } point && ids.TryGetValue(partName, out target))
            return finding with
            {
                Fix = FindingFix.Connecting(
                    "Connect a ground",
                    document,
                    "Ground",
                    "Ground",
                    document.Parts[target].X - 48,
                    document.Parts[target].Y + 112,
                    false,
                    "p",
                    target,
                    point,
                    []
                ),
            };

        return finding;
    }

    /// <summary>A name no part has yet: the wanted one, with a number if need be.</summary>
    public static string FreeName(ModelDocument document, string wanted)
    {
        var taken = document.Parts.Values.Select(p => p.Name).Concat(document.Parameters.Keys).ToHashSet();
        if (!taken.Contains(wanted))
            return wanted;
        var stem = wanted.TrimEnd('0', '1', '2', '3', '4', '5', '6', '7', '8', '9', ' ');
        for (var n = 2; ; n++)
            if (!taken.Contains($"{stem} {n}"))
                return $"{stem} {n}";
    }
}
