using System.IO.Compression;
using AnchorBend.Delivery;
using AnchorBend.Modeling.Documents;
using AnchorBend.Workbench.Code;
using AnchorBend.Workbench.Models;
using static AnchorBend.Tests.Diagrams;

namespace AnchorBend.Workbench.Tests;

/// <summary>What of a model is handed on: how it stands, what is result, what goes out.</summary>
public sealed class DeliveryWorkTests : IDisposable
{
    readonly Bench bench = new();
    readonly DeliveryWork work;

    public DeliveryWorkTests() => work = new DeliveryWork(bench.Models, bench.Compute, new MemoryChecks());

    public void Dispose() => bench.RunStore.Dispose();

    static DeliveryNode Node(string part, DeliveredNode? delivered = null, IReadOnlyList<string>? tunable = null) =>
        new()
        {
            Name = "One",
            Part = part,
            Step = "10 ms",
            Method = "euler",
            Delivered = delivered,
            Tunable = tunable,
        };

    /// <summary>A lag that a step drives, with two cases: one changes its gain, one its time constant.</summary>
    static ModelDocument Rig(params (string Id, DeliveryNode Node)[] deliveries)
    {
        var model = new DiagramDefinition
        {
            Name = "Rig",
            Parts = new()
            {
                ["s"] = Part("Step", "Step", ("startTime", "0.1 s")),
                ["l"] = Part("Lag", "Filter", ("T", "0.2 s"), ("k", "3")),
                ["m"] = Part("Mass", "Net"),
            },
            Wires = new() { ["w"] = Wire("s.y", "l.u") },
        }.AsModel() with
        {
            Settings = new RunSettings { End = "1 s" },
        };
        model.Cases["a"] = Case("Wide", "Filter.k", "7");
        model.Cases["b"] = Case("Slow", "Filter.T", "0.5 s");
        foreach (var (id, node) in deliveries)
            model.Deliveries[id] = node;
        return model;
    }

    static CaseNode Case(string name, string path, string text) =>
        new()
        {
            Name = name,
            Values = new()
            {
                ["v"] = new CaseValueNode { Target = path, Text = text },
            },
        };

    [Fact]
    public void States_tell_how_what_was_handed_on_stands()
    {
        var rig = bench.Create(Rig(("y", Node("l")), ("z", Node("m")), ("x", Node("gone"))));
        Assert.Equal(
            [("y", DeliveryState.New), ("z", DeliveryState.Broken), ("x", DeliveryState.Broken)],
            work.List(rig, default).Select(v => (v.Id, v.State))
        );
        var hash = work.Written(rig, "y", default).Hash;
        var same = bench.Create(Rig(("y", Node("l", new DeliveredNode(3, DateTime.UnixEpoch, hash)))));
        Assert.Equal(DeliveryState.Current, work.List(same, default).Single().State);
        var other = bench.Create(Rig(("y", Node("l", new DeliveredNode(3, DateTime.UnixEpoch, hash), ["k"]))));
        Assert.Equal(DeliveryState.Older, work.List(other, default).Single().State);
    }

    [Fact]
    public void Candidates_have_signals_alone()
    {
        var rig = bench.Create(Rig());
        Assert.Equal([("", "Rig", true), ("l", "Filter", false)], work.Candidates(rig, default).Select(c => (c.Part, c.Name, c.IsOwn)));
    }

    /// <summary>Cases run on the code: a parameter that can be changed is set; what is a number in it is told.</summary>
    [Fact]
    public void Cases_run_on_the_code()
    {
        if (!NativeCode.HasCompiler)
            return;
        var rig = bench.Create(Rig(("y", Node("l", tunable: ["k"]))));
        var result = work.Check(rig, "y", default);
        Assert.Equal("", result.Compiler);
        Assert.Null(result.Drawn.First);
        var (wide, slow) = (result.Cases.Single(c => c.Name == "Wide"), result.Cases.Single(c => c.Name == "Slow"));
        Assert.Equal((CodeCaseOutcome.Same, 101L), (wide.Outcome, wide.Steps));
        Assert.Equal(CodeCaseOutcome.NotRun, slow.Outcome);
        Assert.Contains("number in the code", slow.Message!, StringComparison.Ordinal);
        // Only the case counts, not the drawn inputs.
        Assert.Contains(result.Counts, c => c.Count == 101);
        // It is kept for as long as the code is the same.
        Assert.Equal(result.Hash, work.List(rig, default).Single().Check!.Hash);
        Assert.Equal(["y"], work.Checks(rig, default).Keys);
        bench.Edit(rig, new PatchOperation("replace", "/deliveries/y/isFloat", true));
        Assert.Empty(work.Checks(rig, default));
    }

    /// <summary>A step that is too long shows beside the run: y′ = 5 (u − y), which Euler's method leaves at 0.4 s.</summary>
    [Theory]
    [InlineData("1 ms", 0, 0.005)]
    [InlineData("100 ms", 0.01, 0.5)]
    [InlineData("450 ms", 0.5, 10)]
    public void A_whole_model_is_seen_beside_its_run(string step, double least, double most)
    {
        if (!NativeCode.HasCompiler)
            return;
        var document = Rig(("y", Node("") with { Step = step }));
        document.Cases.Clear();
        document.Main.Parts.Remove("m");
        document.Main.Signals["l.y"] = new SignalNode { Name = "filtered" };
        var rig = bench.Create(document with { Settings = document.Settings with { End = "3 s" } });
        var run = work.Check(rig, "y", default).Run!;
        Assert.Equal("filtered", run.Output);
        Assert.InRange(run.Part!.Value, least, most);
    }

    [Fact]
    public void An_exchange_unit_goes_out_as_one()
    {
        if (!NativeCode.HasCompiler)
            return;
        var rig = bench.Create(Rig(("y", Node("l") with { Kind = DeliveryKind.ExchangeUnit, Version = "2.0" })));
        var (name, bytes) = work.Archive(rig, "y", default);
        Assert.Equal("filter.fmu", name);
        using var archive = new ZipArchive(new MemoryStream(bytes));
        Assert.Contains("binaries/linux64/filter.so", archive.Entries.Select(e => e.FullName));
        Assert.EndsWith("-2.0", work.List(rig, default).Single().Hash, StringComparison.Ordinal);
    }

    sealed class MemoryChecks : ICodeCheckStore
    {
        readonly Dictionary<string, DeliveryCheck> kept = [];

        public IReadOnlyDictionary<string, DeliveryCheck> Of(string model) => kept;

        public void Put(string model, string delivery, DeliveryCheck check) => kept[delivery] = check;
    }

    [Fact]
    public void The_same_delivery_packs_to_the_same_bytes()
    {
        var rig = bench.Create(Rig(("y", Node("l"))));
        var (name, bytes) = work.Archive(rig, "y", default);
        Assert.Equal("filter.zip", name);
        Assert.Equal(bytes, work.Archive(rig, "y", default).Bytes);
        using var archive = new ZipArchive(new MemoryStream(bytes));
        Assert.Equal(["filter.h", "filter.c", "filter_lines.csv"], archive.Entries.Select(e => e.FullName));
        Assert.Throws<NotFoundException>(() => work.Archive(rig, "none", default));
    }
}
