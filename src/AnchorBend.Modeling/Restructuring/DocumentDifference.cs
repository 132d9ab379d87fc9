using System.Text.Json;
using System.Text.Json.Nodes;
using AnchorBend.Modeling.Documents;

namespace AnchorBend.Modeling.Restructuring;

/// <summary>The operations that lead from one document to another, entry by entry.</summary>
public static class DocumentDifference
{
    static readonly JsonSerializerOptions Written = DocumentJson.Options(false);

    public static IReadOnlyList<PatchOperation> Between(ModelDocument before, ModelDocument after)
    {
        var operations = new List<PatchOperation>();
        foreach (var (id, definition) in after.Definitions)
        {
            if (!before.Definitions.TryGetValue(id, out var old))
                operations.Add(new PatchOperation("add", DocumentPath.Of("definitions", id), Node(definition)));
            else if (old is DiagramDefinition was && definition is DiagramDefinition now)
                Diagram(id, was, now, operations);
            else if (!old.Equals(definition))
                operations.Add(new PatchOperation("replace", DocumentPath.Of("definitions", id), Node(definition)));
        }

        foreach (var id in before.Definitions.Keys.Where(id => !after.Definitions.ContainsKey(id)))
            operations.Add(new PatchOperation("remove", DocumentPath.Of("definitions", id)));
        foreach (var (id, sheet) in after.Sheets)
            if (!before.Sheets.TryGetValue(id, out var old))
                operations.Add(new PatchOperation("add", DocumentPath.Of("sheets", id), JsonSerializer.SerializeToNode(sheet, Written)));
            else if (!ReferenceEquals(old, sheet))
                Sheet(id, old, sheet, operations);
        Removed(before.Sheets, after.Sheets, operations, ["sheets"]);
        Entries(before.Requirements, after.Requirements, operations, "requirements");
        Entries(before.Measures, after.Measures, operations, "measures");
        Entries(before.PlotSheets, after.PlotSheets, operations, "plotSheets");
        Entries(before.Stimuli, after.Stimuli, operations, "stimuli");
        Entries(before.OperatingPoints, after.OperatingPoints, operations, "operatingPoints");
        Entries(before.Studies, after.Studies, operations, "studies");
        Entries(before.ToleranceGroups, after.ToleranceGroups, operations, "toleranceGroups");
        Entries(before.Tolerances, after.Tolerances, operations, "tolerances");
        Entries(before.CaseGroups, after.CaseGroups, operations, "caseGroups");
        Entries(before.FaultTrees, after.FaultTrees, operations, "faultTrees");
        Entries(before.Justifications, after.Justifications, operations, "justifications");
        Entries(before.Cases, after.Cases, operations, "cases");
        Entries(before.Panels, after.Panels, operations, "panels");
        Entries(before.Alerts, after.Alerts, operations, "alerts");
        Entries(before.Faults, after.Faults, operations, "faults");
        Entries(before.Deliveries, after.Deliveries, operations, "deliveries");
        if (!Same(before.Settings, after.Settings))
            operations.Add(
                new PatchOperation("replace", DocumentPath.Of("settings"), JsonSerializer.SerializeToNode(after.Settings, Written))
            );
        return operations;
    }

    static void Sheet(string id, SheetNode was, SheetNode now, List<PatchOperation> operations)
    {
        string[] at = ["sheets", id];
        Added(was.Columns, now.Columns, operations, [.. at, "columns"]);
        Entries(was.Rows, now.Rows, operations, [.. at, "rows"]);
        Removed(was.Columns, now.Columns, operations, [.. at, "columns"]);
        Fields(
            at,
            operations,
            ("name", was.Name, now.Name),
            ("description", was.Description, now.Description),
            ("chooser", was.Chooser, now.Chooser),
            ("active", was.Active, now.Active)
        );
    }

    static void Fields(string[] at, List<PatchOperation> operations, params (string Name, object? Old, object? Value)[] fields)
    {
        foreach (var (name, old, value) in fields)
            if (!Equals(old, value))
                operations.Add(
                    value is null
                        ? new PatchOperation("remove", DocumentPath.Of([.. at, name]))
                        : new PatchOperation("add", DocumentPath.Of([.. at, name]), JsonSerializer.SerializeToNode(value, Written))
                );
    }

    static void Diagram(string id, DiagramDefinition was, DiagramDefinition now, List<PatchOperation> operations)
    {
        if (ReferenceEquals(was, now))
            return;
        string[] at = ["definitions", id];
        Entries(was.Parameters, now.Parameters, operations, [.. at, "parameters"]);
        // Wires go before the parts they end at and come after them, so that no state between has one that ends nowhere.
        Removed(was.Wires, now.Wires, operations, [.. at, "wires"]);
        Entries(was.Parts, now.Parts, operations, [.. at, "parts"]);
        Added(was.Wires, now.Wires, operations, [.. at, "wires"]);
        Entries(was.Signals, now.Signals, operations, [.. at, "signals"]);
        Entries(was.Areas, now.Areas, operations, [.. at, "areas"]);
        Entries(was.Notes, now.Notes, operations, [.. at, "notes"]);
        Fields(
            at,
            operations,
            ("name", was.Name, now.Name),
            ("description", was.Description, now.Description),
            ("face", was.Face, now.Face),
            ("slot", was.Slot, now.Slot)
        );
    }

    static void Entries<T>(Dictionary<string, T> before, Dictionary<string, T> after, List<PatchOperation> operations, params string[] at)
        where T : class
    {
        Removed(before, after, operations, at);
        Added(before, after, operations, at);
    }

    static void Removed<T>(Dictionary<string, T> before, Dictionary<string, T> after, List<PatchOperation> operations, string[] at) =>
        operations.AddRange(
            before.Keys.Where(k => !after.ContainsKey(k)).Select(k => new PatchOperation("remove", DocumentPath.Of([.. at, k])))
        );

    /// <summary>Entries that are new or other ones; adding one that is there replaces it (RFC 6902, section 4.1).</summary>
    static void Added<T>(Dictionary<string, T> before, Dictionary<string, T> after, List<PatchOperation> operations, string[] at)
        where T : class
    {
        foreach (var (key, value) in after)
            if (!before.TryGetValue(key, out var old) || !Same(old, value))
                operations.Add(new PatchOperation("add", DocumentPath.Of([.. at, key]), JsonSerializer.SerializeToNode(value, Written)));
    }

    static bool Same<T>(T a, T b)
        where T : class =>
        ReferenceEquals(a, b)
        || JsonNode.DeepEquals(JsonSerializer.SerializeToNode(a, Written), JsonSerializer.SerializeToNode(b, Written));

    /// <summary>A definition with the kind it is of.</summary>
    static JsonNode? Node(Definition definition) => JsonSerializer.SerializeToNode(definition, Written);
}
