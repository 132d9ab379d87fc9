using System.Globalization;
using AnchorBend.Exploration.Factors;

namespace AnchorBend.Workbench.Studies;

/// <summary>The values of a factor in words.</summary>
static class FactorWords
{
    const int MostListed = 6;

    public static string Of(StudyFactor factor)
    {
        string N(double number) => number.ToString("G5", CultureInfo.InvariantCulture);
        var unit = factor.Unit.Length > 0 ? " " + factor.Unit : "";
        return factor.Spread switch
        {
            RangeSpread { Steps: { } steps } r => $"{N(r.Low)}…{N(r.High)}{unit}, {steps} steps{(r.IsLogarithmic ? ", even ratios" : "")}",
            RangeSpread r => $"{N(r.Low)}…{N(r.High)}{unit}{(r.IsLogarithmic ? ", even ratios" : "")}",
            NormalSpread { Low: { } low, High: { } high } n =>
                $"{N(n.Mean)}{unit}, normal, deviation {N(n.Deviation)}, within {N(low)}…{N(high)}",
            NormalSpread n => $"{N(n.Mean)}{unit}, normal, deviation {N(n.Deviation)}",
            TriangularSpread t => $"{N(t.Low)}…{N(t.High)}{unit}, most likely {N(t.Mode)}",
            _ when factor.Numbers is { } numbers => $"{Some(numbers.Select(N))}{unit}",
            _ => Some(factor.Texts ?? []),
        };
    }

    static string Some(IEnumerable<string> values)
    {
        var all = values.ToList();
        return string.Join(", ", all.Take(MostListed)) + (all.Count > MostListed ? $" and {all.Count - MostListed} more" : "");
    }
}
