using System.Text;
using AnchorBend.Modeling.Documents;
using AnchorBend.Simulation;
using AnchorBend.Verification.Measures;
using AnchorBend.Workbench.Models;
using AnchorBend.Workbench.Runs;
using AnchorBend.Workbench.Views;
using static AnchorBend.Tests.Diagrams;

namespace AnchorBend.Workbench.Tests;

/// <summary>Runs as they are listed, kept, compared, measured and recovered.</summary>
public sealed class ObserveTests : IDisposable
{
    readonly Bench bench = new();
    readonly string id;

    public ObserveTests() => id = bench.Create(Lagged());

    public void Dispose() => bench.RunStore.Dispose();

    /// <summary>A step of 2 through a lag of 0.5 s; its answer is called "level" and measured.</summary>
    static ModelDocument Lagged() =>
        new DiagramDefinition
        {
            Name = "Basin",
            Parts = new()
            {
                ["s"] = Part("Step", "Inflow", ("height", "2"), ("startTime", "1 s")),
                ["l"] = Part("Lag", "Basin", ("T", "0.5 s")),
            },
            Wires = new() { ["w"] = Wire("s.y", "l.u") },
            Signals = new()
            {
                ["l.y"] = new SignalNode
                {
                    Name = "level",
                    Unit = "cm",
                    Probe = 0,
                },
            },
        }.AsModel() with
        {
            Measures = new()
            {
                ["m1"] = new MeasureNode { Name = "Half way", Expression = "crossing(level, 1)" },
                ["m2"] = new MeasureNode { Name = "End", Expression = "final(level)" },
            },
            Settings = new RunSettings { End = "4 s", Live = false },
        };

    static PatchOperation Set(string path, string value) => new("add", path, value);

    Task<RunJob> Slower() => Changed(Set("/definitions/main/parts/l/parameters/T", "1 s"));

    Task<RunJob> Changed(params PatchOperation[] operations)
    {
        bench.Edit(id, operations);
        return bench.Run(id);
    }

    [Fact]
    public async Task Runs_are_listed_newest_first_with_what_is_said_of_them()
    {
        var first = await bench.Run(id);
        await bench.Run(id);
        bench.Runs.Put(first.Id, new RunLabel("before the slower basin", "ask Kari", false), default);
        var list = bench.Runs.List(id);
        Assert.Equal([2, 1], list.Select(r => r.Number));
        Assert.Equal(("before the slower basin", "ask Kari", "finished"), (list[1].Name, list[1].Note, list[1].State));
        Assert.Throws<DocumentException>(() => bench.Runs.Put(first.Id, new RunLabel(new string('x', 300), "", false), default));
    }

    [Fact]
    public async Task A_pinned_run_outlives_the_pool_with_its_traces_and_verdicts()
    {
        var run = await bench.Run(id);
        bench.Runs.Put(run.Id, new RunLabel("reference", "", true), default);
        var curve = new RunResults(run).Curve("l.y")!;
        // Another pool over the same store, as after a restart.
        var later = new RunPool(
            bench,
            bench.Compute,
            bench.KeptRuns,
            Microsoft.Extensions.Logging.Abstractions.NullLogger<RunPool>.Instance
        );
        Assert.Equal([("reference", true)], later.List(id).Select(r => (r.Name, r.IsPinned)));
        var found = later.Find(run.Id)!;
        Assert.Equal(curve.Values, new RunResults(found).Curve("l.y")!.Values);
        Assert.Equal(run.Options.End, found.Options.End);
        Assert.Equal(2, later.NextNumber(id));
        later.Put(run.Id, new RunLabel("reference", "", false), default);
        Assert.Empty(bench.RunStore.List(id));
        Assert.False(File.Exists(bench.RunStore.FileOf(run.Id)));
    }

    [Fact]
    public async Task Old_runs_go_and_pinned_ones_stay()
    {
        var pinned = await bench.Run(id);
        bench.Runs.Put(pinned.Id, new RunLabel("", "", true), default);
        for (var i = 0; i < 14; i++)
            await bench.Run(id);
        var list = bench.Runs.List(id);
        Assert.Contains(list, r => r.Number == 1);
        Assert.DoesNotContain(list, r => r.Number == 2);
        Assert.InRange(list.Count, 12, 14);
    }

    [Fact]
    public async Task Another_window_s_run_is_not_canceled()
    {
        bench.Edit(id, Set("/settings/end", "1e7 s"), Set("/settings/output", "1 s"), Set("/settings/largestStep", "1 ms"));
        var mine = bench.Runs.Start(bench.Models.Session(id), default, "mine");
        var theirs = bench.Runs.Start(bench.Models.Session(id), default, "theirs");
        var again = bench.Runs.Start(bench.Models.Session(id), default, "theirs");
        await theirs.Finished;
        Assert.Equal("canceled", theirs.Result!.Failure!.Code);
        Assert.Null(mine.Result);
        mine.Cancel();
        again.Cancel();
        await Task.WhenAll(mine.Finished, again.Finished);
    }

    [Fact]
    public async Task Why_two_runs_differ_is_told_with_the_place_and_the_signals()
    {
        var before = await bench.Run(id);
        var now = await Slower();
        var difference = bench.Comparison.Between(before.Id, now.Id, default);
        Assert.Equal("One place in the model differs; settings and method are the same.", difference.Summary);
        var place = Assert.Single(difference.Document).Differences.Single();
        Assert.Equal(("Basin", "T", "0.5 s", "1 s"), (place.Name, place.Fields[0].Field, place.Fields[0].Left, place.Fields[0].Right));
        // Both are 2(1 − e^−t/T): they part at the step, most at t = ln 2 with 2·(1/2 − 1/4).
        var level = difference.Signals.Single(s => s.Signal.Label == "level");
        Assert.Equal((50, 1 + Math.Log(2)), (level.Largest, level.At), new Near(0.01));
        Assert.Equal(1, level.Parts!.Value, 0.01);
        Assert.DoesNotContain(difference.Signals, s => s.Signal.Path.StartsWith("Inflow", StringComparison.Ordinal));
        var same = bench.Comparison.Between(now.Id, (await bench.Run(id)).Id, default);
        Assert.Equal(("They are the same run.", 0), (same.Summary, same.Signals.Count));
    }

    sealed class Near(double within) : IEqualityComparer<(double, double)>
    {
        public bool Equals((double, double) a, (double, double) b) =>
            Math.Abs(a.Item1 - b.Item1) < within && Math.Abs(a.Item2 - b.Item2) < within;

        public int GetHashCode((double, double) obj) => 0;
    }

    [Fact]
    public async Task Settings_that_differ_are_told_by_name()
    {
        var before = await bench.Run(id);
        var now = await Changed(Set("/settings/method", "rk4"), Set("/settings/step", "0.1 s"));
        var difference = bench.Comparison.Between(before.Id, now.Id, default);
        Assert.Contains(new SettingDifference("method", "auto", "rk4"), difference.Settings);
        Assert.Contains(new SettingDifference("step", "–", "0.1"), difference.Settings);
    }

    [Fact]
    public async Task Measures_have_a_value_for_each_run()
    {
        var (before, now) = (await bench.Run(id), await Slower());
        var measured = bench.Measures.Of(bench.Models.Session(id).Document, [before.Id, now.Id], default);
        Assert.Equal(1 + 0.5 * Math.Log(2), measured[0].Values["m1"].Value!.Value, 1e-5);
        Assert.Equal(1 + Math.Log(2), measured[1].Values["m1"].Value!.Value, 1e-5);
        Assert.Equal(
            ("cm", 100),
            (measured[0].Values["m2"].ShownUnit, measured[0].Values["m2"].Shown!.Value / measured[0].Values["m2"].Value!.Value)
        );
        Assert.True(bench.Measures.Try(now.Id, "maximum(levle)", default).IsWrong);
    }

    [Fact]
    public async Task What_was_not_kept_is_recovered_bit_for_bit()
    {
        var whole = await bench.Run(id);
        var session = bench.Models.Session(id);
        var (prepared, document, revision) = session.Prepare();
        var place = prepared.Compiled!.Plan.RepresentativeOf("Basin.y");
        var options = RunPool.OptionsOf(document) with { Keep = [place] };
        var job = new RunJob(id, revision, prepared, document, options);
        bench.Runs.Make(job);
        Assert.Equal(["s.y"], RunRecovery.Missing(job, ["s.y", "l.y"]));
        Assert.Null(new RunResults(job).Curve("s.y"));
        Assert.Equal(1, bench.Recovery.Recover(job.Id, ["s.y", "l.y"], default));
        var (expected, recovered) = (new RunResults(whole).Curve("s.y")!, new RunResults(job).Curve("s.y")!);
        Assert.Equal(expected.Times, recovered.Times);
        Assert.Equal(expected.Values, recovered.Values);
        Assert.Equal(0, bench.Recovery.Recover(job.Id, ["s.y"], default));
    }

    [Fact]
    public void Signals_are_found_by_name_part_unit_and_kind()
    {
        var (prepared, document, _) = bench.Models.Session(id).Prepare();
        var catalog = SignalCatalog.Of(prepared, document);
        FoundSignals Found(string? search, string? unit = null, string? kind = null, string part = "") =>
            catalog.Find(search, PartPath.TryParse(part, out var path) ? path : PartPath.Root, unit, kind, 0, 100);
        Assert.Equal("level", Found("lev").Signals[0].Label);
        Assert.Equal("l.y", Found("lev").Signals[0].Reference);
        Assert.All(Found(null, part: "s").Signals, s => Assert.Equal("Inflow", s.Part));
        Assert.All(Found(null, kind: "state").Signals, s => Assert.Equal("state", s.Kind));
        Assert.NotEmpty(Found(null, unit: "cm").Signals);
        Assert.Equal(0, Found("zebra").Matching);
        Assert.Equal(catalog.All.Count, Found("zebra").Total);
    }

    static MemoryStream Text(string text) => new(Encoding.UTF8.GetBytes(text));

    [Fact]
    public async Task Measured_data_becomes_a_run_that_is_compared_with_others()
    {
        const string logged = "time [ms];level [mm];pump\n0;0;1\n1000;0;1\n2000;1700;1\n4000;1990;0\n";
        var preview = bench.Import.Preview(id, Text(logged), default);
        Assert.Equal((4, 0.0, 4.0), (preview.Rows, preview.From, preview.To));
        Assert.Equal([("level [mm]", (string?)"l.y"), ("pump", null)], preview.Columns.Select(c => (c.Title, c.Signal)));
        var run = bench.Import.Take(id, "sluice.csv", Text(logged), preview.Columns, default);
        Assert.Equal(("sluice.csv", "finished"), (run.Source, run.State));
        var job = bench.Runs.Find(run.Id)!;
        Assert.Equal(1.7, new RunResults(job).Curve("l.y")!.At(2)!.Value, 1e-12);
        var difference = bench.Comparison.Between(run.Id, (await bench.Run(id)).Id, default);
        Assert.Equal("One of them was read from a file.", difference.Summary);
        Assert.Equal(1, difference.Compared);
        ColumnMapping[] wrong = [new("level [mm]", "K", "l.y", null)];
        Assert.Contains(
            "of another kind",
            Assert.Throws<DocumentException>(() => bench.Import.Take(id, "x", Text(logged), wrong, default)).Message
        );
        Assert.Throws<DocumentException>(() => bench.Import.Take(id, "x", Text(logged), [], default));
    }

    [Fact]
    public async Task Measured_data_with_gaps_is_compared_where_it_has_values()
    {
        const string logged = "time [s];level [cm]\n0;0\n1;\n2;180\n4;199\n";
        var run = bench.Import.Take(id, "logged.csv", Text(logged), bench.Import.Preview(id, Text(logged), default).Columns, default);
        var difference = bench.Comparison.Between(run.Id, (await bench.Run(id)).Id, default);
        var level = Assert.Single(difference.Signals);
        Assert.True(double.IsFinite(level.Largest) && double.IsFinite(level.Share), "What is sent on can be written as numbers.");
        Assert.True(level.Parts < 2, "They part where the first value is missing.");
    }

    [Fact]
    public async Task A_table_has_recorded_points_or_those_of_a_grid()
    {
        var results = new RunResults(await bench.Run(id));
        var grid = results.Table(["l.y", "gone"], 0.5);
        Assert.Equal([0, 0.5, 1, 1.5, 2, 2.5, 3, 3.5, 4], grid.Times);
        Assert.Equal("level [cm]", Assert.Single(grid.Columns).Title);
        Assert.Equal(200 * (1 - Math.Exp(-2)), grid.Columns[0].Values[4], 1e-3);
        Assert.Equal(results.Curve("l.y")!.Times, results.Table(["l.y"], null).Times);
    }

    string Expression(string measure) => bench.Models.Session(id).Document.Measures[measure].Expression;

    [Theory]
    // A name with a space stands in quotes from then on; signs of units before it keep their place.
    [InlineData(
        "/definitions/main/parts/l/name",
        "Lower basin",
        "maximum(Basin.y, from = 90° / 90 * 1 s)",
        "maximum('Lower basin'.y, from = 90° / 90 * 1 s)"
    )]
    [InlineData("/definitions/main/signals/l.y/name", "depth", "final(level) - level_0*0", "final(depth) - level_0*0")]
    [InlineData("/definitions/main/parts/s/name", "Basin.y", "final(Basin.y)", "final(Basin.y)")]
    public void Measures_follow_a_new_name_in_the_same_edit(string path, string name, string before, string after)
    {
        bench.Edit(id, new PatchOperation("replace", "/measures/m2/expression", before));
        var revision = bench.Models.Session(id).Revision;
        var accepted = bench.Models.Session(id).Edit(revision, "Rename", [new PatchOperation("replace", path, name)]);
        Assert.Equal(after, Expression("m2"));
        Assert.Equal(before == after ? 1 : 2, accepted.Operations.Count(o => !o.Path.StartsWith("/measures/m1", StringComparison.Ordinal)));
        bench.Models.Session(id).Undo(revision + 1);
        Assert.Equal(before, Expression("m2"));
        bench.Models.Session(id).Redo(revision + 2);
        Assert.Equal(after, Expression("m2"));
    }

    [Fact]
    public async Task Runs_from_before_a_new_name_are_measured_by_the_name_of_then()
    {
        var before = await bench.Run(id);
        bench.Edit(id, new PatchOperation("replace", "/definitions/main/signals/l.y/name", "depth"));
        var after = await bench.Run(id);
        var measures = new RunMeasures(bench.Runs, new Compute.ComputeGate());
        var values = measures.Of(bench.Models.Session(id).Document, [before.Id, after.Id], default);
        Assert.All(values, v => Assert.Equal(200 * (1 - Math.Exp(-6)), v.Values["m2"].Shown!.Value, 1e-3));
        Assert.Equal(["final(level)", "final(depth)"], values.Select(v => v.Values["m2"].Expression));
    }

    [Fact]
    public void A_measure_that_cannot_be_read_stays_as_it_was_typed()
    {
        bench.Edit(id, new PatchOperation("replace", "/measures/m2/expression", "final(level"));
        bench.Edit(id, new PatchOperation("replace", "/definitions/main/signals/l.y/name", "depth"));
        Assert.Equal("final(level", Expression("m2"));
        Assert.Equal("crossing(depth, 1)", Expression("m1"));
    }

    [Fact]
    public async Task A_requirement_on_a_measure_is_judged_with_every_run_and_goes_with_its_measure()
    {
        var requirement = System.Text.Json.Nodes.JsonNode.Parse(
            """{"name":"Deep enough","kind":"lowerLimit","signal":"","measure":"m2","limit":"150"}"""
        );
        var session = bench.Models.Session(id);
        session.Edit(session.Revision, "Require", [new PatchOperation("add", "/requirements/r", requirement)]);
        // A step of 2 at 1 s, read in cm: 100 · 2 · (1 − e^(−3/0.5)) at 4 s.
        var verdict = Assert.Single((await bench.Run(id)).Verdicts);
        Assert.Equal(Verification.VerdictKind.Met, verdict.Kind);
        Assert.Equal(200 * (1 - Math.Exp(-6)) - 150, verdict.Margin!.Value, 1e-3);
        Assert.Equal("cm", verdict.Unit);
        // Another expression asks something else of results.
        var edit = session.Edit(session.Revision, "Change", [new PatchOperation("replace", "/measures/m2/expression", "first(level)")]);
        Assert.True(edit.Effect.HasFlag(EditEffect.Verification));
        Assert.Equal(Verification.VerdictKind.Missed, Assert.Single((await bench.Run(id)).Verdicts).Kind);
        bench.Edit(id, new PatchOperation("remove", "/measures/m2"));
        Assert.Contains(session.Prepare().Prepared.Findings, f =>
            f.Message.Contains("The measure of the requirement", StringComparison.Ordinal)
        );
        Assert.Equal(Verification.VerdictKind.Open, Assert.Single((await bench.Run(id)).Verdicts).Kind);
    }
}
