using System.Runtime.CompilerServices;
using System.Security.Cryptography;
using System.Text;
using System.Text.Json;
using System.Text.Json.Nodes;
using AnchorBend.Modeling.Documents;

namespace AnchorBend.Workbench.Cases;

/// <summary>
/// What results of cases depend on, as hashes: a result whose key is another than that of the model as it is now is out of date. Drawing,
/// notes and whatever is not run count for nothing.
/// </summary>
static class CaseKey
{
    static readonly ConditionalWeakTable<ModelDocument, string> Models = [];

    /// <summary>Of what a case runs: the model and all that the case sets.</summary>
    public static string OfRun(ModelDocument document, CaseNode node)
    {
        var stimulus = node.Stimulus ?? document.Settings.Stimulus;
        var point = node.Point ?? document.Settings.Point;
        return Hash(
            OfModel(document),
            Json(
                new
                {
                    node.Subject,
                    stimulus = document.Stimuli.GetValueOrDefault(stimulus),
                    point = document.OperatingPoints.GetValueOrDefault(point),
                    node.End,
                    node.Method,
                    node.Step,
                    values = CaseSetup.ValuesOf(document, node).Select(v => new { v.Target, v.Text }),
                }
            )
        );
    }

    /// <summary>Of what a case checks itself, beside requirements.</summary>
    public static string OfChecks(ModelDocument document, CaseNode node) =>
        Hash(
            Json(
                new
                {
                    node.Expected,
                    node.Measures,
                    node.Requirements,
                    expressions = node.Measures.Values.Select(m => document.Measures.GetValueOrDefault(m.Measure)?.Expression),
                }
            )
        );

    /// <summary>Of what a requirement asks.</summary>
    public static string OfRequirement(ModelDocument document, RequirementNode requirement) =>
        Hash(
            Json(
                requirement with
                {
                    Name = "",
                    Text = null,
                    Identifier = null,
                    Source = null,
                    Rationale = null,
                    Priority = null,
                    Group = null,
                    Parts = null,
                }
            ),
            requirement.Measure is { } of ? document.Measures.GetValueOrDefault(of)?.Expression ?? "" : ""
        );

    /// <summary>Of all that changes what the model computes.</summary>
    static string OfModel(ModelDocument document) => Models.GetValue(document, Made);

    static string Made(ModelDocument document)
    {
        var json = (JsonObject)
            JsonNode.Parse(
                (
                    document with
                    {
                        Requirements = [],
                        Measures = [],
                        PlotSheets = [],
                        Stimuli = [],
                        OperatingPoints = [],
                        Studies = [],
                        Tolerances = [],
                        ToleranceGroups = [],
                        Cases = [],
                        CaseGroups = [],
                        Justifications = [],
                        FaultTrees = [],
                        Panels = [],
                        Alerts = [],
                        Deliveries = [],
                        Settings = document.Settings with { Live = true },
                    }
                ).ToJson()
            )!;
        foreach (var (_, definition) in json["definitions"] as JsonObject ?? [])
            if (definition is JsonObject level)
                Undraw(level);
        return Hash(json.ToJsonString());
    }

    /// <summary>Takes away what is drawn and said.</summary>
    static void Undraw(JsonObject level)
    {
        foreach (var drawn in (string[])["areas", "notes", "description", "face"])
            level.Remove(drawn);
        Without(level["parts"], "x", "y", "flip", "turn", "shapes");
        Without(level["wires"], "bends", "byName");
        Without(level["signals"], "probe");
        Without(level["states"], "x", "y", "width", "height");
        Without(level["transitions"], "bends");
        Without(level["parameters"], "description", "group");
    }

    static void Without(JsonNode? entries, params ReadOnlySpan<string> drawn)
    {
        foreach (var (_, entry) in entries as JsonObject ?? [])
            if (entry is JsonObject node)
                foreach (var property in drawn)
                    node.Remove(property);
    }

    static string Json<T>(T value) => JsonSerializer.Serialize(value);

    static string Hash(params ReadOnlySpan<string> parts) =>
        Convert.ToHexStringLower(SHA256.HashData(Encoding.UTF8.GetBytes(string.Join('\u0001', parts))))[..24];
}
