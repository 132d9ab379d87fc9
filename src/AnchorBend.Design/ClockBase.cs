using AnchorBend.Modeling.Flat;

namespace AnchorBend.Design;

/// <summary>A clock with numbers.</summary>
/// <param name="Flag">The variable that is true at its samples.</param>
/// <param name="Start">s.</param>
/// <param name="Interval">s.</param>
sealed record Clock(int Flag, double Start, double Interval, string Owner);

/// <summary>What clocks have in common.</summary>
static class ClockBase
{
    /// <summary>Periods of the slowest clock, and instants, that are looked through.</summary>
    const int MostPeriods = 1000,
        MostInstants = 20_000;

    /// <summary>Instants as near as this share of a period are one.</summary>
    const double Same = 1e-9;

    /// <summary>The time after which all samples are taken again at the same instants, and these instants with the flags that are set,
    /// from the first sample on.</summary>
    /// <param name="origin">The instant that counts as zero, s.</param>
    /// <exception cref="DesignException">There is no such time, or too much lies in it.</exception>
    public static (double Period, List<(double Time, List<int> Flags)> Instants) Of(IReadOnlyList<Clock> clocks, double origin)
    {
        var slowest = clocks.Max(c => c.Interval);
        static bool IsWhole(double v) => Math.Abs(v - Math.Round(v)) < Same * Math.Max(1, v);
        var periods = Enumerable.Range(1, MostPeriods).FirstOrDefault(q => clocks.All(c => IsWhole(q * slowest / c.Interval)));
        var period = periods * slowest;
        if (periods == 0 || clocks.Sum(c => period / c.Interval) > MostInstants)
            throw new DesignException(
                "sample-times",
                $"The sample times of {string.Join(", ", clocks.Select(c => c.Owner).Distinct().Take(4))} have no common period that is "
                    + "short enough to look through.",
                "Choose sample times that are whole multiples of one another."
            );
        var instants = new List<(double Time, List<int> Flags)>();
        foreach (var clock in clocks)
        {
            var count = (int)Math.Round(period / clock.Interval);
            for (var k = 0; k < count; k++)
            {
                var time = clock.Start - origin + k * clock.Interval;
                time -= Math.Floor(time / period + Same) * period;
                instants.Add((Math.Max(0, time), [clock.Flag]));
            }
        }

        instants.Sort((a, b) => a.Time.CompareTo(b.Time));
        var merged = new List<(double Time, List<int> Flags)>();
        foreach (var (time, flags) in instants)
            if (merged.Count > 0 && time - merged[^1].Time < Same * period)
                merged[^1].Flags.AddRange(flags);
            else
                merged.Add((time, flags));
        merged[0] = (merged[0].Time < Same * period ? 0 : merged[0].Time, merged[0].Flags);
        return (period, merged);
    }
}
