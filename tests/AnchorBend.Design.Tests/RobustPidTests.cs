using System.Numerics;

namespace AnchorBend.Design.Tests;

/// <summary>The best gains under limits are the best: beside exhaustive search, and by what they must keep.</summary>
public class RobustPidTests
{
    sealed record Plant(string Name, Func<Complex, Complex> Response, LinearSystem System, double Gain, double Time);

    static LinearSystem Text(string text) => CrossingTests.Plant(text, "f.u", "f.y");

    static LinearSystem Late(string fraction, double delay) =>
        CrossingTests.Plant($"TransferFunction f({fraction}); DeadTime d(T = {delay}); equation f.u = 0; connect(f.y, d.u);", "f.u", "d.y");

    static readonly Plant[] Plants =
    [
        new("four lags", s => 1 / Complex.Pow(s + 1, 4), Text("TransferFunction f(b = {1}, a = {1, 4, 6, 4, 1}); equation f.u = 0;"), 1, 1),
        new("a lag with dead time", s => Complex.Exp(-s) / (2 * s + 1), Late("b = {1}, a = {2, 1}", 1), 1, 0.5),
        new("an integrator with dead time", s => Complex.Exp(-s) / s, Late("b = {1}, a = {1, 0}", 1), 0.4, 0.5),
        new(
            "an inverse answer",
            s => (1 - 0.5 * s) / Complex.Pow(s + 1, 3),
            Text("TransferFunction f(b = {-0.5, 1}, a = {1, 3, 3, 1}); equation f.u = 0;"),
            1,
            0.7
        ),
        new(
            "a resonance",
            s => 9 / ((s + 1) * (s * s + 2 * s + 9)),
            Text("TransferFunction f(b = {9}, a = {1, 3, 11, 9}); equation f.u = 0;"),
            0.5,
            0.5
        ),
        new(
            "an unstable lag",
            s => 1 / ((s - 0.2) * (0.1 * s + 1) * (0.05 * s + 1)),
            Text("TransferFunction f(b = {1}, a = {0.005, 0.149, 0.97, -0.2}); equation f.u = 0;"),
            3,
            0.05
        ),
    ];

    public static TheoryData<int, double, bool> Cases
    {
        get
        {
            var cases = new TheoryData<int, double, bool>();
            for (var plant = 0; plant < Plants.Length; plant++)
                cases.Add(plant, plant % 2 == 0 ? 1.4 : 2, false);
            foreach (var plant in (int[])[0, 4, 5])
                cases.Add(plant, 1.4, true);
            return cases;
        }
    }

    [Theory]
    [MemberData(nameof(Cases))]
    public void The_largest_integral_gain_is_that_of_exhaustive_search(int number, double sensitivity, bool derivative)
    {
        var plant = Plants[number];
        var shape = new PidGains(derivative ? PidForm.PID : PidForm.PI, 1, 1, 1, 10, 1, 0);
        var best = RobustPid.Best(plant.System, shape, new LoopLimits(sensitivity), LoopGoal.IntegralGain);
        var (ki, gains) = new ExhaustiveSearch(plant.Response, plant.System, sensitivity, 10).Largest(derivative, plant.Gain, plant.Time);
        Assert.True(best!.Pid().Parallel.Ki >= 0.99 * ki, $"{plant.Name}: {best.Pid().Parallel.Ki:G5} against {ki:G5} with {gains}");
        Assert.True(best.IsStable);
        Assert.InRange(best.Sensitivity.Value, 1, sensitivity * 1.0001);
    }

    static readonly PidGains Pid = new(PidForm.PID, 1, 1, 1, 10, 1, 0);

    [Theory]
    [InlineData(0, LoopGoal.Load)]
    [InlineData(1, LoopGoal.Load)]
    [InlineData(1, LoopGoal.SetPoint)]
    [InlineData(2, LoopGoal.SetPoint)]
    [InlineData(4, LoopGoal.Load)]
    public void No_drawn_gains_that_keep_the_limit_have_a_smaller_error(int number, LoopGoal goal)
    {
        var plant = Plants[number];
        var best = RobustPid.Best(plant.System, Pid, new LoopLimits(1.6), goal)!;
        Assert.InRange(best.Sensitivity.Value, 1, 1.6 * 1.0001);
        double Error(PidGains gains) =>
            goal == LoopGoal.Load
                ? ErrorIntegral.Load(gains, plant.System, best.Pid().Ti)
                : ErrorIntegral.SetPoint(gains, plant.System, best.Pid().Ti);
        var least = Error(best.Pid());
        var random = new Random(number);
        var (frequencies, tried) = (Enumerable.Range(0, 200).Select(i => 0.02 * Math.Pow(10, 3.5 * i / 199)).ToArray(), 0);
        for (var draw = 0; draw < 1000; draw++)
        {
            // Wide at first, then near the best.
            var width = draw < 400 ? 1.2 : 0.15;
            double Drawn(double value) => value * Math.Exp(width * (2 * random.NextDouble() - 1));
            var gains = best.Pid() with { K = Drawn(best.Pid().K), Ti = Drawn(best.Pid().Ti), Td = Drawn(best.Pid().Td) };
            if (frequencies.Any(w => (1 + gains.Feedback(new Complex(0, w)) * plant.Response(new Complex(0, w))).Magnitude < 1 / 1.6))
                continue;
            if (RightHalfPlane.Count(gains.ClosedLoop(plant.System)) != 0)
                continue;
            tried++;
            Assert.True(Error(gains) > 0.985 * least, $"{gains} has {Error(gains):G5}, {best.Gains} {least:G5}");
        }

        Assert.True(tried > 40, $"{tried}");
    }

    [Fact]
    public void A_limit_of_the_noise_is_kept_and_costs_integral_gain()
    {
        var free = RobustPid.Best(Plants[0].System, Pid, new LoopLimits(1.4), LoopGoal.IntegralGain)!;
        var quiet = RobustPid.Best(Plants[0].System, Pid, new LoopLimits(1.4, NoiseGain: 4), LoopGoal.IntegralGain)!;
        Assert.True(free.NoiseGain.Value > 10);
        Assert.InRange(quiet.NoiseGain.Value, 3.9, 4.0005);
        Assert.True(quiet.Pid().Parallel.Ki < free.Pid().Parallel.Ki);
        var calm = RobustPid.Best(Plants[4].System, Pid, new LoopLimits(2, Complementary: 1.1), LoopGoal.Load)!;
        Assert.InRange(calm.Complementary.Value, 1, 1.1 * 1.0001);
    }

    [Fact]
    public void A_plant_of_negative_gain_gets_negative_gains()
    {
        var turned = Text("TransferFunction f(b = {-1}, a = {1, 4, 6, 4, 1}); equation f.u = 0;");
        var (straight, best) = (
            RobustPid.Best(Plants[0].System, Pid, new LoopLimits(1.4), LoopGoal.IntegralGain)!,
            RobustPid.Best(turned, Pid, new LoopLimits(1.4), LoopGoal.IntegralGain)!
        );
        Assert.True(best.Pid().K < 0 && best.IsStable == true);
        Assert.Equal(straight.Pid().Parallel.Ki, -best.Pid().Parallel.Ki, 1e-9);
    }

    [Fact]
    public void Where_no_gains_keep_the_limits_there_are_none()
    {
        // s² + 1 has no damping, and PI gives none.
        var undamped = Text("TransferFunction f(b = {1}, a = {1, 0, 1}); equation f.u = 0;");
        Assert.Null(RobustPid.Best(undamped, Pid with { Form = PidForm.PI }, new LoopLimits(2), LoopGoal.IntegralGain));
        Assert.True(RobustPid.Best(undamped, Pid, new LoopLimits(2), LoopGoal.IntegralGain)!.IsStable);
        Assert.Equal(
            "max-sensitivity",
            Assert.Throws<DesignException>(() => RobustPid.Best(undamped, Pid, new LoopLimits(1), LoopGoal.Load)).Code
        );
    }

    [Fact]
    public void Stability_by_the_turning_of_the_response_is_that_by_the_roots()
    {
        var random = new Random(7);
        var (stable, compared) = (0, 0);
        foreach (var plant in Plants)
        {
            var response = new PlantResponse(plant.System, 1);
            for (var draw = 0; draw < 60; draw++)
            {
                var gains = Pid with
                {
                    K = plant.Gain * Math.Pow(10, 2 * random.NextDouble() - 1.2),
                    Ti = plant.Time * Math.Pow(10, 2 * random.NextDouble() - 0.5),
                    Td = plant.Time * Math.Pow(10, 2 * random.NextDouble() - 1.5),
                };
                Complex[] controller = [.. response.Frequencies.Select(w => gains.Feedback(new Complex(0, w)))];
                // Beside the border the two may differ by rounding.
                if (response.Values.Zip(controller).Min(v => (1 + v.First * v.Second).Magnitude) < 0.05)
                    continue;
                var expected = RightHalfPlane.Count(gains.ClosedLoop(plant.System)) == 0;
                Assert.True(expected == response.IsStable(controller, 1), $"{plant.Name} with {gains}");
                (stable, compared) = (stable + (expected ? 1 : 0), compared + 1);
            }
        }

        Assert.True(stable > 50 && compared - stable > 50, $"{stable} of {compared}");
    }

    [Fact]
    public void An_integrator_that_a_zero_takes_away_changes_nothing()
    {
        // Three lags; beside them a state that only adds up the input and is not seen.
        var lags = LinearSystem.Of(
            new double[,]
            {
                { -1, 0, 0 },
                { 1, -1, 0 },
                { 0, 1, -1 },
            },
            [1, 0, 0],
            [0, 0, 1],
            0
        );
        var hidden = LinearSystem.Of(
            new double[,]
            {
                { -1, 0, 0, 0 },
                { 1, -1, 0, 0 },
                { 0, 1, -1, 0 },
                { 0, 0, 0, 0 },
            },
            [1, 0, 0, 1],
            [0, 0, 1, 0],
            0
        );
        var shape = new PidGains(PidForm.PI, 1, 1, 0, 10, 1, 0);

        var best = RobustPid.Best(hidden, shape, new LoopLimits(1.6), LoopGoal.IntegralGain)!;

        Assert.Equal(
            RobustPid.Best(lags, shape, new LoopLimits(1.6), LoopGoal.IntegralGain)!.Pid().Parallel.Ki,
            best.Pid().Parallel.Ki,
            1e-3 * best.Pid().Parallel.Ki
        );
    }
}
