using AnchorBend.Language;
using AnchorBend.Language.Syntax;

namespace AnchorBend.Modeling.Documents;

/// <summary>What values a named parameter has, as the text of its value says: numbers, true or false, or words.</summary>
public static class ParameterTypes
{
    public const string Real = "Real",
        Boolean = "Boolean",
        String = "String";

    /// <param name="text">The value as typed.</param>
    /// <param name="typeOf">The type of another parameter that the text may speak of.</param>
    public static string Of(string text, Func<string, string> typeOf)
    {
        try
        {
            return Of(Parser.ParseField(text), typeOf);
        }
        catch (LanguageException)
        {
            return Real;
        }
    }

    static string Of(Expression value, Func<string, string> typeOf) =>
        value switch
        {
            BooleanLiteral or Unary { Kind: UnaryKind.Not } => Boolean,
            Binary { Kind: >= BinaryKind.Equal } => Boolean,
            StringLiteral => String,
            Conditional { Branches: [var first, ..] } => Of(first.Value, typeOf),
            Reference { Parts: [{ Subscripts.Count: 0 } only] } => typeOf(only.Name),
            _ => Real,
        };
}
