using AnchorBend.Compiler.Preparation;
using AnchorBend.Simulation;
using AnchorBend.Tests;

namespace AnchorBend.Design.Tests;

/// <summary>States at rest that something else stands in the way of, and points that are kept and begun at.</summary>
public class OperatingPointTests
{
    static double Value(OperatingPoint point, PreparedModel prepared, string name) => point.Values[prepared.Find(name)!.Index];

    static OperatingPoint Rest(PreparedModel prepared, RestSearch? begin = null) =>
        OperatingPoint.Steady(prepared, new ParameterSet(prepared.Model), begin);

    [Theory]
    [InlineData("Real x(start = 5); initial equation x = 7; equation der(x) = 3 - x;")]
    [InlineData("Real x(start = 5, fixed = true); equation der(x) = 3 - x;")]
    public void What_holds_at_the_start_of_runs_alone_gives_way_to_rest(string text)
    {
        var prepared = TextModel.Prepare(text);
        Assert.Equal(3, Value(Rest(prepared), prepared, "x"), 1e-9);
    }

    [Fact]
    public void A_state_that_may_move_stays_where_it_is_and_the_others_rest()
    {
        // A body with drag, pushed steadily: its place changes, its speed does not.
        var prepared = TextModel.Prepare("Real s(start = 4); Real v(start = 1); equation der(s) = v; der(v) = 6 - 2 * v;");
        var refusal = Assert.Throws<DesignException>(() => Rest(prepared));
        Assert.Contains("Nothing depends on s", refusal.Advice, StringComparison.Ordinal);

        var point = Rest(prepared, new RestSearch(StillMoving: ["s"]));
        Assert.Equal(3, Value(point, prepared, "v"), 1e-9);
        Assert.Equal(4, Value(point, prepared, "s"));
        Assert.Equal(3, point.Rates.Single(r => r.State == "s").Rate, 1e-9);
        Assert.Equal("moving", Assert.Throws<DesignException>(() => Rest(prepared, new RestSearch(StillMoving: ["w"]))).Code);
    }

    [Fact]
    public void Where_a_model_is_looked_at_what_nothing_depends_on_may_move_and_is_told()
    {
        // The same, its speed held by a drag that has to be solved for; a second place rests by itself.
        var prepared = TextModel.Prepare(
            "Real s(start = 4); Real p(start = 2); Real v(start = 1); Real d; equation der(s) = v; der(p) = 0 * v; d + d ^ 3 = v; der(v) = 10 - d;"
        );
        var point = OperatingPoint.Settled(prepared, new ParameterSet(prepared.Model));
        Assert.Equal(1010, Value(point, prepared, "v"), 1e-9);
        Assert.Equal(4, Value(point, prepared, "s"));
        Assert.Equal(["s"], point.Moving);
        Assert.Equal("steady state at the start, but for s", point.Name);

        // A speed is felt by the place.
        var lost = TextModel.Prepare("Real s; Real v; equation der(s) = v; der(v) = 1;");
        Assert.Equal("steady", Assert.Throws<DesignException>(() => OperatingPoint.Settled(lost, new ParameterSet(lost.Model))).Code);
    }

    [Fact]
    public void Rest_is_that_of_the_sources_at_the_instant()
    {
        var prepared = TextModel.Prepare("Real x(start = 0); equation der(x) = (if time < 5 then 1 else 2) - x;");
        Assert.Equal(1, Value(Rest(prepared), prepared, "x"), 1e-9);
        Assert.Equal(2, Value(Rest(prepared, new RestSearch(Time: 6)), prepared, "x"), 1e-9);
    }

    [Fact]
    public void Of_two_states_at_rest_the_one_near_the_beginning_is_found()
    {
        // Rests at −2, 0 (which nothing stays at) and 2.
        var prepared = TextModel.Prepare("Real x(start = 1.5); equation der(x) = 4 * x - x ^ 3;");
        StartValues At(double x) => new("", new Dictionary<string, double> { ["x"] = x });
        Assert.Equal(2, Value(Rest(prepared), prepared, "x"), 1e-9);
        Assert.Equal(-2, Value(Rest(prepared, new RestSearch(At(-1.5))), prepared, "x"), 1e-9);
    }

    [Fact]
    public void Rest_is_not_taken_from_far_away_where_slopes_die()
    {
        // A cone fills by a limited pump: Newton's first step leads to a level of kilometres, at which nearly nothing moves.
        var prepared = TextModel.Prepare(
            "Real h(start = 0.6); Real i(start = 0.00775); Real q; Real u; equation u = i + 0.01 * (0.5 - h); q = min(0.03, max(0, u)); "
                + "der(i) = 0.01 * (0.5 - h) / 200 + (q - u) / 60; der(h) = (q - 0.01 * sqrt(max(h, 1e-3))) / (1.2 * max(h, 0.05) ^ 2);"
        );
        var point = Rest(prepared);
        Assert.Equal(0.5, Value(point, prepared, "h"), 1e-6);
        Assert.Equal(0.01 * Math.Sqrt(0.5), Value(point, prepared, "q"), 1e-8);
    }

    [Fact]
    public void A_run_begins_at_the_values_of_a_point_whatever_its_initial_equations_say()
    {
        const string text = "Real x; Real y(start = 0); initial equation x = 1; equation der(x) = -x; der(y) = x;";
        var from = new StartValues("kept", new Dictionary<string, double> { ["x"] = 5, ["y"] = 2 });
        var prepared = TextModel.Prepare(text);
        var options = new RunOptions
        {
            Start = 3,
            End = 4,
            From = from,
            OutputTimes = [4],
        };
        using var session = new RunSession(prepared, new ParameterSet(prepared.Model), options);
        session.Advance(new PauseAt());
        var (x, y) = (prepared.Find("x")!.Index, prepared.Find("y")!.Index);
        // x = 5 e^−(t − 3), and y = 2 + 5 − x.
        Assert.Equal(5 * Math.Exp(-1), session.Trace[session.Trace.Rows - 1, x], 1e-5);
        Assert.Equal(7 - 5 * Math.Exp(-1), session.Trace[session.Trace.Rows - 1, y], 1e-5);

        var point = OperatingPoint.AtStart(prepared, new ParameterSet(prepared.Model), options);
        Assert.Equal("kept", point.Name);
        Assert.Equal(5, Value(point, prepared, "x"), 1e-6);
    }

    [Fact]
    public void Remembered_values_are_taken_up()
    {
        var prepared = TextModel.Prepare(
            "discrete Real count(start = 0); equation when sample(0.5, 1) then count = pre(count) + 1; end when;"
        );
        var options = new RunOptions { End = 2, From = new StartValues("", new Dictionary<string, double> { ["count"] = 10 }) };
        using var session = new RunSession(prepared, new ParameterSet(prepared.Model), options);
        session.Advance(new PauseAt());
        Assert.Equal(12, session.Trace[session.Trace.Rows - 1, prepared.Find("count")!.Index]);
    }

    [Fact]
    public void Bounded_signals_are_kept_within_and_told_at_their_bound()
    {
        // Rests at x = a: of all a the nearest to 1 that keeps x at 3 or more is 3.
        var prepared = TextModel.Prepare("parameter Real a = 1; Real x(start = 0); equation der(x) = a - x;");
        var found = SteadySearch.Of(prepared, [new WantedValue("x", 3, double.PositiveInfinity)], [new FreeParameter("a")]);
        Assert.True(found.IsMet);
        Assert.Equal(3, found.Found[0], 1e-5);
        Assert.Equal(["x"], found.AtBounds);

        var inside = SteadySearch.Of(prepared, [new WantedValue("x", 0, 2)], []);
        Assert.True(inside.IsMet);
        Assert.Empty(inside.AtBounds);
        var outside = SteadySearch.Of(prepared, [new WantedValue("x", 2, 3)], []);
        Assert.False(outside.IsMet);
        Assert.Equal("wanted", Assert.Throws<DesignException>(() => SteadySearch.Of(prepared, [new WantedValue("x", 3, 2)], [])).Code);
    }

    [Fact]
    public void A_moving_state_that_is_wanted_at_a_value_stands_there()
    {
        var prepared = TextModel.Prepare("Real s(start = 0); Real v(start = 1); equation der(s) = v; der(v) = s - 2 * v;");
        var found = SteadySearch.Of(prepared, [new WantedValue("s", 8)], [], new RestSearch(StillMoving: ["s"]));
        Assert.True(found.IsMet);
        Assert.Equal(4, Value(found.Point, prepared, "v"), 1e-9);
    }
}
