using System.Globalization;
using System.Text;

namespace AnchorBend.Language.Syntax;

public enum TokenKind
{
    End,
    Identifier,
    Keyword,
    Number,
    String,
    Symbol,
}

/// <summary>A token. <see cref="Text"/> is the identifier's name (without quotes), keyword, symbol, or the string's content.</summary>
/// <param name="Start">Offset of the first character in the source.</param>
public readonly record struct Token(TokenKind Kind, string Text, double Value, bool IsInteger, Position At, int Start, int End);

/// <summary>
/// Splits a source text into tokens by the lexical rules of the Modelica Language Specification 3.6, chapter 2:
/// quoted identifiers, nested-free block comments, strings with escapes, unsigned numbers.
/// </summary>
public sealed class Lexer(string source)
{
    /// <summary>The reserved words of the standard.</summary>
    public static IReadOnlyCollection<string> ReservedWords => Keywords;

    static readonly HashSet<string> Keywords =
    [
        "algorithm",
        "and",
        "annotation",
        "block",
        "break",
        "class",
        "connect",
        "connector",
        "constant",
        "constrainedby",
        "der",
        "discrete",
        "each",
        "else",
        "elseif",
        "elsewhen",
        "encapsulated",
        "end",
        "enumeration",
        "equation",
        "expandable",
        "extends",
        "external",
        "false",
        "final",
        "flow",
        "for",
        "function",
        "if",
        "import",
        "impure",
        "in",
        "initial",
        "inner",
        "input",
        "loop",
        "model",
        "not",
        "operator",
        "or",
        "outer",
        "output",
        "package",
        "parameter",
        "partial",
        "protected",
        "public",
        "pure",
        "record",
        "redeclare",
        "replaceable",
        "return",
        "stream",
        "then",
        "true",
        "type",
        "when",
        "while",
        "within",
    ];

    static readonly string[] Symbols =
    [
        ":=",
        "==",
        "<>",
        "<=",
        ">=",
        ".+",
        ".-",
        ".*",
        "./",
        ".^",
        "+",
        "-",
        "*",
        "/",
        "^",
        "=",
        "<",
        ">",
        "(",
        ")",
        "[",
        "]",
        "{",
        "}",
        ",",
        ";",
        ":",
        ".",
    ];

    int offset;
    int line = 1;
    int lineStart;

    Position Here => new(line, offset - lineStart + 1);

    public static bool IsKeyword(string text) => Keywords.Contains(text);

    /// <summary>Whether a name can stand without quotes.</summary>
    public static bool IsPlainIdentifier(string name) =>
        name.Length > 0
        && (char.IsAsciiLetter(name[0]) || name[0] == '_')
        && name.All(c => char.IsAsciiLetterOrDigit(c) || c == '_')
        && !Keywords.Contains(name);

    /// <summary>All tokens of the text, the last one <see cref="TokenKind.End"/>.</summary>
    /// <exception cref="LanguageException">A character or a string that no token starts with or that does not end.</exception>
    public List<Token> Tokenize()
    {
        var tokens = new List<Token>(source.Length / 4 + 4);
        Token token;
        do
        {
            token = Next();
            tokens.Add(token);
        } while (token.Kind != TokenKind.End);
        return tokens;
    }

    /// <summary>The next token, skipping white space and comments.</summary>
    public Token Next()
    {
        SkipSpace();
        var at = Here;
        var start = offset;
        if (offset >= source.Length)
            return new Token(TokenKind.End, "", 0, false, at, start, start);
        var c = source[offset];
        if (char.IsAsciiLetter(c) || c == '_')
        {
            while (offset < source.Length && (char.IsAsciiLetterOrDigit(source[offset]) || source[offset] == '_'))
                offset++;
            var text = source[start..offset];
            return new Token(Keywords.Contains(text) ? TokenKind.Keyword : TokenKind.Identifier, text, 0, false, at, start, offset);
        }

        if (c == '\'')
            return new Token(TokenKind.Identifier, Quoted('\'', "name", at), 0, false, at, start, offset);
        if (c == '"')
            return new Token(TokenKind.String, Quoted('"', "string", at), 0, false, at, start, offset);
        if (char.IsAsciiDigit(c) || (c == '.' && offset + 1 < source.Length && char.IsAsciiDigit(source[offset + 1])))
            return Number(at);
        foreach (var symbol in Symbols)
        {
            if (string.CompareOrdinal(source, offset, symbol, 0, symbol.Length) != 0)
                continue;
            offset += symbol.Length;
            return new Token(TokenKind.Symbol, symbol, 0, false, at, start, offset);
        }

        throw new LanguageException(
            "character",
            $"'{c}' is not a character of the equation language here.",
            at,
            c == '!' ? "Write 'not' for negation and '<>' for not equal."
                : c is '&' or '|' ? "Write 'and' and 'or'."
                : null
        );
    }

    Token Number(Position at)
    {
        var start = offset;
        var integer = true;
        while (offset < source.Length && char.IsAsciiDigit(source[offset]))
            offset++;
        if (offset < source.Length && source[offset] == '.' && !(offset + 1 < source.Length && "+-*/^".Contains(source[offset + 1])))
        {
            integer = false;
            offset++;
            while (offset < source.Length && char.IsAsciiDigit(source[offset]))
                offset++;
        }

        if (offset < source.Length && source[offset] is 'e' or 'E')
        {
            var mark = offset++;
            if (offset < source.Length && source[offset] is '+' or '-')
                offset++;
            if (offset < source.Length && char.IsAsciiDigit(source[offset]))
            {
                integer = false;
                while (offset < source.Length && char.IsAsciiDigit(source[offset]))
                    offset++;
            }
            else
            {
                offset = mark;
            }
        }

        var text = source[start..offset];
        var value = double.Parse(text, NumberStyles.Float, CultureInfo.InvariantCulture);
        if (!double.IsFinite(value))
            throw new LanguageException("number", $"The number {text} is too large.", at);
        return new Token(TokenKind.Number, text, value, integer && Math.Abs(value) < 9e15, at, start, offset);
    }

    string Quoted(char quote, string what, Position at)
    {
        var text = new StringBuilder();
        offset++;
        while (true)
        {
            if (offset >= source.Length)
                throw new LanguageException("unfinished", $"This {what} has no closing {quote}.", at);
            var c = source[offset++];
            if (c == quote)
                return text.ToString();
            if (c == '\n')
            {
                line++;
                lineStart = offset;
            }

            if (c != '\\')
            {
                text.Append(c);
                continue;
            }

            if (offset >= source.Length)
                continue;
            var escaped = source[offset++];
            text.Append(
                escaped switch
                {
                    'n' => '\n',
                    't' => '\t',
                    'r' => '\r',
                    _ => escaped,
                }
            );
            // A backslash before a letter that is no escape stays: faces are written in mathematics markup.
            if (escaped is not ('n' or 't' or 'r' or '\\' or '"' or '\''))
                text.Insert(text.Length - 1, '\\');
        }
    }

    void SkipSpace()
    {
        while (offset < source.Length)
        {
            var c = source[offset];
            if (c == '\n')
            {
                offset++;
                line++;
                lineStart = offset;
            }
            else if (char.IsWhiteSpace(c) || c == '\uFEFF')
            {
                offset++;
            }
            else if (c == '/' && offset + 1 < source.Length && source[offset + 1] == '/')
            {
                while (offset < source.Length && source[offset] != '\n')
                    offset++;
            }
            else if (c == '/' && offset + 1 < source.Length && source[offset + 1] == '*')
            {
                var at = Here;
                offset += 2;
                while (offset + 1 < source.Length && !(source[offset] == '*' && source[offset + 1] == '/'))
                {
                    if (source[offset++] != '\n')
                        continue;
                    line++;
                    lineStart = offset;
                }

                if (offset + 1 >= source.Length)
                    throw new LanguageException("unfinished", "This comment has no closing */.", at);
                offset += 2;
            }
            else
            {
                return;
            }
        }
    }
}
