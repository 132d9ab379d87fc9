namespace AnchorBend.Design.Tests;

public class SetPointWeightTests
{
    [Fact]
    public void An_integrator_with_a_double_pole_has_the_weight_that_is_computed_by_hand()
    {
        // Plant 1/s under 2 (1 + 1/(2 s)): the error of a step is e^(−t) (1 + (1 − 2 b) t). With x = 2 b − 1 > 0 its absolute integral is
        // 1 − x + 2 x e^(−1/x), lowest where e^(−v) (1 + v) = 1/2 with v = 1/x: v = 1.678347.
        var plant = LinearSystem.Of(new double[1, 1], [1], [1], 0);
        var best = SetPointWeight.Best(new PidGains(PidForm.PI, 2, 2, 0, 10, 1, 0), plant, 1);
        Assert.Equal((1 + 1 / 1.678347) / 2, best.B, 5e-3);
        var error = ErrorIntegral.SetPoint(best, plant, 1);
        Assert.Equal(0.626640, error, 1e-4);
        // Nothing that is fed back has changed.
        Assert.Equal((2, 2), (best.K, best.Ti));
    }

    [Fact]
    public void At_samples_no_other_weight_is_better()
    {
        const double t = 0.2;
        var plant = SampledPlane.Of(
            Discretisation.Of(
                LinearSystem.Of(
                    new double[,]
                    {
                        { -1 },
                    },
                    [1],
                    [1],
                    0
                ),
                t,
                Hold.Zoh
            ),
            t
        );
        var gains = new PidGains(PidForm.PI, 2, 0.8, 0, 10, 1, 0) { Period = t };
        var best = ErrorIntegral.SetPoint(SetPointWeight.Best(gains, plant, 1), plant, 1);
        for (var b = 0.0; b <= SetPointWeight.Most; b += 0.02)
            Assert.True(best <= ErrorIntegral.SetPoint(gains with { B = b }, plant, 1) * (1 + 1e-3), $"better with {b}");
    }
}
