using AnchorBend.Language.Syntax;

namespace AnchorBend.Modeling;

public enum Severity { Information, Warning, Error }

/// <summary>Something to know about a model: what, where, why, and what to do.</summary>
/// <param name="Code">Stable short name of the kind of finding.</param>
/// <param name="Part">Path of the part it is about; empty for the model.</param>
/// <param name="Item">The parameter, port or variable of that part, where there is one.</param>
public sealed record Finding(Severity Severity, string Code, string Message, string Part, string? Item = null, Position At = default, string? Suggestion = null)
{
    /// <summary>What one click would do.</summary>
    public FindingFix? Fix { get; init; }

    /// <summary>A replacement for the text of <see cref="Item"/>, from which a document makes a fix.</summary>
    public string? Replacement { get; init; }
}

/// <summary>A fix as an edit of the document.</summary>
public sealed record FindingFix(string Label, IReadOnlyList<Documents.PatchOperation> Operations);
