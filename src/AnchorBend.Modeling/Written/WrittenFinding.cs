namespace AnchorBend.Modeling.Written;

/// <summary>Something to know about a definition with a form of its own.</summary>
/// <param name="Item">Id of the state, transition, rule, phase or name that it is about; null for the whole.</param>
/// <param name="Other">Id of the other one, where it is about two.</param>
public sealed record WrittenFinding(Severity Severity, string Code, string Message, string? Item, string Suggestion, string? Other = null);
