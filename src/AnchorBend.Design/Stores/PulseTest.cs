using System.Globalization;

namespace AnchorBend.Design.Stores;

/// <summary>What a pulse test says of a cell at one state of charge.</summary>
/// <param name="Charge">State of charge in the rest, 0 to 1.</param>
/// <param name="Rest">Voltage that the rest comes to, V.</param>
/// <param name="Series">Series resistance, Ω.</param>
/// <param name="Branches">Resistance of each branch, Ω.</param>
/// <param name="Error">Root of the mean square between the rest and its fit, V.</param>
public sealed record PulsePoint(double Charge, double Rest, double Series, IReadOnlyList<double> Branches, double Error);

/// <summary>An equivalent circuit that follows a pulse test.</summary>
/// <param name="TimeConstants">Of the branches, s, the shortest first; the same at every state of charge.</param>
/// <param name="Points">By rising state of charge.</param>
public sealed record PulseFit(IReadOnlyList<double> TimeConstants, IReadOnlyList<PulsePoint> Points)
{
    /// <summary>What makes the figures less sure than they look, in sentences.</summary>
    public IReadOnlyList<string> Doubts { get; init; } = [];

    /// <summary>The largest error of any rest, V.</summary>
    public double Worst => Points.Max(p => p.Error);
}

/// <summary>
/// Fits an equivalent circuit to a measured pulse test: after each pulse the current stops at once and the voltage relaxes
/// (G. L. Plett, "Battery Management Systems I", 2015, section 2.9). The jump is the series resistance; the way back is a sum of
/// exponentials whose time constants all rests share and whose sizes are linear, so that only the time constants are searched
/// (variable projection: G. H. Golub and V. Pereyra, SIAM J. Numer. Anal. 10, 1973).
/// </summary>
public static class PulseTest
{
    /// <summary>The part of the largest current below which the cell rests.</summary>
    const double Resting = 0.02;

    /// <summary>Samples that a rest must have for each number that is read off it.</summary>
    const int SamplesEach = 3;

    /// <summary>Rests at states of charge closer than this are one point of a table.</summary>
    const double SameCharge = 1e-3;

    const int MostBranches = 3;

    /// <summary>How far the counted charge may be off its ends, as currents are measured.</summary>
    const double Beyond = 0.02;

    /// <summary>Time constants after which an exponential has settled to a twentieth, and the part by which a pulse may change.</summary>
    const double Relaxed = 3,
        Steady = 0.05;

    /// <param name="time">Instants, s, rising.</param>
    /// <param name="current">A; which way counts as positive is found out.</param>
    /// <param name="voltage">V, of the terminals.</param>
    /// <param name="capacity">C.</param>
    /// <param name="start">State of charge at the first instant.</param>
    /// <exception cref="DesignException">The data hold no pulse test; says why.</exception>
    public static PulseFit Fit(double[] time, double[] current, double[] voltage, double capacity, double start, int branches)
    {
        if (branches is < 1 or > MostBranches)
            throw Refused($"A cell has one to {MostBranches} branches, not {branches}.", "Choose how many the fit may have.");
        if (!(capacity > 0) || !(start is >= 0 and <= 1))
            throw Refused(
                "The capacity is a positive number, and the charge at the start lies between 0 and 1.",
                "Give both as of the test."
            );
        if (!time.Concat(current).Concat(voltage).All(double.IsFinite))
            throw Refused("A value of the test is missing or no number.", "Take the rows with gaps out of the file.");
        for (var k = 1; k < time.Length; k++)
            if (!(time[k] > time[k - 1]))
                throw Refused($"Time does not rise at sample {k + 1}.", "Sort the rows by time, and take double ones out.");
        var rests = Rests(time, current, voltage, capacity, start, branches);
        if (rests.Count == 0)
            throw Refused(
                "No pulse with a rest after it was found.",
                $"After each pulse the current must rest, over at least {SamplesEach * (2 * branches + 1)} samples."
            );
        var taus = new TimeConstantSearch(rests, branches).Best();
        var points = rests.ConvertAll(r => r.Point(taus));
        foreach (var point in points)
            Check(point);
        return new PulseFit(taus, Merged(points)) { Doubts = Doubts(rests, taus) };
    }

    /// <summary>A cell is neither empty beyond empty nor made of negative resistances: such a fit is no cell's.</summary>
    static void Check(PulsePoint point)
    {
        var at = point.Charge.ToString("G3", CultureInfo.InvariantCulture);
        if (point.Charge is < -Beyond or > 1 + Beyond)
            throw Refused($"The charge comes to {at}, outside of 0 to 1.", "Check the capacity and the charge at the beginning.");
        if (!(point.Series > 0) || !point.Branches.All(r => r > 0))
            throw Refused($"At a charge of {at} a resistance comes out negative.", "Try fewer branches, or a test with longer rests.");
    }

    /// <summary>What of the test makes its figures less sure than they look.</summary>
    static List<string> Doubts(IReadOnlyList<PulseRest> rests, IReadOnlyList<double> taus)
    {
        var doubts = new List<string>();
        string Told(double value) => value.ToString("G3", CultureInfo.InvariantCulture);
        if (rests.Min(r => r.Duration) is var shortest && shortest < Relaxed * taus[^1])
            doubts.Add(
                $"The shortest rest of {Told(shortest)} s is less than {Relaxed} times {Told(taus[^1])} s: slow branches had not settled."
            );
        if (rests.Max(r => r.Unsteady) is var unsteady and > Steady)
            doubts.Add($"The current of a pulse changes by {Told(100 * unsteady)} % within it; its last value was taken for all of it.");
        return doubts;
    }

    internal static DesignException Refused(string message, string advice) => new("pulse-test", message, advice);

    static List<PulseRest> Rests(double[] time, double[] current, double[] voltage, double capacity, double start, int branches)
    {
        var largest = current.Length == 0 ? 0 : current.Max(Math.Abs);
        var sign = Sign(current, voltage);
        var (charge, pulse) = (start, 0);
        var rests = new List<PulseRest>();
        for (var k = 1; k < time.Length; k++)
        {
            // A current that is switched holds until the next sample.
            charge += sign * current[k - 1] * (time[k] - time[k - 1]) / capacity;
            var (isResting, rested) = (Math.Abs(current[k]) <= Resting * largest, Math.Abs(current[k - 1]) <= Resting * largest);
            if (!isResting && rested)
                pulse = k;
            if (!isResting || rested || pulse == 0)
                continue;
            var end = k;
            while (end < time.Length && Math.Abs(current[end]) <= Resting * largest)
                end++;
            if (end - k >= SamplesEach * (2 * branches + 1))
                rests.Add(
                    new PulseRest(time, voltage, pulse, k, end, sign * current[k - 1], charge)
                    {
                        Unsteady = Unsteady(current.AsSpan(pulse, k - pulse)),
                    }
                );
        }

        return rests;
    }

    /// <summary>The part by which a current changes within a pulse.</summary>
    static double Unsteady(ReadOnlySpan<double> pulse)
    {
        var (least, most) = (pulse[0], pulse[0]);
        foreach (var value in pulse)
            (least, most) = (Math.Min(least, value), Math.Max(most, value));
        return (most - least) / Math.Abs(pulse[^1]);
    }

    /// <summary>1 where a positive current charges, which raises the voltage as it is switched on; −1 where it discharges.</summary>
    static int Sign(double[] current, double[] voltage)
    {
        var sum = 0.0;
        for (var k = 1; k < current.Length; k++)
            sum += (current[k] - current[k - 1]) * (voltage[k] - voltage[k - 1]);
        return sum < 0 ? -1 : 1;
    }

    static List<PulsePoint> Merged(IEnumerable<PulsePoint> points)
    {
        var merged = new List<PulsePoint>();
        foreach (var point in points.OrderBy(p => p.Charge))
            if (merged.Count == 0 || point.Charge - merged[^1].Charge > SameCharge)
                merged.Add(point);
        return merged;
    }
}
