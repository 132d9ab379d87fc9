using System.Diagnostics.CodeAnalysis;

namespace AnchorBend.Modeling.Documents;

/// <summary>
/// A part of a model by the ids of the parts that lead to it, from the root's diagram down, written <c>p1/p2</c>. Ids stay when parts are
/// renamed, so that a path breaks only when one of its parts is taken away.
/// </summary>
public readonly record struct PartPath
{
    readonly string? text;

    PartPath(string text) => this.text = text;

    /// <summary>The model itself, whose level is the root's diagram.</summary>
    public static readonly PartPath Root = new("");

    public bool IsRoot => string.IsNullOrEmpty(text);

    public IReadOnlyList<string> Steps => IsRoot ? [] : text!.Split('/');

    /// <summary>The id of the part in its own diagram; empty for the root.</summary>
    public string Id => IsRoot ? "" : text![(text!.LastIndexOf('/') + 1)..];

    /// <summary>The part whose diagram this one stands in.</summary>
    public PartPath Above => IsRoot || text!.LastIndexOf('/') is not (> 0 and var cut) ? Root : new(text[..cut]);

    public PartPath Then(string id) => IsRoot ? new(id) : new(text + "/" + id);

    /// <summary>Reads a path; the empty text is the root.</summary>
    public static bool TryParse(string text, out PartPath path)
    {
        path = new PartPath(text);
        return text.Length == 0 || text.Split('/').All(IsId);
    }

    /// <summary>Whether a text can be the id of a part: letters of the Latin alphabet, digits, hyphens and underscores.</summary>
    public static bool IsId([NotNullWhen(true)] string? text) =>
        text is { Length: > 0 } && text.All(c => char.IsAsciiLetterOrDigit(c) || c is '-' or '_');

    public override string ToString() => text ?? "";
}

/// <summary>A signal of a part: its port, a quantity of a physical port, a member of a bundle. Written <c>p1/p2.y</c>.</summary>
public readonly record struct SignalReference(PartPath Part, string Port)
{
    public static bool TryParse(string text, out SignalReference signal)
    {
        var dot = text.IndexOf('.', StringComparison.Ordinal);
        signal = default;
        if (dot <= 0 || dot == text.Length - 1 || !PartPath.TryParse(text[..dot], out var part))
            return false;
        signal = new SignalReference(part, text[(dot + 1)..]);
        return true;
    }

    public override string ToString() => $"{Part}.{Port}";
}

/// <summary>
/// What a part is an instance of: a definition of the model by its id, written <c>#id</c>, or a part of the user's package or of the
/// catalog by its name.
/// </summary>
public readonly record struct DefinitionReference(string Key, bool IsOwn)
{
    public static DefinitionReference Parse(string type) =>
        type.StartsWith('#') ? new DefinitionReference(type[1..], true) : new DefinitionReference(type, false);

    /// <summary>The type of parts of a definition of the model.</summary>
    public static string OfOwn(string id) => "#" + id;

    public override string ToString() => IsOwn ? OfOwn(Key) : Key;
}
