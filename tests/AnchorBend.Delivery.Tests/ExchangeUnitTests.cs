using System.Diagnostics;
using System.Globalization;
using System.IO.Compression;
using System.Xml.Linq;
using AnchorBend.Delivery.Exchange;
using AnchorBend.Modeling.Catalog;
using AnchorBend.Modeling.Documents;
using AnchorBend.Simulation.Grid;
using static AnchorBend.Tests.Diagrams;

namespace AnchorBend.Delivery.Tests;

/// <summary>Exchange units, used by a small importer in C that knows the standard and nothing of this program.</summary>
public sealed class ExchangeUnitTests : IDisposable
{
    readonly string folder = Directory.CreateTempSubdirectory("exchange-test-").FullName;

    public void Dispose() => Directory.Delete(folder, true);

    static ModelDocument Example(string name)
    {
        var root = AppContext.BaseDirectory;
        while (!File.Exists(Path.Combine(root, "AnchorBend.slnx")))
            root = Path.GetDirectoryName(root)!;
        return ModelDocument.FromJson(File.ReadAllText(Path.Combine(root, "examples", name + ".json")));
    }

    static CodeUnit Unit(ModelDocument document, string part, double step = 1e-3, GridMethod method = GridMethod.Euler) =>
        CodeUnit.Of(document, PartCatalog.Of(document), new CodeRequest(part, step, method, false, null));

    static ModelDocument One(string type, params (string, string)[] parameters) =>
        new DiagramDefinition
        {
            Name = "Rig",
            Parts = new() { ["c"] = Part(type, "Unit", parameters) },
        }.AsModel();

    XElement Unpack(byte[] bytes)
    {
        using (var archive = new ZipArchive(new MemoryStream(bytes)))
            archive.ExtractToDirectory(folder);
        return XDocument.Load(Path.Combine(folder, "modelDescription.xml")).Root!;
    }

    static string Attribute(XElement element, string name) => element.Attribute(name)?.Value ?? "";

    static IEnumerable<(string Reference, string Name)> Of(XElement root, string causality) =>
        root.Element("ModelVariables")!
            .Elements()
            .Where(v => Attribute(v, "causality") == causality)
            .Select(v => (Attribute(v, "valueReference"), Attribute(v, "name")));

    string Run(string program, params string[] arguments)
    {
        var start = new ProcessStartInfo(program) { RedirectStandardError = true, WorkingDirectory = folder };
        foreach (var argument in arguments)
            start.ArgumentList.Add(argument);
        using var process = Process.Start(start)!;
        var said = process.StandardError.ReadToEnd();
        process.WaitForExit();
        Assert.Equal(0, process.ExitCode);
        return said;
    }

    /// <summary>Each communication point gives the bits of the model on the grid, in both versions.</summary>
    [CompiledTheory]
    [InlineData("2.0", "plankton-winch", "Controller", GridMethod.Euler)]
    [InlineData("3.0", "plankton-winch", "Controller", GridMethod.Euler)]
    [InlineData("2.0", "plankton-winch", "Nets and water", GridMethod.RungeKutta4)]
    [InlineData("3.0", "plankton-winch", "Nets and water", GridMethod.RungeKutta4)]
    public void An_importer_gets_the_bits_of_the_model(string version, string example, string part, GridMethod method)
    {
        const int Steps = 400;
        var unit = Unit(Example(example), part, 0.01, method);
        var root = Unpack(ExchangeUnit.Pack(unit, version, 4, default).Bytes);
        Assert.Equal(version, Attribute(root, "fmiVersion"));
        var isThird = version == "3.0";
        var token = Attribute(root, isThird ? "instantiationToken" : "guid");
        var identifier = Attribute(root.Element("CoSimulation")!, "modelIdentifier");
        var library = Path.Combine(folder, "binaries", isThird ? "x86_64-linux" : "linux64", identifier + ".so");
        var (inputs, outputs) = (Of(root, "input").ToList(), Of(root, "output").ToList());
        Assert.Equal(unit.Inputs.Select(i => i.Name), inputs.Select(i => i.Name));
        Assert.Equal(unit.Outputs.Select(o => o.Name), outputs.Select(o => o.Name));

        var rows = DrawnInputs.Of(unit, Steps, 3);
        var (given, made) = (Path.Combine(folder, "in.bin"), Path.Combine(folder, "out.bin"));
        using (var writer = new BinaryWriter(File.Create(given)))
            foreach (var value in rows.SelectMany(r => r))
                writer.Write(value);
        var source = Path.Combine(AppContext.BaseDirectory, "Importers", "importer.c");
        Assert.Equal("", Run("gcc", ["-std=gnu99", "-Wall", .. isThird ? ["-DTHIRD"] : (string[])[], "-o", "importer", source, "-ldl"]));
        Run(
            Path.Combine(folder, "importer"),
            library,
            token,
            "0.01",
            Steps.ToString(CultureInfo.InvariantCulture),
            string.Join(',', inputs.Select(i => i.Reference)),
            string.Join(',', outputs.Select(o => o.Reference)),
            given,
            made
        );

        using var reference = unit.Reference();
        using var reader = new BinaryReader(File.OpenRead(made));
        int[] from = [.. unit.Inputs.Select(i => i.Variable.Index)],
            to = [.. unit.Outputs.Select(o => o.Variable.Index)];
        var results = new double[to.Length];
        foreach (var row in rows)
        {
            reference.Step(from, row, to, results);
            foreach (var expected in results)
                Assert.Equal(expected, reader.ReadDouble());
        }
    }

    [CompiledTheory]
    [InlineData("2.0")]
    [InlineData("3.0")]
    public void The_same_unit_packs_to_the_same_bytes(string version)
    {
        var document = One("Lag", ("T", "0.2 s"));
        var (name, bytes) = ExchangeUnit.Pack(Unit(document, "Unit"), version, null, default);
        Assert.Equal("unit.fmu", name);
        Assert.Equal(bytes, ExchangeUnit.Pack(Unit(document, "Unit"), version, null, default).Bytes);
        // Another value is another unit.
        var other = ExchangeUnit.Pack(Unit(One("Lag", ("T", "0.3 s")), "Unit"), version, null, default).Bytes;
        Assert.NotEqual(
            Attribute(Unpack(bytes), version == "3.0" ? "instantiationToken" : "guid"),
            Attribute(Description(other), version == "3.0" ? "instantiationToken" : "guid")
        );
    }

    static XElement Description(byte[] bytes)
    {
        using var archive = new ZipArchive(new MemoryStream(bytes));
        using var stream = archive.GetEntry("modelDescription.xml")!.Open();
        return XDocument.Load(stream).Root!;
    }

    /// <summary>Units with their base units, starts, causalities, as the standard wants them.</summary>
    [CompiledTheory]
    [InlineData("2.0")]
    [InlineData("3.0")]
    public void Variables_say_what_they_are(string version)
    {
        var root = Description(ExchangeUnit.Pack(Unit(One("Lag", ("T", "0.2 s"), ("k", "3")), "Unit"), version, 5, default).Bytes);
        XElement Variable(string name) => root.Element("ModelVariables")!.Elements().Single(v => Attribute(v, "name") == name);
        string Told(string name, string attribute) =>
            version == "3.0" ? Attribute(Variable(name), attribute)
            : Attribute(Variable(name), attribute) is { Length: > 0 } own ? own
            : Attribute(Variable(name).Elements().Single(), attribute);
        Assert.Equal(
            ("parameter", "tunable", "0.2", "s"),
            (Told("T", "causality"), Told("T", "variability"), Told("T", "start"), Told("T", "unit"))
        );
        Assert.Equal(("output", "calculated", ""), (Told("y", "causality"), Told("y", "initial"), Told("y", "start")));
        Assert.Equal(("input", "0"), (Told("u", "causality"), Told("u", "start")));
        var second = root.Element("UnitDefinitions")!.Elements("Unit").Single(u => Attribute(u, "name") == "s");
        Assert.Equal("1", Attribute(second.Element("BaseUnit")!, "s"));
        Assert.Equal("5", Attribute(root.Element("DefaultExperiment")!, "stopTime"));
        var references = root.Element("ModelVariables")!.Elements().Select(v => Attribute(v, "valueReference")).ToList();
        Assert.Equal(references.Count, references.Distinct().Count());
    }

    /// <summary>Which inputs show in an output at once: those that are read on the way to it now, not those that a state or a sample before
    /// holds.</summary>
    [CompiledTheory]
    [InlineData("2.0", "direct = a + x", "a")]
    [InlineData("2.0", "direct = x", "")]
    [InlineData("3.0", "direct = if b > 0 then a else 0", "a b")]
    [InlineData("3.0", "direct = w * 2", "b")]
    [InlineData("3.0", "direct = before", "")]
    [InlineData("3.0", "direct + 0.1 * sin(direct) = b", "b")]
    public void Outputs_tell_what_shows_in_them_at_once(string version, string equation, string inputs)
    {
        var text =
            "block Own\n  input Real a;\n  input Real b;\n  output Real direct;\nprotected\n  Real x(start = 0, fixed = true);\n  Real w;\n"
            + "  discrete Real held(start = 0, fixed = true);\n  discrete Real before(start = 0, fixed = true);\nequation\n  der(x) = a;\n"
            + $"  w = b + 1;\n  when sample(0, 0.01) then\n    held = a;\n    before = pre(held);\n  end when;\n  {equation};\nend Own;";
        var model = One("#own").With("own", new TextDefinition { Name = "Own", Text = text });
        var root = Description(ExchangeUnit.Pack(Unit(model, "Unit", 0.01), version, null, default).Bytes);
        var structure = root.Element("ModelStructure")!;
        var output = version == "3.0" ? structure.Element("Output")! : structure.Element("Outputs")!.Element("Unknown")!;
        var names = root.Element("ModelVariables")!.Elements().Select(v => Attribute(v, "name")).ToList();
        var on = Attribute(output, "dependencies").Split(' ', StringSplitOptions.RemoveEmptyEntries).Select(int.Parse);
        Assert.Equal(inputs, string.Join(' ', on.Select(r => names[version == "3.0" ? r : r - 1])));
    }

    /// <summary>Booleans, whole numbers, parameters or none: all that layers are made of compiles without a word.</summary>
    [CompiledTheory]
    [InlineData("Negation")]
    [InlineData("Toggle")]
    [InlineData("Constant")]
    [InlineData("Counter")]
    [InlineData("Sum")]
    [InlineData("PID")]
    [InlineData("Switch")]
    public void Layers_of_all_kinds_compile(string type)
    {
        var unit = Unit(One(type), "Unit");
        foreach (var version in (string[])["2.0", "3.0"])
            Assert.NotEmpty(ExchangeUnit.Pack(unit, version, null, default).Bytes);
    }
}
