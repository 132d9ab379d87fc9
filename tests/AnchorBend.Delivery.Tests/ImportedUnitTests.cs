using System.IO.Compression;
using System.Text;
using AnchorBend.Compiler.Preparation;
using AnchorBend.Delivery.Exchange;
using AnchorBend.Language.Terms;
using AnchorBend.Modeling;
using AnchorBend.Modeling.Catalog;
using AnchorBend.Modeling.Documents;
using AnchorBend.Simulation;
using AnchorBend.Simulation.Grid;
using AnchorBend.Simulation.Recording;
using AnchorBend.Tests;
using static AnchorBend.Tests.Diagrams;

namespace AnchorBend.Delivery.Tests;

/// <summary>Exchange units of others as parts of a model.</summary>
public sealed class ImportedUnitTests
{
    const double Sample = 0.1;

    static UnitArchive Exported(ModelDocument document, string part, string version, double step)
    {
        var unit = CodeUnit.Of(document, PartCatalog.Of(document), new CodeRequest(part, step, GridMethod.Euler, false, null));
        var archive = UnitArchive.Read(ExchangeUnit.Pack(unit, version, 10, default).Bytes, default);
        UnitLibrary.Add(archive, default);
        return archive;
    }

    /// <summary>A level that a part of this type leads to 2.</summary>
    static ModelDocument Level(PartNode controller) =>
        new DiagramDefinition
        {
            Name = "Level",
            Parts = new()
            {
                ["r"] = Part("Constant", "Wanted", ("k", "2")),
                ["e"] = Part("Sum", "Error", ("signs", "{1, -1}")),
                ["c"] = controller,
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

    static readonly ModelDocument Original = Level(Part("Gain", "Controller", ("k", "3")));

    static ModelDocument Imported(UnitArchive archive, params (string, string)[] parameters) =>
        Level(Part("#unit", "Controller", parameters)).With("unit", UnitClass.Of(archive, "Imported"));

    static RunSession Session(ModelDocument document, double end, double step)
    {
        var prepared = DocumentPreparation.Prepare(document, PartCatalog.Of(document));
        Assert.DoesNotContain(prepared.Findings, f => f.Severity == Severity.Error);
        var options = DocumentRun.OptionsOf(document) with { End = end, OutputInterval = step };
        return new RunSession(prepared, new ParameterSet(prepared.Model), options);
    }

    static double At(RunSession session, string name, double time)
    {
        var place = Array.FindLastIndex([.. session.Trace.Times], t => t <= time + 1e-12);
        var variable = session.Prepared.Model.Find(name)!;
        return RecordedSignal.Values(session.Prepared, session.Parameters.Values, session.Trace, variable)[place];
    }

    [CompiledTheory]
    [InlineData("2.0")]
    [InlineData("3.0")]
    public void What_a_unit_says_of_itself_is_read(string version)
    {
        var description = Exported(Original, "c", version, Sample).Description;
        Assert.Equal(
            (version == "3.0", "Controller", Sample, true),
            (description.IsThird, description.Name, description.Step, description.CanSave)
        );
        Assert.Equal("u", Assert.Single(description.Of(UnitRole.Input)).Name);
        Assert.Equal("y", Assert.Single(description.Of(UnitRole.Output)).Name);
        Assert.Equal(("k", 3.0), description.Of(UnitRole.Parameter).Select(p => (p.Name, p.Start!.Value)).First());
        Assert.Empty(description.Left);
    }

    /// <summary>Held over a sample, the level comes nearer by the same factor each time: 2 − yₙ = 2 (1 − k T)ⁿ.</summary>
    [CompiledTheory]
    [InlineData("2.0", "3")]
    [InlineData("3.0", "3")]
    [InlineData("3.0", "5")]
    public void A_unit_runs_as_a_part_with_its_parameters(string version, string gain)
    {
        using var session = Session(Imported(Exported(Original, "c", version, Sample), ("k", gain)), 2, Sample);
        session.Advance(new PauseAt());
        Assert.Null(session.Failure);
        var left = 1 - double.Parse(gain) * Sample;
        for (var n = 0; n <= 20; n++)
            Assert.Equal(2 - 2 * Math.Pow(left, n), At(session, "Tank.y", n * Sample), 1e-9);
    }

    [CompiledFact]
    public void A_run_with_a_unit_branches_from_a_saved_state()
    {
        using var session = Session(Imported(Exported(Original, "c", "3.0", Sample)), 2, Sample);
        session.Advance(new PauseAt { Time = 1 });
        var saved = session.Save();
        session.Advance(new PauseAt());
        using var branch = session.Branch(saved);
        branch.Advance(new PauseAt());
        Assert.Null(branch.Failure);
        Assert.Equal(At(session, "Tank.y", 2), At(branch, "Tank.y", 2));
        Assert.True(session.Set("Controller.k", 4) || session.IsOver);
    }

    /// <summary>As many steps on another way are another state: what a unit is brought back to is told by itself, not by its
    /// count.</summary>
    [CompiledTheory]
    [InlineData(false)]
    [InlineData(true)]
    public void A_unit_that_went_another_way_is_brought_back(bool isSolvedOutside)
    {
        const string Text =
            "block Own\n  input Real u;\n  output Real y;\nprotected\n  discrete Real n(start = 0, fixed = true);\nequation\n"
            + "  when sample(0, 0.1) then\n    n = pre(n) + u;\n  end when;\n  y = n;\nend Own;";
        var model = new DiagramDefinition
        {
            Name = "Rig",
            Parts = new() { ["c"] = Part("#own", "Unit") },
        }
            .AsModel()
            .With("own", new TextDefinition { Name = "Own", Text = Text });
        var request = new CodeRequest("c", 0.1, GridMethod.Euler, false, null, null, isSolvedOutside);
        var archive = UnitArchive.Read(
            ExchangeUnit.Pack(CodeUnit.Of(model, PartCatalog.Of(model), request), "3.0", 1, default).Bytes,
            default
        );
        UnitLibrary.Add(archive, default);
        using var units = new OutsideUnits(new Dictionary<long, IOutsideUnit>());
        var unit = units.Find(OutsideUnits.KindOf(archive.Hash) * OutsideUnits.PerOffer)!;
        double To(double time, double u)
        {
            if (unit is IOutsideSteps steps)
            {
                // It goes on with what it was given before.
                steps.Step(time);
                steps.Put(0, u);
                return steps.Get(0);
            }

            var flow = (IOutsideFlow)unit;
            flow.Point[0] = u;
            flow.Event(time);
            return flow.Value(time, 0);
        }

        var none = unit.Save();
        To(0, 1);
        To(0.1, 1);
        var before = unit.Save();
        var first = To(0.2, 1);
        var once = unit.Save();
        unit.Restore(before);
        var other = To(0.2, 5);
        Assert.NotEqual(first, other);
        unit.Restore(once);
        Assert.Equal(To(0.3, 0), first);
        unit.Restore(none);
        To(0, 1);
        Assert.Equal(first, To(0.1, 1) + 1);
    }

    [CompiledFact]
    public void A_parameter_of_a_unit_changes_while_it_runs()
    {
        using var session = Session(Imported(Exported(Original, "c", "2.0", Sample)), 2, Sample);
        session.Advance(new PauseAt { Time = 1 });
        Assert.True(session.Set("Controller.k", 5));
        session.Advance(new PauseAt());
        Assert.Null(session.Failure);
        var left = 2 - At(session, "Tank.y", 1);
        Assert.Equal(2 - left * (1 - 3 * Sample) * Math.Pow(1 - 5 * Sample, 9), At(session, "Tank.y", 2), 1e-9);
    }

    /// <summary>A controller with states inside, both versions, gives the very values of the same code on a target.</summary>
    [CompiledTheory]
    [InlineData("2.0")]
    [InlineData("3.0")]
    public void A_winch_goes_as_by_the_code_itself(string version)
    {
        const double Step = 0.001,
            End = 5;
        var document = CodeUnitTests.Example("plankton-winch");
        var archive = Exported(document, "p9", version, Step);
        var diagram = document.Main;
        var node = diagram.Parts["p9"] with { Type = "#unit", Parameters = [] };
        var joined = document
            .With("unit", UnitClass.Of(archive, "Imported"))
            .WithMain(diagram with { Parts = new(diagram.Parts) { ["p9"] = node } });
        using var session = Session(joined, End, 0.01);
        session.Advance(new PauseAt());
        Assert.Null(session.Failure);

        using var rig = new TargetTests.Rig(document, End, 0.01, new CodeRequest("p9", Step, GridMethod.Euler, false, null));
        rig.To(End);
        for (var t = 0.0; t <= End; t += 0.25)
            Assert.Equal(rig.At("Controller.torque", t), At(session, "Controller.torque", t), 1e-12);
    }

    [CompiledFact]
    public void A_model_without_its_unit_says_so()
    {
        var document = Level(Part("#unit", "Controller"))
            .With("unit", UnitClass.Of(Exported(Original, "c", "3.0", Sample), "Imported") with { Unit = new string('f', 32) });
        var finding = Assert.Single(DocumentPreparation.Prepare(document, PartCatalog.Of(document)).Findings, f => f.Code == "unit");
        Assert.Contains("not at hand", finding.Message, StringComparison.Ordinal);
    }

    /// <summary>Equations call a unit by the first digits of its hash: two that share them must never be taken for each other.</summary>
    [Fact]
    public void Units_with_the_same_number_are_not_taken_for_each_other()
    {
        UnitLibrary.Offer("abcabcabc00000000000000000000001", () => []);
        UnitLibrary.Offer("abcabcabc00000000000000000000001", () => []);
        Assert.Throws<DeliveryException>(() => UnitLibrary.Offer("abcabcabc00000000000000000000002", () => []));
    }

    const string Valid = """
        <fmiModelDescription fmiVersion="3.0" modelName="M" instantiationToken="t">
          <CoSimulation modelIdentifier="m"/>
          <ModelVariables><Float64 name="y" valueReference="1" causality="output"/></ModelVariables>
        </fmiModelDescription>
        """;

    static byte[] Zip(params (string Name, string Text)[] files)
    {
        using var stream = new MemoryStream();
        using (var archive = new ZipArchive(stream, ZipArchiveMode.Create, true))
            foreach (var (name, text) in files)
            {
                using var to = archive.CreateEntry(name, CompressionLevel.SmallestSize).Open();
                to.Write(Encoding.UTF8.GetBytes(text));
            }
        return stream.ToArray();
    }

    static readonly (string, string) Program = ("binaries/x86_64-linux/m.so", "none");

    public static TheoryData<string, byte[]> Hostile() =>
        new()
        {
            { "no archive", Encoding.UTF8.GetBytes("no archive at all") },
            { "modelDescription.xml", Zip(("other.txt", "")) },
            { "outside of it", Zip(("modelDescription.xml", Valid), ("../../etc/passwd", "x"), Program) },
            { "outside of it", Zip(("modelDescription.xml", Valid), ("/etc/passwd", "x"), Program) },
            { "outside of it", Zip(("modelDescription.xml", Valid), ("a\\..\\b", "x"), Program) },
            { "beyond all measure", Zip(("modelDescription.xml", Valid), ("resources/bomb", new string('0', 30_000_000)), Program) },
            { "not well formed", Zip(("modelDescription.xml", "<a>"), Program) },
            { "not well formed", Zip(("modelDescription.xml", "<!DOCTYPE a [<!ENTITY x \"y\">]><a>&x;</a>"), Program) },
            { "no exchange unit", Zip(("modelDescription.xml", Valid.Replace("3.0", "1.0")), Program) },
            { "neither for co-simulation", Zip(("modelDescription.xml", Valid.Replace("CoSimulation", "ScheduledExecution")), Program) },
            {
                "names a variable",
                Zip(
                    (
                        "modelDescription.xml",
                        Valid
                            .Replace("CoSimulation", "ModelExchange")
                            .Replace("</fmi", "<ModelStructure><ContinuousStateDerivative valueReference=\"77\"/></ModelStructure></fmi")
                    ),
                    Program
                )
            },
            { "no identifier", Zip(("modelDescription.xml", Valid.Replace("=\"m\"", "=\"../m\"")), Program) },
            { "no program for Linux", Zip(("modelDescription.xml", Valid)) },
            { "no output", Zip(("modelDescription.xml", Valid.Replace("output", "local")), Program) },
        };

    [Theory]
    [MemberData(nameof(Hostile))]
    public void Archives_that_are_none_are_refused_with_the_reason(string reason, byte[] bytes)
    {
        var refused = Assert.Throws<DeliveryException>(() => UnitArchive.Read(bytes, default));
        Assert.Contains(reason, refused.Message, StringComparison.Ordinal);
    }

    [Fact]
    public void Damaged_archives_are_read_or_refused_and_nothing_else()
    {
        var level = Level(Part("PID", "Controller", ("k", "1")));
        var unit = CodeUnit.Of(level, PartCatalog.Of(level), new CodeRequest("c", Sample, GridMethod.Euler, false, null));
        var seeds = ((string[])["2.0", "3.0"]).Select(v => ExchangeUnit.Pack(unit, v, 10, default).Bytes).ToList();
        string[] scraps =
        [
            "<",
            ">",
            "</",
            "&b;",
            "\"",
            "<!DOCTYPE a>",
            "../../x",
            "/etc/x",
            "1e999",
            "-1",
            "NaN",
            "valueReference=\"0\"",
            "\0",
        ];
        var faults = Mutation.Faults(seeds, scraps, Mutation.Count(300), b => UnitArchive.Read(b, default), e => e is DeliveryException);
        Assert.True(faults.Count == 0, string.Join('\n', faults));
    }

    /// <summary>Programs that end, hang or have nothing end their run with a reason, and nothing else.</summary>
    [CompiledTheory]
    [InlineData("int nothing;", "has no function")]
    [InlineData("#include <stdlib.h>\nvoid *fmi3InstantiateCoSimulation(void) { abort(); }", "ended with")]
    [InlineData("void *fmi3InstantiateCoSimulation(void) { return 0; }", "makes no instance")]
    public void A_program_that_fails_ends_its_run_alone(string source, string reason)
    {
        var folder = Directory.CreateTempSubdirectory("hostile-").FullName;
        File.WriteAllText(Path.Combine(folder, "m.c"), source);
        var made = NativeCode.Run("gcc", ["-shared", "-fPIC", "-o", "m.so", "m.c"], folder, TimeSpan.FromSeconds(30), default);
        Assert.Equal(0, made.Code);
        using var stream = new MemoryStream();
        using (var archive = new ZipArchive(stream, ZipArchiveMode.Create, true))
        {
            archive.CreateEntryFromFile(Path.Combine(folder, "m.so"), "binaries/x86_64-linux/m.so");
            using var to = archive.CreateEntry("modelDescription.xml").Open();
            to.Write(Encoding.UTF8.GetBytes(Valid));
        }

        Directory.Delete(folder, true);
        var unit = UnitArchive.Read(stream.ToArray(), default);
        UnitLibrary.Add(unit, default);
        var document = new DiagramDefinition
        {
            Name = "M",
            Parts = new() { ["u"] = Part("#unit", "Unit") },
        }
            .AsModel()
            .With("unit", UnitClass.Of(unit, "Imported"));
        using var session = Session(document, 1, Sample);
        session.Advance(new PauseAt());
        Assert.Contains(reason, session.Failure?.Message, StringComparison.Ordinal);
    }
}
