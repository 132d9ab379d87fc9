using System.Numerics;
using AnchorBend.Compiler.Preparation;
using AnchorBend.Tests;

namespace AnchorBend.Design.Tests;

/// <summary>The largest gains of P and PD, and the best ones for several plants, against trying them.</summary>
public class RobustGainTests
{
    static LinearSystem Plant(string transfer)
    {
        var prepared = TextModel.Prepare($"TransferFunction g({transfer}); equation g.u = 0;");
        return Linearizer.Between(prepared, OperatingPoint.Steady(prepared, new ParameterSet(prepared.Model)), "g.u", "g.y").Reduced();
    }

    static double Peak(Func<Complex, Complex> loop) =>
        Enumerable.Range(0, 20_000).Max(i => 1 / (1 + loop(new Complex(0, Math.Pow(10, -3 + 6 * i / 20_000.0)))).Magnitude);

    static Complex Lags(Complex s, int order) => 1 / Complex.Pow(1 + s, order);

    /// <summary>The largest gain below which the peak stays, by halving.</summary>
    static double Tried(Func<double, double> peak, double most, double high)
    {
        var low = 0.0;
        for (var i = 0; i < 50; i++)
            if (peak((low + high) / 2) <= most)
                low = (low + high) / 2;
            else
                high = (low + high) / 2;
        return low;
    }

    [Theory]
    [InlineData(1.4)]
    [InlineData(2)]
    public void The_largest_gain_of_P_is_where_the_peak_is_the_limit(double most)
    {
        var best = RobustGain.Best([Plant("b = {1}, a = {1, 3, 3, 1}")], PidGains.Shape(PidForm.P), new LoopLimits(most))!;
        // The loop is unstable from a gain of 8 on.
        var tried = Tried(k => Peak(s => k * Lags(s, 3)), most, 7.9);
        Assert.Equal(tried, best[0].Pid().K, 0.002 * tried);
        Assert.InRange(best[0].Sensitivity.Value, 0.99 * most, 1.0001 * most);
    }

    [Fact]
    public void A_plant_of_the_other_sign_gets_a_gain_of_the_other_sign()
    {
        var positive = RobustGain.Best([Plant("b = {1}, a = {1, 3, 3, 1}")], PidGains.Shape(PidForm.P), new LoopLimits(1.6))!;
        var negative = RobustGain.Best([Plant("b = {-1}, a = {1, 3, 3, 1}")], PidGains.Shape(PidForm.P), new LoopLimits(1.6))!;
        Assert.Equal(-positive[0].Pid().K, negative[0].Pid().K, 1e-4);
    }

    [Fact]
    public void PD_is_no_worse_than_all_that_are_tried()
    {
        const double most = 1.6;
        var shape = PidGains.Shape(PidForm.PD);
        var best = RobustGain.Best([Plant("b = {1}, a = {1, 3, 3, 1, 0}")], shape, new LoopLimits(most))!;
        var tried = Enumerable
            .Range(0, 30)
            .Select(i => 0.1 * Math.Pow(100, i / 29.0))
            .Max(td =>
                Tried(
                    k => Peak(s => (shape with { K = k, Td = td }).Feedback(s) * Lags(s, 3) / s) is var p && Stable(k, td) ? p : 1e9,
                    most,
                    5
                )
            );
        Assert.True(best[0].Pid().K >= 0.995 * tried, $"{best[0].Pid().K} instead of {tried}");

        bool Stable(double k, double td) =>
            LoopFigures.Of(shape with { K = k, Td = td }, Plant("b = {1}, a = {1, 3, 3, 1, 0}")).IsStable == true;
    }

    [Fact]
    public void Where_nothing_bounds_the_gain_it_is_said()
    {
        var refusal = Assert.Throws<DesignException>(() =>
            RobustGain.Best([Plant("b = {1}, a = {1, 1}")], PidGains.Shape(PidForm.P), new LoopLimits(1.6))
        );
        Assert.Equal("unbounded", refusal.Code);
        var bounded = RobustGain.Best([Plant("b = {1}, a = {1, 1}")], PidGains.Shape(PidForm.P), new LoopLimits(1.6, null, 30))!;
        Assert.Equal(30, bounded[0].Pid().K, 0.05);
    }

    [Fact]
    public void Gains_for_several_plants_keep_the_limit_in_each()
    {
        LinearSystem[] plants =
        [
            Plant("b = {1}, a = {1, 3, 3, 1}"),
            Plant("b = {2.5}, a = {1, 3, 3, 1}"),
            Plant("b = {1}, a = {8, 12, 6, 1}"),
        ];
        var limits = new LoopLimits(1.5);
        var together = RobustGain.Best(plants, PidGains.Shape(PidForm.P), limits)!;
        // Of gain alone the strictest plant decides.
        Assert.Equal(plants.Min(p => RobustGain.Best([p], PidGains.Shape(PidForm.P), limits)![0].Pid().K), together[0].Pid().K, 1e-3);

        var pi = RobustPid.Best(plants, PidGains.Shape(PidForm.PI), limits, LoopGoal.Load)!;
        Assert.Equal(3, pi.Count);
        Assert.All(pi, f => Assert.InRange(f.Sensitivity.Value, 1, 1.5002));
        // Nothing on a grid of gains around them has a smaller largest error.
        var worst = pi.Max(f => f.LoadIae!.Value);
        for (var i = 0; i < 7; i++)
        for (var j = 0; j < 7; j++)
        {
            var gains = pi[0].Pid() with { K = pi[0].Pid().K * (0.85 + 0.05 * i), Ti = pi[0].Pid().Ti * (0.85 + 0.05 * j) };
            var figures = plants.Select(p => LoopFigures.Of(gains, p)).ToList();
            if (figures.TrueForAll(f => f.IsStable == true && f.Sensitivity.Value <= 1.5))
                Assert.True(figures.Max(f => f.LoadIae!.Value) > 0.99 * worst);
        }
    }
}
