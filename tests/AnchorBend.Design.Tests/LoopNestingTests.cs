using AnchorBend.Tests;

namespace AnchorBend.Design.Tests;

/// <summary>Which loop lies around which.</summary>
public class LoopNestingTests
{
    static IReadOnlyDictionary<string, string?> Of(string text, params string[] parts) => LoopNesting.Of(TextModel.Prepare(text), parts);

    /// <summary>Position around speed around current, each measured behind its own lag.</summary>
    const string Three =
        "PID position(k = 1); PID speed(k = 2); PID current(k = 5); Lag coil(T = 0.01); Lag rotor(T = 0.1); Integrator x; "
        + "equation position.r = 1; connect(position.u, speed.r); connect(speed.u, current.r); connect(current.u, coil.u); "
        + "connect(coil.y, rotor.u); connect(rotor.y, x.u); "
        + "connect(coil.y, current.y); connect(rotor.y, speed.y); connect(x.y, position.y);";

    [Fact]
    public void Each_loop_lies_in_the_next_one_around_it()
    {
        var around = Of(Three, "current", "position", "speed");

        Assert.Equal("speed", around["current"]);
        Assert.Equal("position", around["speed"]);
        Assert.Null(around["position"]);
    }

    [Fact]
    public void What_lies_between_an_output_and_a_set_point_does_not_part_them()
    {
        var around = Of(
            "PID depth(k = 1); PID speed(k = 2); Gain g(k = 3); Lag filter(T = 0.2); Lag plant(T = 1); Integrator x; equation depth.r = 0; "
                + "connect(depth.u, g.u); connect(g.y, filter.u); connect(filter.y, speed.r); connect(speed.u, plant.u); "
                + "connect(plant.y, speed.y); connect(plant.y, x.u); connect(x.y, depth.y);",
            "speed",
            "depth"
        );

        Assert.Equal("depth", around["speed"]);
        Assert.Null(around["depth"]);
    }

    [Fact]
    public void Loops_beside_one_another_lie_in_none()
    {
        var around = Of(
            "PID a(k = 1); PID b(k = 2); Lag p(T = 1); Lag q(T = 2); equation a.r = 1; b.r = 1; connect(a.u, p.u); connect(p.y, a.y); "
                + "connect(b.u, q.u); connect(q.y, b.y);",
            "a",
            "b"
        );

        Assert.All(around.Values, Assert.Null);
    }
}
