using AnchorBend.Compiler.Preparation;
using AnchorBend.Simulation;
using AnchorBend.Tests;
using AnchorBend.Verification.Measures;

namespace AnchorBend.Verification.Tests;

/// <summary>Measures on signals whose values are known exactly.</summary>
public class MeasureTests
{
    /// <summary>x = sin(2 t), a saw that jumps, a Boolean pulse, a step response of first order; ten seconds.</summary>
    const string Signals = """
        Real x(unit = "m"); Real v(unit = "m/s"); Real saw(unit = "V"); Real lag(unit = "m", start = 0); Boolean late;
        Real stair(unit = "K"); parameter Real most(unit = "m") = 0.5;
        equation
        x = sin(2*time); v = 2*cos(2*time); saw = mod(time, 2.5); der(lag) = (1 - lag)/0.5; late = time > 4 and time < 7;
        stair = if time < 2 then 1 elseif time < 6 then 4 else 2;
        """;

    static readonly (PreparedModel Prepared, ParameterSet Parameters, RunResult Result) Made = Run();

    static (PreparedModel, ParameterSet, RunResult) Run()
    {
        var prepared = TextModel.Prepare(Signals);
        var options = new RunOptions
        {
            End = 10,
            OutputInterval = 1e-3,
            RelativeTolerance = 1e-10,
            AbsoluteTolerance = 1e-12,
        };
        return (prepared, new ParameterSet(prepared.Model), TextModel.Run(prepared, options));
    }

    static MeasureResult Measure(string text) =>
        new MeasureEvaluation(Made.Prepared, Made.Parameters.Values, Made.Result.Trace, 0, 10).Evaluate(text);

    /// <summary>
    /// Recorded every h = 1 ms and joined by straight lines, a curve is met to h²/8 times its second derivative (at most 4): 5e-7.
    /// </summary>
    const double Straight = 5e-7;

    static void Is(string text, double value, string unit, double? instant = null, double within = Straight)
    {
        var result = Measure(text);
        Assert.Null(result.Problem);
        Assert.Equal(value, result.Value!.Value, within);
        Assert.Equal(unit, result.Unit);
        if (instant is { } t)
            Assert.Equal(t, result.Instant!.Value, 1e-5);
        else
            Assert.Null(result.Instant);
    }

    [Fact]
    public void Extremes_have_their_instant_and_a_window()
    {
        Is("maximum(x, to = 3)", 1, "m", Math.PI / 4);
        Is("minimum(x, to = 3)", -1, "m", 3 * Math.PI / 4);
        Is("maximum(x, from = 1, to = 3)", Math.Sin(2), "m", 1);
        Is("minimum(saw, from = 3)", 0, "V", 5);
        Is("maximum(saw)", 2.5, "V", 2.5);
        Is("maximum(x, to = 3, while = v < 0 and x < most)", 0.5, "m", 5 * Math.PI / 12, 1e-6);
        Is("peaktopeak(x)", 2, "m");
    }

    [Fact]
    public void Integral_mean_and_root_mean_square_are_those_of_a_sine()
    {
        // The trapezoidal rule on a smooth curve errs by h²/12 times the change of slope: below 1e-6.
        Is("integral(x)", (1 - Math.Cos(20)) / 2, "m.s", within: 1e-6);
        Is("mean(x, to = 5)", (1 - Math.Cos(10)) / 10, "m", within: 1e-6);
        Is("rms(x)", Math.Sqrt(0.5 - Math.Sin(40) / 80), "m", within: 1e-6);
        Is("mean(stair)", (2 * 1 + 4 * 4 + 4 * 2) / 10.0, "K", within: 1e-9);
        Is("rms(stair)", Math.Sqrt((2 * 1 + 4 * 16 + 4 * 4) / 10.0), "K", within: 1e-9);
        Is("integral(stair, while = late)", 2 * 4 + 1 * 2, "s.K", within: 1e-9);
    }

    [Fact]
    public void Values_at_instants_are_those_behind_an_event()
    {
        Is("final(lag)", 1 - Math.Exp(-20), "m", 10, 1e-9);
        Is("at(x, 1.2345)", Math.Sin(2.469), "m", 1.2345);
        Is("at(stair, 2)", 4, "K", 2, 0);
        Is("at(stair, 1.9999)", 1, "K", 1.9999, 0);
        Is("final(stair, to = 6 s)", 2, "K", 6, 0);
        Is("first(x, from = 2)", Math.Sin(4), "m", 2);
    }

    [Fact]
    public void Conditions_turn_between_rows()
    {
        Is("first(x > most)", Math.PI / 12, "s", Math.PI / 12, 1e-6);
        Is("last(x > 0.5 m, to = 9 s)", 2 * Math.PI + Math.PI * 5 / 12, "s", 2 * Math.PI + Math.PI * 5 / 12, 1e-6);
        Is("duration(late)", 3, "s", within: 1e-9);
        Is("duration(not late)", 7, "s", within: 1e-9);
        Is("duration(x > most or x < -most, to = 3.14159265358979)", Math.PI * 2 / 3, "s", within: 2e-6);
        Is("count(saw > 2)", 4, "", within: 0);
        Is("count(saw > 2, from = 3)", 3, "", within: 0);
        Is("count(late)", 1, "", within: 0);
    }

    [Fact]
    public void Crossings_are_counted_by_direction()
    {
        Is("crossing(x, 0.5)", Math.PI / 12, "s", Math.PI / 12, 1e-6);
        Is("crossing(x, 0.5, direction = \"falling\")", 5 * Math.PI / 12, "s", 5 * Math.PI / 12, 1e-6);
        Is("crossing(x, 50 cm, number = 3)", 13 * Math.PI / 12, "s", 13 * Math.PI / 12, 1e-6);
        Is("crossing(saw, 1, direction = \"falling\", number = 2)", 5, "s", 5, 1e-9);
        Is("frequency(x)", 1 / Math.PI, "1/s", within: 1e-6);
        Assert.Equal("Hz", Measure("frequency(x)").ShownUnit);
    }

    [Fact]
    public void A_step_has_its_figures()
    {
        Is("risetime(lag)", 0.5 * Math.Log(9), "s", 0.5 * Math.Log(10), 1e-6);
        Is("settling(lag)", 0.5 * Math.Log(50), "s", 0.5 * Math.Log(50), 1e-5);
        Is("settling(lag, band = 5 %)", 0.5 * Math.Log(20), "s", 0.5 * Math.Log(20), 1e-5);
        Is("overshoot(lag)", 0, "", within: 1e-8);
        Is("overshoot(x, target = 0.8, to = 3)", 0.25, "", Math.PI / 4, 1e-6);
        var shown = Measure("overshoot(x, target = 80 cm, to = 3)");
        Assert.Equal((25, "%"), (shown.Shown!.Value, shown.ShownUnit), new Near(1e-4));
        Is("if overshoot(x, target = 0.8, to = 3) > 20 % then 1 else 0", 1, "");
    }

    [Fact]
    public void Results_are_numbers_with_units_in_expressions()
    {
        Is("maximum(x) - minimum(x)", 2, "m");
        Is("maximum(abs(v))/maximum(x)", 2, "1/s", within: 1e-5);
        Is("if count(late) > 0 then maximum(x) else 0", 1, "m");
        Is("first(lag > 0.9*final(lag)) - first(lag > 0.1*final(lag))", 0.5 * Math.Log(9), "s", within: 1e-6);
        Is("maximum(x, from = first(x < 0))", 1, "m", 5 * Math.PI / 4);
        Is("mean(x*v, to = 3.14159265358979)", 0, "m2/s", within: 1e-6);
    }

    [Fact]
    public void A_unit_belongs_to_the_number_before_it()
    {
        Is("crossing(x, most + 5 cm)", Math.Asin(0.55) / 2, "s", Math.Asin(0.55) / 2, 1e-6);
        Is("crossing(x, 5 cm + most)", Math.Asin(0.55) / 2, "s", Math.Asin(0.55) / 2, 1e-6);
        Is("crossing(x, -50 cm, direction = \"falling\")", 7 * Math.PI / 12, "s", 7 * Math.PI / 12, 1e-6);
        Is("count(x > 0.5 m and v < 0.1 m/s and saw > 1 V)", 3, "", within: 0);
        Is("settling(lag, band = 1/20)", 0.5 * Math.Log(20), "s", 0.5 * Math.Log(20), 1e-5);
        Is("settling(lag, band = 10 % / 2)", 0.5 * Math.Log(20), "s", 0.5 * Math.Log(20), 1e-5);
        Is("50 % * peaktopeak(x)", 1, "m");
        Is("peaktopeak(x) / 2 m", 1, "");
        Is("peaktopeak(x) / 2 m/s", 1, "s");
        Is("peaktopeak(x) * 3 kg.m/(s2.K) / 1 N", 6, "m/K", within: 3 * Straight);
    }

    [Theory]
    [InlineData("maximum(depth)", "There is no signal 'depth'.")]
    [InlineData("maximun(x)", "There is no function 'maximun'. Did you mean maximum?")]
    [InlineData("x", "x changes during the run: say at which instant or over which time. For example final(x).")]
    [InlineData("maximum(x, form = 3)", "maximum has no argument 'form'. It takes from, to, while.")]
    [InlineData("maximum(x + v)", "The units do not agree")]
    [InlineData("maximum(x) + maximum(v)", "The units do not agree")]
    [InlineData("count(x)", "count needs a condition, such as count(depth > 5).")]
    [InlineData("maximum(late)", "maximum needs a signal with numbers, not a condition.")]
    [InlineData("maximum(x, from = 5, to = 2)", "The window ends before it begins: from 5 s to 2 s.")]
    [InlineData("maximum(x, from = 5 parsec)", "unit")]
    [InlineData("count(x > 5 kg)", "The units do not agree: m on one side, kg on the other.")]
    [InlineData("crossing(x, 5 s)", "The units do not agree")]
    [InlineData("maximum(x) + 5 kg", "The units do not agree")]
    [InlineData("maximum(x, from = 5 m)", "The units do not agree")]
    [InlineData("maximum(x) > 5 m^2", "A power of a unit is written without a sign, such as m2.")]
    [InlineData("maximum('100 % of it')", "There is no signal '100 % of it'.")]
    [InlineData("maximum(", "")]
    [InlineData("at(x)", "at needs an instant: at(signal, 3).")]
    [InlineData("crossing(x, 0, direction = \"up\")", "The direction is")]
    [InlineData("sample(0, 1)", "")]
    [InlineData("maximum(delay(x, 1))", "This looks at what a run does")]
    public void What_is_wrong_is_told(string text, string told)
    {
        var result = Measure(text);
        Assert.Null(result.Value);
        Assert.True(result.IsWrong);
        Assert.Contains(told, result.Problem, StringComparison.Ordinal);
    }

    [Theory]
    [InlineData("crossing(x, 3)", "The level is never crossed in the window.")]
    [InlineData("crossing(x, 0.5, number = 40)", "The level is crossed 7 times in the window only.")]
    [InlineData("first(x > 2)", "The condition never holds in the window.")]
    [InlineData("maximum(x, while = x > 2)", "The condition of the window never holds.")]
    [InlineData("maximum(x, to = 12)", "The run ends at 10 s, before the window does (12 s).")]
    [InlineData("risetime(stair, from = 7)", "There is no step in the window: the signal begins at its goal.")]
    [InlineData("settling(x)", "The signal does not settle: it stays within 2 % of its last value only from 9.979 s on.")]
    [InlineData("settling(x, while = saw > 1)", "settling looks at one stretch of time")]
    [InlineData("1/minimum(late, from = 1)", "")]
    public void What_the_run_does_not_decide_is_told(string text, string told)
    {
        var result = Measure(text);
        Assert.Null(result.Value);
        Assert.Contains(told, result.Problem, StringComparison.Ordinal);
    }

    [Fact]
    public void Values_are_shown_in_the_unit_people_read()
    {
        const string warm = """
            Real T(unit = "K", displayUnit = "degC"); equation T = 300 + 10*sin(time);
            """;
        var prepared = TextModel.Prepare(warm);
        var result = TextModel.Run(prepared, new RunOptions { End = 4 });
        var evaluation = new MeasureEvaluation(prepared, new ParameterSet(prepared.Model).Values, result.Trace, 0, 4);
        var highest = evaluation.Evaluate("maximum(T)");
        Assert.Equal((310, "K"), (highest.Value!.Value, highest.Unit), new Near(1e-5));
        Assert.Equal((36.85, "°C"), (highest.Shown!.Value, highest.ShownUnit), new Near(1e-5));
        // A difference is not shifted.
        var swing = evaluation.Evaluate("peaktopeak(T, to = 2)");
        Assert.Equal((10, "°C"), (swing.Shown!.Value, swing.ShownUnit), new Near(1e-5));
    }

    sealed class Near(double within) : IEqualityComparer<(double Value, string Unit)>
    {
        public bool Equals((double Value, string Unit) x, (double Value, string Unit) y) =>
            Math.Abs(x.Value - y.Value) <= within && x.Unit == y.Unit;

        public int GetHashCode((double Value, string Unit) obj) => 0;
    }
}
