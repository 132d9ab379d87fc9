using System.IO.Compression;
using AnchorBend.Compiler.Preparation;
using AnchorBend.Delivery.Exchange;
using AnchorBend.Modeling;
using AnchorBend.Modeling.Catalog;
using AnchorBend.Modeling.Documents;
using AnchorBend.Simulation;
using AnchorBend.Simulation.Grid;
using AnchorBend.Simulation.Recording;
using static AnchorBend.Tests.Diagrams;

namespace AnchorBend.Delivery.Tests;

/// <summary>Exchange units for model exchange as parts of a model: their states are integrated with its own.</summary>
public sealed class IntegratedUnitTests
{
    static UnitArchive Exported(ModelDocument document, string part, string version)
    {
        var request = new CodeRequest(part, 0.01, GridMethod.Euler, false, null, null, true);
        var unit = CodeUnit.Of(document, PartCatalog.Of(document), request);
        var archive = UnitArchive.Read(ExchangeUnit.Pack(unit, version, 10, default).Bytes, default);
        UnitLibrary.Add(archive, default);
        return archive;
    }

    /// <summary>A class of equations as a unit.</summary>
    static UnitArchive Written(string text, string version) =>
        Exported(
            new DiagramDefinition
            {
                Name = "Rig",
                Parts = new() { ["c"] = Part("#own", "Unit") },
            }
                .AsModel()
                .With("own", new TextDefinition { Name = "Own", Text = $"block Own\n{text}\nend Own;" }),
            "c",
            version
        );

    /// <summary>The unit with 3 times the way from its output to 2 as its input.</summary>
    static ModelDocument Loop(UnitArchive archive) =>
        new DiagramDefinition
        {
            Name = "Loop",
            Parts = new()
            {
                ["r"] = Part("Constant", "Wanted", ("k", "2")),
                ["e"] = Part("Sum", "Error", ("signs", "{1, -1}")),
                ["k"] = Part("Gain", "Gain", ("k", "3")),
                ["c"] = Part("#unit", "Unit"),
            },
            Wires = new()
            {
                ["a"] = Wire("r.y", "e.u[1]"),
                ["b"] = Wire("c.y", "e.u[2]"),
                ["c"] = Wire("e.y", "k.u"),
                ["d"] = Wire("k.y", "c.u"),
            },
        }
            .AsModel()
            .With("unit", UnitClass.Of(archive, "Imported"));

    static ModelDocument Alone(UnitArchive archive) =>
        new DiagramDefinition
        {
            Name = "Alone",
            Parts = new() { ["c"] = Part("#unit", "Unit") },
        }
            .AsModel()
            .With("unit", UnitClass.Of(archive, "Imported"));

    static RunSession Session(ModelDocument document, double end, double step, double tolerance = 1e-9)
    {
        var prepared = DocumentPreparation.Prepare(document, PartCatalog.Of(document));
        Assert.DoesNotContain(prepared.Findings, f => f.Severity == Severity.Error);
        var options = DocumentRun.OptionsOf(document) with
        {
            End = end,
            OutputInterval = step,
            RelativeTolerance = tolerance,
            AbsoluteTolerance = tolerance,
        };
        return new RunSession(prepared, new ParameterSet(prepared.Model), options);
    }

    static RunSession Ran(ModelDocument document, double end, double step, double tolerance = 1e-9)
    {
        var session = Session(document, end, step, tolerance);
        session.Advance(new PauseAt());
        Assert.Null(session.Failure);
        return session;
    }

    static double[] Signal(RunSession session, string name) =>
        RecordedSignal.Values(session.Prepared, session.Parameters.Values, session.Trace, session.Prepared.Model.Find(name)!);

    static double At(RunSession session, string name, double time) =>
        Signal(session, name)[Array.FindLastIndex([.. session.Trace.Times], t => t <= time + 1e-12)];

    const string Lag = "  input Real u;\n  output Real y;\nprotected\n  parameter Real T = 0.5;\nequation\n  T * der(y) = u - y;";

    [CompiledTheory]
    [InlineData("2.0")]
    [InlineData("3.0")]
    public void What_is_integrated_is_read(string version)
    {
        var description = Written(Lag, version).Description;
        var flow = description.Flow!;
        Assert.Equal((0, true), (flow.Indicators, flow.HasSlopes));
        var state = Assert.Single(flow.States);
        Assert.Equal(1, state.Nominal);
        Assert.NotEqual(state.Reference, state.Slope);
        Assert.True(description.CanSave);
        // The output is the state: the input shows in it later.
        Assert.False(Assert.Single(description.Of(UnitRole.Output)).IsDirect);
    }

    /// <summary>0.5 y' = 3 (2 − y) − y, so y = 1.5 (1 − e^(−8 t)).</summary>
    [CompiledTheory]
    [InlineData("2.0")]
    [InlineData("3.0")]
    public void A_loop_is_closed_at_every_instant(string version)
    {
        using var session = Ran(Loop(Written(Lag, version)), 2, 0.05);
        var (times, y) = (session.Trace.Times, Signal(session, "Unit.y"));
        for (var i = 0; i < y.Length; i++)
            Assert.Equal(1.5 * (1 - Math.Exp(-8 * times[i])), y[i], 1e-7);
    }

    /// <summary>With y = x + u / 2 the loop is algebraic: u = 3 (2 − y) makes u = (6 − 3 x) / 2.5 and x' = u − x.</summary>
    [CompiledTheory]
    [InlineData("2.0")]
    [InlineData("3.0")]
    public void A_loop_without_a_state_in_it_is_solved_through_the_unit(string version)
    {
        const string Text =
            "  input Real u;\n  output Real y;\nprotected\n  Real x(start = 0, fixed = true);\nequation\n  der(x) = u - x;\n"
            + "  y = x + u / 2;";
        using var session = Ran(Loop(Written(Text, version)), 2, 0.05);
        var times = session.Trace.Times;
        var y = Signal(session, "Unit.y");
        // x' = 2.4 − 2.2 x.
        for (var i = 0; i < y.Length; i++)
        {
            var x = 2.4 / 2.2 * (1 - Math.Exp(-2.2 * times[i]));
            Assert.Equal(x + (6 - 3 * x) / 2.5 / 2, y[i], 1e-7);
        }
    }

    /// <summary>A ball that keeps 0.8 of its speed, from the laws of its fall.</summary>
    [CompiledTheory]
    [InlineData("2.0")]
    [InlineData("3.0")]
    public void Events_inside_a_unit_are_found(string version)
    {
        const string Text =
            "  output Real y;\nprotected\n  Real h(start = 1, fixed = true);\n  Real v(start = 0, fixed = true);\nequation\n"
            + "  der(h) = v;\n  der(v) = -9.81;\n  when h < 0 then\n    reinit(v, -0.8 * v);\n  end when;\n  y = h;";
        using var session = Ran(Alone(Written(Text, version)), 2, 0.05);
        var times = session.Trace.Times;
        var y = Signal(session, "Unit.y");
        for (var i = 0; i < y.Length; i++)
        {
            var (begin, up) = (Math.Sqrt(2 / 9.81), 0.8 * Math.Sqrt(2 * 9.81));
            var expected = 1 - 9.81 / 2 * times[i] * times[i];
            if (times[i] > begin)
            {
                for (; times[i] > begin + 2 * up / 9.81; up *= 0.8)
                    begin += 2 * up / 9.81;
                expected = up * (times[i] - begin) - 9.81 / 2 * (times[i] - begin) * (times[i] - begin);
            }

            Assert.Equal(expected, y[i], 1e-6);
        }
    }

    [CompiledTheory]
    [InlineData("2.0")]
    [InlineData("3.0")]
    public void Instants_of_a_unit_are_met(string version)
    {
        const string Text =
            "  output Real ramp;\n  output Real ticks;\nprotected\n  Real x(start = 0, fixed = true);\n"
            + "  discrete Real n(start = 0, fixed = true);\nequation\n  der(x) = if time >= 0.3 then 1 else 0;\n"
            + "  when sample(0, 0.25) then\n    n = pre(n) + 1;\n  end when;\n  ramp = x;\n  ticks = n;";
        using var session = Ran(Alone(Written(Text, version)), 1.1, 0.1);
        Assert.Equal(0.8, At(session, "Unit.ramp", 1.1), 1e-9);
        Assert.Equal([1.0, 2, 3, 4, 5], new[] { 0.1, 0.3, 0.6, 0.9, 1.1 }.Select(t => At(session, "Unit.ticks", t)));
        Assert.Contains(0.3, session.Trace.Times.ToArray());
        Assert.Contains(0.25, session.Trace.Times.ToArray());
    }

    /// <summary>A unit that reckons in halves of metres from one metre on: 3 m are 4 of them for it, and its 5 are 3.5 m.</summary>
    [CompiledTheory]
    [InlineData("2.0", true)]
    [InlineData("3.0", true)]
    [InlineData("2.0", false)]
    [InlineData("3.0", false)]
    public void Numbers_are_converted_where_a_unit_reckons_otherwise(string version, bool isSolvedOutside)
    {
        var model = new DiagramDefinition
        {
            Name = "Rig",
            Parts = new() { ["c"] = Part("#own", "Unit") },
        }
            .AsModel()
            .With(
                "own",
                new TextDefinition
                {
                    Name = "Own",
                    Text =
                        "block Own\n  input Real u(unit = \"m\");\n  output Real y(unit = \"m\");\n"
                        + "protected\n  parameter Real one(unit = \"m\") = 1;\nequation\n  y = u + one;\nend Own;",
                }
            );
        var request = new CodeRequest("c", 0.1, GridMethod.Euler, false, null, null, isSolvedOutside);
        var bytes = ExchangeUnit.Pack(CodeUnit.Of(model, PartCatalog.Of(model), request), version, 10, default).Bytes;
        using var packed = new MemoryStream();
        packed.Write(bytes);
        using (var zip = new ZipArchive(packed, ZipArchiveMode.Update, true))
        {
            var entry = zip.GetEntry("modelDescription.xml")!;
            string text;
            using (var reader = new StreamReader(entry.Open()))
                text = reader.ReadToEnd();
            Assert.Contains("<BaseUnit m=\"1\"", text, StringComparison.Ordinal);
            entry.Delete();
            using var writer = new StreamWriter(zip.CreateEntry("modelDescription.xml").Open());
            writer.Write(text.Replace("<BaseUnit m=\"1\"", "<BaseUnit m=\"1\" factor=\"0.5\" offset=\"1\"", StringComparison.Ordinal));
        }

        var archive = UnitArchive.Read(packed.ToArray(), default);
        UnitLibrary.Add(archive, default);
        var document = new DiagramDefinition
        {
            Name = "Metres",
            Parts = new() { ["r"] = Part("Constant", "Way", ("k", "3")), ["c"] = Part("#unit", "Unit") },
            Wires = new() { ["a"] = Wire("r.y", "c.u") },
        }
            .AsModel()
            .With("unit", UnitClass.Of(archive, "Imported"));
        using var session = Ran(document, 1, 0.5);
        Assert.Equal(3.5, At(session, "Unit.y", 1), 1e-12);
    }

    /// <summary>A switch outside changes a discrete input of the unit, which decides at once.</summary>
    [CompiledFact]
    public void A_discrete_input_is_taken_at_its_event()
    {
        const string Text =
            "  input Boolean u;\n  output Real y;\nprotected\n  Real x(start = 0, fixed = true);\nequation\n"
            + "  der(x) = if u then 1 else -2;\n  y = x;";
        var document = new DiagramDefinition
        {
            Name = "Switched",
            Parts = new() { ["b"] = Part("#when", "Switch"), ["c"] = Part("#unit", "Unit") },
            Wires = new() { ["a"] = Wire("b.y", "c.u") },
        }
            .AsModel()
            .With("unit", UnitClass.Of(Written(Text, "3.0"), "Imported"))
            .With(
                "when",
                new TextDefinition { Name = "When", Text = "block When\n  output Boolean y;\nequation\n  y = time > 0.4;\nend When;" }
            );
        using var session = Ran(document, 1, 0.1);
        Assert.Equal(-0.8, At(session, "Unit.y", 0.4), 1e-9);
        Assert.Equal(-0.2, At(session, "Unit.y", 1), 1e-9);
    }

    [CompiledFact]
    public void A_run_branches_from_a_saved_state()
    {
        using var session = Session(Loop(Written(Lag, "3.0")), 1, 0.05);
        session.Advance(new PauseAt { Time = 0.2 });
        var saved = session.Save();
        session.Advance(new PauseAt());
        using var branch = session.Branch(saved);
        branch.Advance(new PauseAt());
        Assert.Null(branch.Failure);
        Assert.Equal(At(session, "Unit.y", 1), At(branch, "Unit.y", 1));
    }

    /// <summary>The same after decisions: the ball has met the floor when it is saved, and again when the branch begins.</summary>
    [CompiledFact]
    public void A_branch_takes_back_what_was_decided_since()
    {
        const string Text =
            "  output Real y;\n  output Integer hits;\nprotected\n  Real h(start = 1, fixed = true);\n  Real v(start = 0, fixed = true);\n"
            + "  discrete Integer n(start = 0, fixed = true);\nequation\n  der(h) = v;\n  der(v) = -9.81;\n  when h < 0 then\n"
            + "    reinit(v, -0.8 * v);\n    n = pre(n) + 1;\n  end when;\n  y = h;\n  hits = n;";
        using var session = Session(Alone(Written(Text, "2.0")), 2, 0.05);
        session.Advance(new PauseAt { Time = 0.6 });
        var saved = session.Save();
        session.Advance(new PauseAt());
        Assert.Null(session.Failure);
        Assert.Equal((1.0, 3.0), (At(session, "Unit.hits", 0.6), At(session, "Unit.hits", 2)));
        using var branch = session.Branch(saved);
        Assert.Equal(1, At(branch, "Unit.hits", 0.6));
        branch.Advance(new PauseAt());
        Assert.Null(branch.Failure);
        Assert.Equal(3, At(branch, "Unit.hits", 2));
        Assert.Equal(At(session, "Unit.y", 2), At(branch, "Unit.y", 2));
    }

    /// <summary>T y' = 6 − 4 y with T halved at 0.5 s.</summary>
    [CompiledTheory]
    [InlineData("2.0")]
    [InlineData("3.0")]
    public void A_parameter_changes_while_it_runs(string version)
    {
        const string Text = "  input Real u;\n  output Real y;\n  parameter Real T = 0.5;\nequation\n  T * der(y) = u - y;";
        using var session = Session(Loop(Written(Text, version)), 1, 0.05);
        session.Advance(new PauseAt { Time = 0.5 });
        Assert.True(session.Set("Unit.T", 0.25));
        session.Advance(new PauseAt());
        Assert.Null(session.Failure);
        var then = 1.5 * (1 - Math.Exp(-4));
        Assert.Equal(then, At(session, "Unit.y", 0.5), 1e-7);
        Assert.Equal(1.5 - (1.5 - then) * Math.Exp(-8), At(session, "Unit.y", 1), 1e-7);
    }

    /// <summary>A loop that has no answer any more is no number for the importer, and the run says so where it ends.</summary>
    [CompiledTheory]
    [InlineData("2.0")]
    [InlineData("3.0")]
    public void What_a_unit_cannot_solve_ends_the_run_with_words(string version)
    {
        // y² = 1 − x has no real answer from x = 1 on.
        const string Text =
            "  output Real y;\nprotected\n  Real x(start = 0, fixed = true);\nequation\n  der(x) = 1;\n  y ^ 2 + 0.001 * y = 1 - x;";
        using var session = Session(Alone(Written(Text, version)), 2, 0.05);
        session.Advance(new PauseAt());
        Assert.NotNull(session.Failure);
        Assert.InRange(session.Failure.Time, 0.9, 1.1);
    }

    /// <summary>The controller of the winch as a unit, against the winch itself: within ten tolerances of the greatest value.</summary>
    [CompiledTheory]
    [InlineData("2.0")]
    [InlineData("3.0")]
    public void A_demo_goes_as_with_its_own_part(string version)
    {
        const double Tolerance = 1e-6,
            End = 5;
        var document = CodeUnitTests.Example("plankton-winch");
        var diagram = document.Main;
        var node = diagram.Parts["p9"] with { Type = "#unit", Parameters = [] };
        var joined = document
            .With("unit", UnitClass.Of(Exported(document, "p9", version), "Imported"))
            .WithMain(diagram with { Parts = new(diagram.Parts) { ["p9"] = node } });
        using var own = Ran(document, End, 0.05, Tolerance);
        using var other = Ran(joined, End, 0.05, Tolerance);
        var most = Signal(own, "Controller.torque").Max(Math.Abs);
        for (var t = 0.0; t <= End; t += 0.25)
            Assert.Equal(At(own, "Controller.torque", t), At(other, "Controller.torque", t), 10 * Tolerance * most);
    }
}
