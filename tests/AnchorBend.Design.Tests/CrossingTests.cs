using AnchorBend.Compiler.Preparation;
using AnchorBend.Simulation;
using AnchorBend.Tests;

namespace AnchorBend.Design.Tests;

/// <summary>Crossings of open loops against their closed forms.</summary>
public class CrossingTests
{
    internal static LinearSystem Plant(string text, string from, string to)
    {
        var prepared = TextModel.Prepare(text);
        var start = OperatingPoint.AtTime(prepared, new ParameterSet(prepared.Model), 0, new RunOptions { End = 1 });
        return Linearizer.Between(prepared, start, from, to).Reduced();
    }

    static LinearSystem Fraction(string b, string a, double delay = 0) =>
        delay == 0
            ? Plant($"TransferFunction f(b = {b}, a = {a}); equation f.u = 0;", "f.u", "f.y")
            : Plant($"TransferFunction f(b = {b}, a = {a}); DeadTime d(T = {delay:R}); equation f.u = 0; connect(f.y, d.u);", "f.u", "d.y");

    static double Degrees(double radians) => radians * 180 / Math.PI;

    /// <summary>The positive root of w (w² + 1) = c by Newton's method.</summary>
    static double CubicRoot(double c)
    {
        var w = Math.Cbrt(c);
        for (var i = 0; i < 50; i++)
            w -= (w * w * w + w - c) / (3 * w * w + 1);
        return w;
    }

    public static TheoryData<string, string, double, double> Single =>
        new()
        {
            { "{1000}", "{1, 0}", 1000, 90 },
            { "{0.01}", "{1, 0}", 0.01, 90 },
            {
                "{0.01}",
                "{1, 1, 0}",
                Math.Sqrt((Math.Sqrt(1 + 4e-4) - 1) / 2),
                90 - Degrees(Math.Atan(Math.Sqrt((Math.Sqrt(1 + 4e-4) - 1) / 2)))
            },
            { "{1e4}", "{1, 1}", Math.Sqrt(1e8 - 1), 180 - Degrees(Math.Atan(Math.Sqrt(1e8 - 1))) },
            { "{1e5}", "{1, 0, 0}", Math.Sqrt(1e5), 0 },
            { "{1e6}", "{1, 2, 1, 0}", CubicRoot(1e6), 90 - 2 * Degrees(Math.Atan(CubicRoot(1e6))) },
            { "{1e-9}", "{1, 0}", 1e-9, 90 },
            { "{1e12}", "{1, 0}", 1e12, 90 },
        };

    [Theory]
    [MemberData(nameof(Single))]
    public void A_crossing_far_from_all_poles_is_found(string b, string a, double frequency, double margin)
    {
        var crossing = Assert.Single(StabilityMargins.Of(Fraction(b, a)).GainCrossings, c =>
            Math.Abs(c.Frequency - frequency) < 0.5 * frequency
        );
        Assert.Equal(1, crossing.Frequency / frequency, 1e-9);
        Assert.Equal(margin, crossing.Margin, 1e-6);
    }

    [Fact]
    public void An_undamped_resonance_is_crossed_on_both_sides()
    {
        var margins = StabilityMargins.Of(Fraction("{0.001}", "{1, 0, 1}"));
        Assert.Equal([Math.Sqrt(0.999), Math.Sqrt(1.001)], margins.GainCrossings.Select(c => c.Frequency).ToArray(), (a, b) =>
            Math.Abs(a - b) < 1e-9
        );
        Assert.Equal([180.0, 0], margins.GainCrossings.Select(c => Math.Abs(c.Margin)).ToArray(), (a, b) => Math.Abs(a - b) < 1e-6);
    }

    [Fact]
    public void A_gain_that_only_just_touches_one_is_seen()
    {
        // |L|² = k²/((1 − w²)² + (2Dw)²) peaks at 1/(2D√(1 − D²)) when w² = 1 − 2D²; a little more crosses twice, a little less never.
        const double d = 0.4;
        var peak = 2 * d * Math.Sqrt(1 - d * d);
        Assert.Equal(2, StabilityMargins.Of(Fraction($"{{{peak * (1 + 1e-7):R}}}", "{1, 0.8, 1}")).GainCrossings.Count);
        Assert.Empty(StabilityMargins.Of(Fraction($"{{{peak * (1 - 1e-7):R}}}", "{1, 0.8, 1}")).GainCrossings);
    }

    [Fact]
    public void With_dead_time_the_first_phase_crossings_are_exact_and_the_rest_is_bounded()
    {
        var margins = StabilityMargins.Of(Fraction("{0.9}", "{1e-4, 1}", 10));
        Assert.Empty(margins.GainCrossings);
        Assert.Equal(100, margins.PhaseCrossings.Count);
        for (var k = 0; k < 100; k++)
        {
            // 10 w + atan(1e-4 w) = (2k + 1) π.
            var w = (2 * k + 1) * Math.PI / 10;
            for (var i = 0; i < 20; i++)
                w = ((2 * k + 1) * Math.PI - Math.Atan(1e-4 * w)) / 10;
            Assert.Equal(w, margins.PhaseCrossings[k].Frequency, 1e-9 * w);
            Assert.Equal(Math.Sqrt(1 + 1e-8 * w * w) / 0.9, margins.PhaseCrossings[k].Margin, 1e-9);
        }

        Assert.Equal(margins.PhaseCrossings[0], margins.Gain);
        Assert.True(margins.Further!.Least > margins.PhaseCrossings[^1].Margin);
        Assert.True(margins.Further.From > margins.PhaseCrossings[^1].Frequency);
    }

    [Fact]
    public void A_loop_without_dead_time_has_no_further_crossings() =>
        Assert.Null(StabilityMargins.Of(Fraction("{4}", "{1, 3, 3, 1}")).Further);

    [Fact]
    public void Drawn_loops_cross_where_their_polynomials_say()
    {
        // |b|² − |a|² is a polynomial in w² whose sign changes are counted on a grid far denser than any search would use.
        var random = new Random(7);
        for (var n = 0; n < 60; n++)
        {
            double k = Math.Pow(10, 6 * random.NextDouble() - 3),
                w1 = Math.Pow(10, 4 * random.NextDouble() - 2),
                d = Math.Pow(10, -4 * random.NextDouble()),
                w2 = Math.Pow(10, 4 * random.NextDouble() - 2);
            var loop = Fraction(
                $"{{{k:R}}}",
                $"{{{1 / (w1 * w1 * w2):R}, {2 * d / (w1 * w2) + 1 / (w1 * w1):R}, {2 * d / w1 + 1 / w2:R}, 1}}"
            );
            double Size(double w)
            {
                double x = w / w1,
                    y = w / w2;
                return k * k / (((1 - x * x) * (1 - x * x) + 4 * d * d * x * x) * (1 + y * y));
            }

            var changes = 0;
            var before = Size(1e-6) > 1;
            foreach (
                var w in Enumerable
                    .Range(0, 60_000)
                    .Select(i => 1e-6 * Math.Pow(1e12, i / 60_000.0))
                    .Append(w1 * Math.Sqrt(Math.Max(0, 1 - 2 * d * d)))
                    .Append(1e6)
                    .Order()
            )
            {
                var now = Size(w) > 1;
                if (now != before)
                    changes++;
                before = now;
            }

            var found = StabilityMargins.Of(loop).GainCrossings;
            Assert.Equal(changes, found.Count);
            Assert.All(found, c => Assert.Equal(1, Size(c.Frequency), 1e-5));
        }
    }
}
