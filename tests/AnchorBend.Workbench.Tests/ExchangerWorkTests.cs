using AnchorBend.Design;
using AnchorBend.Modeling.Documents;
using AnchorBend.Workbench.Models;
using AnchorBend.Workbench.Parts;
using AnchorBend.Workbench.Runs;
using AnchorBend.Workbench.Scenes;
using static AnchorBend.Tests.Diagrams;

namespace AnchorBend.Workbench.Tests;

/// <summary>What is shown of a heat exchanger beside its parameters: its picture, what it came to, and sizes for a duty.</summary>
public sealed class ExchangerWorkTests : IDisposable
{
    readonly Bench bench = new();

    public void Dispose() => bench.RunStore.Dispose();

    /// <summary>Air of 22 °C over finned tubes with sea water of 9 °C in them, in counter flow.</summary>
    static ModelDocument Cooler(params (string, string)[] sizes) =>
        new DiagramDefinition
        {
            Name = "Air cooler",
            Parts = new()
            {
                ["fa"] = Part("LoopFluid", "Air", ("kind", "LoopFluid.Kind.humid")),
                ["fs"] = Part("LoopFluid", "Sea", ("kind", "LoopFluid.Kind.sea")),
                ["air"] = Part("FlowBoundary", "Hatchery air", ("m", "1 kg/s"), ("T", "22 degC")),
                ["room"] = Part("PressureBoundary", "Room", ("p", "1.01325 bar"), ("T", "22 degC")),
                ["sea"] = Part("FlowBoundary", "Sea pump", ("m", "0.6 kg/s"), ("T", "9 degC")),
                ["out"] = Part("PressureBoundary", "Outfall", ("p", "1.2 bar"), ("T", "9 degC")),
                ["x"] = Part("FinnedTubes", "Cooler", sizes),
            },
            Wires = new()
            {
                ["w1"] = Wire("air.a", "x.a2"),
                ["w2"] = Wire("x.b2", "room.a"),
                ["w3"] = Wire("sea.a", "x.b1"),
                ["w4"] = Wire("x.a1", "out.a"),
                ["w5"] = Wire("fa.a", "air.a"),
                ["w6"] = Wire("fs.a", "sea.a"),
            },
        }.AsModel() with
        {
            Settings = new RunSettings
            {
                End = "10 s",
                Live = false,
                Start = "steady",
            },
        };

    static PartPath Path(string id) => PartPath.TryParse(id, out var path) ? path : throw new ArgumentException(id);

    PartPreview? Picture(ModelDocument document, string part) =>
        bench.Models.Preview(bench.Create(document), Path(part), CancellationToken.None);

    [Fact]
    public void A_picture_has_the_sizes_of_the_part()
    {
        var picture = Picture(Cooler(("rows", "4"), ("W", "0.5 m")), "x")!;
        var tubes = picture.Solids.Where(s => s is { Form: "tube", Role: "metal" }).ToList();
        // One array of sixteen tubes a row, each row behind the one before, every second one shifted by half of their distance.
        Assert.Equal(4, tubes.Count);
        Assert.All(tubes, t => Assert.Equal([1, 16, 1], t.Count));
        Assert.Equal(0.033, tubes[1].At[2] - tubes[0].At[2], 1e-12);
        Assert.Equal(0.019, tubes[1].At[1] - tubes[0].At[1], 1e-12);
        var width = picture.Lengths.Single(l => l.Name == "W");
        Assert.Equal(0.5, width.To[0] - width.From[0], 1e-12);
        Assert.Null(picture.Problem);
    }

    [Fact]
    public void Impossible_geometry_is_told_with_its_picture()
    {
        var picture = Picture(Cooler(("D", "40 mm")), "x")!;
        Assert.Contains("tubes touch", picture.Problem, StringComparison.Ordinal);
        Assert.NotEmpty(picture.Solids);
    }

    [Fact]
    public void What_has_no_picture_has_none()
    {
        Assert.Null(Picture(Cooler(), "air"));
        Assert.Null(Picture(Cooler(), "nobody"));
    }

    /// <summary>Every construction is drawn in finite sizes, however odd what is typed.</summary>
    [Theory]
    [InlineData("doublePipe", 4)]
    [InlineData("plates", 7)]
    [InlineData("shell", 5)]
    [InlineData("finned", 2)]
    [InlineData("louvred", 4)]
    public void Pictures_are_bounded(string kind, int least)
    {
        double[] oddities = [double.NaN, 0, -1, 1e12, 1e-12, double.PositiveInfinity];
        foreach (var odd in oddities)
            Assert.All(PartPreview.Of(kind, _ => odd).Solids, s => Assert.InRange(s.Count.Aggregate(1L, (a, b) => a * b), 0, 20_000));
        Assert.True(PartPreview.Of(kind, n => n is "n" or "rows" or "count" ? 4 : 0.01).Solids.Count >= least);
    }

    [Fact]
    public async Task Results_of_a_part_can_be_read_where_it_stands()
    {
        var id = bench.Create(Cooler());
        var job = await bench.Run(id);
        var view = bench.Models.Open(id, PartPath.Root, CancellationToken.None).View.Parts["x"];
        Assert.Equal(0.608, view.Derived.Single(d => d.Name == "height").Values[0]!.Value / 1000, 1e-9);
        Assert.Equal("mm", view.Derived.Single(d => d.Name == "height").Unit);
        Assert.Equal(["x.dp[1]", "x.dp[2]"], view.Results.Single(r => r.Name == "dp").Keys);
        var values = new RunResults(job).Values(10, PartPath.Root);
        // The air gives to the sea water: what the first fluid gives is negative.
        Assert.InRange(values["x.duty"], -5000, -3000);
        Assert.Equal(1, values["x.counter"]);
        Assert.Equal(282.15, values["x.TIn[1]"], 1e-3);
    }

    async Task<SizingAnswer> Size(string parameter, string? duty, params (string, string)[] sizes)
    {
        var id = bench.Create(Cooler(sizes));
        var job = await bench.Run(id);
        var sizing = new ExchangerSizing(bench.Runs, bench.Models, bench.Compute);
        return sizing.Of(id, new SizingRequest(job.Id, 10, "x", parameter, duty), CancellationToken.None);
    }

    [Fact]
    public async Task A_length_is_found_that_gives_the_wanted_duty()
    {
        var answer = await Size("W", "4.5 kW");
        // Another fin comes in one piece, so that the duty rises by steps.
        Assert.InRange(answer.Found!.Duty, 4500, 4507);
        Assert.Equal("mm", answer.Unit);
        // Taken, it does in the model what was promised.
        var id = bench.Create(Cooler(("W", answer.Text!)));
        var values = new RunResults(await bench.Run(id)).Values(10, PartPath.Root);
        Assert.InRange(-values["x.duty"], 4500, 4507);
    }

    [Fact]
    public async Task Of_what_is_counted_the_least_number_is_taken()
    {
        var answer = await Size("rows", "4.2 kW");
        var duty = answer.Points.ToDictionary(p => p.Value, p => p.Duty);
        Assert.True(answer.Found!.Duty >= 4200);
        Assert.True(duty[answer.Found.Value - 1] < 4200);
        Assert.Equal(answer.Found.Value.ToString("0"), answer.Text);
        // More rows, more heat, less and less of it.
        Assert.Equal(answer.Points.Select(p => p.Duty), answer.Points.Select(p => p.Duty).Order());
    }

    [Theory]
    [InlineData("W", "900 kW", "the most is")]
    [InlineData("W", "5 kg", "no heat flow")]
    [InlineData("gap", "5 kW", "no size of this part")]
    public async Task What_cannot_be_found_is_told(string parameter, string duty, string words)
    {
        var problem = await Assert.ThrowsAsync<DesignException>(() => Size(parameter, duty));
        Assert.Contains(words, problem.Message, StringComparison.Ordinal);
    }

    [Fact]
    public async Task Without_flow_there_is_nothing_to_size_for()
    {
        var still = Cooler();
        still.Main.Parts["sea"].Parameters["m"] = "0";
        var id = bench.Create(still);
        var job = await bench.Run(id);
        var sizing = new ExchangerSizing(bench.Runs, bench.Models, bench.Compute);
        var problem = Assert.Throws<DesignException>(() =>
            sizing.Of(id, new SizingRequest(job.Id, 10, "x", "W", "5 kW"), CancellationToken.None)
        );
        Assert.Contains("first fluid does not flow", problem.Message, StringComparison.Ordinal);
    }
}
