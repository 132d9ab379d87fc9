using System.Diagnostics;
using AnchorBend.Compiler.Preparation;
using AnchorBend.Simulation;

/// <summary>Problems against C programs at equal error, and the automatic method against the best one.</summary>
/// <param name="size">What an error is compared with, from the exact value.</param>
/// <param name="settings">In how many ways the C program can be set.</param>
/// <param name="truth">The program that the exact values come from, where it is another one.</param>
sealed class Comparison(Reference reference, int settings, IntegrationMethod[] methods, Func<double, double> size, Reference? truth = null)
{
    static readonly double[] Tolerances = [1e-3, 1e-4, 1e-5, 1e-6, 1e-7, 1e-8];

    /// <summary>Tolerances of the C program for each decade.</summary>
    const int StepsADecade = 4;

    /// <summary>Times that each side runs in turn; the median of the ratios counts.</summary>
    const int Rounds = 7;

    /// <summary>A run shorter than this is repeated until it has taken that long, in s.</summary>
    const double LeastTime = 0.002;

    /// <summary>What a setting of the C program costs and how far it errs.</summary>
    sealed record Setting(double Tolerance, int Number, double Seconds, double Error);

    public void Run(IEnumerable<Problem> problems, Func<string, PreparedModel> prepare)
    {
        var means = methods.ToDictionary(m => m, _ => new List<double>());
        foreach (var problem in problems)
        {
            var exact = (truth ?? reference).Solve(problem.Name, 1e-13, 0);
            var curve = Curve(problem, exact);
            var prepared = prepare(problem.Text);
            var ratios = methods.ToDictionary(m => m, _ => new List<double>());
            var toBest = new List<double>();
            foreach (var tolerance in Tolerances)
            {
                var runs = methods.Select(m => Prepared(problem, prepared, m, tolerance)).ToArray();
                var errors = runs.Select(r => Error(r(), exact)).ToArray();
                // Where the C program never gets as exact, its most exact run counts.
                var equals = errors
                    .Select(e => curve.Where(s => s.Error <= e).MinBy(s => s.Seconds) ?? curve.MinBy(s => s.Error)!)
                    .ToArray();
                foreach (var run in runs)
                    WarmUp(run);
                var ours = methods.Select(_ => new List<double>()).ToArray();
                var theirs = methods.Select(_ => new List<double>()).ToArray();
                for (var round = 0; round < Rounds; round++)
                {
                    for (var m = 0; m < methods.Length; m++)
                    {
                        var equal = equals[m];
                        theirs[m].Add(Time(() => reference.Solve(problem.Name, equal.Tolerance, equal.Number)));
                        ours[m].Add(Time(runs[m]));
                    }
                }

                for (var m = 0; m < methods.Length; m++)
                {
                    var ratio = Median(ours[m].Zip(theirs[m], (a, b) => a / b));
                    ratios[methods[m]].Add(ratio);
                    Console.WriteLine(
                        $"    {problem.Name, -10} {methods[m], -20} tolerance {tolerance:E0}  error {errors[m]:E1}  ours {1e6 * Median(ours[m]), 8:F0} µs  C {1e6 * Median(theirs[m]), 8:F0} µs  ratio {ratio:F2}"
                    );
                }

                if (methods.Length == 1)
                    continue;
                var automatic = Array.IndexOf(methods, IntegrationMethod.Auto);
                toBest.Add(
                    Enumerable
                        .Range(0, methods.Length)
                        .Where(m => m != automatic)
                        .Max(m => Median(ours[automatic].Zip(ours[m], (a, b) => a / b)))
                );
            }

            foreach (var method in methods)
            {
                means[method].Add(Mean(ratios[method]));
                Console.WriteLine($"  {problem.Name, -10} {method, -20} {means[method][^1]:F2}");
            }

            if (methods.Length > 1)
                Console.WriteLine(
                    $"  {problem.Name, -10} automatic to best     {Mean(toBest):F2} ({string.Join(" ", toBest.Select(r => $"{r:F2}"))})"
                );
        }

        foreach (var (method, mean) in means)
            Console.WriteLine($"  {method}, geometric mean of the problems: {Mean(mean):F2}");
    }

    Setting[] Curve(Problem problem, double[] exact)
    {
        var curve = new List<Setting>();
        for (var step = 0; step <= 8.5 * StepsADecade; step++)
        {
            var tolerance = 1e-3 * Math.Pow(10, -(double)step / StepsADecade);
            for (var s = 0; s < settings; s++)
            {
                var number = s;
                var values = reference.Solve(problem.Name, tolerance, number);
                if (values.Length == 0)
                    continue;
                var seconds = Median(Enumerable.Range(0, 5).Select(_ => Time(() => reference.Solve(problem.Name, tolerance, number))));
                curve.Add(new(tolerance, number, seconds, Error(values, exact)));
            }
        }

        return [.. curve];
    }

    static Func<double[]> Prepared(Problem problem, PreparedModel prepared, IntegrationMethod method, double tolerance)
    {
        var places = problem.Outputs.Select(prepared.Compiled!.Plan.RepresentativeOf).ToArray();
        var options = new RunOptions
        {
            End = problem.End,
            Method = method,
            RelativeTolerance = tolerance,
            AbsoluteTolerance = tolerance * problem.Absolute,
            OutputTimes = [problem.End],
            Keep = [.. places.Distinct()],
        };
        return () =>
        {
            using var simulator = new Simulator(prepared.Compiled!, new ParameterSet(prepared.Model), options);
            var trace = simulator.Run().Trace;
            return [.. places.Select(p => trace[trace.Rows - 1, p])];
        };
    }

    double Error(double[] values, double[] exact) => values.Zip(exact, (v, e) => Math.Abs(v - e) / (size(e) + 1e-10)).Max();

    /// <summary>
    /// Until it becomes no faster: the run-time compiler replaces its quick code in several rounds, each some tenths of a second after the
    /// last.
    /// </summary>
    static void WarmUp(Func<double[]> run)
    {
        var best = double.PositiveInfinity;
        for (var same = 0; same < 5; same++)
        {
            var seconds = Time(run, 0.1);
            if (seconds < 0.98 * best)
                (best, same) = (seconds, 0);
        }
    }

    static double Time(Func<double[]> run, double least = LeastTime)
    {
        var watch = Stopwatch.StartNew();
        var runs = 0;
        do
        {
            run();
            runs++;
        } while (watch.Elapsed.TotalSeconds < least);
        return watch.Elapsed.TotalSeconds / runs;
    }

    static double Median(IEnumerable<double> values) => values.Order().ToArray() is var sorted ? sorted[sorted.Length / 2] : 0;

    static double Mean(IEnumerable<double> ratios) => Math.Exp(ratios.Average(Math.Log));
}
