using System.IO.Compression;
using AnchorBend.Delivery;
using AnchorBend.Modeling.Documents;
using AnchorBend.Workbench.Code;
using AnchorBend.Workbench.Models;
using static AnchorBend.Tests.Diagrams;

namespace AnchorBend.Workbench.Tests;

/// <summary>What of a model is handed on: how it stands, what is checked, what goes out.</summary>
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
        var model = bench.Create(Rig(("y", Node("l")), ("z", Node("m")), ("x", Node("gone"))));
        Assert.Equal(
            [("y", DeliveryState.New), ("z", DeliveryState.Broken), ("x", DeliveryState.Broken)],
            work.List(model, default).Select(v => (v.Id, v.State))
        );
        var hash = work.Written(model, "y", default).Hash;
        var same = bench.Create(Rig(("y", Node("l", new DeliveredNode(3, DateTime.UnixEpoch, hash)))));
        Assert.Equal(DeliveryState.Current, work.List(same, default).Single().State);
        var other = bench.Create(Rig(("y", Node("l", new DeliveredNode(3, DateTime.UnixEpoch, hash), ["k"]))));
        Assert.Equal(DeliveryState.Older, work.List(other, default).Single().State);
    }

    [Fact]
    public void Candidates_have_signals_alone()
    {
        var model = bench.Create(Rig());
        Assert.Equal([("l", "Filter", false)], work.Candidates(model, default).Select(c => (c.Part, c.Name, c.IsOwn)));
    }

    /// <summary>Cases run on the code: a parameter that can be changed is set; what is a number in it is told.</summary>
    [Fact]
    public void Cases_run_on_the_code()
    {
        if (!NativeCode.HasCompiler)
            return;
        var model = bench.Create(Rig(("y", Node("l", tunable: ["k"]))));
        var check = work.Check(model, "y", default);
        Assert.Equal("", check.Compiler);
        Assert.Null(check.Drawn.First);
        var (wide, slow) = (check.Cases.Single(c => c.Name == "Wide"), check.Cases.Single(c => c.Name == "Slow"));
        Assert.Equal((CodeCaseOutcome.Same, 101L), (wide.Outcome, wide.Steps));
        Assert.Equal(CodeCaseOutcome.NotRun, slow.Outcome);
        Assert.Contains("number in the code", slow.Message!, StringComparison.Ordinal);
        // Only the case counts, not the drawn inputs.
        Assert.Contains(check.Counts, c => c.Count == 101);
        // It is kept for as long as the code is the same.
        Assert.Equal(check.Hash, work.List(model, default).Single().Check!.Hash);
        Assert.Equal(["y"], work.Checks(model, default).Keys);
        bench.Edit(model, new PatchOperation("replace", "/deliveries/y/isFloat", true));
        Assert.Empty(work.Checks(model, default));
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
        var model = bench.Create(Rig(("y", Node("l"))));
        var (name, bytes) = work.Archive(model, "y", default);
        Assert.Equal("filter.zip", name);
        Assert.Equal(bytes, work.Archive(model, "y", default).Bytes);
        using var archive = new ZipArchive(new MemoryStream(bytes));
        Assert.Equal(["filter.h", "filter.c", "filter_lines.csv"], archive.Entries.Select(e => e.FullName));
        Assert.Throws<NotFoundException>(() => work.Archive(model, "none", default));
    }
}
