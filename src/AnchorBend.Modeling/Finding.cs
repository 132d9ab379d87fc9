using System.Security.Cryptography;
using System.Text;
using System.Text.Json.Nodes;
using AnchorBend.Language.Syntax;
using AnchorBend.Modeling.Documents;

namespace AnchorBend.Modeling;

public enum Severity
{
    Information,
    Warning,
    Error,
}

/// <summary>Something to know about a model: what, where, why, and what to do.</summary>
/// <param name="Code">Stable short name of the kind of finding.</param>
/// <param name="Part">Path of the part it is about; empty for the model.</param>
/// <param name="Item">The parameter, port or variable of that part, where there is one.</param>
public sealed record Finding(
    Severity Severity,
    string Code,
    string Message,
    string Part,
    string? Item = null,
    Position At = default,
    string? Suggestion = null
)
{
    /// <summary>The part by its ids, where it was drawn.</summary>
    public PartPath? Place { get; init; }

    /// <summary>Id of what it is about inside that part, such as a state of a chart.</summary>
    public string? Inner { get; init; }

    /// <summary>What one click would do.</summary>
    public FindingFix? Fix { get; init; }

    /// <summary>What else one click could do.</summary>
    public IReadOnlyList<FindingFix> Others { get; init; } = [];

    /// <summary>A replacement for the text of <see cref="Item"/>, from which a document makes a fix.</summary>
    public string? Replacement { get; init; }
}

/// <summary>A fix as an edit of the document.</summary>
public sealed record FindingFix(string Label, IReadOnlyList<PatchOperation> Operations)
{
    /// <summary>An id that no part has, the same for the same purpose: a finding that stays is the same finding.</summary>
    static string NewId(DiagramDefinition diagram, string purpose)
    {
        var hash = SHA256.HashData(Encoding.UTF8.GetBytes(purpose));
        var stem = "p" + Convert.ToHexStringLower(hash)[..8];
        var id = stem;
        for (var n = 2; diagram.Parts.ContainsKey(id) || diagram.Wires.ContainsKey("w" + id[1..]); n++)
            id = $"{stem}-{n}";
        return id;
    }

    /// <summary>A new part, wired to a port.</summary>
    internal static FindingFix Connecting(
        string title,
        string definition,
        DiagramDefinition diagram,
        string type,
        string name,
        double x,
        double y,
        bool flip,
        string port,
        string target,
        string targetPort,
        JsonObject parameters
    )
    {
        var id = NewId(diagram, $"{definition} {target}.{targetPort} {type}");
        var node = new JsonObject
        {
            ["type"] = type,
            ["name"] = diagram.FreeName(name),
            ["x"] = x,
            ["y"] = y,
            ["flip"] = flip,
            ["parameters"] = parameters,
        };
        var wire = new JsonObject
        {
            ["from"] = new JsonObject { ["part"] = id, ["port"] = port },
            ["to"] = new JsonObject { ["part"] = target, ["port"] = targetPort },
            ["bends"] = new JsonArray(),
        };
        return new FindingFix(
            title,
            [
                new PatchOperation("add", DocumentPath.Part(definition, id), node),
                new PatchOperation("add", DocumentPath.Wire(definition, "w" + id[1..]), wire),
            ]
        );
    }
}
