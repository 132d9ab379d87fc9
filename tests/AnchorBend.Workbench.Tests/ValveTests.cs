using AnchorBend.Modeling.Documents;
using AnchorBend.Modeling.Restructuring;
using AnchorBend.Modeling.Valves;
using AnchorBend.Workbench.Models;
using AnchorBend.Workbench.Runs;
using static AnchorBend.Tests.Diagrams;

namespace AnchorBend.Workbench.Tests;

/// <summary>Directional valves drawn as their symbol: what they come to, and what is told of them.</summary>
public sealed class ValveTests : IDisposable
{
    readonly Bench bench = new();

    public void Dispose() => bench.RunStore.Dispose();

    static ValvePathNode Way(string from, string to, PathKind kind = PathKind.Plain) =>
        new()
        {
            From = from,
            To = to,
            Kind = kind,
            Flow = "40 l/min",
            Drop = "35 bar",
            Overlap = "0",
        };

    static ValveDefinition Valve(ValvePathNode parallel) =>
        new()
        {
            Name = "Gate valve",
            Neutral = "s2",
            Leakage = "0",
            Ports =
            {
                ["P"] = new ValvePortNode { Name = "P" },
                ["T"] = new ValvePortNode { Name = "T", Order = 1 },
                ["A"] = new ValvePortNode { Name = "A", Side = PortSide.Top },
            },
            Positions =
            {
                ["s1"] = new ValvePositionNode { Name = "drain", Paths = { ["w1"] = Way("A", "T") } },
                ["s2"] = new ValvePositionNode { Name = "hold", Order = 1 },
                ["s3"] = new ValvePositionNode
                {
                    Name = "fill",
                    Order = 2,
                    Paths = { ["w2"] = parallel },
                },
            },
        };

    /// <summary>The valve between a supply and two open lines, its command a ramp from −1 to 1 in two seconds.</summary>
    static ModelDocument Rig(ValveDefinition valve, string supply = "35 bar", string service = "0")
    {
        var model = new DiagramDefinition
        {
            Name = "Rig",
            Parts = new()
            {
                ["v"] = Part("#valve", "Valve"),
                ["u"] = Part("Ramp", "Command", ("height", "2"), ("duration", "2 s"), ("offset", "-1"), ("startTime", "0")),
                ["s"] = Part("Reservoir", "Supply", ("p", supply)),
                ["a"] = Part("Reservoir", "Service", ("p", service)),
                ["t"] = Part("Reservoir", "Tank"),
            },
            Wires = new()
            {
                ["w1"] = Wire("u.y", "v.u"),
                ["w2"] = Wire("s.a", "v.P"),
                ["w3"] = Wire("a.a", "v.A"),
                ["w4"] = Wire("v.T", "t.a"),
            },
        }.AsModel() with
        {
            Settings = new RunSettings { End = "2 s", Live = false },
        };
        model.Definitions["valve"] = valve;
        return model;
    }

    async Task<Func<string, double, double>> Run(ModelDocument document)
    {
        var id = bench.Create(document);
        var wrong = bench.Models.Open(id, PartPath.Root, default).View.Findings.Where(f => f.Severity == "error").Select(f => f.Message);
        Assert.Equal("", string.Join("\n", wrong));
        var job = await bench.Run(id);
        Assert.Null(job.Result?.Failure);
        var results = new RunResults(job);
        return (signal, time) => results.Readings([signal], time).GetValueOrDefault(signal, double.NaN);
    }

    const double LitresAMinute = 1e-3 / 60;

    [Fact]
    public async Task A_path_carries_its_nominal_flow_at_its_nominal_drop()
    {
        var at = await Run(Rig(Valve(Way("P", "A"))));
        // Open at the end; without overlap half open half way; closed while the spool is on the other side.
        Assert.Equal(40, at("v.flow 2", 2) / LitresAMinute, 0.02);
        Assert.Equal(20, at("v.flow 2", 1.5) / LitresAMinute, 0.05);
        Assert.Equal(0, at("v.flow 2", 0.5) / LitresAMinute, 1e-3);
    }

    [Fact]
    public async Task Overlap_and_curves_say_when_a_path_opens()
    {
        var at = await Run(Rig(Valve(Way("P", "A") with { Overlap = "0.2" })));
        Assert.Equal(0, at("v.open2", 1.15), 1e-9);
        Assert.Equal(0.5, at("v.open2", 1.6), 1e-3);
        var curved = await Run(Rig(Valve(Way("P", "A") with { Curve = "0 0; 0.5 0.1; 1 1" })));
        Assert.Equal(0.1, curved("v.open2", 1.5), 1e-3);
        Assert.Equal(0.55, curved("v.open2", 1.75), 1e-3);
    }

    /// <summary>Half way and three quarters of the way to its position a path is open by what the transition says.</summary>
    [Theory]
    [InlineData(Transition.AsOverlapped, "0.2", 0.375, 0.6875)]
    [InlineData(Transition.Closed, "0.2", 0, 0.5)]
    [InlineData(Transition.Closed, "0.6", 0, 0.375)]
    [InlineData(Transition.Open, "0.2", 0.5, 0.75)]
    public async Task The_transition_says_what_is_open_between_positions(Transition transition, string overlap, double half, double more)
    {
        var at = await Run(Rig(Valve(Way("P", "A") with { Overlap = overlap }) with { Transition = transition }));
        Assert.Equal(half, at("v.open2", 1.5), 1e-3);
        Assert.Equal(more, at("v.open2", 1.75), 1e-3);
    }

    [Fact]
    public async Task A_check_valve_lets_nothing_back()
    {
        var checkedPath = Way("P", "A", PathKind.Check);
        var forth = await Run(Rig(Valve(checkedPath)));
        Assert.Equal(40, forth("v.flow 2", 2) / LitresAMinute, 0.02);
        var back = await Run(Rig(Valve(checkedPath), "5 bar", "35 bar"));
        Assert.Equal(0, back("v.flow 2", 2) / LitresAMinute, 1e-3);
        // Open, it would flow.
        var open = await Run(Rig(Valve(Way("P", "A")), "5 bar", "35 bar"));
        Assert.True(open("v.flow 2", 2) / LitresAMinute < -30);
    }

    /// <summary>An edge and an orifice in series take their pressure drops together.</summary>
    [Fact]
    public async Task An_orifice_is_in_series_with_its_edge()
    {
        var at = await Run(Rig(Valve(Way("P", "A", PathKind.Orifice) with { Diameter = "2.5 mm" })));
        var edge = at("v.flow 2", 2);
        const double cd = 0.65;
        // Both by Q = cd A sqrt(2 dp / rho): the areas add as their squares' inverses.
        var rho = 870 * (1 - 7e-4 * 25);
        var whole = 40 * LitresAMinute / (cd * Math.Sqrt(2 * 35e5 / rho));
        var hole = Math.PI / 4 * 2.5e-3 * 2.5e-3;
        var both = 1 / Math.Sqrt(1 / (whole * whole) + 1 / (hole * hole));
        Assert.Equal(cd * both * Math.Sqrt(2 * 35e5 / rho) / LitresAMinute, edge / LitresAMinute, 0.05);
    }

    [Fact]
    public async Task Leakage_flows_where_a_path_is_closed()
    {
        var leaking = Valve(Way("P", "A")) with { Leakage = "0.12 l/min", LeakageDrop = "35 bar" };
        var at = await Run(Rig(leaking));
        // Laminar a little, as the opening is small.
        Assert.InRange(at("v.flow 2", 0.5) / LitresAMinute, 0.06, 0.121);
    }

    /// <summary>Pilots push with their difference of pressures; springs bring the spool back.</summary>
    [Fact]
    public async Task A_pilot_moves_the_spool()
    {
        var piloted = Valve(Way("P", "A")) with { Actuation = Actuation.Pilot, FullPressure = "20 bar" };
        var document = Rig(piloted);
        document.Main.Parts.Remove("u");
        document.Main.Wires.Remove("w1");
        document.Main.Parts["x"] = Part("Reservoir", "First pilot", ("p", "15 bar"));
        document.Main.Parts["y"] = Part("Reservoir", "Second pilot", ("p", "5 bar"));
        document.Main.Wires["w5"] = Wire("x.a", "v.x");
        document.Main.Wires["w6"] = Wire("y.a", "v.y");
        var at = await Run(document);
        Assert.Equal(0.5, at("v.stroke", 1), 1e-9);
    }

    /// <summary>At rest the spring holds what the command and the jets push: 2 C A Δp cos θ towards the middle.</summary>
    [Fact]
    public async Task Jets_pull_the_spool_back()
    {
        var heavy = Valve(Way("P", "A")) with { Dynamics = ValveDynamics.Mass, Spring = "20 kN/m", Stroke = "1 mm" };
        var still = await Run(Held(Rig(heavy)));
        Assert.Equal(0.5, still("v.stroke", 2), 1e-4);
        var pulled = await Run(Held(Rig(heavy with { HasJets = true })));
        var force = 2 * 0.65 * pulled("v.area2", 2) * 35e5 * Math.Cos(69 * Math.PI / 180);
        Assert.True(force > 1);
        Assert.Equal(0.5 - force / 20e3 / 1e-3, pulled("v.stroke", 2), 1e-4);
    }

    static ModelDocument Held(ModelDocument rig)
    {
        rig.Main.Parts["u"] = Part("Constant", "Command", ("k", "0.5"));
        return rig;
    }

    /// <summary>Of a gas: below the choked ratio the mass flow no longer grows as the pressure behind falls.</summary>
    [Fact]
    public async Task Gas_is_choked()
    {
        async Task<double> Flow(string behind)
        {
            var gas = Valve(Way("P", "A") with { Flow = "500 l/min", Drop = "1 bar" }) with { Medium = ValveMedium.Pneumatic };
            var model = new DiagramDefinition
            {
                Name = "Gas rig",
                Parts = new()
                {
                    ["f"] = Part("LoopFluid", "Air", ("kind", "LoopFluid.Kind.air")),
                    ["v"] = Part("#valve", "Valve"),
                    ["u"] = Part("Constant", "Command", ("k", "1")),
                    ["s"] = Part("PressureBoundary", "Supply", ("p", "7 bar")),
                    ["a"] = Part("PressureBoundary", "Service", ("p", behind)),
                    ["t"] = Part("PressureBoundary", "Outside", ("p", "1 bar")),
                },
                Wires = new()
                {
                    ["w0"] = Wire("f.a", "s.a"),
                    ["w1"] = Wire("u.y", "v.u"),
                    ["w2"] = Wire("s.a", "v.P"),
                    ["w3"] = Wire("a.a", "v.A"),
                    ["w4"] = Wire("v.T", "t.a"),
                },
            }.AsModel() with
            {
                Settings = new RunSettings { End = "1 s", Live = false },
            };
            model.Definitions["valve"] = gas;
            return (await Run(model))("v.flow 2", 1);
        }

        var choked = await Flow("1 bar");
        Assert.Equal(choked, await Flow("2 bar"), 1e-9);
        Assert.True(await Flow("5 bar") < 0.95 * choked);
        Assert.InRange(choked, 0.01, 0.1);
    }

    [Fact]
    public void What_it_does_is_told_in_words_and_drawn()
    {
        var id = bench.Create(Rig(Valve(Way("P", "A", PathKind.Check))));
        Assert.True(PartPath.TryParse("v", out var level));
        var view = bench.Models.Open(id, level, CancellationToken.None).View.Valve!;
        Assert.Equal("P goes to A through a check valve; T is closed.", view.Words["s3"]);
        Assert.Equal("P, A and T are closed.", view.Words["s2"]);
        Assert.Equal([-1, 0, 1], view.Places.OrderBy(p => p.Value).Select(p => p.Value));
        Assert.Equal("P → A", view.Paths["w2"].Way);
        Assert.Equal([-1.0, 0, 1], view.Paths["w2"].Opening!.X.Select(x => Math.Round(x, 9)));
        Assert.Equal([0.0, 0, 1], view.Paths["w2"].Opening!.Y);
        Assert.Null(bench.Models.Open(id, level, CancellationToken.None).View.Valve!.Between);
        // Its part has the symbol as its picture and a port on each side where one was drawn.
        var part = bench.Models.Open(id, PartPath.Root, CancellationToken.None).View.Parts["v"];
        Assert.NotNull(part.Drawing);
        Assert.Equal("top", part.Ports.Single(p => p.Name == "A").Side);
    }

    [Fact]
    public void A_new_valve_runs_at_once()
    {
        var id = bench.Create(new DiagramDefinition { Name = "Empty" }.AsModel());
        bench.Models.Restructure(id, new EditOrigin(0, PartPath.Root, null, null), new MakeValve { X = 96, Y = 96 }, default);
        var opened = bench.Models.Open(id, PartPath.Root, CancellationToken.None);
        Assert.Equal(5, opened.View.Parts.Values.Single().Ports.Count);
        Assert.DoesNotContain(opened.View.Findings, f => f.Code.StartsWith("valve", StringComparison.Ordinal));
    }

    [Theory]
    [InlineData("0.5 bar", "0", null, "no number in a unit such as m3/s")]
    [InlineData("40 l/min", "2", null, "between")]
    [InlineData("40 l/min", "0", "0 0; 0 1", "rise")]
    [InlineData("40 l/min", "0", "0 0; 2 1", "from 0 to 1")]
    [InlineData("0", "0", null, "more than zero")]
    public void What_cannot_be_is_told_with_the_part(string flow, string overlap, string? curve, string words)
    {
        var id = bench.Create(Rig(Valve(Way("P", "A") with { Flow = flow, Overlap = overlap, Curve = curve })));
        var findings = bench.Models.Open(id, PartPath.Root, CancellationToken.None).View.Findings;
        Assert.Contains(findings, f => f.Severity == "error" && f.Message.Contains(words, StringComparison.Ordinal));
    }

    [Fact]
    public void Its_review_tells_what_was_forgotten()
    {
        var forgotten = Valve(Way("P", "A") with { Overlap = "-0.5" }) with { Actuation = Actuation.PilotOneSide };
        forgotten.Ports["B"] = new ValvePortNode { Name = "B", Order = 2 };
        forgotten.Positions["s2"].Paths["w3"] = Way("P", "T");
        var codes = forgotten.Review().Select(f => f.Code).ToList();
        Assert.Contains("valve-unused-port", codes);
        Assert.Contains("valve-one-side", codes);
        Assert.Contains("valve-transition", codes);
    }

    [Fact]
    public void Broken_valves_are_refused()
    {
        foreach (
            var break_ in (Func<ValveDefinition, ValveDefinition>[])
                [v => v with { Positions = null! }, v => v with { Stroke = null! }, v => v with { Actuation = (Actuation)9 }]
        )
            Assert.Throws<DocumentException>(() => bench.Create(DocumentLimits.Checked(Rig(break_(Valve(Way("P", "A")))))));
    }
}
