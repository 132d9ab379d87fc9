using AnchorBend.Compiler.Preparation;
using AnchorBend.Modeling.Catalog;
using AnchorBend.Modeling.Documents;
using AnchorBend.Modeling.Restructuring;
using AnchorBend.Simulation;
using AnchorBend.Workbench.Models;

namespace AnchorBend.Workbench.Tests;

/// <summary>Subsystems made of parts and dissolved again, on the examples.</summary>
public class SubsystemTests
{
    /// <summary>Examples with the parts that go together, and how many ports they need.</summary>
    public static TheoryData<string, string[], int> Selections =>
        new()
        {
            { "Plankton winch, on one level", ["Net weight", "Force on net", "Net", "Depth", "Water drag"], 2 },
            { "Plankton winch, on one level", ["Drive", "Torque", "Rotor", "Friction", "Drum and gear"], 4 },
            { "Plankton winch, on one level", ["Swell", "Chop", "Heave"], 1 },
            { "Winch, two ways", ["Rotor inertia", "Gearbox", "Drum", "Bearings", "Boat"], 2 },
            { "Lamp buoy", ["Lamp switch", "Lamp", "Ground 2", "Daylight", "Night", "Lamp on", "Charge enough"], 4 },
            { "Hatchery loop", ["Heater body", "Heater to water", "Loop water"], 2 },
            { "Survey boat", ["Boat", "Sensors"], 2 },
        };

    static ModelDocument Example(string name) => Examples.All().Values.First(e => e.Name == name);

    static string[] Ids(ModelDocument model, params string[] names) =>
        [.. names.Select(n => model.Main.Parts.First(p => p.Value.Name == n).Key)];

    static ModelDocument Changed(ModelDocument model, Restructuring change)
    {
        var made = change.Of(model, PartCatalog.Of(model));
        // What is sent and stored are the operations.
        var editable = new EditableDocument((System.Text.Json.Nodes.JsonObject)System.Text.Json.Nodes.JsonNode.Parse(model.ToJson())!);
        editable.Apply(DocumentDifference.Between(model, made.Document));
        Assert.Equal(made.Document.ToJson().Length, editable.Document.ToJson().Length);
        return editable.Document;
    }

    static PreparedModel Prepared(ModelDocument model)
    {
        var prepared = DocumentPreparation.Prepare(model, PartCatalog.Of(model));
        Assert.True(prepared.CanRun, string.Join("\n", prepared.Findings.Select(f => $"{f.Part} {f.Item}: {f.Message}")));
        return prepared;
    }

    static (double[] Times, Func<string, double[]?> Values) Run(ModelDocument model)
    {
        var prepared = Prepared(model);
        // Steps that are fixed: what adapts them sums errors over the states, in the order that the parts stand in.
        var options = new RunOptions
        {
            End = 5,
            Method = IntegrationMethod.RungeKutta4,
            Step = 1e-3,
        };
        using var simulator = new Simulator(prepared.Compiled!, new ParameterSet(prepared.Model), options);
        var result = simulator.Run();
        Assert.Null(result.Failure);
        return ([.. result.Trace.Times], name =>
            prepared.Find(name) is { } v && prepared.Compiled!.Plan.Representative[v.Index] is var place && result.Trace.Has(place)
                ? [.. result.Trace.Column(place)]
                : null
        );
    }

    [Theory]
    [MemberData(nameof(Selections))]
    public void A_subsystem_computes_the_same_bits_as_its_parts_did(string example, string[] parts, int ports)
    {
        var before = Example(example);
        var ids = Ids(before, parts);
        var after = Changed(before, new MakeSubsystem { Parts = ids, Name = "Inside" });
        var made = after.Main.Parts.First(p => p.Value.Name == "Inside");
        var inside = after.DiagramOf(made.Value)!;
        Assert.Equal(ports, inside.Parts.Count - ids.Length);
        Assert.All(ids, id => Assert.Equal((before.Main.Parts[id].X, before.Main.Parts[id].Y), (inside.Parts[id].X, inside.Parts[id].Y)));
        var (old, now) = (Run(before), Run(after));
        Assert.Equal(old.Times, now.Times);
        foreach (var (id, part) in before.Main.Parts)
        {
            var path = ids.Contains(id) ? $"{made.Key}/{id}" : id;
            foreach (var port in PartCatalog.Of(before).Describe(part.Type).Ports)
                Assert.Equal(old.Values($"{id}.{port.Name}"), now.Values($"{path}.{port.Name}"));
        }
    }

    [Theory]
    [MemberData(nameof(Selections))]
    public void Dissolving_leads_back(string example, string[] parts, int ports)
    {
        _ = ports;
        var before = Example(example);
        var made = Changed(before, new MakeSubsystem { Parts = Ids(before, parts), Name = "Inside" });
        var back = Changed(made, new Dissolve { Part = made.Main.Parts.First(p => p.Value.Name == "Inside").Key });
        Assert.Equal(before.Definitions.Keys, back.Definitions.Keys);
        Assert.Equal(before.Main.Parts.Keys.Order(), back.Main.Parts.Keys.Order());
        foreach (var (id, part) in before.Main.Parts)
        {
            var now = back.Main.Parts[id];
            Assert.Equal((part.X, part.Y, part.Name, part.Type), (now.X, now.Y, now.Name, now.Type));
            Assert.Equal(part.Parameters, now.Parameters);
        }

        Assert.Equal(Ends(before), Ends(back));
        Assert.Equal(
            before.Main.Signals.OrderBy(s => s.Key).Select(s => (s.Key, s.Value.Name, s.Value.Probe)),
            back.Main.Signals.OrderBy(s => s.Key).Select(s => (s.Key, s.Value.Name, s.Value.Probe))
        );
        Assert.Equal(before.Requirements.Values.Select(r => r.Signal), back.Requirements.Values.Select(r => r.Signal));
    }

    [Fact]
    public void What_was_asked_of_a_signal_that_goes_out_is_asked_of_the_port()
    {
        var before = Example("Plankton winch, on one level");
        var after = Changed(before, new MakeSubsystem { Parts = Ids(before, "Net", "Depth"), Name = "Net" });
        var made = after.Main.Parts.First(p => p.Value.Name == "Net").Key;
        Assert.Equal(($"{made}.depth", "set.y"), (after.Requirements["r1"].Signal, after.Requirements["r1"].Reference));
        Assert.Equal(0, after.Main.Signals[$"{made}.depth"].Probe);
    }

    public static TheoryData<string> EveryExample => [.. Examples.All().Values.Select(e => e.Name)];

    [Theory]
    [MemberData(nameof(EveryExample))]
    public void Any_selection_can_be_enclosed_runs_and_comes_out_again(string example)
    {
        var before = Example(example);
        var random = new Random(20261128);
        for (var turn = 0; turn < 12; turn++)
        {
            var chosen = before.Main.Parts.Keys.Where(_ => random.NextDouble() < 0.1 + 0.07 * turn).ToArray();
            if (chosen.Length == 0)
                continue;
            var what = $"seed 20261128, turn {turn}: {string.Join(", ", chosen)}";
            var made = Changed(before, new MakeSubsystem { Parts = chosen });
            var prepared = DocumentPreparation.Prepare(made, PartCatalog.Of(made));
            Assert.True(prepared.CanRun, $"{what}\n{string.Join("\n", prepared.Findings.Select(f => $"{f.Part} {f.Item}: {f.Message}"))}");
            var back = Changed(made, new Dissolve { Part = made.Main.Parts.Keys.Single(k => !before.Main.Parts.ContainsKey(k)) });
            Assert.Equal(Ends(before), Ends(back));
            Assert.Equal(before.Main.Parts.Keys.Order(), back.Main.Parts.Keys.Order());
            Assert.All(before.Main.Parts, p => Assert.Equal(p.Value.Parameters, back.Main.Parts[p.Key].Parameters));
            Assert.Equal(
                before.Requirements.Values.Select(r => (r.Signal, r.Reference)),
                back.Requirements.Values.Select(r => (r.Signal, r.Reference))
            );
        }
    }

    /// <summary>What is joined with what: physical wires of one network may join it in any order.</summary>
    static IEnumerable<string> Ends(ModelDocument model)
    {
        var networks = new List<HashSet<PortReference>>();
        foreach (var wire in model.Main.Wires.Values)
        {
            var joined = networks.Where(n => n.Contains(wire.From) || n.Contains(wire.To)).ToList();
            networks.RemoveAll(joined.Contains);
            networks.Add([wire.From, wire.To, .. joined.SelectMany(n => n)]);
        }

        return networks.Select(n => string.Join(' ', n.Select(p => $"{p.Part}.{p.Port}").Order())).Order();
    }
}
