using System.Globalization;
using System.Text.RegularExpressions;
using AnchorBend.Exploration;
using AnchorBend.Exploration.Factors;
using AnchorBend.Language.Syntax;
using AnchorBend.Language.Units;

namespace AnchorBend.Workbench.Studies;

/// <summary>What varies in a study of a model: a parameter by its path, with texts as they are typed.</summary>
/// <param name="Path">Of the parameter; slots and options are parameters too.</param>
/// <param name="Texts">Of a list; null for a range of numbers.</param>
/// <param name="Unit">Of a range's numbers, as it was typed; empty for none.</param>
public sealed partial record StudyFactor(string Path, FactorSpread Spread, IReadOnlyList<string>? Texts, string Unit)
{
    public Factor Factor => new(Path, Spread);

    /// <summary>The text that sets a level.</summary>
    public string TextOf(FactorLevel level) =>
        level.Number is { } number
            ? number.ToString("R", CultureInfo.InvariantCulture) + (Unit.Length > 0 ? " " + Unit : "")
            : Texts![level.Place];

    /// <summary>
    /// Reads what varies: <c>path=a, b, c</c> for a list, <c>path=80 kg:140 kg:7</c> for steps, <c>path=80 kg:140 kg</c> for any number
    /// between, each with <c>log</c> behind it for even ratios.
    /// </summary>
    /// <exception cref="ExplorationException">It cannot be read.</exception>
    public static StudyFactor Parse(string text)
    {
        var equal = text.IndexOf('=', StringComparison.Ordinal);
        if (equal <= 0 || equal == text.Length - 1)
            throw Unread(text, "a name, '=' and values are needed");
        var (path, values) = (text[..equal].Trim(), text[(equal + 1)..].Trim());
        var parts = values.Split(':', StringSplitOptions.TrimEntries);
        if (parts.Length == 1)
        {
            var listed = Listed(values);
            return new StudyFactor(path, new ListedSpread(listed.Count), listed, "");
        }

        if (parts.Length > 3)
            throw Unread(text, "a range has a beginning, an end and a number of steps");
        var isLogarithmic = parts[^1].EndsWith("log", StringComparison.Ordinal);
        if (isLogarithmic)
            parts[^1] = parts[^1][..^3].Trim();
        var (low, unit) = Number(parts[0]);
        var (high, other) = Number(parts[1]);
        int? steps = null;
        if (parts.Length == 3)
            steps = int.TryParse(parts[2], CultureInfo.InvariantCulture, out var count)
                ? count
                : throw Unread(text, $"'{parts[2]}' is no number of steps");
        try
        {
            if (unit.Length > 0 && other.Length > 0 && unit != other)
                high = Parsed(other).Fits(Parsed(unit))
                    ? Parsed(other).ConvertTo(Parsed(unit), high)
                    : throw Unread(text, $"'{unit}' and '{other}' do not go together");
        }
        catch (Exception e) when (e is LanguageException or InvalidOperationException or ArgumentException)
        {
            throw Unread(text, $"'{unit}' and '{other}' do not go together");
        }

        return new StudyFactor(path, new RangeSpread(low, high, isLogarithmic, steps), null, unit.Length > 0 ? unit : other);
    }

    static Language.Units.Unit Parsed(string text) => Language.Units.Unit.Parse(text);

    static (double Value, string Unit) Number(string text)
    {
        var match = Quantity().Match(text);
        return match.Success && double.TryParse(match.Groups[1].Value, CultureInfo.InvariantCulture, out var value)
            ? (value, match.Groups[2].Value.Trim())
            : throw Unread(text, "it is no number");
    }

    /// <summary>Values separated by commas; those in brackets and quotes belong to a value.</summary>
    static List<string> Listed(string text)
    {
        var values = new List<string>();
        var (start, depth, quote) = (0, 0, '\0');
        for (var i = 0; i <= text.Length; i++)
        {
            var c = i < text.Length ? text[i] : ',';
            if (quote != '\0')
                quote = c == quote ? '\0' : quote;
            else if (c is '"' or '\'')
                quote = c;
            else if (c is '[' or '{' or '(')
                depth++;
            else if (c is ']' or '}' or ')')
                depth--;
            if (i < text.Length && (c != ',' || quote != '\0' || depth > 0))
                continue;
            if (text[start..i].Trim() is { Length: > 0 } value)
                values.Add(value);
            start = i + 1;
        }

        return values;
    }

    static ExplorationException Unread(string text, string why) =>
        new("factor", $"'{text}' cannot be read: {why}.", "Write name=a,b,c or name=from:to:count, with units if wanted.");

    [GeneratedRegex(@"^\s*([-+]?(?:\d+\.?\d*|\.\d+)(?:[eE][-+]?\d+)?)\s*(.*)$")]
    private static partial Regex Quantity();
}
