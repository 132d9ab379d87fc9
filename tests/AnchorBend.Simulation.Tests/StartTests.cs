using AnchorBend.Simulation;
using AnchorBend.Tests;

namespace AnchorBend.Simulation.Tests;

public class StartTests
{
    static RunResult Run(string text, RunOptions options) => TextModel.Run(TextModel.Prepare(text), options);

    [Fact]
    public void Initial_equations_determine_states_and_fixed_starts_stay()
    {
        var result = Run(
            """
            Real x(start = 0.5), v, w(start = 3, fixed = true);
            initial equation x ^ 2 + v = 5; der(v) = 0;
            equation der(x) = v; der(v) = -2 * x - v + 3; der(w) = -w;
            """,
            new RunOptions { End = 1 }
        );
        Assert.Null(result.Failure);
        var start = result.Start.ToDictionary(s => s.Name);
        // From v = 3 − 2x: x² − 2x − 2 = 0.
        Assert.Equal(1 - Math.Sqrt(3), start["x"].Value, 1e-10);
        Assert.Equal(1 + 2 * Math.Sqrt(3), start["v"].Value, 1e-10);
        Assert.Equal((3.0, StartKind.Fixed), (start["w"].Value, start["w"].Kind));
        Assert.Equal(StartKind.Solved, start["x"].Kind);
    }

    [Theory]
    // On a variable that is no state; on another name of a state; through a square; through energy, from a rest that says nothing of the
    // way.
    [InlineData("Real x, y(start = 3, fixed = true); equation y = 2 * x; der(x) = -x;", "x", 1.5)]
    [InlineData("Real s(start = 2, fixed = true), x; equation s = x; der(x) = -x;", "x", 2)]
    [InlineData("Real y(start = 0.25, fixed = true), x(start = 0.4); equation y = x ^ 2; der(x) = -x;", "x", 0.5)]
    [InlineData(
        "Real q(start = 0, fixed = true), v, E(start = 8, fixed = true); equation der(q) = v; der(v) = -9.81 * sin(q); E = v ^ 2 / 2 + 9.81 * (1 - cos(q));",
        "v",
        4
    )]
    // Rigid couplings: the fixed one is not the one that stays a state.
    [InlineData("Real w1(start = 10, fixed = true), w2, t; equation der(w1) = -t; 4 * der(w2) = 5 * t; w1 = 5 * w2;", "w2", 2)]
    [InlineData(
        "Real x(start = 0, fixed = true), phi, v(start = 1.5, fixed = true), w, f; equation x = 0.3 * phi; v = der(x); w = der(phi); 2 * der(v) = -5 * x - f; 0.09 * der(w) = 0.3 * f;",
        "w",
        5
    )]
    [InlineData("Real p(start = 3e11, fixed = true), x(start = 1); equation p = 1e9 * x ^ 3; der(x) = -x;", "x", 6.694329500821695)] // ∛300
    // Values that follow from each other may all be fixed where they agree, but for rounding.
    [InlineData(
        "Real x(start = 0.7071, fixed = true), y(start = -0.7071, fixed = true), vx(start = 1, fixed = true), vy(start = 1, fixed = true), F; equation der(x) = vx; der(y) = vy; der(vx) = -F * x; der(vy) = -F * y - 9.81; x ^ 2 + y ^ 2 = 1;",
        "vy",
        1
    )]
    public void Fixed_start_values_hold_whatever_the_states_are(string text, string variable, double value)
    {
        foreach (var method in new[] { IntegrationMethod.Auto, IntegrationMethod.RungeKutta4 })
            Assert.Equal(value, TextModel.Values(text, variable, [0, 0.1], new RunOptions { End = 0.1, Method = method })[0], 1e-3);
    }

    [Fact]
    public void Fixed_start_values_against_each_other_are_told()
    {
        var failure = Run(
            "Real x(start = 1, fixed = true), y(start = 3, fixed = true); equation y = 2 * x; der(x) = -x;",
            new RunOptions { End = 1 }
        ).Failure!;
        Assert.Equal(("start", "y"), (failure.Code, failure.Quantity));
        Assert.Contains("fixed at 3", failure.Message, StringComparison.Ordinal);
    }

    [Fact]
    public void A_fixed_start_value_that_nothing_near_meets_is_told()
    {
        var failure = Run(
            "Real x(start = 1), y(start = -1, fixed = true); equation y = x ^ 2; der(x) = -x;",
            new RunOptions { End = 1 }
        ).Failure!;
        Assert.Equal(("start", "y"), (failure.Code, failure.Quantity));
    }

    [Fact]
    public void A_steady_start_rests_and_leaves_open_what_nothing_determines()
    {
        var result = Run(
            "Real pos(start = 3), v(start = 1), i; equation der(pos) = v; der(v) = 10 * i - v - 2 * v * abs(v); der(i) = 5 - 3 * i - 5;",
            new RunOptions { End = 1, SteadyStart = true }
        );
        Assert.Null(result.Failure);
        Assert.Equal(3, result.Start[0].Value);
        Assert.Equal(0, result.Start[1].Value, 1e-9);
        Assert.Equal(0, result.Start[2].Value, 1e-9);
    }

    [Fact]
    public void A_steady_start_is_found_far_from_the_guess()
    {
        // Tank with outflow by the square root, sensor behind a fifth-order lag: rest at 4 m.
        var result = Run(
            "Real h(start = 0.001), s[5]; equation der(h) = 2 - sqrt(max(h, 0)); der(s[1]) = h - s[1]; for i in 2:5 loop der(s[i]) = s[i - 1] - s[i]; end for;",
            new RunOptions { End = 1, SteadyStart = true }
        );
        Assert.Null(result.Failure);
        Assert.All(result.Start, s => Assert.Equal(4, s.Value, 1e-6));
    }

    [Fact]
    public void One_part_at_rest_leaves_the_others_at_their_start_values()
    {
        var prepared = TextModel.Prepare("Lag a(T = 1, y0 = 5); Lag b(T = 1, y0 = 7); equation a.u = 2; b.u = 3;");
        var result = TextModel.Run(prepared, new RunOptions { End = 1, SteadyParts = ["a"] });
        Assert.Equal(2, result.Start.Single(s => s.Name.StartsWith("a.", StringComparison.Ordinal)).Value, 1e-12);
        Assert.Equal(7, result.Start.Single(s => s.Name.StartsWith("b.", StringComparison.Ordinal)).Value);
    }

    [Fact]
    public void A_part_at_rest_that_does_not_exist_is_told_with_the_nearest_name()
    {
        var failure = Run("Lag Drum(T = 1); equation Drum.u = 2;", new RunOptions { End = 1, SteadyParts = ["Drun"] }).Failure!;
        Assert.Equal("steady", failure.Code);
        Assert.Contains("Drum", failure.Advice, StringComparison.Ordinal);
    }

    [Fact]
    public void Where_there_is_no_rest_the_state_that_keeps_changing_is_told()
    {
        var failure = Run("Real x(start = 3); equation der(x) = x ^ 2 + 1;", new RunOptions { End = 1, SteadyStart = true }).Failure!;
        Assert.Equal(("steady", "x"), (failure.Code, failure.Quantity));
    }

    [Fact]
    public void Too_many_initial_equations_are_told_before_the_run() =>
        Assert.Contains(TextModel.Prepare("Real x(start = 1, fixed = true); initial equation x = 2; equation der(x) = -x;").Findings, f =>
            f.Code == "start"
        );

    [Fact]
    public void An_assertion_stops_the_run_where_it_breaks()
    {
        var failure = Run(
            "Real x(start = 1); equation der(x) = -x; assert(x > 0.5, \"x must stay above one half\");",
            new RunOptions { End = 3 }
        ).Failure!;
        Assert.Equal("assertion", failure.Code);
        Assert.Equal(Math.Log(2), failure.Time, 1e-7);
    }
}
