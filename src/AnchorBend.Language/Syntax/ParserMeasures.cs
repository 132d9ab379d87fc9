namespace AnchorBend.Language.Syntax;

/// <summary>A name with dots, and where it stands in a text.</summary>
public sealed record NameInText(int Start, int Length, IReadOnlyList<string> Steps);

public sealed partial class Parser
{
    /// <summary>Signs that people type in units, as the language spells them.</summary>
    static readonly Dictionary<char, string> UnitSigns = new()
    {
        ['%'] = Percent,
        ['°'] = "deg",
        ['µ'] = "u",
        ['μ'] = "u",
        ['Ω'] = "Ohm",
        ['·'] = ".",
        ['²'] = "2",
        ['³'] = "3",
    };

    /// <summary>A name for the unit %, which is no sign of the language.</summary>
    const string Percent = "percent";

    bool measures;

    /// <summary>
    /// Parses a measure: an expression in which <c>final</c> is a function, <c>while</c> names an argument, and numbers may have units
    /// (<c>minimum(depth, from = 5 s, while = speed &gt; 0.2 m/s)</c>). A unit reaches as far as it can be read as one.
    /// </summary>
    /// <exception cref="LanguageException">The text is not such an expression.</exception>
    public static Expression ParseMeasure(string source)
    {
        var parser = new Parser(Spelled(source)) { measures = true };
        parser.FreeWords();
        if (parser.Current.Kind == TokenKind.End)
            throw new LanguageException("empty", "A measure is needed here, such as maximum(depth).", parser.Current.At);
        var expression = parser.Expression();
        if (parser.Current.Kind != TokenKind.End)
            throw parser.Unexpected("the end of the measure");
        return expression;
    }

    /// <summary>A text with its numbers with units as plain numbers in coherent units: <c>x &gt; 5 km</c> as <c>x &gt; 5000</c>.</summary>
    /// <exception cref="LanguageException">What stands behind a number is no unit.</exception>
    /// <param name="written">How a number with a unit is written; null for its value in coherent units.</param>
    public static string InCoherentUnits(string source, Func<double, Units.Unit, string>? written = null)
    {
        var parser = new Parser(Spelled(source)) { measures = true };
        var (text, done) = (new System.Text.StringBuilder(), 0);
        for (var i = 0; i + 1 < parser.tokens.Count; i++)
        {
            var token = parser.tokens[i];
            if (token.Kind != TokenKind.Number)
                continue;
            parser.index = i + 1;
            if (parser.Measured(new NumberLiteral(token.Value, token.IsInteger, token.At)) is not Quantity quantity)
                continue;
            var value = token.Value * quantity.Unit.Factor + quantity.Unit.Offset;
            text.Append(parser.source, done, token.Start - done)
                .Append(written?.Invoke(value, quantity.Unit) ?? value.ToString("R", System.Globalization.CultureInfo.InvariantCulture));
            (done, i) = (parser.tokens[parser.index - 1].End, parser.index - 1);
        }

        return text.Append(parser.source, done, parser.source.Length - done).ToString();
    }

    /// <summary>The names of quantities that a measure speaks of, each as far as it goes without subscripts.</summary>
    /// <exception cref="LanguageException">The text is no measure.</exception>
    public static IReadOnlyList<NameInText> NamesInMeasure(string source)
    {
        var spelled = Spelled(source);
        var tokens = new Lexer(spelled).Tokenize();
        var found = new List<NameInText>();
        foreach (var reference in References.In(ParseMeasure(source)))
        {
            var first = tokens.FindIndex(t => t.At == reference.At);
            var steps = reference.Parts.TakeWhile((p, i) => i == 0 || reference.Parts[i - 1].Subscripts.Count == 0).Select(p => p.Name);
            var names = steps.ToList();
            // A step and the dot before it are two tokens.
            var (start, end) = (Unspelled(source, tokens[first].Start), Unspelled(source, tokens[first + 2 * (names.Count - 1)].End));
            found.Add(new NameInText(start, end - start, names));
        }

        return found;
    }

    /// <summary>The place in a text of a place in it with its signs spelled out.</summary>
    static int Unspelled(string source, int place)
    {
        var at = 0;
        while (at < source.Length && Spelled(source[..at]).Length < place)
            at++;
        return at;
    }

    /// <summary>Words that the language keeps for classes and algorithms, where a measure uses them as names.</summary>
    void FreeWords()
    {
        for (var i = 0; i + 1 < tokens.Count; i++)
            if (tokens[i] is { Kind: TokenKind.Keyword } word && (word.Text, tokens[i + 1].Text) is ("final", "(") or ("while", "="))
                tokens[i] = word with { Kind = TokenKind.Identifier };
    }

    /// <summary>The text with signs of units spelled out, but not within quotes.</summary>
    static string Spelled(string source)
    {
        var text = new System.Text.StringBuilder(source.Length);
        var quote = '\0';
        foreach (var sign in source)
        {
            if (quote == '\0' && UnitSigns.TryGetValue(sign, out var spelled))
            {
                text.Append(spelled);
                continue;
            }

            text.Append(sign);
            if (sign is '"' or '\'')
                quote =
                    quote == sign ? '\0'
                    : quote == '\0' ? sign
                    : quote;
        }

        return text.ToString();
    }

    /// <summary>A number as it stands, or with the unit behind it.</summary>
    Expression Measured(NumberLiteral number)
    {
        if (!measures || Current.Kind != TokenKind.Identifier)
            return number;
        var at = Current.At;
        var first = Current;
        index++;
        Units.Unit? unit;
        if (first.Text == Percent)
        {
            unit = Units.Unit.Parse("%");
        }
        else
        {
            if (!Units.Unit.TryParse(first.Text, out unit, out var problem))
                throw new LanguageException(
                    "unit",
                    problem,
                    at,
                    Units.UnitTable.Closest(first.Text) is { } near ? $"Did you mean {near}?" : null
                );
            while (Current.Text is "." or "/" && Factor() is var (end, after))
            {
                if (!Units.Unit.TryParse(source[first.Start..end], out var longer, out _))
                    break;
                (unit, index) = (longer, after);
            }
        }

        return At("^")
            ? throw new LanguageException("unit", "A power of a unit is written without a sign, such as m2.", Current.At)
            : new Quantity(number, unit!, number.At);
    }

    /// <summary>Where the next factor of a unit ends, in the text and among the tokens: a name, or brackets that close.</summary>
    (int End, int After)? Factor()
    {
        var next = index + 1;
        if (tokens[next].Text == "(")
            while (tokens[next].Kind != TokenKind.End && tokens[next].Text != ")")
                next++;
        return tokens[next].Kind == TokenKind.Identifier || tokens[next].Text == ")" ? (tokens[next].End, next + 1) : null;
    }
}
