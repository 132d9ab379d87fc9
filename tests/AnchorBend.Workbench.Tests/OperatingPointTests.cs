using AnchorBend.Modeling.Documents;
using AnchorBend.Simulation;
using AnchorBend.Workbench.Compute;
using AnchorBend.Workbench.Models;
using AnchorBend.Workbench.Parts;
using AnchorBend.Workbench.Runs;
using AnchorBend.Workbench.Tuning;
using static AnchorBend.Tests.Diagrams;

namespace AnchorBend.Workbench.Tests;

/// <summary>Operating points that are found, saved with the model, looked from and begun at.</summary>
public sealed class OperatingPointTests : IDisposable
{
    readonly Bench bench = new();
    readonly SteadyStates steady = new(new ComputeGate());

    public void Dispose() => bench.RunStore.Dispose();

    static readonly SteadyRequest Rest = new(null, null, false, null, null, null, null);

    /// <summary>A lag behind a step: rests at k times what the step gives.</summary>
    static ModelDocument Lagging(params (string Id, OperatingPointNode Point)[] points) =>
        new DiagramDefinition
        {
            Name = "Basin",
            Parts = new()
            {
                ["s"] = Part("Step", "Inflow", ("height", "2"), ("startTime", "3 s")),
                ["l"] = Part("Lag", "Level", ("k", "4"), ("T", "1 s"), ("y0", "1")),
            },
            Wires = new() { ["w"] = Wire("s.y", "l.u") },
        }.AsModel() with
        {
            OperatingPoints = points.ToDictionary(p => p.Id, p => p.Point),
            Settings = new RunSettings { End = "10 s", Live = false },
        };

    ModelSession Session(ModelDocument document) => bench.Models.Session(bench.Create(document));

    static RestView Of(SteadyAnswer answer, string signal) => answer.Values.Single(v => v.Signal == signal);

    [Fact]
    public void A_point_found_with_free_parameters_is_saved_by_identities()
    {
        var session = Session(Lagging());
        var answer = steady.Steady(
            session,
            Rest with
            {
                Fixed = [new FixedSignal("Level.y", "12", null, null)],
                Free = [new FreedParameter("Inflow.offset", null, null)],
                Set = [new SetParameter("Level.k", "6")],
            },
            default
        );
        Assert.True(answer.IsMet);
        Assert.Equal(2, answer.Free[0].Value, 1e-7);
        Assert.Equal(12, Of(answer, "Level.y").Value, 1e-6);
        Assert.Equal(["l.k", "s.offset"], answer.Node.Parameters.Select(p => p.Target).Order());
        Assert.Equal("l.y", answer.Node.Fixed[0].Target);
        Assert.Equal(12, answer.Node.States.Single(s => s.Target == "l.x").Value, 1e-6);

        // Found again from the saved point the model is the one of the point.
        var kept = Session(Lagging(("o", answer.Node with { Name = "Full" })));
        var again = steady.Steady(kept, Rest with { Point = "o" }, default);
        Assert.Equal(12, Of(again, "Level.y").Value, 1e-6);
        Assert.Equal(0, Of(steady.Steady(kept, Rest, default), "Level.y").Value, 1e-9);
        Assert.Throws<RefusedException>(() => steady.Steady(kept, Rest with { Point = "gone" }, default));
    }

    [Fact]
    public async Task Runs_begin_at_the_chosen_point_with_its_values()
    {
        var node = new OperatingPointNode
        {
            Name = "Full",
            Rests = false,
            At = 2,
            Parameters = [new PointValueNode("l.k", "5")],
            States = [new PointStateNode("l.x", 7)],
        };
        var document = Lagging(("o", node));
        document = document with { Settings = document.Settings with { Point = "o" } };
        var options = DocumentRun.OptionsOf(document);
        Assert.Equal((2, false), (options.Start, options.SteadyStart));
        Assert.Equal(7, options.From!.Values["Level.x"]);

        var job = await bench.Run(bench.Create(document));
        var level = new RunResults(job).Curve("l.y")!;
        Assert.Equal(2, level.Times[0]);
        Assert.Equal(7, level.Values[0], 1e-9);
        // To 5 · 2 from what is left of 7 a second later, when the step comes.
        Assert.Equal(10 + (7 * Math.Exp(-1) - 10) * Math.Exp(-7), level.Values[^1], 1e-4);
    }

    [Fact]
    public void A_value_that_the_point_sets_is_not_changed_by_the_field()
    {
        var node = new OperatingPointNode { Name = "Full", Parameters = [new PointValueNode("l.k", "5")] };
        var document = Lagging(("o", node));
        var id = bench.Create(document with { Settings = document.Settings with { Point = "o" } });
        double Gain() =>
            bench.Models.Session(id).Prepare().Prepared is var p
                ? new Compiler.Preparation.ParameterSet(p.Model).Values[p.Find("Level.k")!.Index]
                : 0;
        Assert.Equal(5, Gain());
        bench.Edit(id, new PatchOperation("replace", "/definitions/main/parts/l/parameters/k", "9"));
        Assert.Equal(5, Gain());
        bench.Edit(id, new PatchOperation("replace", "/settings/point", ""));
        Assert.Equal(9, Gain());
    }

    [Fact]
    public void What_is_gone_is_told()
    {
        var node = new OperatingPointNode { Name = "Full", Parameters = [new PointValueNode("gone.k", "5")] };
        var document = Lagging(("o", node));
        string Told(string point) =>
            Assert
                .Single(Session(document with { Settings = document.Settings with { Point = point } }).Prepare().Prepared.Findings, f =>
                    f.Code == "operating-point"
                )
                .Message;
        Assert.Contains("part that is not in the model", Told("o"), StringComparison.Ordinal);
        Assert.Contains("not in the model any more", Told("p"), StringComparison.Ordinal);
        var late = document with
        {
            OperatingPoints = new() { ["o"] = node with { At = 20, Rests = false, Parameters = [] } },
            Settings = document.Settings with { Point = "o" },
        };
        Assert.Contains(
            "does not lie behind it",
            Assert.Throws<DocumentException>(() => DocumentRun.OptionsOf(late)).Message,
            StringComparison.Ordinal
        );
    }

    [Fact]
    public void A_series_goes_from_point_to_point_and_tells_where_there_is_none()
    {
        var session = Session(Lagging());
        var over = steady.Series(session, new SeriesRequest(Rest, "Inflow.offset", "1", "3", 3), default);
        Assert.Equal([1.0, 2, 3], over.Points.Select(p => p.Value));
        Assert.Equal([4.0, 8, 12], over.Points.Select(p => Math.Round(Of(p.Found!, "Level.y").Value, 6)));

        // Along the run the step comes in between.
        var along = steady.Series(session, new SeriesRequest(Rest, null, "1", "5 s", 2), default);
        Assert.Equal([0.0, 8], along.Points.Select(p => Math.Round(Of(p.Found!, "Level.y").Value, 6)));
        Assert.Equal(5, along.Points[1].Found!.Node.At);

        var wanted = steady.Series(
            session,
            new SeriesRequest(Rest with { Free = [new FreedParameter("Inflow.offset", "0", "2")] }, "Level.y", "4", "12", 3),
            default
        );
        Assert.Equal([true, true, false], wanted.Points.Select(p => p.Found!.IsMet));
        Assert.Throws<Design.DesignException>(() => steady.Series(session, new SeriesRequest(Rest, "Level.k", "1", "1", 3), default));
        Assert.Throws<Design.DesignException>(() => steady.Series(session, new SeriesRequest(Rest, "Level.k", "1", "2", 1), default));
    }

    [Fact]
    public void An_instant_is_what_the_run_has_come_to()
    {
        var answer = steady.Steady(Session(Lagging()), Rest with { At = 2, IsInstant = true }, default);
        Assert.False(answer.Node.Rests);
        Assert.Equal(2, answer.Node.At);
        Assert.Equal(Math.Exp(-2), answer.Node.States.Single(s => s.Target == "l.x").Value, 1e-5);
    }

    [Theory]
    [InlineData("{\"name\": \"\"}")]
    [InlineData("{\"name\": \"P\", \"states\": [null]}")]
    [InlineData("{\"name\": \"P\", \"parameters\": [{\"target\": \"\", \"value\": \"1\"}]}")]
    [InlineData("{\"name\": \"P\", \"free\": null}")]
    public void Points_that_are_incomplete_are_refused(string json)
    {
        var id = bench.Create(Lagging());
        Assert.Throws<DocumentException>(() =>
            bench.Edit(id, new PatchOperation("add", "/operatingPoints/o", System.Text.Json.Nodes.JsonNode.Parse(json)))
        );
        Assert.Empty(bench.Models.Session(id).Document.OperatingPoints);
    }
}
