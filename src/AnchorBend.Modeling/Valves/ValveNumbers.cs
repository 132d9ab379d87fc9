using System.Globalization;
using AnchorBend.Language.Units;
using AnchorBend.Modeling.Documents;

namespace AnchorBend.Modeling.Valves;

/// <summary>Numbers as they are typed into a valve.</summary>
public static class ValveNumbers
{
    /// <summary>A number without a unit; null for what is none.</summary>
    public static double? Plain(string text) => TypedValue.Number(text, null) is { } x && double.IsFinite(x) ? x : null;

    /// <exception cref="DocumentException">It is no such number.</exception>
    public static double Of(string text, string unit, string what, bool positive = true)
    {
        var value = unit == "1" ? Plain(text) : TypedValue.Number(text, Unit.Parse(unit));
        if (value is not { } number || !double.IsFinite(number))
            throw new DocumentException(
                $"{what}: '{DocumentLimits.Short(text)}' is no number{(unit == "1" ? "" : $" in a unit such as {unit}")}."
            );
        if (positive && !(number > 0))
            throw new DocumentException($"{what} must be more than zero.");
        return number;
    }

    /// <summary>Points of a curve from pairs of numbers, one pair a line or with semicolons between them.</summary>
    /// <exception cref="DocumentException">They are no rising points from 0 to 1.</exception>
    public static IReadOnlyList<(double X, double Y)> Curve(string text, string what)
    {
        var points = new List<(double X, double Y)>();
        foreach (var row in text.Split(['\n', ';'], StringSplitOptions.RemoveEmptyEntries | StringSplitOptions.TrimEntries))
        {
            var cells = row.Split([' ', '\t', ','], StringSplitOptions.RemoveEmptyEntries | StringSplitOptions.TrimEntries);
            if (
                cells.Length != 2
                || !double.TryParse(cells[0], NumberStyles.Float, CultureInfo.InvariantCulture, out var x)
                || !double.TryParse(cells[1], NumberStyles.Float, CultureInfo.InvariantCulture, out var y)
            )
                throw new DocumentException($"{what}: '{DocumentLimits.Short(row)}' is no pair of numbers.");
            if (!(x is >= 0 and <= 1 && y is >= 0 and <= 1))
                throw new DocumentException($"{what}: stroke and opening both go from 0 to 1.");
            if (points.Count > 0 && x <= points[^1].X)
                throw new DocumentException($"{what}: the strokes must rise.");
            points.Add((x, y));
        }

        return points.Count is >= 2 and <= 200 ? points : throw new DocumentException($"{what}: a curve has from 2 to 200 points.");
    }

    /// <summary>The corners of a path's opening over how near the spool is: 0 at the neighbouring position, 1 at its own.</summary>
    /// <param name="transition">Moves where a path without a curve begins to open.</param>
    /// <exception cref="DocumentException">What is typed gives none.</exception>
    public static IReadOnlyList<(double X, double Y)> Opening(ValvePathNode path, Transition transition)
    {
        if (path.Curve is { Length: > 0 } curve)
            return Curve(curve, "The curve");
        var overlap = Of(path.Overlap, "1", "The overlap", false);
        if (overlap is >= 1 or < -1)
            throw new DocumentException("The overlap must lie between −1 and 1, and below 1.");
        var begins = transition switch
        {
            Transition.Closed => Math.Max(overlap, 0.5),
            Transition.Open => Math.Min(overlap, 0),
            _ => overlap,
        };
        return [(begins, 0), (1, 1)];
    }
}
