using AnchorBend.Compiler.Preparation;
using AnchorBend.Delivery.Targets;
using AnchorBend.Language.Terms;
using AnchorBend.Modeling.Catalog;
using AnchorBend.Modeling.Documents;
using AnchorBend.Simulation;
using AnchorBend.Simulation.Grid;
using AnchorBend.Simulation.Recording;
using static AnchorBend.Tests.Diagrams;

namespace AnchorBend.Delivery.Tests;

/// <summary>Code in a process of its own that has the plant of a run.</summary>
public sealed class TargetTests
{
    /// <summary>A run of a model with the code of one of its parts, or of several that can take its place.</summary>
    internal sealed class Rig : IDisposable
    {
        public Rig(ModelDocument document, double end, double step, params CodeRequest[] requests)
            : this(document, end, step, TargetKind.Process, requests) { }

        public Rig(ModelDocument document, double end, double step, TargetKind kind, params CodeRequest[] requests)
        {
            var catalog = PartCatalog.Of(document);
            var whole = DocumentPreparation.Prepare(document, catalog);
            Target = Target.Start([.. requests.Select(r => CodeUnit.Of(whole, document, catalog, r))], kind, default);
            var (joined, prepared, _) = TargetDocument.Of(whole, document, d => PartCatalog.Of(d), requests[0].Part, Target);
            Session = new RunSession(
                prepared,
                new ParameterSet(prepared.Model),
                DocumentRun.OptionsOf(joined) with
                {
                    End = end,
                    OutputInterval = step,
                    Given = new Dictionary<long, IOutsideUnit> { [TargetDocument.Number] = Target },
                }
            );
        }

        public Target Target { get; }

        public RunSession Session { get; }

        public void To(double time)
        {
            Session.Advance(new PauseAt { Time = time });
            Assert.Null(Session.Failure);
        }

        public double[] Times => [.. Session.Trace.Times];

        public double[] Values(string name) =>
            RecordedSignal.Values(Session.Prepared, Session.Parameters.Values, Session.Trace, Session.Prepared.Model.Find(name)!);

        /// <summary>The last value at or before a time.</summary>
        public double At(string name, double time) => Values(name)[Array.FindLastIndex(Times, t => t <= time + 1e-12)];

        public void Dispose()
        {
            Session.Dispose();
            Target.Dispose();
        }
    }

    const double Sample = 0.1;

    /// <summary>A level that a proportional controller leads to 2: u = k (2 − y), y' = u.</summary>
    static ModelDocument Level(string gain = "3") =>
        new DiagramDefinition
        {
            Name = "Level",
            Parts = new()
            {
                ["r"] = Part("Constant", "Wanted", ("k", "2")),
                ["e"] = Part("Sum", "Error", ("signs", "{1, -1}")),
                ["c"] = Part("Gain", "Controller", ("k", gain)),
                ["y"] = Part("Integrator", "Tank", ("k", "1"), ("y0", "0")),
            },
            Wires = new()
            {
                ["a"] = Wire("r.y", "e.u[1]"),
                ["b"] = Wire("y.y", "e.u[2]"),
                ["c"] = Wire("e.y", "c.u"),
                ["d"] = Wire("c.y", "y.u"),
            },
        }.AsModel();

    [Fact]
    public void Values_that_decide_nothing_stay_where_they_were()
    {
        // Of two values only the sum of one with a square of the other is seen; a third is seen by nothing.
        static double[] Seen(double[] x) => [x[0] + x[1] * x[1], x[0] - x[1]];
        var (found, left) = Targets.StateFit.Of(Seen, [7, -1], [1, 1], [1, 1, 5], [1, 1, 1]);
        // x + y² = 7, x − y = −1 has the roots (1.3723, 2.3723) and another with y < 0.
        Assert.Equal(-0.5 + Math.Sqrt(8.25), found[1], 1e-4);
        Assert.Equal(found[1] - 1, found[0], 1e-4);
        Assert.Equal(5, found[2]);
        Assert.InRange(left, 0, 1e-8);
    }

    static CodeRequest Request(string part, double step, string? alternative = null) =>
        new(part, step, GridMethod.Euler, false, null, alternative);

    /// <summary>Held over a sample, the level comes nearer by the same factor each time: 2 − yₙ = 2 (1 − k T)ⁿ.</summary>
    [CompiledFact]
    public void Code_has_the_plant_at_its_samples()
    {
        using var rig = new Rig(Level(), 2, Sample, Request("c", Sample));
        rig.To(2);
        for (var n = 0; n <= 20; n++)
            Assert.Equal(2 - 2 * Math.Pow(1 - 3 * Sample, n), rig.At("Tank.y", n * Sample), 1e-9);
        // Held in between: at the end of a sample the code still gives what it gave at its beginning.
        Assert.Equal(6, rig.At("Controller.y", 0.09), 1e-9);
        Assert.Equal(21, rig.Target.Costs()[0].Steps);
    }

    [CompiledFact]
    public void A_parameter_changes_while_the_code_runs()
    {
        using var rig = new Rig(Level(), 2, Sample, Request("c", Sample));
        rig.To(1);
        Assert.True(rig.Session.Set("Controller.k", 5));
        rig.To(2);
        var left = 2 - rig.At("Tank.y", 1);
        for (var n = 1; n <= 10; n++)
        {
            // The sample at 1 s was made before the change; the next one knows it.
            var expected = left * (1 - 3 * Sample) * Math.Pow(1 - 5 * Sample, n - 1);
            Assert.Equal(2 - expected, rig.At("Tank.y", 1 + n * Sample), 1e-9);
        }
    }

    /// <summary>A script of values makes the same run again, the target included.</summary>
    [CompiledFact]
    public void A_run_on_a_target_repeats_bit_for_bit()
    {
        double[] Once()
        {
            using var rig = new Rig(Level(), 2, Sample, Request("c", Sample));
            rig.To(0.55);
            rig.Session.Set("Controller.k", 4);
            rig.To(2);
            return rig.Values("Tank.y");
        }

        Assert.Equal(Once(), Once());
    }

    /// <summary>Two controllers with integral parts, one of which has been idle: it takes over where the other stood.</summary>
    static ModelDocument Held() =>
        new DiagramDefinition
        {
            Name = "Held",
            Parts = new()
            {
                ["r"] = Part("Constant", "Wanted", ("k", "2")),
                ["c"] = Part("PID", "Slow", ("form", "Form.PI"), ("k", "1"), ("Ti", "1")),
                ["d"] = Part("PID", "Quick", ("form", "Form.PI"), ("k", "4"), ("Ti", "0.5")),
                ["y"] = Part("Lag", "Plant", ("k", "1"), ("T", "1")),
            },
            Wires = new()
            {
                ["a"] = Wire("r.y", "c.r"),
                ["b"] = Wire("y.y", "c.y"),
                ["c"] = Wire("c.u", "y.u"),
            },
        }.AsModel();

    [CompiledFact]
    public void Another_controller_takes_over_without_a_bump()
    {
        using var rig = new Rig(Held(), 20, 0.01, Request("c", 0.01), Request("d", 0.01));
        rig.To(10);
        Assert.True(rig.Session.Set("Slow.target_unit", 2));
        rig.To(20);
        var over = Assert.Single(rig.Target.HandOvers());
        Assert.Equal((0, 1), (over.From, over.To));
        // At rest both give what the plant needs, 2; an idle integral part alone would have given nothing.
        Assert.Equal(over.Before, over.After, 1e-3);
        for (var t = 10.0; t <= 20; t += 0.5)
            Assert.Equal(2, rig.At("Plant.y", t), 1e-2);
    }

    /// <summary>J12: both control laws of the winch as code, one after the other, while the machine turns under load.</summary>
    [CompiledFact]
    public void A_machine_goes_on_turning_while_its_control_law_changes()
    {
        var document = CodeUnitTests.Example("synchronous-winch");
        using var rig = new Rig(
            document,
            3,
            1e-3,
            Request("ctl", 1e-4, "Proportional-integral"),
            Request("ctl", 1e-4, "Disturbance-rejecting")
        );
        rig.To(1.8);
        Assert.Equal(80, rig.At("Speed.w", 1.8), 1.0);
        Assert.True(rig.Session.Set("Drive control.target_unit", 2));
        rig.To(2);
        rig.To(3);
        var over = Assert.Single(rig.Target.HandOvers());
        Assert.Equal(1.8, over.Time, 2e-4);
        // The torque before is 2.73 N·m; a law that began anew would have gone to its limit of 13 N·m.
        for (var t = 1.8; t < 1.85; t += 0.001)
        {
            Assert.Equal(rig.At("Machine.torque", 1.8), rig.At("Machine.torque", t), 0.1);
            Assert.Equal(rig.At("Speed.w", 1.8), rig.At("Speed.w", t), 0.15);
        }

        Assert.Equal([18001L, 12000L], rig.Target.Costs().Select(c => c.Steps));
        Assert.Equal(160, rig.At("Speed.w", 3), 2.0);
    }

    /// <summary>The same exact course on a simulated board, and instructions that are the same in every run.</summary>
    [BoardFact]
    public void A_simulated_board_has_the_plant_and_counts_instructions()
    {
        (double Most, double Least) Once()
        {
            using var rig = new Rig(Level(), 2, Sample, TargetKind.Board, Request("c", Sample));
            rig.To(2);
            for (var n = 0; n <= 20; n++)
                Assert.Equal(2 - 2 * Math.Pow(1 - 3 * Sample, n), rig.At("Tank.y", n * Sample), 1e-9);
            var cost = rig.Target.Costs()[0];
            Assert.Equal(21, cost.Steps);
            // A product in soft arithmetic, a call and a return: tens of instructions, and not thousands.
            Assert.InRange(cost.Most, 20, 500);
            Assert.InRange(rig.Target.Sizes()[0].Flash, 10, 1000);
            Assert.InRange(rig.Target.Sizes()[0].Stack, 16, 4000);
            return (cost.Most, cost.Least);
        }

        Assert.Equal(Once(), Once());
    }

    [CompiledFact]
    public void A_target_that_ends_ends_the_run_with_a_reason()
    {
        using var rig = new Rig(Level(), 2, Sample, Request("c", Sample));
        rig.To(1);
        rig.Target.Dispose();
        rig.Session.Advance(new PauseAt());
        Assert.Equal("outside", rig.Session.Failure?.Code);
        Assert.Contains("The target", rig.Session.Failure!.Message, StringComparison.Ordinal);
    }

    /// <summary>A part written in the model with a row, a truth value and a whole number, in and out.</summary>
    [CompiledFact]
    public void Rows_truth_values_and_whole_numbers_go_in_and_out()
    {
        const string Text = """
            block Mixed "Rows, truth values and whole numbers"
              input Real u[2];
              input Boolean on;
              output Real y[2];
              output Boolean high;
              output Integer count;
            equation
              y = if on then {u[2], -u[1]} else {0, 0};
              high = u[1] > 0.5;
              count = if u[1] > 0.5 then 3 else -2;
            end Mixed;
            """;
        var document = new DiagramDefinition
        {
            Name = "Mixed",
            Parts = new()
            {
                ["a"] = Part("Step", "First", ("height", "1"), ("startTime", "0.35")),
                ["b"] = Part("Constant", "Second", ("k", "7")),
                ["s"] = Part("Stack", "Both", ("n", "2")),
                ["o"] = Part("BooleanStep", "On", ("startTime", "0.55")),
                ["c"] = Part("#mixed", "Mixed"),
            },
            Wires = new()
            {
                ["1"] = Wire("a.y", "s.u[1]"),
                ["2"] = Wire("b.y", "s.u[2]"),
                ["3"] = Wire("s.y", "c.u"),
                ["4"] = Wire("o.y", "c.on"),
            },
        }
            .AsModel()
            .With("mixed", new TextDefinition { Name = "Mixed", Text = Text });
        using var rig = new Rig(document, 1, Sample, Request("c", Sample));
        rig.To(1);
        // Before, between and after the steps of the inputs, each seen at the next sample.
        foreach (var (time, first, second, high, count) in new[] { (0.3, 0.0, 0.0, 0, -2), (0.45, 0, 0, 1, 3), (0.95, 7, -1, 1, 3) })
        {
            Assert.Equal((first, second), (rig.At("Mixed.y[1]", time), rig.At("Mixed.y[2]", time)));
            Assert.Equal((high, count), ((int)rig.At("Mixed.high", time), (int)rig.At("Mixed.count", time)));
        }
    }

    [CompiledFact]
    public void A_part_of_a_level_that_is_used_twice_is_refused()
    {
        var inner = new DiagramDefinition
        {
            Name = "Level",
            Parts = new() { ["g"] = Part("Gain", "Gain", ("k", "2")) },
        };
        var document = new DiagramDefinition
        {
            Name = "M",
            Parts = new() { ["a"] = Part("#level", "A"), ["b"] = Part("#level", "B") },
        }
            .AsModel()
            .With("level", inner);
        var refused = Assert.Throws<DeliveryException>(() => new Rig(document, 1, Sample, Request("a/g", Sample)));
        Assert.Contains("2 times", refused.Message, StringComparison.Ordinal);
    }

    [CompiledFact]
    public void Only_what_has_the_same_ports_can_take_over()
    {
        var document = Level();
        var catalog = PartCatalog.Of(document);
        var units = new[] { "c", "e" }.Select(p => CodeUnit.Of(document, catalog, Request(p, Sample))).ToList();
        var wrong = Assert.Throws<DeliveryException>(() => Target.Start(units, TargetKind.Process, default));
        Assert.Contains("cannot take each other's place", wrong.Message, StringComparison.Ordinal);
    }
}
