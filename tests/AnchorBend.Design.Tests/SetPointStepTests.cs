namespace AnchorBend.Design.Tests;

/// <summary>Overshoot and settling of set-point steps against their formulas.</summary>
public class SetPointStepTests
{
    static SetPointStep Of(string fraction, PidGains gains)
    {
        var plant = CrossingTests.Plant($"TransferFunction f({fraction}); equation f.u = 0;", "f.u", "f.y");
        return SetPointStep.Of(gains.ClosedLoop(plant), LoopFigures.Of(gains, plant));
    }

    /// <summary>An I controller on 1/(s + 1), made of a PI whose proportional part does not see the set-point: ω₀²/(s² + 2ζω₀ s + ω₀²)
    /// overshoots by exp(−πζ/√(1 − ζ²)), whatever the time scale.</summary>
    [Theory]
    [InlineData(0.3)]
    [InlineData(0.6)]
    public void A_loop_of_second_order_overshoots_by_its_damping(double damping)
    {
        foreach (var speed in (double[])[0.01, 1, 1000])
        {
            // On 1/s with k = 2ζω₀ and ki = ω₀².
            var k = 2 * damping * speed;
            var step = Of("b = {1}, a = {1, 0}", new PidGains(PidForm.PI, k, k / (speed * speed), 0, 10, 0, 0));

            Assert.Equal(Math.Exp(-Math.PI * damping / Math.Sqrt(1 - damping * damping)), step.Overshoot, 1e-3);
        }
    }

    [Fact]
    public void A_loop_of_first_order_settles_after_the_logarithm_of_its_band()
    {
        // k = 2, Ti = 1 on 1/(s + 1): 1/(0.5 s + 1).
        var step = Of("b = {1}, a = {1, 1}", new PidGains(PidForm.PI, 2, 1, 0, 10, 1, 0));

        Assert.Equal(0, step.Overshoot, 1e-6);
        // A grid of two thousand points over twenty seconds.
        Assert.Equal(0.5 * Math.Log(50), step.Settling!.Value, 0.011);
    }

    [Fact]
    public void A_slow_end_is_waited_for()
    {
        // Nearly all at once, then an integral part of 200 s for the rest.
        var step = Of("b = {1}, a = {1, 1}", new PidGains(PidForm.PI, 9, 200, 0, 10, 1, 0));

        Assert.True(step.Settling > 100);
    }
}
