using System.Text.Json.Nodes;
using AnchorBend.Modeling.Documents;

namespace AnchorBend.Modeling.Comparison;

/// <summary>What differs between two states of a model or between two models, level by level.</summary>
public static class ModelComparison
{
    /// <returns>Levels on which something differs, the root's first; at the end what belongs to no level.</returns>
    public static IReadOnlyList<LevelDifference> Between(ModelDocument left, ModelDocument right)
    {
        var matching = new Matching(left, right);
        var levels = new List<LevelDifference>();
        void Add(string name, string? a, string? b, List<Difference> found)
        {
            if (found.Count > 0)
                levels.Add(new LevelDifference(name, a is null ? null : First(left, a), b is null ? null : First(right, b), found));
        }

        foreach (var (id, definition) in left.Definitions.OrderBy(d => d.Key != left.Root))
        {
            var other = matching.RightOf(id);
            if (definition is DiagramDefinition diagram && other is not null)
                Add(
                    diagram.Name,
                    id,
                    other,
                    DiagramComparison.Between(matching, right, id, diagram, (DiagramDefinition)right.Definitions[other])
                );
        }

        var apart = new List<Difference>();
        foreach (var (id, definition) in left.Definitions)
            Definition(id, definition, apart);
        foreach (var (id, definition) in right.Definitions.Where(d => matching.LeftOf(d.Key) is null))
            apart.Add(
                new Difference(
                    definition is TextDefinition ? "text" : "level",
                    definition.Name,
                    Change.Added,
                    null,
                    id,
                    [],
                    matching.Missing(DefinitionReference.OfOwn(id)) is { } missing
                        ?
                        [
                            .. missing.Select(m => new PatchOperation(
                                "add",
                                DocumentPath.Of("definitions", m),
                                Fields.Node(right.Definitions[m])
                            )),
                        ]
                        : []
                )
            );
        Sheets(left, right, apart);
        Entries("requirement", left.Requirements, right.Requirements, (_, r) => r.Name, apart, ["requirements"]);
        Entries("measure", left.Measures, right.Measures, (_, m) => m.Name, apart, ["measures"]);
        Entries("plot sheet", left.PlotSheets, right.PlotSheets, (_, s) => s.Name, apart, ["plotSheets"]);
        Entries("stimulus", left.Stimuli, right.Stimuli, (_, s) => s.Name, apart, ["stimuli"]);
        Entries("operating point", left.OperatingPoints, right.OperatingPoints, (_, p) => p.Name, apart, ["operatingPoints"]);
        Entries("study", left.Studies, right.Studies, (_, s) => s.Name, apart, ["studies"]);
        Entries(
            "tolerance",
            left.Tolerances,
            right.Tolerances,
            (_, t) => right.NameOf(t.Target) ?? left.NameOf(t.Target) ?? t.Target,
            apart,
            ["tolerances"]
        );
        Entries("group of tolerances", left.ToleranceGroups, right.ToleranceGroups, (_, g) => g.Name, apart, ["toleranceGroups"]);
        Entries("group of cases", left.CaseGroups, right.CaseGroups, (_, g) => g.Name, apart, ["caseGroups"]);
        Entries("fault tree", left.FaultTrees, right.FaultTrees, (_, t) => t.Name, apart, ["faultTrees"]);
        Entries("justification", left.Justifications, right.Justifications, (_, j) => j.Goal, apart, ["justifications"]);
        Entries("case", left.Cases, right.Cases, (_, c) => c.Name, apart, ["cases"]);
        Entries("panel", left.Panels, right.Panels, (_, p) => p.Name, apart, ["panels"]);
        Entries("alert", left.Alerts, right.Alerts, (_, a) => a.Text, apart, ["alerts"]);
        Entries("fault", left.Faults, right.Faults, (_, f) => f.Name, apart, ["faults"]);
        Entries("delivery", left.Deliveries, right.Deliveries, (_, d) => d.Name, apart, ["deliveries"]);
        var settings = Fields.Between(Fields.Node(left.Settings), Fields.Node(right.Settings), _ => true);
        if (settings.Count > 0)
            apart.Add(
                new Difference(
                    "settings",
                    "Run settings",
                    Change.Changed,
                    "settings",
                    "settings",
                    settings,
                    [new PatchOperation("replace", DocumentPath.Of("settings"), Fields.Node(right.Settings))]
                )
            );
        Add("", null, null, apart);
        return levels;

        void Definition(string id, Definition definition, List<Difference> found)
        {
            if (matching.RightOf(id) is not { } other)
                found.Add(
                    new Difference(
                        definition is TextDefinition ? "text" : "level",
                        definition.Name,
                        Change.Removed,
                        id,
                        null,
                        [],
                        [new PatchOperation("remove", DocumentPath.Of("definitions", id))]
                    )
                );
            else if (definition is TextDefinition text && right.Definitions[other] is TextDefinition now && text != now)
                found.Add(
                    new Difference(
                        "text",
                        text.Name,
                        Change.Changed,
                        id,
                        other,
                        Fields.Between(Fields.Node(text), Fields.Node(now), _ => true),
                        [new PatchOperation("replace", DocumentPath.Of("definitions", id), Fields.Node<Definition>(now))]
                    )
                );
        }
    }

    static string? First(ModelDocument document, string definition) =>
        document.UsesOf(definition).Select(u => u.ToString()).FirstOrDefault();

    static void Sheets(ModelDocument left, ModelDocument right, List<Difference> found)
    {
        foreach (var (id, sheet) in left.Sheets)
        {
            if (!right.Sheets.TryGetValue(id, out var other))
            {
                found.Add(
                    new Difference(
                        "sheet",
                        sheet.Name,
                        Change.Removed,
                        id,
                        null,
                        [],
                        [new PatchOperation("remove", DocumentPath.Of("sheets", id))]
                    )
                );
                continue;
            }

            if (ReferenceEquals(sheet, other))
                continue;
            foreach (
                var (field, before, now) in ((string, string?, string?)[])
                    [
                        ("name", sheet.Name, other.Name),
                        ("description", sheet.Description, other.Description),
                        ("chooser", sheet.Chooser, other.Chooser),
                        ("active", sheet.Active, other.Active),
                    ]
            )
                if (before != now)
                    found.Add(
                        new Difference(
                            "sheet",
                            sheet.Name,
                            Change.Changed,
                            id,
                            id,
                            [new FieldDifference(field, before, now, field == "active")],
                            [new PatchOperation("add", DocumentPath.Of("sheets", id, field), JsonValue.Create(now))]
                        )
                    );
            Entries("column", sheet.Columns, other.Columns, (_, c) => c.Name, found, ["sheets", id, "columns"]);
            Entries("row", sheet.Rows, other.Rows, (_, r) => r.Name, found, ["sheets", id, "rows"]);
        }

        foreach (var (id, sheet) in right.Sheets.Where(s => !left.Sheets.ContainsKey(s.Key)))
            found.Add(
                new Difference(
                    "sheet",
                    sheet.Name,
                    Change.Added,
                    null,
                    id,
                    [],
                    [new PatchOperation("add", DocumentPath.Of("sheets", id), Fields.Node(sheet))]
                )
            );
    }

    /// <summary>Entries of two collections by their ids.</summary>
    internal static void Entries<T>(
        string what,
        Dictionary<string, T> left,
        Dictionary<string, T> right,
        Func<string, T, string> name,
        List<Difference> found,
        string[] at
    )
        where T : class
    {
        foreach (var (id, entry) in left)
        {
            if (!right.TryGetValue(id, out var other))
                found.Add(
                    new Difference(
                        what,
                        name(id, entry),
                        Change.Removed,
                        id,
                        null,
                        [],
                        [new PatchOperation("remove", DocumentPath.Of([.. at, id]))]
                    )
                );
            else if (!ReferenceEquals(entry, other))
            {
                var fields = Fields.Between(Fields.Node(entry), Fields.Node(other), f => f is "value" or "limit" or "minimum" or "maximum");
                if (fields.Count > 0)
                    found.Add(
                        new Difference(
                            what,
                            name(id, other),
                            Fields.OnlyPlaces(fields) ? Change.Moved : Change.Changed,
                            id,
                            id,
                            fields,
                            [new PatchOperation("add", DocumentPath.Of([.. at, id]), Fields.Node(other))]
                        )
                    );
            }
        }

        foreach (var (id, entry) in right)
            if (!left.ContainsKey(id))
                found.Add(
                    new Difference(
                        what,
                        name(id, entry),
                        Change.Added,
                        null,
                        id,
                        [],
                        [new PatchOperation("add", DocumentPath.Of([.. at, id]), Fields.Node(entry))]
                    )
                );
    }
}
