using AnchorBend.Compiler.Preparation;
using AnchorBend.Modeling.Catalog;
using AnchorBend.Modeling.Documents;
using AnchorBend.Simulation;
using AnchorBend.Simulation.Recording;
using static AnchorBend.Tests.Diagrams;

namespace AnchorBend.Workbench.Tests;

/// <summary>Faults that are put into signals.</summary>
public class FaultTests
{
    /// <summary>A sine of 1 at 0.1 Hz into a lag of 2 s.</summary>
    static ModelDocument Model(params FaultNode[] faults) =>
        new DiagramDefinition
        {
            Name = "Line",
            Parts = new()
            {
                ["s"] = Part("Sine", "Water", ("amplitude", "1"), ("f", "0.1 Hz")),
                ["l"] = Part("Lag", "Gauge", ("T", "2 s")),
                ["ok"] = Part("BooleanConstant", "Sound", ("k", "true")),
                ["n"] = Part("Negation", "Unsound"),
            },
            Wires = new() { ["w"] = Wire("s.y", "l.u"), ["v"] = Wire("ok.y", "n.u") },
        }.AsModel() with
        {
            Faults = faults.Select((f, i) => (f, i)).ToDictionary(f => $"f{f.i}", f => f.f),
        };

    static FaultNode Fault(FaultKind kind, string? value = null, string? times = null, string signal = "s.y", bool active = false) =>
        new()
        {
            Name = $"{kind}",
            Kind = kind,
            Signal = signal,
            Value = value,
            Times = times,
            IsActive = active,
        };

    static (PreparedModel Prepared, RunResult Result) Run(ModelDocument document)
    {
        var prepared = DocumentPreparation.Prepare(DocumentLimits.Checked(document), PartCatalog.Of(document));
        Assert.True(prepared.CanRun, string.Join("\n", prepared.Findings.Select(f => f.Message)));
        using var session = new RunSession(prepared, new ParameterSet(prepared.Model), new RunOptions { End = 10, OutputInterval = 0.1 });
        session.Advance(new PauseAt(), default);
        var result = session.Result();
        Assert.Null(result.Failure);
        return (prepared, result);
    }

    static double At((PreparedModel Prepared, RunResult Result) run, string name, double time)
    {
        var values = RecordedSignal.Values(
            run.Prepared,
            new ParameterSet(run.Prepared.Model).Values,
            run.Result.Trace,
            run.Prepared.Find(name)!
        );
        return new Verification.Curve([.. run.Result.Trace.Times], values).At(time)!.Value;
    }

    static double Sine(double time) => Math.Sin(0.2 * Math.PI * time);

    [Theory]
    [InlineData(FaultKind.Stuck, null)]
    [InlineData(FaultKind.Given, "3")]
    [InlineData(FaultKind.Lost, null)]
    [InlineData(FaultKind.Bias, "3")]
    [InlineData(FaultKind.Drift, "1")]
    [InlineData(FaultKind.Gain, "2")]
    [InlineData(FaultKind.Noise, "1")]
    [InlineData(FaultKind.Intermittent, "1 s")]
    public void One_that_is_not_there_changes_no_bit(FaultKind kind, string? value)
    {
        var (without, with) = (Run(Model()), Run(Model(Fault(kind, value))));
        var (a, b) = (without.Prepared.Find("Gauge.y")!, with.Prepared.Find("Gauge.y")!);
        var before = RecordedSignal.Values(without.Prepared, new ParameterSet(without.Prepared.Model).Values, without.Result.Trace, a);
        var after = RecordedSignal.Values(with.Prepared, new ParameterSet(with.Prepared.Model).Values, with.Result.Trace, b);
        Assert.Equal([.. without.Result.Trace.Times], [.. with.Result.Trace.Times]);
        Assert.Equal(before, after);
    }

    [Theory]
    [InlineData(FaultKind.Stuck, null, 0.951056516295154)]
    [InlineData(FaultKind.Lost, null, 0.951056516295154)]
    [InlineData(FaultKind.Given, "3", 3)]
    [InlineData(FaultKind.Bias, "3", 3.587785252292473)]
    [InlineData(FaultKind.Gain, "2", 1.175570504584946)]
    [InlineData(FaultKind.Drift, "0.5", 1.587785252292473)]
    [InlineData(FaultKind.Delay, "1.5 s", 0.9921147013144778)]
    public void From_2_to_6_s_it_does_what_it_says(FaultKind kind, string? value, double at4)
    {
        // sin(0.2 π 2) = 0.9511, sin(0.2 π 4) = 0.5878, sin(0.2 π 2.5) = 1, sin(0.2 π 2.3) = 0.9921.
        var time = kind == FaultKind.Delay ? 3.8 : 4;
        var run = Run(Model(Fault(kind, value, "2 s, 6 s")));
        var name = $"{kind} fault.y";
        Assert.Equal(Sine(1), At(run, name, 1), 6);
        Assert.Equal(at4, At(run, name, time), 4);
        Assert.Equal(Sine(7), At(run, name, 7), 6);
    }

    [Theory]
    [InlineData(FaultKind.Stuck)]
    [InlineData(FaultKind.Intermittent)]
    public void A_condition_that_is_stuck_from_the_start_keeps_what_it_is_then(FaultKind kind)
    {
        var run = Run(Model(Fault(kind, kind == FaultKind.Intermittent ? "4 s" : null, null, "ok.y", true)));
        Assert.Equal((1, 0), (At(run, $"{kind} fault.y", 1), At(run, "Unsound.y", 1)));
    }

    [Fact]
    public void A_lost_signal_is_told_as_not_valid()
    {
        var run = Run(Model(Fault(FaultKind.Lost, null, "2 s, 6 s") with { Validity = "ok.y" }));
        Assert.Equal((0, 1, 0), (At(run, "Unsound.y", 1), At(run, "Unsound.y", 4), At(run, "Unsound.y", 8)));
    }

    [Fact]
    public void One_that_comes_and_goes_holds_for_half_of_each_period()
    {
        var run = Run(Model(Fault(FaultKind.Intermittent, "2 s", "2 s, 8 s")));
        Assert.Equal(Sine(2), At(run, "Intermittent fault.y", 2.9), 6);
        Assert.Equal(Sine(3.5), At(run, "Intermittent fault.y", 3.5), 4);
        Assert.Equal(Sine(4), At(run, "Intermittent fault.y", 4.9), 6);
    }

    [Fact]
    public void Noise_has_its_standard_deviation()
    {
        var run = Run(Model(Fault(FaultKind.Noise, "2", null, "s.y", true)));
        var y = RecordedSignal.Values(
            run.Prepared,
            new ParameterSet(run.Prepared.Model).Values,
            run.Result.Trace,
            run.Prepared.Find("Noise fault.random")!
        );
        var values = y.Where((v, i) => i > 0 && v != y[i - 1]).ToList();
        // 200 values of a standard deviation of 1: theirs lies within 1 ± 4 / √(2 · 200).
        Assert.InRange(Math.Sqrt(values.Average(v => v * v)), 0.8, 1.2);
        Assert.InRange(values.Average(), -0.3, 0.3);
    }

    [Theory]
    [InlineData("x.y", "its signal is not in the model")]
    [InlineData("l.u", "has no output 'u'")]
    public void What_cannot_be_falsified_is_told_and_left_as_it_is(string signal, string message)
    {
        var document = Model(Fault(FaultKind.Stuck, null, null, signal));
        var prepared = DocumentPreparation.Prepare(document, PartCatalog.Of(document));
        Assert.True(prepared.CanRun);
        Assert.Contains(prepared.Findings, f => f.Code == "fault" && f.Message.Contains(message, StringComparison.Ordinal));
    }

    [Fact]
    public void One_of_delay_that_is_not_there_keeps_no_step_short()
    {
        var (without, with) = (Run(Model()), Run(Model(Fault(FaultKind.Delay, "0.001 s"))));
        // A delay of 1 ms that is there needs 10,000 steps; with a past to keep, a method of lower order is chosen.
        Assert.InRange(with.Result.Statistics.Steps, 1, 5 * without.Result.Statistics.Steps);
        Assert.Equal(At(without, "Gauge.y", 10), At(with, "Gauge.y", 10), 1e-6);
    }

    /// <summary>Three rates into three integrals, and two signals joined under names and picked out again.</summary>
    static ModelDocument Wide(string size, params FaultNode[] faults) =>
        new DiagramDefinition
        {
            Name = "Wide",
            Parts = new()
            {
                ["c"] = Part("ConstantVector", "Rates", ("k", size)),
                ["i"] = Part("VectorIntegrator", "Ways", ("n", "3")),
                ["t"] = Part("BooleanConstant", "Sound", ("k", "true")),
                ["s"] = Part("Constant", "Depth", ("k", "4")),
                ["b"] = Part("Bundle", "State", ("members", "depth, sound")),
                ["p"] = Part("Pick", "Seen", ("members", "depth, sound")),
                ["g"] = Part("Gain", "Twice", ("k", "2")),
                ["n"] = Part("Negation", "Unsound"),
            },
            Wires = new()
            {
                ["w"] = Wire("c.y", "i.u"),
                ["d"] = Wire("s.y", "b.depth"),
                ["t"] = Wire("t.y", "b.sound"),
                ["b"] = Wire("b.bundle", "p.bundle"),
                ["g"] = Wire("p.depth", "g.u"),
                ["n"] = Wire("p.sound", "n.u"),
            },
        }.AsModel() with
        {
            Faults = faults.Select((f, i) => (f, i)).ToDictionary(f => $"f{f.i}", f => f.f),
        };

    static double[] Ways((PreparedModel, RunResult) run) =>
        [.. Enumerable.Range(1, 3).Select(e => Math.Round(At(run, $"Ways.y[{e}]", 10), 8))];

    [Fact]
    public void A_vector_is_falsified_in_all_its_signals_or_in_one()
    {
        var run = Run(Wide("{1, 2, 3}", Fault(FaultKind.Bias, "10", "2 s, 4 s", "c.y")));
        // For 2 s the rates are 10 more.
        Assert.Equal([30, 40, 50], Ways(run));
        var one = Run(Wide("{1, 2, 3}", Fault(FaultKind.Gain, "-1", null, "c.y[2]", true)));
        Assert.Equal([10, -20, 30], Ways(one));
    }

    [Fact]
    public void Noise_of_a_vector_differs_from_signal_to_signal()
    {
        var run = Run(Wide("{1, 1, 1}", Fault(FaultKind.Noise, "1", null, "c.y", true)));
        var first = At(run, "Noise fault 1.random", 5);
        Assert.NotEqual(first, At(run, "Noise fault 2.random", 5));
        Assert.NotEqual(first, At(run, "Noise fault 3.random", 5));
    }

    [Fact]
    public void One_of_a_vector_that_is_not_there_changes_no_bit()
    {
        var (without, with) = (Run(Wide("{1, 2, 3}")), Run(Wide("{1, 2, 3}", Fault(FaultKind.Stuck, null, null, "c.y"))));
        Assert.Equal([.. without.Result.Trace.Times], [.. with.Result.Trace.Times]);
        foreach (var time in without.Result.Trace.Times)
            Assert.Equal(At(without, "Ways.y[3]", time), At(with, "Ways.y[3]", time));
    }

    [Fact]
    public void Signals_picked_out_of_a_bundle_take_faults_of_their_kind()
    {
        var run = Run(
            Wide("{1, 2, 3}", Fault(FaultKind.Bias, "1", null, "p.depth", true), Fault(FaultKind.Given, "false", null, "p.sound", true))
        );
        Assert.Equal((10, 1), (At(run, "Twice.y", 5), At(run, "Unsound.y", 5)));
    }

    [Fact]
    public void A_member_that_is_of_two_kinds_in_two_bundles_is_left_as_it_is()
    {
        var wide = Wide("{1, 2, 3}", Fault(FaultKind.Stuck, null, null, "p.depth"));
        var parts = new Dictionary<string, PartNode>(wide.Main.Parts) { ["o"] = Part("Bundle", "Other", ("members", "depth")) };
        var wires = new Dictionary<string, WireNode>(wide.Main.Wires) { ["o"] = Wire("t.y", "o.depth") };
        var prepared = DocumentPreparation.Prepare(wide.WithMain(wide.Main with { Parts = parts, Wires = wires }), PartCatalog.Standard);
        Assert.True(prepared.CanRun);
        Assert.Contains(prepared.Findings, f => f.Code == "fault" && f.Message.Contains("different kinds", StringComparison.Ordinal));
    }

    [Theory]
    [InlineData("{1, 2, 3}", "c.y[4]", "there is no c.y[4]")]
    [InlineData("fill(2, 3)", "c.y", "does not stand in its parameters")]
    [InlineData("{1, 2, 3}", "b.bundle", "is a bundle")]
    public void What_cannot_be_falsified_of_vectors_and_bundles_says_why(string size, string signal, string message)
    {
        var prepared = DocumentPreparation.Prepare(Wide(size, Fault(FaultKind.Stuck, null, null, signal)), PartCatalog.Standard);
        Assert.True(prepared.CanRun);
        Assert.Contains(prepared.Findings, f => f.Code == "fault" && f.Message.Contains(message, StringComparison.Ordinal));
    }

    [Fact]
    public void Switching_one_is_a_change_of_a_value()
    {
        var document = Model(Fault(FaultKind.Stuck));
        var edit = new PatchOperation("replace", "/faults/f0/isActive", System.Text.Json.Nodes.JsonValue.Create(true));
        Assert.Equal(EditEffect.Values, EditEffects.Of([edit], document, _ => false));
        var set = Assert.Single(ParameterEdits.Of(document, edit)!);
        Assert.Equal("Stuck switch.k", set.Path);
    }
}
