using AnchorBend.Compiler.Preparation;
using AnchorBend.Simulation;
using AnchorBend.Tests;

namespace AnchorBend.Design.Tests;

/// <summary>Modes of models with known natural motions.</summary>
public class ModesTests
{
    static IReadOnlyList<Mode> Of(string text)
    {
        var prepared = TextModel.Prepare(text);
        var point = OperatingPoint.AtTime(prepared, new ParameterSet(prepared.Model), 0, new RunOptions { End = 1 });
        return Mode.Of(Linearizer.Whole(prepared, point));
    }

    /// <summary>Two equal masses on three equal springs: ω = √(k/m) with equal and √(3k/m) with opposite motion (Den Hartog, "Mechanical
    /// Vibrations", section 3.2).</summary>
    [Fact]
    public void Two_masses_swing_together_and_against_one_another()
    {
        var modes = Of(
            "Real x1(start = 0); Real v1(start = 0); Real x2(start = 0); Real v2(start = 0); equation der(x1) = v1; der(x2) = v2; "
                + "der(v1) = -4*x1 - 4*(x1 - x2); der(v2) = -4*x2 - 4*(x2 - x1);"
        );

        Assert.Equal(2, modes.Count);
        Assert.Equal(2, modes[0].Frequency, 1e-9);
        Assert.Equal(2 * Math.Sqrt(3), modes[1].Frequency, 1e-9);
        Assert.All(modes, m => Assert.Equal(0, m.Damping, 1e-9));
        double Ratio(Mode m) => (m.States.Single(s => s.State == "x2").Shape / m.States.Single(s => s.State == "x1").Shape).Real;
        Assert.Equal(1, Ratio(modes[0]), 1e-9);
        Assert.Equal(-1, Ratio(modes[1]), 1e-9);
        // Alike in all, so each state has a quarter.
        Assert.All(modes[0].States, s => Assert.Equal(0.25, s.Participation, 1e-9));
    }

    [Fact]
    public void Damping_time_constants_and_parts_are_told_whatever_the_units_are()
    {
        // A lag of 5 s in a unit a million times as small beside a damped oscillator that it does not touch.
        var modes = Of(
            "Real y(start = 0); Real x(start = 1); Real v(start = 0); equation der(y) = (1e6*x - y)/5; der(x) = v; der(v) = -9*x - 0.6*v;"
        );

        Assert.Equal(0.2, modes[0].Frequency, 1e-9);
        Assert.False(modes[0].IsOscillating);
        Assert.Equal(5, modes[0].TimeConstant, 1e-6);
        Assert.Equal("y", modes[0].States[0].State);
        Assert.Equal(1, modes[0].States[0].Participation, 1e-6);
        Assert.Equal(3, modes[1].Frequency, 1e-9);
        Assert.Equal(0.1, modes[1].Damping, 1e-9);
        Assert.DoesNotContain(modes[1].States, s => s.State == "y");
    }

    [Fact]
    public void A_state_that_nothing_moves_is_no_mode()
    {
        var modes = Of("Real y(start = 1); Real c(start = 2); equation der(y) = -y; der(c) = 0;");

        Assert.Equal("y", Assert.Single(modes).States[0].State);
    }

    [Fact]
    public void A_double_integrator_has_two_modes_that_fall_together_and_every_number_is_one()
    {
        var modes = Of("Real x(start = 0); Real v(start = 0); input Real u = 0; equation der(x) = v; der(v) = u;");

        Assert.Equal(2, modes.Count);
        Assert.All(modes, m => Assert.Equal(0, m.Frequency, 1e-12));
        Assert.All(modes, m => Assert.All(m.States, s => Assert.InRange(s.Participation, 0, 1)));
        Assert.Equal("x", modes[0].States[0].State);
    }
}
