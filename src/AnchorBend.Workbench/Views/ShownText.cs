using System.Globalization;
using System.Text.RegularExpressions;

namespace AnchorBend.Workbench.Views;

/// <summary>Texts of the core as people read them: powers of ten as such, 1.5·10⁻⁷ for 1.5E-07.</summary>
static partial class ShownText
{
    const string Digits = "⁰¹²³⁴⁵⁶⁷⁸⁹";

    public static string Of(string text) =>
        !text.Contains('E', StringComparison.Ordinal)
            ? text
            : Exponents().Replace(text, m => $"{m.Groups[1].Value}·10{Raised(m.Groups[2].Value)}");

    static string Raised(string power)
    {
        var text = int.Parse(power, CultureInfo.InvariantCulture).ToString(CultureInfo.InvariantCulture);
        return string.Concat(text.Select(c => c == '-' ? '⁻' : Digits[c - '0']));
    }

    [GeneratedRegex(@"(?<![\w.])(-?\d+(?:\.\d+)?)E([+-]?\d{1,4})\b")]
    private static partial Regex Exponents();
}
