using AnchorBend.Compiler.Preparation;
using AnchorBend.Modeling;
using AnchorBend.Modeling.Catalog;
using AnchorBend.Modeling.Documents;
using AnchorBend.Simulation;

namespace AnchorBend.Interchange.Tests;

/// <summary>What hangs loose stops nothing else, and open ports are told by name.</summary>
public class LooseNetworkTests
{
    static ModelDocument Document(Dictionary<string, (string Type, string Name)> parts, params string[] wires) =>
        new DiagramDefinition
        {
            Name = "M",
            Parts = parts.ToDictionary(p => p.Key, p => new PartNode { Type = p.Value.Type, Name = p.Value.Name }),
            Wires = wires
                .Select((w, i) => (w.Split(' '), i))
                .ToDictionary(w => $"w{w.i}", w => new WireNode { From = Port(w.Item1[0]), To = Port(w.Item1[1]) }),
        }.AsModel();

    static PortReference Port(string text) => new(text.Split('.')[0], text.Split('.')[1]);

    static ModelDocument Lag(params (string Id, string Type, string Name)[] more)
    {
        var parts = new Dictionary<string, (string, string)> { ["s"] = ("Step", "Step"), ["l"] = ("Lag", "Lag") };
        foreach (var (id, type, name) in more)
            parts[id] = (type, name);
        return Document(parts, "s.y l.u");
    }

    static double LagAtEnd(PreparedModel prepared)
    {
        using var simulator = new Simulator(
            prepared.Compiled!,
            new ParameterSet(prepared.Model),
            new RunOptions { End = 3, OutputTimes = [3] }
        );
        var result = simulator.Run();
        Assert.Null(result.Failure);
        return result.Trace.At(prepared.Compiled!.Plan.RepresentativeOf("Lag.y"), 3);
    }

    public static TheoryData<string> PhysicalParts =>
        [.. PartCatalog.Standard.Parts.Where(p => p.Ports.Any(q => q.Domain is not null)).Select(p => p.Name).Except(["LossyGear"])];

    [Theory]
    [MemberData(nameof(PhysicalParts))]
    public void A_physical_part_just_placed_stops_nothing(string type)
    {
        var prepared = DocumentPreparation.Prepare(Lag(("x", type, "New one")), PartCatalog.Standard);
        Assert.True(prepared.CanRun, string.Join("\n", prepared.Findings.Select(f => f.Message)));
        Assert.Equal(1 - Math.Exp(-2), LagAtEnd(prepared), 1e-5);
        Assert.DoesNotContain(prepared.Findings, f => f.Severity == Severity.Error);
        // What is left out says so, with a port and a click that ends it.
        foreach (var finding in prepared.Findings.Where(f => f.Code == "left-out"))
        {
            Assert.Equal("x", finding.Place?.ToString());
            Assert.Contains("'New one' is left out", finding.Message, StringComparison.Ordinal);
            Assert.NotNull(finding.Fix);
        }
    }

    [Fact]
    public void The_fix_of_a_loose_part_makes_it_run()
    {
        var document = Lag(("x", "Spring", "Spring"), ("m", "ForceSensor", "Sensor"));
        document = document.WithMain(
            document.Main with
            {
                Wires = new(document.Main.Wires)
                {
                    ["v"] = new WireNode { From = new("x", "b"), To = new("m", "a") },
                },
            }
        );
        var finding = Assert.Single(DocumentPreparation.Prepare(document, PartCatalog.Standard).Findings, f =>
            f.Code is "left-out" or "open-port"
        );
        Assert.Contains("'Spring' and 'Sensor' hang together", finding.Message, StringComparison.Ordinal);
        var json = System.Text.Json.Nodes.JsonNode.Parse(document.ToJson())!;
        var mended = ModelDocument.FromJson(JsonPatch.Apply(json, finding.Fix!.Operations).Result.ToJsonString());
        var prepared = DocumentPreparation.Prepare(mended, PartCatalog.Standard);
        Assert.True(prepared.CanRun);
        Assert.DoesNotContain(prepared.Findings, f => f.Code == "left-out");
    }

    [Fact]
    public void A_circuit_without_a_ground_beside_a_working_model_is_left_out()
    {
        var document = Lag(("v", "VoltageSource", "Source"), ("r", "Resistor", "Load"));
        document = document.WithMain(
            document.Main with
            {
                Wires = new(document.Main.Wires)
                {
                    ["a"] = new WireNode { From = new("v", "p"), To = new("r", "p") },
                    ["b"] = new WireNode { From = new("v", "n"), To = new("r", "n") },
                },
            }
        );
        var prepared = DocumentPreparation.Prepare(document, PartCatalog.Standard);
        Assert.True(prepared.CanRun);
        var finding = Assert.Single(prepared.Findings, f => f.Code == "left-out");
        Assert.Equal("Connect a ground", finding.Fix!.Label);
    }

    [Fact]
    public void Where_the_whole_model_is_one_loose_network_its_open_ports_come_first()
    {
        var prepared = DocumentPreparation.Prepare(
            Document(new() { ["f"] = ("ForceSensor", "Sensor"), ["d"] = ("Damper", "Damper") }, "f.b d.a"),
            PartCatalog.Standard
        );
        Assert.False(prepared.CanRun);
        Assert.Equal("open-port", prepared.Findings[0].Code);
        Assert.Contains(prepared.Findings, f => f.Code == "open-port" && f.Message.Contains("'b' of 'Damper'", StringComparison.Ordinal));
    }

    [Fact]
    public void An_open_hydraulic_port_is_a_warning_although_the_model_runs()
    {
        var document = Document(
            new()
            {
                ["t"] = ("Reservoir", "Tank"),
                ["p"] = ("Pump", "Pump"),
                ["s"] = ("SpeedSourceOf", "none"),
            },
            "t.a p.a"
        );
        document = document.WithMain(document.Main with { Parts = document.Main.Parts.Where(p => p.Key != "s").ToDictionary() });
        var prepared = DocumentPreparation.Prepare(document, PartCatalog.Standard);
        Assert.Contains(prepared.Findings, f =>
            f.Code == "open-port" && f.Message.Contains("'b' of 'Pump' is open", StringComparison.Ordinal)
        );
    }

    [Fact]
    public void Errors_of_another_kind_leave_nothing_out()
    {
        var document = Lag(("x", "Spring", "Spring"));
        document = document.WithMain(
            document.Main with
            {
                Parts = new(document.Main.Parts) { ["l"] = document.Main.Parts["l"] with { Parameters = new() { ["T"] = "2 *" } } },
            }
        );
        var prepared = DocumentPreparation.Prepare(document, PartCatalog.Standard);
        Assert.False(prepared.CanRun);
        Assert.DoesNotContain(prepared.Findings, f => f.Code == "left-out");
    }
}
