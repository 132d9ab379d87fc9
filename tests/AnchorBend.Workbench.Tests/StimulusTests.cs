using AnchorBend.Modeling.Documents;
using AnchorBend.Workbench.Compute;
using AnchorBend.Workbench.Runs;
using static AnchorBend.Tests.Diagrams;

namespace AnchorBend.Workbench.Tests;

/// <summary>Courses that drive a run in place of what its sources do of themselves.</summary>
public sealed class StimulusTests : IDisposable
{
    readonly Bench bench = new();

    public void Dispose() => bench.RunStore.Dispose();

    static ModelDocument Driven(TrackNode track, params (string Id, PartNode Part)[] more)
    {
        var parts = new Dictionary<string, PartNode>
        {
            ["s"] = Part("Constant", "Inflow", ("k", "7")),
            ["i"] = Part("Integrator", "Basin"),
        };
        foreach (var (id, part) in more)
            parts[id] = part;
        return new DiagramDefinition
        {
            Name = "Basin",
            Parts = parts,
            Wires = new() { ["w"] = Wire("s.y", "i.u") },
        }.AsModel() with
        {
            Stimuli = new()
            {
                ["a"] = new StimulusNode
                {
                    Name = "Flood",
                    Tracks = new() { ["t1"] = track },
                },
            },
            Settings = new RunSettings
            {
                End = "4 s",
                Stimulus = "a",
                Live = false,
            },
        };
    }

    static TrackNode Track(TrackShape shape, string target = "s.y", string? unit = null) =>
        new()
        {
            Target = target,
            Unit = unit,
            Shape = shape,
            Times = [0, 1, 1, 3],
            Values = [0, 2, 4, 0],
        };

    async Task<double> Final(ModelDocument document, string signal)
    {
        var job = await bench.Run(bench.Create(document));
        Assert.Null(job.Result!.Failure);
        return new RunResults(job).Curve(signal)!.Values[^1];
    }

    [Theory]
    // The area under the lines: 1 + 4; under the steps: 0 · 1 + 4 · 2.
    [InlineData(TrackShape.Lines, 5)]
    [InlineData(TrackShape.Steps, 8)]
    public async Task A_source_gives_the_points_of_its_track(TrackShape shape, double area) =>
        Assert.Equal(area, await Final(Driven(Track(shape)), "i.y"), 1e-6);

    [Fact]
    public async Task Without_a_choice_everything_does_what_it_does_of_itself()
    {
        var document = Driven(Track(TrackShape.Lines));
        Assert.Equal(28, await Final(document with { Settings = document.Settings with { Stimulus = "" } }, "i.y"), 1e-6);
    }

    [Fact]
    public async Task Values_have_a_unit_and_a_smooth_track_passes_its_points()
    {
        Assert.Equal(0.05, await Final(Driven(Track(TrackShape.Lines, unit: "cm")), "i.y"), 1e-8);
        var smooth = new TrackNode
        {
            Target = "s.y",
            Shape = TrackShape.Smooth,
            Times = [0, 2, 4],
            Values = [1, 3, 5],
        };
        // Through points on a line it goes straight.
        Assert.Equal(12, await Final(Driven(smooth), "i.y"), 1e-6);
    }

    [Fact]
    public async Task An_input_that_nothing_drives_can_be_driven()
    {
        var document = Driven(Track(TrackShape.Lines, "g.u"), ("g", Part("Gain", "Double", ("k", "2"))), ("j", Part("Integrator", "Sum")));
        var main = document.Main with { Wires = new(document.Main.Wires) { ["x"] = Wire("g.y", "j.u") } };
        Assert.Equal(10, await Final(document.WithMain(main), "j.y"), 1e-6);
    }

    [Theory]
    [InlineData("gone.y", "not in the model")]
    [InlineData("i.y", "is no source")]
    [InlineData("i.u", "is driven by a wire already")]
    [InlineData("s.x", "has no signal 'x'")]
    public void What_cannot_be_driven_is_found(string target, string told)
    {
        var id = bench.Create(Driven(Track(TrackShape.Lines, target)));
        var (prepared, _, _) = bench.Models.Session(id).Prepare();
        Assert.True(prepared.CanRun);
        Assert.Contains(told, Assert.Single(prepared.Findings, f => f.Code == "stimulus").Message, StringComparison.Ordinal);
    }

    [Fact]
    public void Choosing_a_stimulus_is_an_edit_like_any_other()
    {
        var document = Driven(Track(TrackShape.Lines));
        var id = bench.Create(document with { Settings = document.Settings with { Stimulus = "" } });
        var before = bench.Models.Session(id).Prepare().Prepared;
        bench.Edit(id, new PatchOperation("replace", "/settings/stimulus", "a"));
        Assert.NotSame(before.Compiled, bench.Models.Session(id).Prepare().Prepared.Compiled);
        bench.Edit(id, new PatchOperation("add", "/stimuli/a/tracks/t1/values", new System.Text.Json.Nodes.JsonArray(0, 0, 0, 0)));
        Assert.Equal(5, bench.Models.Session(id).Document.Stimuli["a"].Tracks["t1"].Times.Count + 1);
        Assert.Throws<DocumentException>(() =>
            bench.Edit(id, new PatchOperation("add", "/stimuli/a/tracks/t1/times", new System.Text.Json.Nodes.JsonArray(0, 1)))
        );
    }

    [Fact]
    public void Courses_are_those_of_the_catalog_s_sources()
    {
        var courses = new StimulusCourses(new ComputeGate());
        var step = courses.Of("Step", new Dictionary<string, string> { ["height"] = "3", ["startTime"] = "2 s" }, 10, default);
        Assert.Equal([0, 2, 2, 10], step.Times);
        Assert.Equal([0, 0, 3, 3], step.Values);
        var sine = courses.Of("Sine", new Dictionary<string, string>(), 1, default);
        Assert.InRange(sine.Times.Length, 20, 2500);
        Assert.Throws<DocumentException>(() => courses.Of("Gain", new Dictionary<string, string>(), 1, default));
        Assert.Throws<DocumentException>(() => courses.Of("Step", new Dictionary<string, string>(), -1, default));
    }

    [Fact]
    public void A_unit_that_cannot_be_read_is_found()
    {
        var id = bench.Create(Driven(Track(TrackShape.Lines, unit: "furlong")));
        var (prepared, _, _) = bench.Models.Session(id).Prepare();
        Assert.Contains("furlong", Assert.Single(prepared.Findings, f => f.Code == "stimulus").Message, StringComparison.Ordinal);
    }

    [Fact]
    public void A_course_with_fewer_points_is_the_same_course()
    {
        var courses = new StimulusCourses(new ComputeGate());
        var swept = courses.Of("Chirp", new Dictionary<string, string>(), 10, default);
        var slow = courses.Of("Sine", new Dictionary<string, string> { ["f"] = "0.001 Hz" }, 250, default);
        Assert.True(swept.Times.Length > 100);
        // A quarter of a sine, from which only points are left out that lie on a line within a millionth of its range.
        Assert.Equal(
            Enumerable.Range(0, 100).Select(i => Math.Sin(2 * Math.PI * 0.001 * 2.5 * i)),
            Enumerable.Range(0, 100).Select(i => new Verification.Curve(slow.Times, slow.Values).At(2.5 * i)!.Value),
            (a, b) => Math.Abs(a - b) < 2e-6
        );
    }
}
