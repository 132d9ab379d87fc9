namespace AnchorBend.Language.Syntax;

/// <summary>A place in a source text; line and column count from 1. <c>default</c> means "no place".</summary>
public readonly record struct Position(int Line, int Column)
{
    public override string ToString() => Line == 0 ? "" : $"{Line}:{Column}";
}

/// <summary>Something wrong in a text or a model: what, where, why, and what to try.</summary>
/// <param name="Code">Stable short name of the kind of error, for help pages and tests.</param>
public sealed record LanguageError(string Code, string Message, Position At, string? Suggestion = null)
{
    /// <summary>Id of what the text stands in, where it is one of many in a form such as a chart or a table.</summary>
    public string? Item { get; init; }

    public override string ToString() =>
        (At.Line > 0 ? $"line {At.Line}, column {At.Column}: " : "") + Message + (Suggestion is null ? "" : $" {Suggestion}");
}

/// <summary>Leaves the current construct with one <see cref="LanguageError"/>; callers that can go on catch it and collect.</summary>
public sealed class LanguageException(LanguageError error) : Exception(error.ToString())
{
    public LanguageException(string code, string message, Position at, string? suggestion = null)
        : this(new LanguageError(code, message, at, suggestion)) { }

    public LanguageError Error { get; } = error;
}
