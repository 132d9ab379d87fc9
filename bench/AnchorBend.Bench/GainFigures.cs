using System.Diagnostics;
using System.Globalization;
using AnchorBend.Design;
using AnchorBend.Design.Identification;

namespace AnchorBend.Bench;

/// <summary>The best integral gains under a peak of the sensitivity for thirty plants, beside a C program that tries them all.</summary>
static class GainFigures
{
    /// <param name="Numerator">Descending powers of s.</param>
    /// <param name="Unstable">Poles in the right half plane.</param>
    sealed record Plant(string Name, string Numerator, string Denominator, double Delay = 0, int Unstable = 0)
    {
        public LinearSystem System => new RationalFit(Read(Numerator), Read(Denominator), Delay, 1, 0, true).System();

        static double[] Read(string text) => [.. text.Split(',').Select(t => double.Parse(t, CultureInfo.InvariantCulture))];
    }

    static readonly Plant[] Plants =
    [
        new("3 lags", "1", "1,3,3,1"),
        new("4 lags", "1", "1,4,6,4,1"),
        new("6 lags", "1", "1,6,15,20,15,6,1"),
        new("8 lags", "1", "1,8,28,56,70,56,28,8,1"),
        new("lags 1, 0.2, 0.04", "1", "0.008,0.248,1.24,1"),
        new("lags 1, 0.5, 0.25, 0.125", "1", "0.015625,0.234375,1.09375,1.875,1"),
        new("lag, dead time 0.1", "1", "1,1", 0.1),
        new("lag, dead time 0.5", "1", "1,1", 0.5),
        new("lag, dead time 1", "1", "1,1", 1),
        new("lag, dead time 5", "1", "1,1", 5),
        new("lag 0.1, dead time 1", "1", "0.1,1", 1),
        new("2 lags, dead time 0.3", "1", "1,2,1", 0.3),
        new("2 lags, dead time 1", "1", "1,2,1", 1),
        new("2 lags, dead time 3", "1", "1,2,1", 3),
        new("3 lags, dead time 2", "1", "1,3,3,1", 2),
        new("integrator, dead time 1", "1", "1,0", 1),
        new("integrator, lag", "1", "0.1,1,0", 0.05),
        new("integrator, 3 lags", "1", "1,3,3,1,0"),
        new("integrator, lag, dead time 0.5", "1", "1,1,0", 0.5),
        new("zero at 1, 3 lags", "-1,1", "1,3,3,1"),
        new("zero at 0.5, 3 lags", "-2,1", "1,3,3,1"),
        new("zero at 5, lag, dead time 0.2", "-0.2,1", "1,1", 0.2),
        new("lead, 4 lags", "2,1", "1,4,6,4,1"),
        new("resonance, damping 0.3", "9", "1,2.8,10.8,9"),
        new("resonance, damping 0.1", "9", "1,1.6,9.6,9"),
        new("resonance, dead time 0.2", "4", "1,2,4", 0.2),
        new("two masses, lag", "1,0.2,5", "0.05,1.0225,1.4525,20.3,5"),
        new("unstable lag, 2 lags", "1", "0.005,0.149,0.97,-0.2", 0, 1),
        new("unstable lag, dead time 0.2", "1", "1,-1", 0.2, 1),
        new("slow and fast lag, dead time 0.5", "1", "2,20.1,1", 0.5),
    ];

    static readonly double[] Limits = [1.4, 2];

    public static void Print(string reference)
    {
        Console.WriteLine("Largest integral gains under a peak of the sensitivity: ours over those of trying all, and our time in ms:");
        Console.WriteLine($"{"plant", -34}{string.Concat(Limits.Select(l => $"{"PI " + l, 12}{"PID " + l, 12}")), 0}{"ms", 8}");
        var ratios = new Dictionary<string, List<double>>();
        foreach (var plant in Plants)
        {
            Console.Write($"{plant.Name, -34}");
            var slowest = 0.0;
            foreach (var limit in Limits)
            foreach (var form in (PidForm[])[PidForm.PI, PidForm.PID])
            {
                var shape = new PidGains(form, 1, 1, 1, 10, 1, 0);
                var begun = Stopwatch.GetTimestamp();
                var best = RobustPid.Best(plant.System, shape, new LoopLimits(limit), LoopGoal.IntegralGain);
                slowest = Math.Max(slowest, Stopwatch.GetElapsedTime(begun).TotalMilliseconds);
                var ki = Tried(reference, plant, limit, form == PidForm.PID);
                var (told, ratio) = (ki, best) switch
                {
                    // Nothing keeps the limit, and nothing was found.
                    (0, null) => ("none", 1.0),
                    // Trying ends at ten thousand.
                    _ when best?.Pid().Parallel.Ki > 100 * ki => ("no bound", double.NaN),
                    _ => (
                        ((best?.Pid().Parallel.Ki ?? 0) / ki).ToString("F3", CultureInfo.InvariantCulture),
                        (best?.Pid().Parallel.Ki ?? 0) / ki
                    ),
                };
                if (double.IsFinite(ratio))
                    (ratios.TryGetValue($"{form}", out var list) ? list : ratios[$"{form}"] = []).Add(ratio);
                Console.Write($"{told, 12}");
            }

            Console.WriteLine($"{slowest, 8:F0}");
        }

        foreach (var (form, list) in ratios)
            Console.WriteLine($"{form}: least {list.Min():F3}, median {list.Order().ElementAt(list.Count / 2):F3}, most {list.Max():F3}");
    }

    static double Tried(string reference, Plant plant, double limit, bool pid)
    {
        using var process = Process.Start(
            new ProcessStartInfo(
                reference,
                FormattableString.Invariant($"{limit} {(pid ? 1 : 0)} {plant.Delay} {plant.Unstable} {plant.Numerator} {plant.Denominator}")
            )
            {
                RedirectStandardOutput = true,
            }
        )!;
        return double.Parse(process.StandardOutput.ReadToEnd().Split(' ')[1], CultureInfo.InvariantCulture);
    }
}
