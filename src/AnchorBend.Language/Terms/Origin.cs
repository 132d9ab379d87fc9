using AnchorBend.Language.Syntax;

namespace AnchorBend.Language.Terms;

/// <summary>What a piece of a term or a step was in the text.</summary>
public enum OriginKind
{
    /// <summary>One of two values or ways, by a condition; or several conditions put together.</summary>
    Decision,

    /// <summary>A comparison.</summary>
    Condition,

    /// <summary>A statement that gives a variable a value.</summary>
    Assignment,

    /// <summary>What is done when something comes to hold.</summary>
    Clause,

    /// <summary>A value read from a table.</summary>
    Table,
}

/// <summary>Where a piece of a term or a step comes from; passes hand it on, and it changes nothing that is computed.</summary>
/// <param name="Owner">Path of the instance whose equations hold it; empty for the model itself.</param>
/// <param name="Type">The class, or the function, in whose text it stands.</param>
/// <param name="At">The place in that text.</param>
public sealed record Origin(string Owner, string Type, Position At, OriginKind Kind);
