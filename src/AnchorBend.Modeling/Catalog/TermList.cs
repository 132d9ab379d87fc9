using AnchorBend.Language.Syntax;

namespace AnchorBend.Modeling.Catalog;

/// <summary>The list parameter of a part with an entry for each input, such as the signs of a sum, as it is typed.</summary>
public sealed class TermList
{
    readonly IReadOnlyList<Expression> entries;

    TermList(IReadOnlyList<Expression> entries) => this.entries = entries;

    public int Count => entries.Count;

    /// <summary>Null for a text that is no plain list.</summary>
    public static TermList? Parse(string text)
    {
        try
        {
            return Parser.ParseField(text) is ArrayLiteral list ? new TermList(list.Elements) : null;
        }
        catch (LanguageException)
        {
            return null;
        }
    }

    /// <summary>The list with the sign of one entry turned round.</summary>
    public string Turned(int entry) => Text(entries.Select((e, i) => i == entry ? Turned(e) : ExpressionText.Print(e)));

    /// <summary>The list with one entry more, which is 1.</summary>
    public string WithOneMore() => Text(entries.Select(e => ExpressionText.Print(e)).Append("1"));

    static string Turned(Expression entry) =>
        entry is Unary { Kind: UnaryKind.Minus, Operand: var positive }
            ? ExpressionText.Print(positive)
            : ExpressionText.Print(new Unary(UnaryKind.Minus, entry, entry.At));

    static string Text(IEnumerable<string> written) => $"{{{string.Join(", ", written)}}}";
}
