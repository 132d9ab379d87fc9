namespace AnchorBend.Design.Tests;

/// <summary>The best place for wishes, what stops it, and why a form does not get further.</summary>
public class MapAdviceTests
{
    static readonly LinearSystem Lags = CrossingTests.Plant(
        "TransferFunction f(b = {1}, a = {1, 4, 6, 4, 1}); equation f.u = 0;",
        "f.u",
        "f.y"
    );

    static readonly PidGains Shape = new(PidForm.PI, 1, 1, 0, 10, 1, 0);

    static MapAdvice Advice(MapWishes wishes, PidForm form = PidForm.PI)
    {
        var plant = new PlantResponse(Lags, 1);
        var shape = Shape with { Form = form };
        return MapAdvice.Of(plant, shape, DesignMap.Of(plant, shape, []), wishes);
    }

    static MapWishes Peak(double value) => new(value, null, null, null, null);

    [Theory]
    [InlineData(1.4, PidForm.PI)]
    [InlineData(1.8, PidForm.PI)]
    [InlineData(1.6, PidForm.PID)]
    public void The_best_place_is_the_best_of_the_global_search(double peak, PidForm form)
    {
        var best = Advice(Peak(peak), form).Best!;

        var searched = RobustPid.Best(Lags, Shape with { Form = form }, new LoopLimits(peak), LoopGoal.Load)!;
        Assert.True(best.Sensitivity <= peak * 1.002);
        // The global search meets limits to a ten-thousandth; the map to two thousandths.
        Assert.InRange(best.LoadError / searched.LoadIae!.Value, 0.98, 1.03);
    }

    [Fact]
    public void The_wish_without_which_the_most_is_gained_is_named()
    {
        var free = Advice(Peak(1.6));
        Assert.Equal("sensitivity", free.Stopper);

        // A noise gain below what the best place needs; below 1/G(0) there is none.
        var quiet = Advice(Peak(1.6) with { NoiseGain = 0.85 * free.Best!.NoiseGain });
        Assert.Equal("noiseGain", quiet.Stopper);
        Assert.True(quiet.Best!.NoiseGain <= 0.852 * free.Best.NoiseGain);
        Assert.True(quiet.Best.LoadError > free.Best.LoadError);
        Assert.True(quiet.Without!.LoadError < quiet.Best.LoadError);
    }

    [Fact]
    public void Wishes_that_go_against_one_another_have_no_place_and_one_of_them_is_named()
    {
        var advice = Advice(Peak(1.2) with { Bandwidth = 0.5 });

        Assert.Null(advice.Best);
        Assert.Contains(advice.Stopper, (string[])["sensitivity", "bandwidth"]);
        Assert.NotNull(advice.Without);
    }

    [Fact]
    public void Each_wish_is_met_by_what_meets_it_and_missed_by_what_does_not()
    {
        var place = new MapPlace(Shape, 2, 50, 1.5, 3, 4);
        var met = new MapWishes(1.5, 3, 2, 50, 4);
        Assert.True(met.AreMetBy(place));
        Assert.All(
            (MapWishes[])
                [
                    met with
                    {
                        Sensitivity = 1.4,
                    },
                    met with
                    {
                        NoiseGain = 2.9,
                    },
                    met with
                    {
                        Bandwidth = 2.1,
                    },
                    met with
                    {
                        PhaseMargin = 52,
                    },
                    met with
                    {
                        LoadError = 3.9,
                    },
                ],
            w => Assert.False(w.AreMetBy(place))
        );
        Assert.Equal(["sensitivity", "noiseGain", "bandwidth", "phaseMargin", "loadError"], met.Each().Select(e => e.Name));
        Assert.All(met.Each(), e => Assert.Equal(4, e.Others.Each().Count()));
    }

    [Fact]
    public void A_design_is_told_which_wishes_it_misses_and_an_unstable_one_all_of_them()
    {
        var figures = LoopFigures.Of(Shape with { K = 0.5, Ti = 2 }, Lags);
        var kept = new MapWishes(2 * figures.Sensitivity.Value, 2 * figures.NoiseGain.Value, 1e-3, 1, 2 * figures.LoadIae!.Value);

        Assert.Empty(kept.MissedBy(figures));
        Assert.Equal(["loadError"], (kept with { LoadError = 0.5 * figures.LoadIae }).MissedBy(figures));
        Assert.Equal(["sensitivity", "bandwidth"], (kept with { Sensitivity = 1.01, Bandwidth = 50 }).MissedBy(figures));
        Assert.Equal(5, kept.MissedBy(LoopFigures.Of(Shape with { K = 50 }, Lags)).Count);
        Assert.Empty(new MapWishes(null, null, null, null, null).MissedBy(figures));
    }

    static IReadOnlyList<MapShore> Shores(string text, string to, PidForm form = PidForm.PI)
    {
        var plant = new PlantResponse(CrossingTests.Plant(text, "f.u", to), 1);
        var shape = Shape with { Form = form };
        return MapShore.Of(plant, shape, DesignMap.Of(plant, shape, []));
    }

    [Theory]
    [InlineData(
        "TransferFunction f(b = {1}, a = {1, 1}); DeadTime d(T = 0.5); equation f.u = 0; connect(f.y, d.u);",
        "d.y",
        "500 ms of dead time leave no phase."
    )]
    [InlineData("TransferFunction f(b = {-2, 1}, a = {1, 3, 3, 1}); equation f.u = 0;", "f.y", "zero in the right half plane at 0.5 rad/s")]
    [InlineData("TransferFunction f(b = {1}, a = {1, 4, 6, 4, 1}); equation f.u = 0;", "f.y", "a PI adds none")]
    public void Land_at_the_fast_side_says_what_takes_the_phase(string text, string to, string why)
    {
        var shore = Shores(text, to)[^1];

        Assert.Contains(why, shore.Why, StringComparison.Ordinal);
        Assert.True(shore.To > shore.From);
    }

    [Fact]
    public void Land_at_the_slow_side_of_an_unstable_plant_says_so()
    {
        var shores = Shores("TransferFunction f(b = {1}, a = {0.005, 0.149, 0.97, -0.2}); equation f.u = 0;", "f.y");

        Assert.Contains("unstable by itself", shores[0].Why, StringComparison.Ordinal);
    }
}
