using AnchorBend.Modeling.Documents;
using AnchorBend.Workbench.Compute;
using AnchorBend.Workbench.Models;
using AnchorBend.Workbench.Runs;
using Microsoft.Extensions.Logging.Abstractions;

namespace AnchorBend.Workbench.Tests;

/// <summary>Models are made, edited, run and given up by the use cases alone.</summary>
public class ModelWorkTests
{
    static ModelDocument Lag(bool live) =>
        new DiagramDefinition
        {
            Name = "M",
            Parts =
            {
                ["s"] = new PartNode { Type = "Step", Name = "Step" },
                ["l"] = new PartNode { Type = "Lag", Name = "Lag" },
            },
            Wires =
            {
                ["w"] = new WireNode { From = new("s", "y"), To = new("l", "u") },
            },
        }.AsModel() with
        {
            Settings = new RunSettings { Live = live, End = "5 s" },
        };

    static PatchOperation Value(string text) => new("add", "/definitions/main/parts/l/parameters/T", text);

    [Fact]
    public async Task An_edit_of_a_live_model_starts_a_run_and_tells_other_windows()
    {
        var bench = new Bench();
        var id = bench.Create(Lag(true));
        var answer = bench.Edit(id, Value("2 s"));
        var job = bench.Runs.Find(answer.Run!)!;
        await job.Finished;
        Assert.Null(job.Result!.Failure);
        Assert.Equal($"changed {id} 1 w", bench.Told[0]);
        Assert.All(bench.Told.Skip(1), t => Assert.StartsWith("run ", t, StringComparison.Ordinal));
        var values = new RunResults(job).Values(5, PartPath.Root);
        // A step at 1 s through a lag of 2 s.
        Assert.Equal(1 - Math.Exp(-(5 - 1) / 2.0), values["l.y"], 1e-5);
    }

    [Theory]
    [InlineData("/definitions/main/parts/l/x", "8", false)]
    [InlineData("/definitions/main/description", "\"d\"", false)]
    [InlineData("/definitions/main/parts/l/parameters/T", "\"2 s\"", true)]
    [InlineData("/settings/end", "\"6 s\"", true)]
    [InlineData("/definitions/main/parts/l/name", "\"Other\"", true)]
    public void A_run_follows_what_changes_results_and_nothing_else(string path, string value, bool runs)
    {
        var bench = new Bench();
        var id = bench.Create(Lag(true));
        var answer = bench.Edit(id, new PatchOperation("add", path, System.Text.Json.Nodes.JsonNode.Parse(value)));
        Assert.Equal(runs, answer.Run is not null);
        Assert.Equal(runs ? 1 : 0, answer.Change.ResultsRevision);
    }

    [Fact]
    public void An_edit_that_cannot_be_stored_changes_nothing()
    {
        var bench = new Bench();
        var id = bench.Create(Lag(false));
        bench.Store.IsFull = true;
        Assert.Throws<IOException>(() => bench.Edit(id, Value("2 s")));
        Assert.Equal((0, 0), ((int)bench.Models.Session(id).Revision, bench.Models.Session(id).Document.Main.Parts["l"].Parameters.Count));
        bench.Store.IsFull = false;
        bench.Edit(id, Value("3 s"));
        Assert.Equal("3 s", bench.Models.Session(id).Document.Main.Parts["l"].Parameters["T"]);
    }

    [Fact]
    public void Undo_without_anything_to_undo_does_nothing()
    {
        var bench = new Bench();
        var id = bench.Create(Lag(false));
        var answer = bench.Models.Undo(id, new EditOrigin(0, PartPath.Root, null), default);
        Assert.Equal((0, 0), ((int)answer.Revision, answer.Operations.Count));
    }

    [Fact]
    public async Task The_last_runs_of_a_model_are_kept_and_older_ones_go()
    {
        var bench = new Bench();
        var id = bench.Create(Lag(false));
        var session = bench.Models.Session(id);
        var jobs = new List<RunJob>();
        for (var i = 0; i < 15; i++)
        {
            jobs.Add(bench.Runs.Start(session, default));
            await jobs[^1].Finished;
        }

        Assert.InRange(bench.Runs.Kept().Count, 12, 13);
        Assert.Null(bench.Runs.Find(jobs[0].Id));
        Assert.Same(jobs[14], bench.Runs.Find(jobs[14].Id));
        bench.Models.Delete(id);
        Assert.Equal(0, bench.Runs.Kept().Count);
        Assert.Throws<NotFoundException>(() => bench.Models.Session(id));
    }

    [Fact]
    public void A_run_of_a_model_with_errors_is_refused()
    {
        var bench = new Bench();
        var id = bench.Create(Lag(false));
        bench.Edit(id, Value("2 m"));
        Assert.Throws<DocumentException>(() => bench.Runs.Start(bench.Models.Session(id), default));
    }

    [Theory]
    [InlineData("l", false, "T", "250 ms", true, 0.25)]
    [InlineData("l", false, "T", "2*0.5", true, 1.0)]
    [InlineData("l", false, "T", "2 m", false, null)]
    [InlineData("l", false, "T", "2 *", false, null)]
    [InlineData("l", false, "T", "gone", false, null)]
    [InlineData("l", false, "T", "-1 s", false, null)]
    public void A_field_is_told_what_its_text_means(string part, bool ofLevel, string parameter, string text, bool valid, double? value)
    {
        var bench = new Bench();
        var id = bench.Create(Lag(false));
        Assert.True(PartPath.TryParse(part, out var path));
        var answer = new FieldCheck(new ComputeGate()).Answer(bench.Models.Session(id), path, ofLevel, parameter, text, default);
        Assert.Equal((valid, value), (answer.IsValid, answer.Value));
        Assert.Equal(valid, answer.Message is null);
        Assert.Equal(0, bench.Models.Session(id).Revision);
    }

    [Fact]
    public void A_field_of_a_level_is_one_of_its_own_parameters()
    {
        var document = Lag(false);
        document.Main.Parameters["tau"] = new ParameterNode { Value = "1 s" };
        document.Main.Parts["l"].Parameters["T"] = "tau";
        var bench = new Bench();
        var session = bench.Models.Session(bench.Create(document));
        var check = new FieldCheck(new ComputeGate());
        Assert.Equal(
            (true, 3),
            (check.Answer(session, PartPath.Root, true, "tau", "3 s", default) is var a ? (a.IsValid, (int)a.Value!) : default)
        );
        Assert.Throws<NotFoundException>(() => check.Answer(session, PartPath.Root.Then("none"), false, "T", "1", default));
    }

    [Theory]
    [InlineData("example", "no such")]
    [InlineData("part", "NoSuchPart")]
    public void A_model_of_something_that_is_not_there_is_not_made(string of, string name)
    {
        var bench = new Bench();
        var made = of == "example" ? new NewModel(null, name, null, null, null) : new NewModel(null, null, null, null, name);
        Assert.Throws<NotFoundException>(() => bench.Models.Create(made, default));
        Assert.Empty(bench.Models.List(0, 10));
    }

    [Fact]
    public void Every_example_opens_and_can_run()
    {
        foreach (var key in Examples.All().Keys)
        {
            var bench = new Bench();
            var id = bench.Models.Create(new NewModel(null, key, null, null, null), default);
            Assert.True(bench.Models.Open(id, PartPath.Root, default).View.CanRun, key);
        }
    }

    [Fact]
    public void Models_are_given_up_when_many_are_idle_or_they_take_much_memory_but_never_at_once()
    {
        var bench = new Bench();
        var session = bench.Models.Session(bench.Create(Lag(false)));
        var small = session.Bytes;
        session.Prepare();
        Assert.True(session.Bytes > small && small > 0);
        bool After(TimeSpan time, int count, long bytes) => OpenModels.IsGivenUp(session, count, bytes, session.LastUse + time);
        Assert.False(After(TimeSpan.FromSeconds(10), 100, 1L << 40));
        Assert.False(After(TimeSpan.FromMinutes(5), 100, 0));
        Assert.True(After(TimeSpan.FromMinutes(11), 100, 0));
        Assert.True(After(TimeSpan.FromMinutes(2), 1, 1L << 40));
        Assert.False(After(TimeSpan.FromHours(5), 2, 1L << 20));
    }
}
