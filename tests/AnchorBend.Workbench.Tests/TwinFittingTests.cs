using AnchorBend.Design;
using AnchorBend.Modeling.Documents;
using AnchorBend.Modeling.Valves;
using AnchorBend.Workbench.Parts;
using static AnchorBend.Tests.Diagrams;

namespace AnchorBend.Workbench.Tests;

/// <summary>Crude valves that are fitted to the flows of detailed ones.</summary>
public sealed class TwinFittingTests : IDisposable
{
    readonly Bench bench = new();

    public void Dispose() => bench.RunStore.Dispose();

    TwinAnswer Fit(ModelDocument model, string drop = "35 bar") =>
        new TwinFitting(bench.Models, bench.Compute).Of(bench.Create(model), new TwinRequest("v", drop), CancellationToken.None);

    /// <summary>Opening of a path read off its curve.</summary>
    static double Opening(ValvePathNode path, double near)
    {
        var points = ValveNumbers.Opening(path, Transition.AsOverlapped);
        var after = points.First(p => p.X >= near);
        var before = points.Last(p => p.X <= near);
        return after.X == before.X ? after.Y : before.Y + (after.Y - before.Y) * (near - before.X) / (after.X - before.X);
    }

    static ModelDocument Rig(string type, params (string, string)[] parameters) =>
        new DiagramDefinition
        {
            Name = "Rig",
            Parts = new() { ["v"] = Part(type, "Valve", parameters) },
        }.AsModel();

    /// <summary>Edges of 10 mm2 that open in proportion after a tenth of the stroke: 0.7 · 9 mm2 · √(2 · 35 bar / 854.8 kg/m3) at its end.
    /// A spool of critical damping is at 63 % of a step when (1 + ωt) e^−ωt = 1/e: ωt = 2.146.</summary>
    [Fact]
    public void A_four_way_valve_gets_the_flows_and_the_lag_that_it_has()
    {
        var answer = Fit(Rig("FourWayValve", ("area", "10 mm2"), ("overlap", "0.1"), ("f", "10 Hz"), ("D", "1")));
        var valve = Assert.IsType<ValveDefinition>(answer.Valve);
        Assert.Equal(["p", "a", "b", "t"], valve.Ports.Values.OrderBy(p => p.Order).Select(p => p.Name));
        var path = Assert.Single(valve.Positions["s3"].Paths.Values, p => p is { From: "p1", To: "p2" });
        Assert.Equal(PathKind.Plain, path.Kind);
        var full = 0.7 * 9e-6 * Math.Sqrt(2 * 35e5 / 854.775);
        Assert.Equal(full, ValveNumbers.Of(path.Flow, "m3/s", "flow"), 0.01 * full);
        Assert.Equal(0.5, Opening(path, 0.55), 0.01);
        Assert.Empty(valve.Positions["s2"].Paths);
        Assert.Equal(2, valve.Positions["s1"].Paths.Count);
        Assert.Equal(ValveDynamics.Lag, valve.Dynamics);
        Assert.Equal(2.146 / (2 * Math.PI * 10), ValveNumbers.Of(valve.Lag, "s", "lag"), 1e-3);
        Assert.Contains("At 35 bar its flows differ from those of Valve by", answer.Words, StringComparison.Ordinal);
    }

    static ValvePathNode Way(string from, string to, PathKind kind = PathKind.Plain, string? curve = null) =>
        new()
        {
            From = from,
            To = to,
            Kind = kind,
            Flow = "40 l/min",
            Drop = "35 bar",
            Overlap = "0",
            Curve = curve,
        };

    /// <summary>Its spool has a mass; P goes to A by a curve through a check valve at last; in the neutral position A goes to T.</summary>
    static ModelDocument Drawn()
    {
        var model = Rig("#drawn");
        model.Definitions["drawn"] = new ValveDefinition
        {
            Name = "Drawn",
            Neutral = "s2",
            Dynamics = ValveDynamics.Mass,
            Leakage = "0",
            Ports =
            {
                ["P"] = new ValvePortNode { Name = "P" },
                ["T"] = new ValvePortNode { Name = "T", Order = 1 },
                ["A"] = new ValvePortNode { Name = "A", Side = PortSide.Top },
            },
            Positions =
            {
                ["s1"] = new ValvePositionNode { Name = "hold" },
                ["s2"] = new ValvePositionNode
                {
                    Name = "drain",
                    Order = 1,
                    Paths = { ["w1"] = Way("A", "T") },
                },
                ["s3"] = new ValvePositionNode
                {
                    Name = "fill",
                    Order = 2,
                    Paths = { ["w2"] = Way("P", "A", PathKind.Check, "0 0; 0.5 0.1; 1 1") },
                },
            },
        };
        return model;
    }

    [Fact]
    public void A_drawn_valve_gets_back_its_check_valve_its_curve_and_what_drains_in_the_middle()
    {
        var valve = (ValveDefinition)Fit(Drawn()).Valve;
        var fill = Assert.Single(valve.Positions["s3"].Paths.Values);
        Assert.Equal(PathKind.Check, fill.Kind);
        Assert.Equal("P → A", ValveWordsOf(valve, fill));
        Assert.Equal(40, ValveNumbers.Of(fill.Flow, "m3/s", "flow") * 6e4, 0.2);
        Assert.Equal(0.1, Opening(fill, 0.5), 0.005);
        var drain = Assert.Single(valve.Positions["s2"].Paths.Values);
        Assert.Equal(PathKind.Plain, drain.Kind);
        Assert.Equal(0.5, Opening(drain, 0.5), 0.02);
        Assert.Empty(valve.Positions["s1"].Paths);
    }

    static string ValveWordsOf(ValveDefinition valve, ValvePathNode path) => $"{valve.Ports[path.From].Name} → {valve.Ports[path.To].Name}";

    /// <summary>Mass 0.15 kg on 80 kN/m with 120 N·s/m: 116 Hz, damping 0.55; at 63 % after about 2.3 ms.</summary>
    [Fact]
    public void The_twin_runs_in_the_place_of_the_valve()
    {
        var model = Drawn();
        model.Definitions["twin"] = Fit(model).Valve;
        model = model with { Definitions = new(model.Definitions) { ["main"] = Rig("#twin").Definitions["main"] } };
        var again = Fit(model);
        Assert.Equal("Valve crude", ((ValveDefinition)model.Definitions["twin"]).Name);
        var error = double.Parse(again.Words.Split(" by ")[1].Split(' ')[0], System.Globalization.CultureInfo.InvariantCulture);
        Assert.InRange(error, 0, 1);
        Assert.InRange(ValveNumbers.Of(((ValveDefinition)again.Valve).Lag, "s", "lag"), 1e-3, 5e-3);
    }

    [Theory]
    [InlineData("Cylinder", "35 bar", "is no valve")]
    [InlineData("Gain", "35 bar", "is no valve")]
    [InlineData("FourWayValve", "much", "no drop of pressure")]
    [InlineData("FourWayValve", "-5 bar", "no drop of pressure")]
    public void What_cannot_be_fitted_is_told(string type, string drop, string said) =>
        Assert.Contains(said, Assert.Throws<DesignException>(() => Fit(Rig(type), drop)).Message, StringComparison.Ordinal);

    [Fact]
    public void A_part_that_is_not_there_is_told()
    {
        var id = bench.Create(Rig("FourWayValve"));
        Assert.Throws<DesignException>(() => new TwinFitting(bench.Models, bench.Compute).Of(id, new("gone", "35 bar"), default));
        Assert.Throws<DesignException>(() => new TwinFitting(bench.Models, bench.Compute).Of(id, new("", "35 bar"), default));
    }

    /// <summary>The gate's valve is a slot that also tells its stroke; what is in it now is looked at.</summary>
    [Fact]
    public void A_valve_with_alternatives_gets_a_twin_of_the_one_that_is_in()
    {
        var id = bench.Create(Models.Examples.All()["tide-gate"]);
        var twin = new TwinFitting(bench.Models, bench.Compute).Of(id, new TwinRequest("valve", "35 bar"), default);
        var valve = (ValveDefinition)twin.Valve;
        Assert.Equal(["a", "b", "p", "t"], valve.Ports.Values.Select(p => p.Name).Order());
        // The spool follows with a lag of 8 ms.
        Assert.Equal(8e-3, ValveNumbers.Of(valve.Lag, "s", "lag"), 1e-3);
    }

    /// <summary>Whether jets pull is a switch of the level above: it counts in the twin too, as jets close the spool.</summary>
    [Fact]
    public void A_switch_of_the_level_above_counts()
    {
        double Full(string jets)
        {
            var model = Models.Examples.All()["tide-gate"];
            var main = (DiagramDefinition)model.Definitions[model.Root];
            main.Parameters["with_jet_forces"] = main.Parameters["with_jet_forces"] with { Value = jets };
            main.Parts["valve"].Parameters["alternative"] = "\"Spool\"";
            var id = bench.Create(model);
            var valve = (ValveDefinition)
                new TwinFitting(bench.Models, bench.Compute).Of(id, new TwinRequest("valve", "200 bar"), default).Valve;
            return valve.Positions["s3"].Paths.Values.Max(p => ValveNumbers.Of(p.Flow, "m3/s", "flow") * Opening(p, 0.5));
        }

        var (without, with) = (Full("false"), Full("true"));
        Assert.True(with < 0.999 * without, $"{with} against {without}");
    }
}
