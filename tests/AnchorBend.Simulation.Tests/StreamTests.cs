using AnchorBend.Tests;
using static AnchorBend.Simulation.Tests.PhysicalRun;

namespace AnchorBend.Simulation.Tests;

/// <summary>What flows carry along (chapter 15 of the language's specification): mixing, reversal, levels, and standing still.</summary>
public class StreamTests
{
    const string Classes = """
        connector P Real p; flow Real m; stream Real h; stream Real c[2]; end P;
        model Feed P a; parameter Real m = 1; parameter Real h = 10; equation a.m = -m; a.h = h; a.c = {h / 10, 0}; end Feed;
        model Sink P a; Real got; Real was; Real salt; equation salt = inStream(a.c[1]); a.p = 0; a.h = 99; a.c = {0, 0}; got = inStream(a.h); was = actualStream(a.h); end Sink;
        model Throttle P a; P b; equation a.m + b.m = 0; a.p - b.p = a.m; a.h = inStream(b.h); b.h = inStream(a.h); a.c = inStream(b.c); b.c = inStream(a.c); end Throttle;
        model Level P a; P b; Throttle t; equation connect(a, t.a); connect(t.b, b); end Level;
        """;

    static double At0(string text, string name) => TextModel.Values($"model Test\n{Classes}\n{text}\nend Test;", name, [0, 1])[0];

    [Fact]
    public void Where_flows_meet_they_mix_by_their_sizes()
    {
        const string Node = "Feed f(m = 1, h = 10); Feed g(m = 3, h = 20); Sink s; equation connect(f.a, s.a); connect(g.a, s.a);";
        Near(17.5, At0(Node, "s.got"), 1e-12);
        Near(17.5, At0(Node, "s.was"), 1e-12);
    }

    [Theory]
    [InlineData(2, 10)]
    [InlineData(-2, 99)]
    public void What_is_carried_comes_from_where_the_flow_comes_from(double flow, double carried)
    {
        var text = FormattableString.Invariant($"Feed f(m = {flow}); Throttle t; Sink s; equation connect(f.a, t.a); connect(t.b, s.a);");
        Near(carried, At0(text, "s.was"), 1e-12);
        // What would come in is known whichever way it flows.
        Near(10, At0(text, "s.got"), 1e-12);
    }

    [Fact]
    public void Levels_change_nothing_of_it()
    {
        const string Flat =
            "Feed f(m = 1, h = 10); Feed g(m = 3, h = 20); Throttle t; Sink s; equation connect(f.a, t.a); connect(g.a, t.a); connect(t.b, s.a);";
        Near(At0(Flat, "s.got"), At0(Flat.Replace("Throttle", "Level", StringComparison.Ordinal), "s.got"), 1e-12);
        Near(1.75, At0(Flat.Replace("Throttle", "Level", StringComparison.Ordinal), "s.salt"), 1e-12);
    }

    [Fact]
    public void Where_nothing_flows_all_count_the_same()
    {
        const string Still = "Feed f(m = 0, h = 10); Feed g(m = 0, h = 20); Sink s; equation connect(f.a, s.a); connect(g.a, s.a);";
        Near(15, At0(Still, "s.got"), 1e-12);
    }

    [Fact]
    public void An_end_that_nothing_is_connected_to_gets_back_what_it_lets_out() => Near(99, At0("Sink s;", "s.got"), 1e-12);

    [Theory]
    [InlineData("connector Q Real p; stream Real h; end Q; Q q; Real x; equation x = inStream(q.h); q.p = 0; q.h = 1;", "one flow")]
    [InlineData("Real y; Real x; equation y = 1; x = inStream(y);", "no stream")]
    public void What_is_no_stream_is_refused(string text, string reason) =>
        Assert.Contains(TextModel.Prepare(text).Findings, f => f.Message.Contains(reason, StringComparison.Ordinal));

    [Fact]
    public void Sizes_of_connectors_follow_from_their_network()
    {
        const string Sized = """
            model Test
              connector P parameter Integer n = 0; Real p; flow Real m; stream Real c[n]; end P;
              model Root P a(n = 3); equation a.m = 0; a.c = {1, 2, 3}; Connections.root(a); end Root;
              model Part P a; P b; Real z[a.n]; equation a.p = b.p; a.m + b.m = 0; a.c = inStream(b.c); b.c = inStream(a.c); z = inStream(a.c); Connections.branch(a, b); end Part;
              model End P a; equation a.p = 0; a.c = zeros(a.n); end End;
              Root r; Part t; End e;
            equation
              connect(r.a, t.a); connect(t.b, e.a);
            end Test;
            """;
        Assert.Equal([3.0], TextModel.Values(Sized, "t.z[3]", [0, 1])[..1]);
    }
}
