using System.Diagnostics;
using AnchorBend.Simulation;

/// <summary>Problems against C programs at equal error, and the automatic method against the best one.</summary>
static class Comparison
{
    static readonly double[] Tolerances = [1e-3, 1e-4, 1e-5, 1e-6, 1e-7, 1e-8];

    public static void RunStiff(string references, Func<string, PreparedModel> prepare)
    {
        Console.WriteLine("Stiff problems against a C suite's backward differentiation at equal error (time of ours / its cheapest of at most that error):");
        Run(references, "stiff", Problems.Stiff, [IntegrationMethod.Auto, IntegrationMethod.Radau5, IntegrationMethod.BackwardDifferences], prepare, Math.Abs);
    }

    public static void RunExplicit(string references, Func<string, PreparedModel> prepare)
    {
        Console.WriteLine("Other problems against Dormand–Prince 5(4) written by hand in C at equal error:");
        Run(references, "explicit", Problems.Explicit, [IntegrationMethod.Auto, IntegrationMethod.DormandPrince54, IntegrationMethod.DormandPrince853], prepare, exact => 1 + Math.Abs(exact));
    }

    /// <summary>Rounds of the C program and ours in turn: what else the machine does meets both alike. The median of their ratios counts.</summary>
    const int Rounds = 5;

    /// <param name="size">What an error is compared with, from the exact value.</param>
    static void Run(string references, string program, Problem[] problems, IntegrationMethod[] methods, Func<string, PreparedModel> prepare, Func<double, double> size)
    {
        var means = methods.ToDictionary(m => m, _ => new List<double>());
        foreach (var problem in problems)
        {
            var prepared = prepare(problem.Text);
            var ratios = new Dictionary<(IntegrationMethod Method, double Tolerance), List<double>>();
            var toBest = Tolerances.ToDictionary(t => t, _ => new List<double>());
            var last = new Dictionary<(IntegrationMethod, double), (double Seconds, double Error, double Equal)>();
            for (var round = 0; round < Rounds; round++)
            {
                using var process = Process.Start(new ProcessStartInfo(Path.Combine(references, program), problem.Name) { RedirectStandardOutput = true, RedirectStandardError = true })!;
                // The suite complains of tolerances it cannot reach.
                process.ErrorDataReceived += (_, _) => { };
                process.BeginErrorReadLine();
                var lines = process.StandardOutput.ReadToEnd().Split('\n', StringSplitOptions.RemoveEmptyEntries);
                var exact = lines[0].Split(' ', StringSplitOptions.RemoveEmptyEntries).Select(double.Parse).ToArray();
                var curve = lines.Skip(1).Select(l => l.Split(' ').Select(double.Parse).ToArray()).Select(n => (Time: n[1], Error: n[2])).ToArray();
                foreach (var tolerance in Tolerances)
                {
                    foreach (var method in methods)
                    {
                        var (ours, error) = Measure(problem, prepared, method, tolerance, exact, size);
                        // Where the C program never gets as exact, its most exact run counts.
                        var equal = curve.Where(s => s.Error <= error).Select(s => s.Time).DefaultIfEmpty(curve.MinBy(s => s.Error).Time).Min();
                        last[(method, tolerance)] = (ours, error, equal);
                        if (!ratios.TryGetValue((method, tolerance), out var list)) list = ratios[(method, tolerance)] = [];
                        list.Add(ours / equal);
                    }

                    toBest[tolerance].Add(last[(IntegrationMethod.Auto, tolerance)].Seconds / methods.Where(m => m != IntegrationMethod.Auto).Min(m => last[(m, tolerance)].Seconds));
                }
            }

            foreach (var method in methods)
            {
                foreach (var tolerance in Tolerances)
                {
                    var (ours, error, equal) = last[(method, tolerance)];
                    Console.WriteLine($"    {problem.Name,-10} {method,-20} tolerance {tolerance:E0}  error {error:E1}  ours {1e6 * ours,8:F0} µs  C {1e6 * equal,8:F0} µs  ratio {Median(ratios[(method, tolerance)]):F2}");
                }

                means[method].Add(Math.Exp(Tolerances.Average(t => Math.Log(Median(ratios[(method, t)])))));
                Console.WriteLine($"  {problem.Name,-10} {method,-20} {means[method][^1]:F2}");
            }

            Console.WriteLine($"  {problem.Name,-10} automatic against the best method: {string.Join(" ", Tolerances.Select(t => $"{Median(toBest[t]):F2}"))}");
        }

        foreach (var (method, mean) in means) Console.WriteLine($"  {method}, geometric mean of the problems: {Math.Exp(mean.Average(Math.Log)):F2}");
    }

    static double Median(List<double> values) => values.Order().ElementAt(values.Count / 2);

    static (double Seconds, double Error) Measure(Problem problem, PreparedModel prepared, IntegrationMethod method, double tolerance, double[] exact, Func<double, double> size)
    {
        var places = problem.Outputs.Select(prepared.Compiled!.Plan.RepresentativeOf).ToArray();
        var options = new RunOptions
        {
            End = problem.End, Method = method, RelativeTolerance = tolerance, AbsoluteTolerance = tolerance * problem.Absolute, OutputTimes = [problem.End],
            Keep = [.. places.Distinct()],
        };
        var error = 0.0;
        double Once()
        {
            var watch = Stopwatch.StartNew();
            using var simulator = new Simulator(prepared.Compiled!, new ParameterSet(prepared.Model), options);
            var trace = simulator.Run().Trace;
            var seconds = watch.Elapsed.TotalSeconds;
            error = places.Select((p, i) => Math.Abs(trace[trace.Rows - 1, p] - exact[i]) / (size(exact[i]) + 1e-10)).Max();
            return seconds;
        }

        var first = Once();
        var runs = (int)Math.Clamp(0.03 / first, 3, 101);
        return (Enumerable.Range(0, runs).Select(_ => Once()).Order().ElementAt(runs / 2), error);
    }
}
