namespace AnchorBend.Design.Tests;

/// <summary>Loops with dead time are judged by their true characteristic equation.</summary>
public class DeadTimeStabilityTests
{
    static LinearSystem Delayed(string plant, double delay) =>
        CrossingTests.Plant($"{plant} DeadTime d(T = {delay:R}); equation p.u = 0; connect(p.y, d.u);", "p.u", "d.y");

    static int? Unstable(LinearSystem plant, double k) =>
        RightHalfPlane.Count(new PidGains(PidForm.P, k, 1, 0, 10, 1, 0).ClosedLoop(plant));

    [Theory]
    [InlineData(1.5, 0)]
    [InlineData(1.57, 0)]
    [InlineData(1.572, 2)]
    [InlineData(7.8, 2)]
    [InlineData(7.9, 4)]
    [InlineData(14.2, 6)]
    public void An_integrator_with_dead_time_loses_a_pair_at_each_quarter_turn(double gain, int expected) =>
        // s + k e^{−s}: roots on the axis at w = k = π/2 + 2πj.
        Assert.Equal(expected, Unstable(Delayed("Integrator p;", 1), gain));

    [Theory]
    [InlineData(0.5, 0.2, 1)]
    [InlineData(1.5, 0.7, 0)]
    [InlineData(1.5, 0.8, 2)]
    public void An_unstable_lag_is_held_while_the_dead_time_is_short(double gain, double delay, int expected) =>
        // s − 1 + k e^{−sT}: stable for k > 1 and T < atan(√(k² − 1))/√(k² − 1) = 0.752 at k = 1.5.
        Assert.Equal(expected, Unstable(Delayed("TransferFunction p(b = {1}, a = {1, -1});", delay), gain));

    [Theory]
    [InlineData(0.9, true)]
    [InlineData(1.1, false)]
    public void A_pure_dead_time_rings_out_below_gain_one_only(double gain, bool stable) =>
        Assert.Equal(stable, Unstable(Delayed("Gain p;", 2), gain) == 0);

    [Theory]
    [InlineData(50)]
    [InlineData(70)]
    public void A_resonance_behind_a_long_dead_time_is_told_to_be_unstable(double margin)
    {
        // Newton's method on 1 + L(s) from a grid of starts finds two roots in the right half plane.
        var plant = Delayed("TransferFunction p(b = {900}, a = {1, 0.3, 900});", 1.05);
        var candidate = PidTuning.Solve(plant, PidGains.Shape(PidForm.PI), 0.5, margin);
        Assert.False(candidate.IsStable);
        Assert.False(candidate.IsExact);
        Assert.Contains("unstable", candidate.Remark, StringComparison.Ordinal);
        Assert.Contains("also passes one", candidate.Remark, StringComparison.Ordinal);
        Assert.True(RightHalfPlane.Count(candidate.Gains.ClosedLoop(plant)) >= 2);
        Assert.True(candidate.Margins.Phase!.Frequency > 20);
    }

    [Fact]
    public void First_order_with_a_dominant_dead_time_is_judged_by_encirclements()
    {
        // Ultimate gain of e^{−sT}/(τs + 1): √(1 + (τw)²) with wT + atan(τw) = π.
        double t = 20,
            tau = 1,
            w = Math.PI / t;
        for (var i = 0; i < 100; i++)
            w = (Math.PI - Math.Atan(tau * w)) / t;
        var ultimate = Math.Sqrt(1 + tau * tau * w * w);
        var plant = Delayed("Lag p(T = 1);", t);
        Assert.Equal(0, Unstable(plant, 0.999 * ultimate));
        Assert.Equal(2, Unstable(plant, 1.001 * ultimate));
    }

    [Fact]
    public void The_count_can_be_stopped()
    {
        using var stop = new CancellationTokenSource();
        stop.Cancel();
        var closed = new PidGains(PidForm.P, 1, 1, 0, 10, 1, 0).ClosedLoop(Delayed("Integrator p;", 1));
        Assert.Throws<OperationCanceledException>(() => RightHalfPlane.Count(closed, stop.Token));
    }
}
