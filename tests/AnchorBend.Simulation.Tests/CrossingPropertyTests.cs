using System.Globalization;
using AnchorBend.Tests;

namespace AnchorBend.Simulation.Tests;

/// <summary>Watched conditions on motions whose crossings are known from their formulas.</summary>
public class CrossingPropertyTests
{
    const double End = 20;

    /// <summary>Two undamped oscillators as states, and what is watched of them, as an equation and as a function.</summary>
    sealed record Watched(string Text, Func<double, double, double> Value);

    static readonly Watched[] Shapes =
    [
        new("p + q", (p, q) => p + q),
        new("p * q", (p, q) => p * q),
        new("abs(p) - 0.3 * q", (p, q) => Math.Abs(p) - 0.3 * q),
        new("max(p, q)", Math.Max),
        new("min(abs(p), abs(q))", (p, q) => Math.Min(Math.Abs(p), Math.Abs(q))),
        new("s", (p, q) => Math.Exp(0.5 * p) * q),
    ];

    public static TheoryData<int, IntegrationMethod> Seeds()
    {
        var data = new TheoryData<int, IntegrationMethod>();
        for (var seed = 1; seed <= 48; seed++)
            foreach (
                var method in new[]
                {
                    IntegrationMethod.Auto,
                    IntegrationMethod.DormandPrince54,
                    IntegrationMethod.DormandPrince853,
                    IntegrationMethod.Radau5,
                }
            )
                data.Add(seed, method);
        return data;
    }

    [Theory]
    [MemberData(nameof(Seeds))]
    public void No_crossing_is_missed_and_none_invented(int seed, IntegrationMethod method)
    {
        var random = new Random(seed);
        var shape = Shapes[seed % Shapes.Length];
        double w = 0.5 + 4 * random.NextDouble(),
            v = 0.5 + 4 * random.NextDouble(),
            a = 6 * random.NextDouble(),
            b = 6 * random.NextDouble();
        double Function(double t) => shape.Value(Math.Sin(w * t + a), Math.Sin(v * t + b));
        var (limit, expected) = Limit(Function, random);
        var text = string.Create(
            CultureInfo.InvariantCulture,
            $"""
            parameter Real w = {w:R}, v = {v:R}, limit = {limit:R};
            Real p(start = {Math.Sin(a):R}, fixed = true), pp(start = {w * Math.Cos(a):R}, fixed = true);
            Real q(start = {Math.Sin(b):R}, fixed = true), qq(start = {v
                * Math.Cos(b):R}, fixed = true), s = exp(0.5 * p) * q; Boolean above;
            equation der(p) = pp; der(pp) = -w^2 * p; der(q) = qq; der(qq) = -v^2 * q; above = {shape.Text} > limit;
            """
        );
        var result = TextModel.Run(
            TextModel.Prepare(text),
            new RunOptions
            {
                End = End,
                Method = method,
                RelativeTolerance = 1e-8,
                AbsoluteTolerance = 1e-8,
            }
        );
        Assert.Null(result.Failure);
        Assert.Equal(expected.Count, result.Events.Count);
        // An error of ten tolerances in each of the two states, divided by how steeply the signal crosses.
        foreach (var (want, got) in expected.Zip(result.Events))
            Assert.True(
                Math.Abs(got.Time - want) <= 2e-7 / Math.Max(1e-2, Math.Abs(Function(want + 1e-6) - Function(want - 1e-6)) / 2e-6),
                $"{got.Time:R} instead of {want:R}"
            );
    }

    /// <summary>A limit that is no closer than 1e-4 to any peak, often only just inside one, and where it is crossed.</summary>
    static (double Limit, List<double> Crossings) Limit(Func<double, double> function, Random random)
    {
        const int points = 200_000;
        var values = Enumerable.Range(0, points + 1).Select(i => function(i * End / points)).ToArray();
        var peaks = Enumerable
            .Range(1, points - 1)
            .Where(i => (values[i] - values[i - 1]) * (values[i + 1] - values[i]) <= 0)
            .Select(i => values[i])
            .ToArray();
        double limit;
        do
        {
            var near = peaks[random.Next(peaks.Length)];
            limit = near + (random.NextDouble() - 0.5) * Math.Pow(10, -3 * random.NextDouble());
        } while (peaks.Any(p => Math.Abs(p - limit) < 1e-4) || Math.Abs(values[0] - limit) < 1e-3);
        var crossings = new List<double>();
        for (var i = 0; i < points; i++)
        {
            if (values[i] > limit == values[i + 1] > limit)
                continue;
            double low = i * End / points,
                high = (i + 1) * End / points;
            var before = function(low) > limit;
            for (var k = 0; k < 60; k++)
            {
                var middle = (low + high) / 2;
                if (function(middle) > limit == before)
                    low = middle;
                else
                    high = middle;
            }

            crossings.Add(high);
        }

        return (limit, crossings);
    }
}
