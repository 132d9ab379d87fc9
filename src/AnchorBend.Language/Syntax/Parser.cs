namespace AnchorBend.Language.Syntax;

/// <summary>
/// Recursive-descent parser of the equation language (a subset of the Modelica Language Specification 3.6, appendix A).
/// After an error in a class body it goes on behind the next semicolon, so that one error does not hide the next.
/// </summary>
public sealed partial class Parser
{
    /// <summary>Deeper nesting is refused, so that no later pass can run out of stack.</summary>
    public const int MaximumDepth = 400;

    /// <summary>Longer chains of one operator are refused for the same reason; a sum of an array has no such limit.</summary>
    public const int MaximumChain = 1500;

    readonly List<Token> tokens;
    readonly string source;
    readonly List<LanguageError> errors = [];
    int index;
    int depth;

    Parser(string source)
    {
        this.source = source;
        tokens = new Lexer(source).Tokenize();
    }

    /// <summary>Parses a file of class definitions.</summary>
    /// <returns>The classes in order and every error found; never throws for bad text.</returns>
    public static (IReadOnlyList<ClassDefinition> Classes, IReadOnlyList<LanguageError> Errors) ParseFile(string source)
    {
        var classes = new List<ClassDefinition>();
        Parser parser;
        try
        {
            parser = new Parser(source);
        }
        catch (LanguageException e)
        {
            return (classes, [e.Error]);
        }

        while (parser.Current.Kind != TokenKind.End)
        {
            try
            {
                if (parser.Accept("within"))
                {
                    if (parser.Current.Kind == TokenKind.Identifier)
                        parser.DottedName();
                    parser.Expect(";");
                    continue;
                }

                parser.Accept("final");
                classes.Add(parser.Class());
                parser.Expect(";");
            }
            catch (LanguageException e)
            {
                parser.errors.Add(e.Error);
                parser.SkipPast(";");
            }
        }

        if (classes.Count == 0 && parser.errors.Count == 0)
            parser.errors.Add(
                new LanguageError(
                    "empty",
                    "The text holds no model.",
                    new Position(1, 1),
                    "Start with 'model Name' and close with 'end Name;'."
                )
            );
        return (classes, parser.errors);
    }

    /// <summary>Parses one expression that fills the whole text.</summary>
    /// <exception cref="LanguageException">The text is not an expression.</exception>
    public static Expression ParseExpression(string source)
    {
        var parser = new Parser(source);
        if (parser.Current.Kind == TokenKind.End)
            throw new LanguageException("empty", "A value is needed here.", parser.Current.At);
        var expression = parser.Expression();
        if (parser.Current.Kind != TokenKind.End)
            throw parser.Unexpected("the end of the expression");
        return expression;
    }

    /// <summary>
    /// Parses what a user types in a parameter field: an expression, then optionally a unit (<c>250 rpm</c>, <c>2*tau N.m</c>).
    /// </summary>
    /// <exception cref="LanguageException">Neither an expression nor an expression with a known unit.</exception>
    public static Expression ParseField(string source)
    {
        // A unit may hold characters the language has not (%, °, µ, ·), so the tokens are cut where they start.
        var cut = source.IndexOfAny(['%', '°', 'µ', 'Ω', '·', '²', '³']);
        while (cut > 0 && !char.IsWhiteSpace(source[cut - 1]) && !char.IsDigit(source[cut - 1]) && source[cut - 1] is not ')' and not ']')
            cut--;
        var parser = new Parser(cut < 0 ? source : source[..cut]);
        if (parser.Current.Kind == TokenKind.End)
            throw new LanguageException("empty", "A value is needed here.", parser.Current.At);
        var value = parser.Expression();
        var rest = source[parser.Current.Start..].Trim();
        if (parser.Current.Kind == TokenKind.End && cut < 0)
            return value;
        if (cut >= 0 && parser.Current.Kind == TokenKind.End)
            rest = source[cut..].Trim();
        if (rest.Length > 1 && rest[0] == ',' && char.IsDigit(rest[1]))
            throw new LanguageException(
                "decimal-comma",
                "A number has a decimal point; commas stand between the values of a list.",
                parser.Current.At,
                DecimalComma.Mended(source) is { } mended
                    ? $"Did you mean {mended}?"
                    : "Write it with a point, and without marks of thousands."
            );
        if (!Units.Unit.TryParse(rest, out var unit, out var problem))
            throw new LanguageException(
                "unit",
                problem,
                parser.Current.At,
                Units.UnitTable.Closest(rest) is { } near ? $"Did you mean {near}?" : null
            );
        return new Quantity(value, unit, value.At);
    }

    Token Current => tokens[index];

    Token Peek(int ahead = 1) => tokens[Math.Min(index + ahead, tokens.Count - 1)];

    bool At(string text) => Current.Text == text && Current.Kind is TokenKind.Symbol or TokenKind.Keyword && Current.Text == text;

    bool Accept(string text)
    {
        if (!At(text))
            return false;
        index++;
        return true;
    }

    void Expect(string text)
    {
        if (!Accept(text))
            throw Unexpected($"'{text}'");
    }

    string Identifier(string what = "a name")
    {
        if (Current.Kind != TokenKind.Identifier)
            throw Unexpected(what);
        return tokens[index++].Text;
    }

    string DottedName()
    {
        Accept(".");
        var name = Identifier();
        while (At(".") && Peek().Kind == TokenKind.Identifier)
        {
            index++;
            name += "." + Identifier();
        }

        return name;
    }

    LanguageException Unexpected(string wanted)
    {
        var token = Current;
        var found = token.Kind switch
        {
            TokenKind.End => "the end of the text",
            TokenKind.String => "a string",
            TokenKind.Keyword => $"the word '{token.Text}'",
            _ => $"'{token.Text}'",
        };
        var suggestion = token.Text switch
        {
            "=" when wanted.Contains("expression", StringComparison.Ordinal) => "Compare with '=='.",
            ":=" => "Equations are written with '='.",
            _ => null,
        };
        return new LanguageException("syntax", $"{wanted} is expected here, not {found}.", token.At, suggestion);
    }

    /// <summary>Goes on behind the next <paramref name="symbol"/> outside brackets, or at the end.</summary>
    void SkipPast(string symbol)
    {
        var nesting = 0;
        while (Current.Kind != TokenKind.End)
        {
            var token = tokens[index++];
            if (token.Kind != TokenKind.Symbol)
                continue;
            if (token.Text is "(" or "[" or "{")
                nesting++;
            else if (token.Text is ")" or "]" or "}")
                nesting = Math.Max(0, nesting - 1);
            else if (token.Text == symbol && nesting == 0)
                return;
        }
    }

    void Enter()
    {
        if (++depth > MaximumDepth)
            throw new LanguageException(
                "nesting",
                $"This is nested more than {MaximumDepth} levels deep.",
                Current.At,
                "Name the inner parts and refer to them."
            );
    }

    void Leave() => depth--;
}
