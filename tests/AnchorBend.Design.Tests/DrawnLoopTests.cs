using System.Numerics;

namespace AnchorBend.Design.Tests;

public class DrawnLoopTests
{
    /// <summary>1/((s + 1)(0.2 s + 1)).</summary>
    static readonly LinearSystem Plant = LinearSystem.Of(
        new double[,]
        {
            { -1, 0 },
            { 5, -5 },
        },
        [1, 0],
        [0, 1],
        0
    );

    static DrawnPoint[] Course(LoopController controller, double from, double to) =>
        [
            .. Enumerable
                .Range(0, 25)
                .Select(i => from * Math.Pow(to / from, i / 24.0))
                .Select(w => new DrawnPoint(w, (controller.Feedback(new Complex(0, w)) * Plant.At(new Complex(0, w))).Magnitude)),
        ];

    [Theory]
    [InlineData(PidForm.P, 2, 1, 0)]
    [InlineData(PidForm.PI, 3, 0.8, 0)]
    [InlineData(PidForm.PD, 3, 1, 0.15)]
    [InlineData(PidForm.PID, 4, 0.9, 0.2)]
    public void A_course_that_a_form_has_gives_its_gains_back(PidForm form, double k, double ti, double td)
    {
        var own = new PidGains(form, k, ti, td, 10, 1, 0);
        var found = DrawnLoop.Nearest(new PlantResponse(Plant, 1), PidGains.Shape(form), Course(own, 0.1, 40));
        Assert.True(found.IsStable);
        // Between 25 points the course is drawn straight, which is off by its curvature times a fifteenth of a decade squared.
        Assert.InRange(found.Off, 0, 0.05);
        var gains = (PidGains)found.Gains;
        Assert.Equal(k, gains.K, 0.02 * k);
        if (own.HasIntegral)
            Assert.Equal(ti, gains.Ti, 0.02 * ti);
        if (td > 0)
            Assert.Equal(td, gains.Td, 0.02 * td);
    }

    [Fact]
    public void So_does_that_of_a_controller_that_rejects_disturbances()
    {
        var own = new RejectionGains(1, 0.7, 2, 5);
        var found = DrawnLoop.Nearest(new PlantResponse(Plant, 1), own with { InputGain = 1, Bandwidth = 1 }, Course(own, 0.1, 40));
        var gains = (RejectionGains)found.Gains;
        Assert.Equal(0.7, gains.InputGain, 0.015);
        Assert.Equal(2, gains.Bandwidth, 0.04);
    }

    [Theory]
    [InlineData(1, true)]
    [InlineData(10, false)]
    public void Whether_what_is_drawn_can_be_had_is_told(double bandwidth, bool canBe)
    {
        // Behind a second of dead time an integrator with a bandwidth up to π/2 is stable, and nothing that falls like one is at 10 rad/s.
        var late = CrossingTests.Plant(
            "TransferFunction f(b = {1}, a = {1, 1}); DeadTime d(T = 1); equation f.u = 0; connect(f.y, d.u);",
            "f.u",
            "d.y"
        );
        DrawnPoint[] integrator = [new(bandwidth / 10, 10), new(bandwidth * 10, 0.1)];
        var found = DrawnLoop.Nearest(new PlantResponse(late, 1), PidGains.Shape(PidForm.PI), integrator);
        Assert.Equal(canBe, found.IsStable);
        Assert.Equal(canBe, LoopFigures.Of(found.Gains, late).IsStable);
    }

    [Fact]
    public void One_point_or_none_in_range_is_refused()
    {
        var plant = new PlantResponse(Plant, 1);
        Assert.Throws<DesignException>(() => DrawnLoop.Nearest(plant, PidGains.Shape(PidForm.PI), [new(1, 1)]));
        Assert.Throws<DesignException>(() => DrawnLoop.Nearest(plant, PidGains.Shape(PidForm.PI), [new(1, 1), new(1, 2)]));
        Assert.Throws<DesignException>(() => DrawnLoop.Nearest(plant, PidGains.Shape(PidForm.PI), [new(1, 1), new(2, double.NaN)]));
        var sampled = PidGains.Shape(PidForm.PI) with { Period = 0.5 };
        Assert.Throws<DesignException>(() => DrawnLoop.Nearest(plant, sampled, [new(1, 1), new(20, 0.1)]));
    }
}
