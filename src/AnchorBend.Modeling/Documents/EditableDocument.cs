using System.Text.Json.Nodes;

namespace AnchorBend.Modeling.Documents;

/// <summary>
/// A document under edit: the JSON that patches are applied to, in place, and the record that everybody reads. An edit reads anew only
/// the entries it touches, so its cost does not grow with the model. Where an edit is refused, both are as they were.
/// </summary>
public sealed class EditableDocument
{
    JsonObject json;

    /// <param name="json">A document of the present format; it belongs to this object from now on.</param>
    /// <exception cref="DocumentException">It is no document.</exception>
    public EditableDocument(JsonObject json) => (this.json, Document) = (json, DocumentJson.Read(json));

    public ModelDocument Document { get; private set; }

    /// <summary>The document as text, for a snapshot.</summary>
    public string ToJson() => json.ToJsonString();

    /// <summary>Applies operations and gives those that lead back.</summary>
    /// <exception cref="DocumentException">They do not fit or lead to a broken document; nothing is changed.</exception>
    public IReadOnlyList<PatchOperation> Apply(IReadOnlyList<PatchOperation> operations)
    {
        try
        {
            var inverse = JsonPatch.ApplyInPlace(json, operations);
            DocumentReferences.Identify(json);
            Document = Reread(operations);
            return inverse;
        }
        catch
        {
            // An edit that is refused is rare; what it began is not worth taking back step by step.
            Restore(Document);
            throw;
        }
    }

    /// <summary>Goes back to a document that it was before.</summary>
    public void Restore(ModelDocument before) => (json, Document) = ((JsonObject)JsonNode.Parse(before.ToJson())!, before);

    ModelDocument Reread(IReadOnlyList<PatchOperation> operations)
    {
        var definitions = new Dictionary<string, List<string[]>>();
        var rows = new HashSet<(string Sheet, string Row)>();
        var observed = false;
        foreach (var operation in operations)
        {
            var steps = JsonPatch.Steps(operation.Path);
            if (steps is ["definitions", var id, _, ..])
            {
                if (!definitions.TryGetValue(id, out var inside))
                    definitions[id] = inside = [];
                inside.Add(steps[2..]);
            }
            else if (steps is ["sheets", var sheet, "rows", var row, ..])
                rows.Add((sheet, row));
            else if (
                steps
                is [
                    "measures"
                    or "plotSheets"
                    or "stimuli"
                    or "operatingPoints"
                    or "studies"
                    or "tolerances"
                    or "toleranceGroups"
                    or "cases"
                    or "caseGroups"
                    or "justifications"
                    or "faultTrees"
                    or "panels"
                    or "alerts"
                    or "faults",
                    _,
                    ..,
                ]
            )
                observed = true;
            else if (steps is not (["settings", _, ..] or ["requirements", _, ..]))
                return DocumentJson.Read(json);
        }

        var next = Document with
        {
            Requirements = Requirements(operations),
            Sheets = rows.Count == 0 ? Document.Sheets : Sheets(rows),
            Settings = json["settings"] is { } settings ? DocumentJson.Entry<RunSettings>(settings) : new RunSettings(),
        };
        if (observed)
        {
            next = next with
            {
                Measures = DocumentJson.Entry<Dictionary<string, MeasureNode>>(json["measures"] ?? new JsonObject()),
                PlotSheets = DocumentJson.Entry<Dictionary<string, PlotSheetNode>>(json["plotSheets"] ?? new JsonObject()),
                Stimuli = DocumentJson.Entry<Dictionary<string, StimulusNode>>(json["stimuli"] ?? new JsonObject()),
            };
            next = next with
            {
                OperatingPoints = DocumentJson.Entry<Dictionary<string, OperatingPointNode>>(json["operatingPoints"] ?? new JsonObject()),
                Studies = DocumentJson.Entry<Dictionary<string, StudyNode>>(json["studies"] ?? new JsonObject()),
                Tolerances = DocumentJson.Entry<Dictionary<string, ToleranceNode>>(json["tolerances"] ?? new JsonObject()),
                ToleranceGroups = DocumentJson.Entry<Dictionary<string, ToleranceGroupNode>>(json["toleranceGroups"] ?? new JsonObject()),
                Cases = DocumentJson.Entry<Dictionary<string, CaseNode>>(json["cases"] ?? new JsonObject()),
                CaseGroups = DocumentJson.Entry<Dictionary<string, CaseGroupNode>>(json["caseGroups"] ?? new JsonObject()),
                Justifications = DocumentJson.Entry<Dictionary<string, JustificationNode>>(json["justifications"] ?? new JsonObject()),
                FaultTrees = DocumentJson.Entry<Dictionary<string, FaultTreeNode>>(json["faultTrees"] ?? new JsonObject()),
                Panels = DocumentJson.Entry<Dictionary<string, PanelNode>>(json["panels"] ?? new JsonObject()),
                Alerts = DocumentJson.Entry<Dictionary<string, AlertNode>>(json["alerts"] ?? new JsonObject()),
                Faults = DocumentJson.Entry<Dictionary<string, FaultNode>>(json["faults"] ?? new JsonObject()),
                Deliveries = DocumentJson.Entry<Dictionary<string, DeliveryNode>>(json["deliveries"] ?? new JsonObject()),
            };
            ObservationLimits.Hold(next);
            StudyLimits.Hold(next);
            CaseLimits.Hold(next);
            FaultTreeLimits.Hold(next);
            PlayLimits.Hold(next);
            DeliveryLimits.Hold(next);
        }

        DocumentLimits.Check(next.Settings);
        foreach (var (id, inside) in definitions)
            next = next.With(id, Reread(id, inside));
        DocumentLimits.CheckSizes(next);
        return next;
    }

    Dictionary<string, SheetNode> Sheets(HashSet<(string Sheet, string Row)> rows)
    {
        var sheets = new Dictionary<string, SheetNode>(Document.Sheets);
        foreach (var touched in rows.GroupBy(r => r.Sheet))
            if (json["sheets"]?[touched.Key] is JsonObject node && sheets.TryGetValue(touched.Key, out var sheet))
                sheets[touched.Key] = sheet with
                {
                    Rows = Changed<RowNode>(sheet.Rows, node, "rows", [.. touched.Select(t => t.Row)], (id, row) =>
                        SheetLimits.Check(sheet, id, row)
                    ),
                };
        return sheets;
    }

    Dictionary<string, RequirementNode> Requirements(IReadOnlyList<PatchOperation> operations)
    {
        // Names in requirements may become identities when something else is edited.
        var node = json["requirements"] as JsonObject ?? [];
        if (
            node.Count == 0
            && Document.Requirements.Count == 0
            && operations.All(o => !o.Path.StartsWith("/req", StringComparison.Ordinal))
        )
            return Document.Requirements;
        var read = DocumentJson.Entry<Dictionary<string, RequirementNode>>(node);
        foreach (var (id, requirement) in read)
            DocumentLimits.Check(id, requirement);
        return read;
    }

    Definition Reread(string id, List<string[]> places)
    {
        var node = (JsonObject)json["definitions"]![id]!;
        if (
            Document.Definitions.GetValueOrDefault(id) is not DiagramDefinition diagram
            || !places.TrueForAll(p => p.Length >= 2 && IsEntry(p[0]))
        )
        {
            var whole = DocumentJson.Entry<Definition>(node);
            DocumentLimits.Check(id, whole);
            return whole;
        }

        List<string> Touched(string collection) => [.. places.Where(p => p[0] == collection).Select(p => p[1]).Distinct()];
        return diagram with
        {
            Parts = Changed(diagram.Parts, node, "parts", Touched("parts"), DocumentLimits.Check),
            Wires = Changed(diagram.Wires, node, "wires", Touched("wires"), DocumentLimits.Check),
            Parameters = Changed(diagram.Parameters, node, "parameters", Touched("parameters"), DocumentLimits.Check),
            Signals = Changed<SignalNode>(diagram.Signals, node, "signals", Touched("signals"), (_, s) => DocumentLimits.Check(s)),
            Areas = Changed<AreaNode>(diagram.Areas, node, "areas", Touched("areas"), (_, a) => DocumentLimits.Check(a)),
            Notes = Changed<NoteNode>(diagram.Notes, node, "notes", Touched("notes"), (_, n) => DocumentLimits.Check(n)),
        };
    }

    static bool IsEntry(string collection) => collection is "parts" or "wires" or "parameters" or "signals" or "areas" or "notes";

    /// <summary>
    /// The collection with the touched entries as the JSON has them, in the order that a reader of the whole JSON would find: what was
    /// taken away and put back stands at the end.
    /// </summary>
    static Dictionary<string, T> Changed<T>(
        Dictionary<string, T> before,
        JsonObject definition,
        string name,
        List<string> touched,
        Action<string, T> check
    )
        where T : class
    {
        if (touched.Count == 0)
            return before;
        var collection = definition[name] as JsonObject ?? throw new DocumentException("A collection of the document is null.");
        var read = new Dictionary<string, T>();
        foreach (var id in touched)
            if (collection.TryGetPropertyValue(id, out var node))
            {
                check(id, read[id] = DocumentJson.Entry<T>(node));
            }

        if (before.Count == collection.Count && before.Keys.SequenceEqual(collection.Select(p => p.Key)))
        {
            var same = new Dictionary<string, T>(before);
            foreach (var (id, value) in read)
                same[id] = value;
            return same;
        }

        var after = new Dictionary<string, T>(collection.Count);
        foreach (var (id, _) in collection)
            after.Add(id, read.TryGetValue(id, out var value) ? value : before[id]);
        return after;
    }
}
