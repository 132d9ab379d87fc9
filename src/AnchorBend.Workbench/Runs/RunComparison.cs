using AnchorBend.Modeling.Comparison;
using AnchorBend.Simulation;
using AnchorBend.Simulation.Recording;
using AnchorBend.Verification;
using AnchorBend.Verification.Comparing;
using AnchorBend.Workbench.Compute;
using AnchorBend.Workbench.Models;
using AnchorBend.Workbench.Views;

namespace AnchorBend.Workbench.Runs;

/// <summary>A setting that two runs were made with differently.</summary>
public sealed record SettingDifference(string Name, string Before, string Now);

/// <summary>How a signal differs between two runs; values in the unit that people read it in.</summary>
/// <param name="Share">The largest difference as a share of the range of both, 0 to 1.</param>
/// <param name="Parts">When they first differ; null where they do not within the tolerance.</param>
public sealed record SignalDifference(SignalView Signal, double Largest, double At, double Share, double? Parts);

/// <summary>Why two runs differ.</summary>
/// <param name="Summary">In a sentence.</param>
/// <param name="Document">What differs in the model, by level.</param>
/// <param name="Settings">Method, tolerances, version, values that were set by hand.</param>
/// <param name="Signals">Those that differ, most first.</param>
/// <param name="First">The signal that parts first; null where none does.</param>
/// <param name="Compared">How many signals both have.</param>
public sealed record RunDifference(
    string Summary,
    IReadOnlyList<LevelDifference> Document,
    IReadOnlyList<SettingDifference> Settings,
    IReadOnlyList<SignalDifference> Signals,
    SignalDifference? First,
    int Compared
);

/// <summary>Compares runs: what they were made from, and signal by signal.</summary>
public sealed class RunComparison(RunPool runs, ComputeGate gate)
{
    static readonly TimeSpan MostComparing = TimeSpan.FromSeconds(20);

    /// <summary>Signals that are listed.</summary>
    const int MostListed = 60;

    /// <summary>Differences below this share of a signal's range are those of the method's tolerance.</summary>
    const double Negligible = 1e-4;

    /// <exception cref="NotFoundException">One of them is not kept any more.</exception>
    public RunDifference Between(string before, string now, CancellationToken wanted)
    {
        var (a, b) = (Found(before, wanted), Found(now, wanted));
        return gate.Run(MostComparing, wanted, _ => Between(a, b));
    }

    /// <summary>The difference of one signal, now less before, at the union of their times.</summary>
    /// <exception cref="NotFoundException">One of the runs is not kept any more.</exception>
    public byte[] Curves(
        string now,
        string before,
        IReadOnlyList<string> signals,
        double? from,
        double? to,
        int? width,
        CancellationToken wanted
    )
    {
        var (a, b) = (new RunResults(Found(now, wanted)), new RunResults(Found(before, wanted)));
        return gate.Run(MostComparing, wanted, _ =>
        {
            var found = new Dictionary<string, ReducedCurve>();
            foreach (var signal in signals.Distinct())
            {
                if (a.Curve(signal) is not { } one || b.Curve(signal) is not { } other)
                    continue;
                var difference = CurveDifference.Between(one, other);
                if (difference.Values.Length == 0)
                    continue;
                using var trace = Trace.Of([0], [.. difference.Times], [difference.Values]);
                found[signal] = TraceReduction.Reduce(
                    trace,
                    [0],
                    from ?? difference.Times[0],
                    to ?? difference.Times[^1],
                    Math.Clamp(width ?? 1000, 10, 10_000)
                )[0];
            }

            return RunResults.Packed(signals, found);
        });
    }

    RunJob Found(string id, CancellationToken wanted) => runs.Find(id, wanted) ?? throw NotFoundException.Run(id);

    static RunDifference Between(RunJob a, RunJob b)
    {
        var document = a.Source is null && b.Source is null ? ModelComparison.Between(a.Document, b.Document) : [];
        // Where sheets and measures look at results, they do not change them.
        List<LevelDifference> places =
        [
            .. document
                .Select(l =>
                    l with
                    {
                        Differences = [.. l.Differences.Where(d => d.What is not ("plot sheet" or "measure" or "requirement"))],
                    }
                )
                .Where(l => l.Differences.Count > 0),
        ];
        var settings = Settings(a, b);
        var (signals, compared) = Signals(a, b);
        var first = signals.Where(s => s.Parts is not null).MinBy(s => s.Parts);
        return new RunDifference(Told(places, settings, signals, a, b), places, settings, [.. signals.Take(MostListed)], first, compared);
    }

    static string Told(List<LevelDifference> levels, List<SettingDifference> settings, List<SignalDifference> signals, RunJob a, RunJob b)
    {
        if (a.Source is not null || b.Source is not null)
            return signals.Count > 0 ? "One of them was read from a file." : "They show the same.";
        var places = levels.Sum(l => l.Differences.Count);
        if (signals.Count == 0)
            return places + settings.Count == 0 ? "They are the same run." : "They show the same, though not all is as it was.";
        return (places, settings.Count) switch
        {
            (0, 0) => "Equations, values and settings are the same; what was set by hand differs.",
            (1, 0) => "One place in the model differs; settings and method are the same.",
            (> 1, 0) => $"{places} places in the model differ; settings and method are the same.",
            (0, _) => "The model is the same; its settings differ.",
            _ => $"{Counted(places, "place")} in the model and {Counted(settings.Count, "setting")} differ.",
        };
    }

    static string Counted(int count, string what) => $"{count} {what}{(count == 1 ? "" : "s")}";

    static List<SettingDifference> Settings(RunJob a, RunJob b)
    {
        var (p, q) = (
            RunProvenance.Of(a.Prepared, a.Parameters, a.Options, a.Revision),
            RunProvenance.Of(b.Prepared, b.Parameters, b.Options, b.Revision)
        );
        var found = new List<SettingDifference>();
        void Add(string name, object? before, object? now)
        {
            var (x, y) = (Text(before), Text(now));
            if (x != y)
                found.Add(new SettingDifference(name, x, y));
        }

        Add("end", p.End, q.End);
        Add("method", p.Method, q.Method);
        Add(
            "step",
            MethodDescription.Named(p.Method)?.IsFixedStep == true ? p.Step : null,
            MethodDescription.Named(q.Method)?.IsFixedStep == true ? q.Step : null
        );
        Add("largest step", p.LargestStep, q.LargestStep);
        Add("relative tolerance", p.RelativeTolerance, q.RelativeTolerance);
        Add("absolute tolerance", p.AbsoluteTolerance, q.AbsoluteTolerance);
        Add("distance of output points", p.OutputInterval, q.OutputInterval);
        Add("start at rest", p.SteadyStart, q.SteadyStart);
        Add("start from", p.From?.Point, q.From?.Point);
        Add("version", p.Version, q.Version);
        Add("read from", a.Source, b.Source);
        foreach (var (time, part, what) in Changed(a).Except(Changed(b)))
            found.Add(new SettingDifference("set by hand", FormattableString.Invariant($"{part} {what} at {time:G6} s"), "–"));
        foreach (var (time, part, what) in Changed(b).Except(Changed(a)))
            found.Add(new SettingDifference("set by hand", "–", FormattableString.Invariant($"{part} {what} at {time:G6} s")));
        return found;
    }

    static IEnumerable<(double, string, string)> Changed(RunJob job) =>
        job.Result?.Events.Where(e => e.IsChange).Select(e => (e.Time, e.Part, e.What)) ?? [];

    static string Text(object? value) =>
        value switch
        {
            null => "–",
            double number => number.ToString("R", System.Globalization.CultureInfo.InvariantCulture),
            bool flag => flag ? "yes" : "no",
            _ => value.ToString()!,
        };

    /// <summary>The signals of both by name, those that differ most first.</summary>
    static (List<SignalDifference> Differing, int Compared) Signals(RunJob a, RunJob b)
    {
        var (before, now) = (new RunResults(a), new RunResults(b));
        var catalog = SignalCatalog.Of(b.Prepared, b.Document);
        var tolerance = new Tolerance(0, 0);
        var found = new List<SignalDifference>();
        var compared = 0;
        var uncontrolled = Math.Max(a.Options.AbsoluteTolerance, b.Options.AbsoluteTolerance);
        var places = new HashSet<int>();
        // Of several names of one quantity, the one that somebody gave it tells most.
        foreach (var entry in catalog.All.OrderBy(e => e.IsNamed ? 0 : 1))
        {
            Language.WorkBudget.Current.Check();
            if (!places.Add(b.Prepared.Compiled!.Plan.Representative[entry.Variable]))
                continue;
            if (now.Curve(entry.Reference) is not { } right || before.Curve(entry.Reference) is not { } left)
                continue;
            compared++;
            var rough = CurveDifference.Of(left, right, tolerance);
            // What is smaller than the methods control is rounding, however large a share of nothing it is.
            if (!rough.HasGaps && (!(rough.Share > Negligible) || rough.Largest <= uncontrolled))
                continue;
            var exact = CurveDifference.Of(left, right, new Tolerance(Negligible * Math.Max(rough.Range, 0), 0));
            var view = catalog.View(entry);
            found.Add(new SignalDifference(view, exact.Largest * view.Scale, exact.At, exact.Share, exact.Parts));
        }

        return ([.. found.OrderByDescending(s => s.Share)], compared);
    }
}
