using AnchorBend.Language;
using AnchorBend.Language.Syntax;

namespace AnchorBend.Modeling.Restructuring;

/// <summary>Names in the text of a field, found and exchanged without touching the rest of what was typed.</summary>
static class FieldText
{
    /// <summary>The references in a text; none in one that cannot be read.</summary>
    public static IReadOnlyList<Reference> References(string text)
    {
        try
        {
            return [.. Language.Syntax.References.In(Parser.ParseField(text))];
        }
        catch (LanguageException)
        {
            return [];
        }
    }

    /// <summary>Whether a text is that name and nothing else.</summary>
    public static bool IsName(string text, string name) => text.Trim() == ExpressionText.Name(name);

    /// <summary>The text with the first names of its references exchanged.</summary>
    /// <param name="replacement">What stands for a reference's first name, as text; null where it stays.</param>
    public static string Rewritten(string text, Func<Reference, string?> replacement)
    {
        foreach (var reference in References(text).OrderByDescending(r => Offset(text, r.At)))
        {
            var (start, name) = (Offset(text, reference.At), ExpressionText.Name(reference.Parts[0].Name));
            if (replacement(reference) is { } other && text.AsSpan(start).StartsWith(name, StringComparison.Ordinal))
                text = string.Concat(text.AsSpan(0, start), other, text.AsSpan(start + name.Length));
        }

        return text;
    }

    static int Offset(string text, Position at)
    {
        var start = 0;
        for (var line = 1; line < at.Line; line++)
            start = text.IndexOf('\n', start) + 1;
        return start + at.Column - 1;
    }
}
