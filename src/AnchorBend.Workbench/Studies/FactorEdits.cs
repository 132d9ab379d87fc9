using System.Text.Json;
using AnchorBend.Modeling.Documents;

namespace AnchorBend.Workbench.Studies;

/// <summary>The values of a row as edits of the model.</summary>
static class FactorEdits
{
    static readonly JsonSerializerOptions Json = new(JsonSerializerDefaults.Web)
    {
        Converters = { new System.Text.Json.Serialization.JsonStringEnumConverter(JsonNamingPolicy.CamelCase) },
    };

    /// <exception cref="DocumentException">The model has nothing to be set there.</exception>
    public static IEnumerable<PatchOperation> Of(ModelDocument document, StudyFactor factor, string target, StudyCell cell)
    {
        if (RowSettings.IsOne(target))
        {
            var set = RowSettings.Set(document, target, cell.Text);
            if (TrackPoint.Parse(target) is { } point)
                return
                [
                    new PatchOperation(
                        "replace",
                        DocumentPath.Of("stimuli", point.Stimulus, "tracks", point.Track),
                        JsonSerializer.SerializeToNode(set.Stimuli[point.Stimulus].Tracks[point.Track], Json)
                    ),
                ];
            if (target.StartsWith(RowSettings.Fault, StringComparison.Ordinal))
            {
                var id = target[RowSettings.Fault.Length..];
                return [new PatchOperation("replace", DocumentPath.Of("faults", id, "isActive"), set.Faults[id].IsActive)];
            }

            var (name, value) = target switch
            {
                RowSettings.End => ("end", set.Settings.End),
                RowSettings.Stimulus => ("stimulus", set.Settings.Stimulus),
                _ => ("point", set.Settings.Point),
            };
            return [new PatchOperation("add", DocumentPath.Of("settings", name), value)];
        }

        if (SignalReference.TryParse(target, out var reference) && document.Part(reference.Part) is { } found)
            return
            [
                new PatchOperation(
                    "add",
                    DocumentPath.Of("definitions", found.Definition, "parts", reference.Part.Id, "parameters", reference.Port),
                    cell.Text
                ),
            ];
        if (document.Main.Parameters.ContainsKey(target))
            return [new PatchOperation("add", DocumentPath.Of("definitions", document.Root, "parameters", target, "value"), cell.Text)];
        foreach (var (id, sheet) in document.Sheets)
        {
            if (sheet.Chooser == target)
                return [new PatchOperation("replace", DocumentPath.Of("sheets", id, "active"), cell.Text)];
            if (sheet.Rows.FirstOrDefault(r => r.Value.Name == target) is { Key: { } row })
                return [new PatchOperation("add", DocumentPath.Of("sheets", id, "rows", row, "values", ColumnOf(sheet)), cell.Text)];
        }

        throw new DocumentException($"'{factor.Label}' is nothing that an edit can set; change it by hand.");
    }

    /// <summary>The id of the active column; the first where an expression chooses it.</summary>
    static string ColumnOf(SheetNode sheet) =>
        sheet.Columns.FirstOrDefault(c => c.Value.Name == sheet.Active.Trim().Trim('"')).Key ?? sheet.Columns.Keys.First();
}
