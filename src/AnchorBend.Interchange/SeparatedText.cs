using System.Globalization;
using System.Text.RegularExpressions;
using nietras.SeparatedValues;

namespace AnchorBend.Interchange;

/// <summary>Texts of cells (RFC 4180) with commas, semicolons or tabs between them, and numbers in them with a point or a comma.</summary>
static partial class SeparatedText
{
    /// <summary>What stands between the cells of a text, by its first line.</summary>
    public static char SeparatorOf(string firstLine) => ((char[])['\t', ';', ',']).FirstOrDefault(firstLine.Contains, ',');

    /// <summary>Reads rows of any number of cells, with quotation marks taken off.</summary>
    public static SepReader Rows(TextReader text, char separator) =>
        Sep.New(separator).Reader(o => o with { HasHeader = false, DisableColCountCheck = true, Unescape = true }).From(text);

    /// <summary>A number as it stands in a cell; null where it is none.</summary>
    /// <param name="separator">Between cells; where it is no comma, a number may have one as its decimal sign.</param>
    public static double? Number(ReadOnlySpan<char> text, char separator)
    {
        const NumberStyles style = NumberStyles.Float;
        if (double.TryParse(text, style, CultureInfo.InvariantCulture, out var value))
            return value;
        return
            separator != ','
            && text.Contains(',')
            && double.TryParse(text.ToString().Replace(',', '.'), style, CultureInfo.InvariantCulture, out value)
            ? value
            : null;
    }

    /// <summary>Whether the comma of a cell may part thousands as well as decimals: 12,500 is twelve and a half to some.</summary>
    public static bool MayPartThousands(string cell) => Thousands().IsMatch(cell);

    [GeneratedRegex(@"^[+-]?[1-9]\d{0,2},\d{3}$")]
    private static partial Regex Thousands();
}
