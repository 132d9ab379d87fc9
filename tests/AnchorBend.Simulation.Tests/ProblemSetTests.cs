using System.Globalization;
using AnchorBend.Tests;

namespace AnchorBend.Simulation.Tests;

/// <summary>
/// The published problem sets in the folder <c>Problems</c>: Hull, Enright, Fellen and Sedgwick (SIAM J. Numer. Anal. 9, 1972) for
/// non-stiff, Enright, Hull and Lindberg (BIT 15, 1975) and Hairer and Wanner, Solving Ordinary Differential Equations II, for stiff ones.
/// Each file ends with the size of an absolute error that counts as one, and with values: published ones for the ring modulator, the
/// amplifier, the squeezing mechanism, the car axis, the charges on a sphere and the reaction with an equilibrium, closed ones for
/// Prothero and Robinson's problem, else those of a general numeric library at a tolerance of 1e-12.
/// </summary>
public class ProblemSetTests
{
    static readonly string Folder = Path.Combine(AppContext.BaseDirectory, "Problems");

    public static TheoryData<string> Names =>
        [.. Directory.EnumerateFiles(Folder, "*.mo").Select(f => Path.GetFileNameWithoutExtension(f)).Order(StringComparer.Ordinal)];

    static double Number(string text) => double.Parse(text, CultureInfo.InvariantCulture);

    /// <summary>The largest error of a run as a multiple of the tolerance.</summary>
    static double ErrorInTolerances(string name, IntegrationMethod method, double tolerance)
    {
        var text = File.ReadAllText(Path.Combine(Folder, name + ".mo"));
        var notes = text.Split('\n').Where(l => l.StartsWith("// ", StringComparison.Ordinal)).Select(l => l[3..]).ToArray();
        var scale = Number(notes[0].Split(' ')[1]);
        var expected = notes[1..].Select(l => l.Split(": ")).ToDictionary(p => Number(p[0]), p => p[1].Split(' ').Select(Number).ToArray());
        double[] times = [.. expected.Keys.Order()];
        var prepared = TextModel.Prepare(text);
        var result = TextModel.Run(
            prepared,
            new RunOptions
            {
                End = times[^1],
                OutputTimes = times,
                Method = method,
                RelativeTolerance = tolerance,
                AbsoluteTolerance = tolerance * scale,
            }
        );
        Assert.Null(result.Failure);
        var worst = 0.0;
        foreach (var time in times)
        {
            var row = Enumerable.Range(0, result.Trace.Rows).Last(r => result.Trace.Times[r] <= time);
            for (var i = 0; i < expected[time].Length; i++)
            {
                var value = result.Trace[row, prepared.Compiled!.Plan.RepresentativeOf($"y[{i + 1}]")];
                worst = Math.Max(worst, Math.Abs(value - expected[time][i]) / (tolerance * (scale + Math.Abs(expected[time][i]))));
            }
        }

        return worst;
    }

    [Theory]
    [MemberData(nameof(Names))]
    public void The_automatic_method_stays_within_ten_tolerances(string name)
    {
        foreach (var tolerance in new[] { 1e-3, 1e-4, 1e-6, 1e-8 })
            Assert.InRange(ErrorInTolerances(name, IntegrationMethod.Auto, tolerance), 0, 10);
    }

    [Theory]
    [MemberData(nameof(Names))]
    public void Implicit_methods_stay_within_ten_tolerances(string name)
    {
        foreach (var method in new[] { IntegrationMethod.Radau5, IntegrationMethod.BackwardDifferences })
        foreach (var tolerance in new[] { 1e-5, 1e-7 })
            Assert.InRange(ErrorInTolerances(name, method, tolerance), 0, 10);
    }
}
