using System.Globalization;
using System.Text.RegularExpressions;
using AnchorBend.Exploration;
using AnchorBend.Exploration.Factors;
using AnchorBend.Language.Syntax;
using AnchorBend.Language.Units;

namespace AnchorBend.Workbench.Studies;

/// <summary>
/// The values of a factor as people type them. A list: <c>60, 70, 80 kg/m</c>. Steps: <c>80 kg:140 kg:7</c> or <c>80…140 kg in 7 steps</c>.
/// Any number between: <c>80 kg:140 kg</c>; with <c>log</c> behind it in even ratios. Distributions: <c>uniform(a, b)</c>,
/// <c>normal(mean, deviation)</c> with bounds behind them if wanted, <c>triangular(a, most likely, b)</c>. Tolerances about a value, the
/// present one where none stands before: <c>0.9 kN/m ± 10 %</c>, <c>± 2 mm normal</c>.
/// </summary>
public static partial class FactorText
{
    /// <summary>Stands for the limits that a sheet has.</summary>
    public const string Limits = "limits";

    /// <summary>A normal tolerance has its limits at this many deviations, and nothing beyond.</summary>
    internal const double Deviations = 3;

    /// <param name="present">The value that the model has, as it would be typed; null where it is not known.</param>
    /// <exception cref="ExplorationException">It cannot be read.</exception>
    public static StudyFactor Read(string path, string values, string? present)
    {
        if (values.Length == 0)
            throw Unread(path, "values are needed");
        if (Tolerance().Match(values) is { Success: true } around)
            return Around(path, values, around, present);
        if (Distribution().Match(values) is { Success: true } drawn)
            return Drawn(path, values, drawn.Groups[1].Value, Listed(drawn.Groups[2].Value));
        var steps = InSteps().Match(values);
        var range = (steps.Success ? $"{steps.Groups[1].Value}:{steps.Groups[2].Value}{steps.Groups[3].Value}" : values).Replace('…', ':');
        var parts = OutsideQuotes(range) ? range.Split(':', StringSplitOptions.TrimEntries) : [values];
        return parts.Length == 1 ? List(path, Listed(values)) : Range(path, values, parts);
    }

    static bool OutsideQuotes(string text) =>
        !text.Contains('"', StringComparison.Ordinal) && !text.Contains('\'', StringComparison.Ordinal);

    static StudyFactor List(string path, List<string> listed)
    {
        var read = listed.Select(Quantity).ToList();
        // A unit behind the last number of a list is meant for all.
        if (read.All(q => q is not null) && read[^1]!.Value.Unit is { Length: > 0 } unit && read.SkipLast(1).All(q => q!.Value.Unit == ""))
        {
            listed = [.. listed.SkipLast(1).Select(t => $"{t} {unit}"), listed[^1]];
            read = [.. read.Select(q => ((double, string)?)(q!.Value.Value, unit))];
        }

        var isOne = read.All(q => q is not null && q.Value.Unit == read[0]!.Value.Unit);
        return new StudyFactor(path, new ListedSpread(listed.Count), listed, isOne ? read[0]!.Value.Unit : "")
        {
            Numbers = isOne ? [.. read.Select(q => q!.Value.Value)] : null,
        };
    }

    static StudyFactor Range(string path, string text, string[] parts)
    {
        if (parts.Length > 3)
            throw Unread(text, "a range has a beginning, an end and a number of steps");
        var isLogarithmic = parts[^1].EndsWith("log", StringComparison.Ordinal);
        if (isLogarithmic)
            parts[^1] = parts[^1][..^3].Trim();
        var (numbers, unit) = Together(text, [parts[0], parts[1]]);
        int? steps = null;
        if (parts.Length == 3)
            steps = int.TryParse(parts[2], CultureInfo.InvariantCulture, out var count)
                ? count
                : throw Unread(text, $"'{parts[2]}' is no number of steps");
        return new StudyFactor(path, new RangeSpread(numbers[0], numbers[1], isLogarithmic, steps), null, unit);
    }

    static StudyFactor Drawn(string path, string text, string kind, List<string> figures)
    {
        var (numbers, unit) = Together(text, figures);
        FactorSpread spread = (kind, numbers) switch
        {
            ("uniform", [var low, var high]) => new RangeSpread(low, high, false, null),
            ("normal", [var mean, _]) when Wide(text, figures[0], figures[1]).Width is var deviation => new NormalSpread(
                mean,
                deviation,
                null,
                null
            ),
            ("normal", [var mean, _, var low, var high]) when Wide(text, figures[0], figures[1]).Width is var deviation => new NormalSpread(
                mean,
                deviation,
                low,
                high
            ),
            ("triangular", [var low, var mode, var high]) => new TriangularSpread(low, mode, high),
            _ => throw Unread(text, $"{kind} does not have {figures.Count} figures"),
        };
        return new StudyFactor(path, spread, null, unit) { IsDrawn = true };
    }

    static StudyFactor Around(string path, string text, Match around, string? present)
    {
        var middle = around.Groups[1].Value.Trim() is { Length: > 0 } typed
            ? typed
            : present ?? throw Unread(text, "there is no present value to lie about");
        var width = around.Groups[2].Value.Trim();
        var kind = around.Groups[3].Value;
        double value,
            half;
        string unit;
        if (width.EndsWith('%') && Quantity(width[..^1]) is { Unit: "" } share && Quantity(middle) is { } centre)
            (value, half, unit) = (centre.Value, Math.Abs(centre.Value) * share.Value / 100, centre.Unit);
        else
        {
            (value, half, unit) = Wide(text, middle, width);
        }

        if (!(half > 0))
            throw Unread(text, "the tolerance leaves no room; a share of zero is zero");
        FactorSpread spread = kind switch
        {
            "normal" => new NormalSpread(value, half / Deviations, value - half, value + half),
            "triangular" => new TriangularSpread(value - half, value, value + half),
            _ => new RangeSpread(value - half, value + half, false, null),
        };
        return new StudyFactor(path, spread, null, unit) { IsDrawn = true };
    }

    /// <summary>Numbers in one unit: that of the first which has one; bare ones are meant in it.</summary>
    static (double[] Values, string Unit) Together(string text, IReadOnlyList<string> figures)
    {
        var read = figures.Select(f => Quantity(f) ?? throw Unread(text, $"'{f}' is no number")).ToList();
        var unit = read.Select(q => q.Unit).FirstOrDefault(u => u.Length > 0) ?? "";
        return (
            [
                .. read.Select(q =>
                    q.Unit.Length == 0 || q.Unit == unit ? q.Value : Converted(q.Value, q.Unit, unit) ?? throw Apart(text, q.Unit, unit)
                ),
            ],
            unit
        );
    }

    /// <summary>A value and a width about it: the width is a difference, so that of a scale with another zero counts without it.</summary>
    static (double Value, double Width, string Unit) Wide(string text, string value, string width)
    {
        var (figures, unit) = Together(text, [value, width]);
        var own = Quantity(width)!.Value.Unit;
        var zero = own.Length == 0 || own == unit ? 0 : Converted(0, own, unit)!.Value;
        return (figures[0], figures[1] - zero, unit);
    }

    static ExplorationException Apart(string text, string unit, string other) => Unread(text, $"'{unit}' and '{other}' do not go together");

    static double? Converted(double value, string from, string to) =>
        Unit.TryParse(from, out var given, out _) && Unit.TryParse(to, out var wanted, out _) && given.Fits(wanted)
            ? given.ConvertTo(wanted, value)
            : null;

    /// <summary>The number that a text stands for in a unit; null where it is none.</summary>
    public static double? NumberIn(string text, string unit) =>
        Quantity(text) is not { } q ? null
        : q.Unit.Length == 0 || q.Unit == unit ? q.Value
        : Converted(q.Value, q.Unit, unit);

    /// <summary>A number with a unit behind it, if any; null for anything else, as an expression.</summary>
    static (double Value, string Unit)? Quantity(string text) =>
        Number().Match(text) is { Success: true } match
        && double.TryParse(match.Groups[1].Value, CultureInfo.InvariantCulture, out var value)
        && match.Groups[2].Value.Trim() is var unit
        && (unit.Length == 0 || Unit.TryParse(unit, out _, out _))
            ? (value, unit)
            : null;

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

    internal static ExplorationException Unread(string text, string why) =>
        new(
            "factor",
            $"'{text}' cannot be read: {why}.",
            "Write a list (a, b, c), steps (from:to:count), or a tolerance (± 5 %), with units if wanted."
        );

    [GeneratedRegex(@"^\s*((?>[-+]?(?:\d+\.?\d*|\.\d+)(?:[eE][-+]?\d+)?))\s*(.*)$")]
    private static partial Regex Number();

    [GeneratedRegex(@"^([^±]*?)(?:±|\+-|\+/-)\s*(.+?)\s*(normal|triangular|uniform|)$")]
    private static partial Regex Tolerance();

    [GeneratedRegex(@"^(uniform|normal|triangular)\s*\((.*)\)$")]
    private static partial Regex Distribution();

    [GeneratedRegex(@"^(.+?)(?:,)?\s+(?:in\s+)?(\d+)\s+steps\s*(log|)$")]
    private static partial Regex InSteps();
}
