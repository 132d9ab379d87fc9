using System.Numerics;

namespace AnchorBend.Design.Tests;

/// <summary>What the proposals choose where the wishes leave a choice.</summary>
public class PidChoiceTests
{
    static LinearSystem Fraction(string b, string a) =>
        CrossingTests.Plant($"TransferFunction f(b = {b}, a = {a}); equation f.u = 0;", "f.u", "f.y");

    [Theory]
    [InlineData("{1}", "{1, 1, 0}", PidForm.PD)]
    [InlineData("{1}", "{1, 0}", PidForm.PI)]
    [InlineData("{1}", "{1, 0, 0}", PidForm.PD)]
    [InlineData("{1}", "{1, 3, 2, 0}", PidForm.PID)]
    [InlineData("{2}", "{1, 1, 0}", PidForm.P)]
    public void An_integrating_plant_of_positive_gain_gets_a_positive_gain(string b, string a, PidForm form)
    {
        var candidate = PidTuning.Solve(Fraction(b, a), PidGains.Shape(form), 0.8, 50);
        Assert.True(candidate.Pid().K > 0);
        Assert.True(candidate.IsStable);
    }

    [Fact]
    public void An_unstable_lag_gets_the_sign_that_holds_it()
    {
        var candidate = PidTuning.Solve(Fraction("{1}", "{1, -1}"), PidGains.Shape(PidForm.PI), 5, 60);
        Assert.True(candidate.Pid().K > 0);
        Assert.True(candidate.IsStable);
    }

    [Fact]
    public void An_integrating_plant_of_negative_gain_gets_a_negative_gain()
    {
        var candidate = PidTuning.Solve(Fraction("{-1}", "{1, 1, 0}"), PidGains.Shape(PidForm.PD), 2, 50);
        Assert.True(candidate.Pid().K < 0);
        Assert.True(candidate.IsStable && candidate.IsExact);
    }

    [Fact]
    public void Unstable_proposals_stand_behind_stable_ones()
    {
        var plant = Fraction("{1}", "{1, 0, 0}");
        var present = new PidGains(PidForm.PD, 1, 1, 1, 10, 1, 0);
        var law = ControllerLaw.Of("form k Ti Td N b c".Split(' ').Contains)!;
        var design = new LoopDesign("c", law, plant, present, new OperatingPoint(0, [], true));
        var proposals = design.Candidates(1, 50);
        Assert.Equal("present", proposals[0].Name);
        Assert.Equal(proposals.Skip(1).OrderBy(c => c.IsStable ? 0 : 1).Select(c => c.Name), proposals.Skip(1).Select(c => c.Name));
        Assert.Contains(proposals, c => !c.IsStable);
        Assert.True(proposals[1].IsStable);
    }

    [Fact]
    public void The_integral_gain_of_a_PID_is_the_largest_that_the_wishes_leave()
    {
        var plant = Fraction("{1}", "{1, 3, 3, 1}");
        var candidate = PidTuning.Solve(plant, PidGains.Shape(PidForm.PID), 1.2, 60);
        Assert.True(candidate.IsExact && candidate.IsStable, candidate.Remark);
        Assert.Equal(60, candidate.Margins.Phase!.Margin, 1e-5);
        Assert.Equal(1.2, candidate.Bandwidth!.Value, 1e-6);
        // The same two equations with Ti = 4 Td, solved here by bisection over Ti.
        var (low, high) = (0.1, 10.0);
        PidGains With(double ti)
        {
            var shape = new PidGains(PidForm.PID, 1, ti, ti / 4, 10, 1, 0);
            return shape with { K = 1 / (shape.Feedback(new Complex(0, 1.2)) * plant.At(new Complex(0, 1.2))).Magnitude };
        }

        for (var i = 0; i < 60; i++)
        {
            var ti = (low + high) / 2;
            var phase = (With(ti).Feedback(new Complex(0, 1.2)) * plant.At(new Complex(0, 1.2)) * new Complex(-1, 0)).Phase * 180 / Math.PI;
            if (phase < 60)
                low = ti;
            else
                high = ti;
        }

        var usual = With(low);
        Assert.True(candidate.Pid().K / candidate.Pid().Ti > 1.3 * usual.K / usual.Ti, $"{candidate.Gains} against {usual}");
        // The distance from −1 stays that of good designs.
        var least = Enumerable
            .Range(0, 2000)
            .Select(i => 0.01 * Math.Pow(1e4, i / 2000.0))
            .Min(w => (1 + candidate.Gains.Feedback(new Complex(0, w)) * plant.At(new Complex(0, w))).Magnitude);
        Assert.True(1 / least <= 2.01);
    }
}
