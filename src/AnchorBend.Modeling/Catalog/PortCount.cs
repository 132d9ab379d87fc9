using System.Globalization;
using AnchorBend.Language;
using AnchorBend.Language.Syntax;

namespace AnchorBend.Modeling.Catalog;

/// <summary>How many elements an array of ports has, read off the texts of the parameters before any model is put together.</summary>
public static class PortCount
{
    /// <param name="text">What stands in a parameter's field, or its default.</param>
    /// <returns>1 where the size does not show in the texts alone.</returns>
    public static int Of(PortDescription port, Func<string, string> text) => Math.Max(1, Known(port, text) ?? 1);

    /// <returns>Null where the size does not show in the texts alone.</returns>
    public static int? Known(PortDescription port, Func<string, string> text) => port.Size is null ? 1 : Count(Parsed(port.Size), text);

    static int? Count(Expression? size, Func<string, string> text) =>
        size switch
        {
            NumberLiteral n => (int)n.Value,
            Reference { Parts: [{ Subscripts.Count: 0 } parameter] } => Parsed(text(parameter.Name)) is NumberLiteral n
                ? (int)n.Value
                : null,
            Call { Function: "size", Arguments: [Reference { Parts: [var list] }, NumberLiteral dimension] } => Length(
                Parsed(text(list.Name)),
                (int)dimension.Value
            ),
            _ => null,
        };

    static int? Length(Expression? list, int dimension) =>
        list is not ArrayLiteral array ? null
        : dimension == 1 ? array.Elements.Count
        : Length(array.Elements.FirstOrDefault(), dimension - 1);

    static Expression? Parsed(string text)
    {
        try
        {
            // A unit behind a list is that of its elements.
            return Parser.ParseField(text) is var field && field is Quantity quantity ? quantity.Value : field;
        }
        catch (LanguageException)
        {
            return null;
        }
    }
}
