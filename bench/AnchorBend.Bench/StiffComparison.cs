using System.Diagnostics;
using AnchorBend.Simulation;

/// <summary>Stiff problems against the backward differentiation of a C integrator suite at equal error.</summary>
static class StiffComparison
{
    sealed record Problem(string Name, string Text, double End, double Absolute, string[] Outputs);

    const int Cells = 250;

    static readonly Problem[] Problems =
    [
        new("robertson", "model M Real a(start=1), b, c; equation der(a) = -0.04*a + 1e4*b*c; der(b) = 0.04*a - 1e4*b*c - 3e7*b^2; der(c) = 3e7*b^2; end M;", 1e5, 1e-4, ["a", "b", "c"]),
        new("vdp", "model M Real x(start=2), v; equation der(x) = v; der(v) = 1000*(1 - x^2)*v - x; end M;", 1500, 1, ["x"]),
        new("hires", """
            model M Real y[8](start={1,0,0,0,0,0,0,0.0057}); equation
            der(y[1]) = -1.71*y[1] + 0.43*y[2] + 8.32*y[3] + 0.0007; der(y[2]) = 1.71*y[1] - 8.75*y[2];
            der(y[3]) = -10.03*y[3] + 0.43*y[4] + 0.035*y[5]; der(y[4]) = 8.32*y[2] + 1.71*y[3] - 1.12*y[4];
            der(y[5]) = -1.745*y[5] + 0.43*y[6] + 0.43*y[7]; der(y[6]) = -280*y[6]*y[8] + 0.69*y[4] + 1.71*y[5] - 0.43*y[6] + 0.69*y[7];
            der(y[7]) = 280*y[6]*y[8] - 1.81*y[7]; der(y[8]) = -280*y[6]*y[8] + 1.81*y[7]; end M;
            """, 321.8122, 1e-3, [.. Enumerable.Range(1, 8).Select(i => $"y[{i}]")]),
        new("orego", "model M Real a(start=1), b(start=2), c(start=3); equation der(a) = 77.27*(b + a*(1 - 8.375e-6*a - b)); der(b) = (c - (1 + a)*b)/77.27; der(c) = 0.161*(a - c); end M;", 360, 1e-3, ["a", "b", "c"]),
        new("bruss", $"""
            model M Real u[{Cells}](start={"{"}1 + sin(2*3.141592653589793*i/{Cells + 1}) for i in 1:{Cells}{"}"}), v[{Cells}](each start=3); parameter Real a = 0.02*{Cells + 1}^2;
            equation for i in 1:{Cells} loop
            der(u[i]) = 1 + u[i]^2*v[i] - 4*u[i] + a*((if i > 1 then u[max(i - 1, 1)] else 1) - 2*u[i] + (if i < {Cells} then u[min(i + 1, {Cells})] else 1));
            der(v[i]) = 3*u[i] - u[i]^2*v[i] + a*((if i > 1 then v[max(i - 1, 1)] else 3) - 2*v[i] + (if i < {Cells} then v[min(i + 1, {Cells})] else 3));
            end for; end M;
            """, 10, 1, [.. Enumerable.Range(1, Cells).SelectMany(i => new[] { $"u[{i}]", $"v[{i}]" })]),
    ];

    public static void Run(string references, Func<string, PreparedModel> prepare)
    {
        Console.WriteLine("Stiff problems against a C suite's backward differentiation at equal error (time of ours / its cheapest of at most that error):");
        var all = new List<double>();
        foreach (var problem in Problems)
        {
            using var process = Process.Start(new ProcessStartInfo(Path.Combine(references, "stiff"), problem.Name) { RedirectStandardOutput = true })!;
            var lines = process.StandardOutput.ReadToEnd().Split('\n', StringSplitOptions.RemoveEmptyEntries);
            var exact = lines[0].Split(' ', StringSplitOptions.RemoveEmptyEntries).Select(double.Parse).ToArray();
            var suite = lines.Skip(1).Select(l => l.Split(' ').Select(double.Parse).ToArray()).Select(n => (Time: n[1], Error: n[2])).ToArray();
            var prepared = prepare(problem.Text);
            var places = problem.Outputs.Select(prepared.Compiled!.Plan.RepresentativeOf).ToArray();
            foreach (var method in new[] { IntegrationMethod.Auto, IntegrationMethod.Radau5, IntegrationMethod.BackwardDifferences })
            {
                var ratios = new List<double>();
                foreach (var tolerance in new[] { 1e-3, 1e-4, 1e-5, 1e-6, 1e-7, 1e-8 })
                {
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
                        error = places.Select((p, i) => Math.Abs(trace[trace.Rows - 1, p] - exact[i]) / (Math.Abs(exact[i]) + 1e-10)).Max();
                        return seconds;
                    }

                    var rounds = problem.Name == "bruss" ? 5 : 41;
                    for (var i = 0; i < rounds / 2; i++) Once();
                    var ours = Enumerable.Range(0, rounds).Select(_ => Once()).Order().ElementAt(rounds / 2);
                    var equal = suite.Where(s => s.Error <= error).Select(s => s.Time).DefaultIfEmpty(double.NaN).Min();
                    Console.WriteLine($"    {problem.Name,-10} {method,-20} tolerance {tolerance:E0}  error {error:E1}  ours {1e6 * ours,8:F0} µs  suite {1e6 * equal,8:F0} µs  ratio {ours / equal:F2}");
                    if (double.IsFinite(equal)) ratios.Add(ours / equal);
                }

                var mean = Math.Exp(ratios.Average(Math.Log));
                Console.WriteLine($"  {problem.Name,-10} {method,-20} {mean:F2}");
                if (method == IntegrationMethod.Auto) all.Add(mean);
            }
        }

        Console.WriteLine($"  automatic, geometric mean of the problems: {Math.Exp(all.Average(Math.Log)):F2}");
    }
}
