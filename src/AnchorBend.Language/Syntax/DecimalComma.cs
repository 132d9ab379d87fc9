using System.Text.RegularExpressions;

namespace AnchorBend.Language.Syntax;

/// <summary>
/// Numbers typed as they are written where the decimal sign is a comma. They are not taken as they stand: the same comma stands between the
/// values of a list, and "1,000" is one to some and a thousand to others.
/// </summary>
public static partial class DecimalComma
{
    /// <summary>What was most likely meant; null where that is not clear.</summary>
    public static string? Mended(string typed)
    {
        var found = Number().Matches(typed);
        // Three digits behind it may be a thousand's; a point before it is one.
        return found.Count == 1 && found[0].Groups["after"].Length != 3 && !Point().IsMatch(typed)
            ? Number().Replace(typed, "${before}.${after}")
            : null;
    }

    [GeneratedRegex(@"(?<![\d,])(?<before>\d+),(?<after>\d+)(?![\d,])")]
    private static partial Regex Number();

    [GeneratedRegex(@"\d\.|\.\d")]
    private static partial Regex Point();
}
