using AnchorBend.Tests;

namespace AnchorBend.Simulation.Tests;

/// <summary>Substances that a fluid carries along: made, decaying, held by walls and let through them.</summary>
public class TraceSubstanceTests
{
    static double[] Ends(string text, double end, params string[] names)
    {
        var prepared = TextModel.Prepare(text);
        Assert.True(prepared.CanRun, string.Join("\n", prepared.Findings.Select(f => $"{f.Part} {f.Message}")));
        var result = TextModel.Run(
            prepared,
            new()
            {
                End = end,
                OutputTimes = [end],
                RelativeTolerance = 1e-8,
            }
        );
        Assert.True(result.Failure is null, result.Failure?.ToString());
        using var trace = result.Trace;
        return [.. names.Select(n => trace[trace.Rows - 1, prepared.Find(n)!.Index])];
    }

    static void Near(double expected, double actual, double relative) =>
        Assert.True(Math.Abs(actual / expected - 1) <= relative, $"{actual:R} is not {expected:R}");

    /// <summary>A closed ring loses what decays, whatever flows: the sum falls as an exponential.</summary>
    [Fact]
    public void In_a_closed_ring_the_sum_decays_by_its_rate()
    {
        const string Ring = """
            LoopFluid f(traces = 2, decay = {0.02, 0}); Vessel v(V = 0.02, p0 = 2e5, c0 = {0.01, 0.01}); Vessel w(V = 0.01, p0 = 1e5);
            Pipe p(N = 3); Pipe q(N = 2); Real one; Real other;
            equation connect(v.b, p.a); connect(p.b, w.a); connect(w.b, q.a); connect(q.b, v.a); connect(f.a, v.a);
              one = v.Z[1] + w.Z[1] + sum(p.Z[:, 1]) + sum(q.Z[:, 1]); other = v.Z[2] + w.Z[2] + sum(p.Z[:, 2]) + sum(q.Z[:, 2]);
            """;
        var starts = Ends(Ring, 1e-9, "one", "other");
        var ends = Ends(Ring, 100, "one", "other");
        Near(starts[0] * Math.Exp(-2), ends[0], 1e-6);
        Near(starts[1], ends[1], 1e-9);
    }

    /// <summary>One well mixed tank with a source and decay: Z' = w − λ Z.</summary>
    [Fact]
    public void A_vessel_fills_with_what_is_made_until_as_much_decays()
    {
        const string Text =
            "LoopFluid f(traces = 1, decay = {0.05}); Vessel v(made = {2e-6}); FlowBoundary a(m = 0); equation connect(f.a, v.a); connect(a.a, v.b);";
        Near(2e-6 / 0.05 * (1 - Math.Exp(-0.05 * 30)), Ends(Text, 30, "v.Z[1]")[0], 1e-6);
    }

    /// <summary>
    /// Two cells in balance, by hand: m c0 + w/2 = m c1 + λ (Z1 + S1) + k/2 (c1 − c), with Z = V d c of a cell and S = u H/2 c / (u + λ) on
    /// its wall.
    /// </summary>
    [Fact]
    public void A_pipe_makes_holds_and_lets_through()
    {
        const string Text = """
            LoopFluid f(traces = 1, decay = {0.01}); FlowBoundary a(m = 0.1, T = 293.15, c = {1e-3}); PressureBoundary b;
            Pipe p(N = 2, L = 10, D = 0.05, substances = true, made = {1e-5}, held = {0.5}, through = {2e-3}, outside = {2e-4});
            equation connect(f.a, a.a); connect(a.a, p.a); connect(p.b, b.a);
            """;
        var ends = Ends(Text, 4000, "p.c[1,1]", "p.c[2,1]", "p.S[1,1]", "p.d[1]");
        var mass = Math.PI / 4 * 0.05 * 0.05 * 5 * ends[3];
        var wall = 0.1 * 0.25 / (0.1 + 0.01);
        var all = 0.1 + 0.01 * (mass + wall) + 1e-3;
        var first = (0.1 * 1e-3 + 5e-6 + 1e-3 * 2e-4) / all;
        Near(first, ends[0], 1e-6);
        Near((0.1 * first + 5e-6 + 1e-3 * 2e-4) / all, ends[1], 1e-6);
        Near(wall * first, ends[2], 1e-6);
    }

    /// <summary>Way and Wigner (Physical Review 73, 1948): 0.0622 t^−0.2 of the power, after the chain reaction has ended; and before it
    /// ends everything is at rest.</summary>
    [Theory]
    [InlineData(100)]
    [InlineData(3e3)]
    [InlineData(5e4)]
    public void Heat_of_decay_falls_as_published(double after)
    {
        const string Text = "KineticSource s(P0 = 1e6, afterheat = true); Step u(height = -1, startTime = 1); equation connect(u.y, s.u);";
        Near(1e6, Ends(Text, 0.9, "s.P")[0], 1e-9);
        // After a drop of the reactivity by 1 the slowest group of neutrons leaves nothing of the chain after some 80 s.
        var ends = Ends(Text, 1 + after, "s.P", "s.power");
        Near(0.0622e6 * Math.Pow(after, -0.2), ends[0] - (1 - 0.0728) * ends[1], 0.02);
    }

    [Fact]
    public void Without_it_the_power_is_that_of_the_chain_alone() =>
        Assert.Equal(
            0,
            Ends("KineticSource s(P0 = 1e6); Step u(height = -1, startTime = 1); equation connect(u.y, s.u);", 5000, "s.P")[0],
            1e-6
        );
}
