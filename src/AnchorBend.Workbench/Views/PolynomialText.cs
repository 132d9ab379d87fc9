using System.Globalization;
using System.Text;
using AnchorBend.Language;
using AnchorBend.Language.Syntax;
using AnchorBend.Modeling.Catalog;

namespace AnchorBend.Workbench.Views;

/// <summary>A polynomial from the list of its coefficients, as mathematics markup.</summary>
static class PolynomialText
{
    /// <summary>Terms that a face has room for.</summary>
    const int MostTerms = 4;

    /// <param name="list">The coefficients as typed, highest power first.</param>
    /// <returns>Null where the text is no list of numbers and names, or is longer than a face has room for.</returns>
    public static string? Of(string list, string variable)
    {
        if (Coefficients(list) is not { Count: > 0 } coefficients)
            return null;
        var text = new StringBuilder();
        var terms = 0;
        for (var i = 0; i < coefficients.Count; i++)
        {
            var (isNegative, size) = coefficients[i];
            var power = coefficients.Count - 1 - i;
            if (size == "0" && coefficients.Count > 1)
                continue;
            if (++terms > MostTerms)
                return null;
            text.Append(
                isNegative ? "-"
                : text.Length > 0 ? "+"
                : ""
            );
            if (size != "1" || power == 0)
                text.Append(size);
            if (power > 0)
                text.Append(' ').Append(variable);
            if (power > 1)
                text.Append("^{").Append(power.ToString(CultureInfo.InvariantCulture)).Append('}');
        }

        return text.Length == 0 ? "0" : text.ToString();
    }

    static List<(bool IsNegative, string Size)>? Coefficients(string list)
    {
        try
        {
            if (Parser.ParseField(list) is not ArrayLiteral literal)
                return null;
            var result = new List<(bool, string)>();
            foreach (var element in literal.Elements)
            {
                var isNegative = element is Unary { Kind: UnaryKind.Minus };
                var size = element is Unary { Kind: UnaryKind.Minus } minus ? minus.Operand : element;
                if (size is not (NumberLiteral or Reference))
                    return null;
                result.Add((isNegative, EquationMath.Print(size)));
            }

            return result;
        }
        catch (LanguageException)
        {
            return null;
        }
    }
}
