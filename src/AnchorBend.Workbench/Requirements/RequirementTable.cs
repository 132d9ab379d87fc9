using System.Globalization;
using System.Text.Json;
using System.Text.Json.Serialization;
using AnchorBend.Compiler.Preparation;
using AnchorBend.Interchange.Sheets;
using AnchorBend.Modeling.Documents;
using AnchorBend.Workbench.Views;

namespace AnchorBend.Workbench.Requirements;

/// <summary>
/// Requirements as a table of cells, a row each, and such a table as requirements. A row changes the requirement of its identifier, else of
/// its name; one that meets none adds one. Cells that are not there leave what is there, empty ones clear it.
/// </summary>
public static class RequirementTable
{
    static readonly JsonSerializerOptions Json = new(JsonSerializerDefaults.Web)
    {
        DefaultIgnoreCondition = JsonIgnoreCondition.WhenWritingNull,
        Converters = { new JsonStringEnumConverter(JsonNamingPolicy.CamelCase) },
    };

    const string Rule = "rule",
        Measure = "measure";

    static readonly (string Word, RequirementKind Kind)[] Kinds =
    [
        ("upper limit", RequirementKind.UpperLimit),
        ("lower limit", RequirementKind.LowerLimit),
        ("overshoot", RequirementKind.Overshoot),
        ("rise time", RequirementKind.RiseTime),
        ("settling time", RequirementKind.SettlingTime),
        ("steady-state error", RequirementKind.SteadyStateError),
    ];

    static readonly string[] Heads =
    [
        "identifier",
        "name",
        "group",
        "priority",
        "text",
        "source",
        "rationale",
        "condition",
        "signal",
        Measure,
        Rule,
        "limit",
        "from",
        "to",
        "band",
        "set-point",
    ];

    public static byte[] Write(ModelDocument document, SpreadsheetForm form)
    {
        var rows = new List<IReadOnlyList<object?>> { Heads };
        foreach (var r in document.Requirements.Values)
            rows.Add([
                r.Identifier,
                r.Name,
                r.Group,
                r.Priority,
                r.Text,
                r.Source,
                r.Rationale,
                r.Rule is not null ? Rule : Kinds.First(k => k.Kind == r.Kind).Word,
                r.Signal.Length > 0 ? document.NameOf(r.Signal) ?? r.Signal : null,
                r.Measure is { } m ? document.Measures.GetValueOrDefault(m)?.Name ?? m : null,
                r.Rule,
                r.Rule is null ? r.Limit : null,
                r.From,
                r.To,
                r.Band,
                r.Reference is { Length: > 0 } other ? document.NameOf(other) ?? other : null,
            ]);
        return SpreadsheetFile.Write(rows, form);
    }

    /// <param name="prepared">For signals by their names.</param>
    /// <exception cref="DocumentException">It is no such table.</exception>
    public static ActionView Read(ModelDocument document, PreparedModel prepared, byte[] file)
    {
        var cells = SpreadsheetFile.Read(file);
        if (cells.Count < 2)
            throw new DocumentException("The table needs a first row with names of columns and one or more with requirements.");
        var heads = cells[0].Select(c => Text(c).ToLowerInvariant()).ToList();
        if (!heads.Contains("name"))
            throw new DocumentException($"No column is called 'name'. Columns are {string.Join(", ", Heads)}.");
        var operations = new List<PatchOperation>();
        var known = new Dictionary<string, RequirementNode>(document.Requirements);
        for (var line = 1; line < cells.Count; line++)
        {
            var row = new Row(heads, cells[line]);
            if (row["name"] is not { Length: > 0 } name)
                continue;
            var id = known.FirstOrDefault(r => row["identifier"] is { Length: > 0 } i && r.Value.Identifier == i).Key
                ?? known.FirstOrDefault(r => r.Value.Name == name).Key;
            var was = id is null ? new RequirementNode { Name = name, Signal = "" } : known[id];
            var now = Changed(document, prepared, row, was with { Name = name }, line + 1);
            if (id is null)
                for (var n = known.Count + 1; id is null; n++)
                    id = known.ContainsKey($"r{n}") ? null : $"r{n}";
            else if (now == was)
                continue;
            known[id] = now;
            operations.Add(new PatchOperation("add", DocumentPath.Of("requirements", id), JsonSerializer.SerializeToNode(now, Json)));
        }

        return operations.Count > 0
            ? new ActionView(operations.Count == 1 ? "Read a requirement" : $"Read {operations.Count} requirements", operations)
            : throw new DocumentException("The table says nothing that the requirements do not say already.");
    }

    sealed class Row(List<string> heads, IReadOnlyList<object?> cells)
    {
        /// <summary>A cell of a column; null where the table has no such column.</summary>
        public string? this[string head] =>
            heads.IndexOf(head) is >= 0 and var at
                ? at < cells.Count
                    ? Text(cells[at])
                    : ""
                : null;

        /// <summary>What the table says of something that may be missing; what there was where it says nothing of it.</summary>
        public string? Or(string head, string? was) =>
            this[head] is { } text
                ? text.Length > 0
                    ? text
                    : null
                : was;
    }

    static RequirementNode Changed(ModelDocument document, PreparedModel prepared, Row row, RequirementNode was, int line)
    {
        var now = was with
        {
            Identifier = row.Or("identifier", was.Identifier),
            Group = row.Or("group", was.Group),
            Priority = row.Or("priority", was.Priority),
            Text = row.Or("text", was.Text),
            Source = row.Or("source", was.Source),
            Rationale = row.Or("rationale", was.Rationale),
            From = row.Or("from", was.From),
            To = row.Or("to", was.To),
            Band = row.Or("band", was.Band),
            Limit = row["limit"] is { Length: > 0 } limit ? limit : was.Limit,
        };
        if (now.Priority is not (null or "must" or "should" or "may"))
            throw new DocumentException($"Row {line}: a priority is must, should or may, not '{DocumentLimits.Short(now.Priority)}'.");
        if (row[Rule] is { Length: > 0 } rule)
            return now with { Rule = rule, Signal = "", Measure = null, Reference = null };
        if (row["condition"] is { Length: > 0 } condition && condition != Rule)
            now = now with
            {
                Rule = null,
                Kind = Kinds.FirstOrDefault(k => k.Word.Equals(condition, StringComparison.OrdinalIgnoreCase)) is { Word: not null } kind
                    ? kind.Kind
                    : throw new DocumentException(
                        $"Row {line}: a condition is rule, {string.Join(", ", Kinds.Select(k => k.Word))}, "
                            + $"not '{DocumentLimits.Short(condition)}'."
                    ),
            };
        if (row[Measure] is { Length: > 0 } measure)
            now = now with
            {
                Signal = "",
                Measure = document.Measures.FirstOrDefault(m => m.Value.Name == measure).Key
                    ?? throw new DocumentException($"Row {line}: there is no measure '{DocumentLimits.Short(measure)}'."),
            };
        else if (row["signal"] is { Length: > 0 } signal)
            now = now with { Measure = null, Signal = Identity(prepared, signal, line) };
        if (row["set-point"] is { } other)
            now = now with { Reference = other.Length > 0 ? Identity(prepared, other, line) : null };
        return now.Rule is null && now.Measure is null && now.Signal.Length == 0
            ? throw new DocumentException($"Row {line}: '{DocumentLimits.Short(now.Name)}' says neither a rule nor a signal nor a measure.")
            : now;
    }

    /// <summary>A signal by identity, so that it follows new names.</summary>
    static string Identity(PreparedModel prepared, string name, int line)
    {
        if (!prepared.CanRun)
            return name;
        var variable = prepared.Find(name)
            ?? throw new DocumentException($"Row {line}: there is no signal '{DocumentLimits.Short(name)}' in the model.");
        // A quantity of a port belongs to the port, and this to its part.
        for (var owner = variable.Owner; owner.Length > 0; owner = owner[..Math.Max(0, owner.LastIndexOf('.'))])
            if (prepared.Map.Find(owner) is { } place)
                return new SignalReference(place.Path, variable.Name[(owner.Length + 1)..]).ToString();
        return variable.Name;
    }

    static string Text(object? cell) => Convert.ToString(cell, CultureInfo.InvariantCulture)?.Trim() ?? "";
}
