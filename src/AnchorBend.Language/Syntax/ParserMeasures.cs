namespace AnchorBend.Language.Syntax;

public sealed partial class Parser
{
    /// <summary>Signs that people type in units, as the language spells them.</summary>
    static readonly (string Typed, string Spelled)[] UnitSigns =
    [
        ("%", "/100"),
        ("°C", "degC"),
        ("°", "deg"),
        ("µ", "u"),
        ("μ", "u"),
        ("Ω", "Ohm"),
        ("·", "."),
        ("²", "2"),
        ("³", "3"),
    ];

    bool measures;

    /// <summary>
    /// Parses a measure: an expression in which <c>final</c> is a function, <c>while</c> names an argument, and arguments may have units
    /// (<c>minimum(depth, from = 5 s, while = speed &gt; 0.2 m/s)</c>).
    /// </summary>
    /// <exception cref="LanguageException">The text is not such an expression.</exception>
    public static Expression ParseMeasure(string source)
    {
        foreach (var (typed, spelled) in UnitSigns)
            source = source.Replace(typed, spelled, StringComparison.Ordinal);
        var parser = new Parser(source) { measures = true };
        parser.FreeWords();
        if (parser.Current.Kind == TokenKind.End)
            throw new LanguageException("empty", "A measure is needed here, such as maximum(depth).", parser.Current.At);
        var expression = parser.Expression();
        if (parser.Current.Kind != TokenKind.End)
            throw parser.Unexpected("the end of the measure");
        return expression;
    }

    /// <summary>Words that the language keeps for classes and algorithms, where a measure uses them as names.</summary>
    void FreeWords()
    {
        for (var i = 0; i + 1 < tokens.Count; i++)
            if (tokens[i] is { Kind: TokenKind.Keyword } word && (word.Text, tokens[i + 1].Text) is ("final", "(") or ("while", "="))
                tokens[i] = word with { Kind = TokenKind.Identifier };
    }

    /// <summary>An argument of a call; in a measure a number may have a unit behind it.</summary>
    Expression Argument()
    {
        var value = Expression();
        if (!measures || Current.Kind != TokenKind.Identifier)
            return value;
        var at = Current.At;
        var start = Current.Start;
        var end = start;
        for (var nesting = 0; Current.Kind != TokenKind.End; index++)
        {
            if (nesting == 0 && Current.Text is "," or ")" or ">" or "<" or "and" or "or")
                break;
            nesting +=
                Current.Text == "(" ? 1
                : Current.Text == ")" ? -1
                : 0;
            end = Current.End;
        }

        var text = source[start..end].Trim();
        return Units.Unit.TryParse(text, out var unit, out var problem)
            ? WithUnit(value, unit)
            : throw new LanguageException("unit", problem, at, Units.UnitTable.Closest(text) is { } near ? $"Did you mean {near}?" : null);
    }

    /// <summary>The unit belongs to the number beside it: the right side of a comparison, where there is one.</summary>
    static Expression WithUnit(Expression value, Units.Unit unit) =>
        value is Binary { Kind: >= BinaryKind.Equal } b ? b with { Right = WithUnit(b.Right, unit) } : new Quantity(value, unit, value.At);
}
