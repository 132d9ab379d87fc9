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

/// <summary>Exchange units for model exchange, integrated by a small program in C that knows the standard and nothing of this
/// one.</summary>
public sealed class SolvedOutsideTests : IDisposable
{
    readonly string folder = Directory.CreateTempSubdirectory("exchange-test-").FullName;

    public void Dispose() => Directory.Delete(folder, true);

    static CodeUnit Unit(string text)
    {
        var model = new DiagramDefinition
        {
            Name = "Rig",
            Parts = new() { ["c"] = Part("#own", "Unit") },
        }.AsModel();
        model.Definitions["own"] = new TextDefinition { Name = "Own", Text = $"block Own\n{text}\nend Own;" };
        return CodeUnit.Of(model, PartCatalog.Of(model), new("Unit", 0.01, GridMethod.Euler, false, null, null, true));
    }

    static string Attribute(XElement element, string name) => element.Attribute(name)?.Value ?? "";

    /// <summary>Rows of time and outputs, and how slopes change with the first state.</summary>
    (List<double[]> Rows, List<double> Changes) Solved(CodeUnit unit, string version, double step, int steps, double? input = null)
    {
        var bytes = ExchangeUnit.Pack(unit, version, 1, default).Bytes;
        using (var archive = new ZipArchive(new MemoryStream(bytes)))
            archive.ExtractToDirectory(folder, true);
        var root = XDocument.Load(Path.Combine(folder, "modelDescription.xml")).Root!;
        var isThird = version == "3.0";
        var kind = root.Element("ModelExchange")!;
        Assert.Null(root.Element("CoSimulation"));
        var variables = root.Element("ModelVariables")!.Elements().ToList();
        List<string> Of(string causality) =>
            [.. variables.Where(v => Attribute(v, "causality") == causality).Select(v => Attribute(v, "valueReference"))];
        var slopes = variables
            .Where(v => Attribute(isThird ? v : v.Elements().Single(), "derivative").Length > 0)
            .Select(v => int.Parse(Attribute(v, "valueReference"), CultureInfo.InvariantCulture))
            .ToList();
        var indicators = isThird
            ? root.Element("ModelStructure")!.Elements("EventIndicator").Count().ToString(CultureInfo.InvariantCulture)
            : Attribute(root, "numberOfEventIndicators");
        var source = Path.Combine(AppContext.BaseDirectory, "Importers", "solver.c");
        Assert.Equal(
            "",
            Run("gcc", ["-std=gnu99", "-Wall", .. isThird ? ["-DTHIRD"] : (string[])[], "-o", "solver", source, "-ldl", "-lm"]).Said
        );
        var (rows, said) = Run(
            "env",
            $"STATES={slopes.Count}",
            $"INDICATORS={indicators}",
            FormattableString.Invariant($"FIRST={(slopes.Count > 0 ? slopes[0] - slopes.Count : 0)}"),
            Path.Combine(folder, "solver"),
            Path.Combine(folder, "binaries", isThird ? "x86_64-linux" : "linux64", Attribute(kind, "modelIdentifier") + ".so"),
            Attribute(root, isThird ? "instantiationToken" : "guid"),
            step.ToString("R", CultureInfo.InvariantCulture),
            steps.ToString(CultureInfo.InvariantCulture),
            string.Join(',', Of("output")),
            input is { } u ? FormattableString.Invariant($"{Of("input").Single()}={u:R}") : "-"
        );
        static double[] Numbers(string line, char between) =>
            [.. line.Split(between, StringSplitOptions.RemoveEmptyEntries).Select(n => double.Parse(n, CultureInfo.InvariantCulture))];
        return ([.. rows.Split('\n', StringSplitOptions.RemoveEmptyEntries).Select(r => Numbers(r, ' '))], [.. Numbers(said, '\n')]);
    }

    (string Rows, string Said) Run(string program, params string[] arguments)
    {
        var start = new ProcessStartInfo(program)
        {
            RedirectStandardOutput = true,
            RedirectStandardError = true,
            WorkingDirectory = folder,
        };
        foreach (var argument in arguments)
            start.ArgumentList.Add(argument);
        using var process = Process.Start(start)!;
        var rows = process.StandardOutput.ReadToEndAsync();
        var said = process.StandardError.ReadToEnd();
        process.WaitForExit();
        Assert.True(process.ExitCode == 0, said);
        return (rows.Result, said);
    }

    /// <summary>A lag of 0.2 s from its exact answer; the method errs by less than (h/T)⁴/120 of the way.</summary>
    [CompiledTheory]
    [InlineData("2.0")]
    [InlineData("3.0")]
    public void A_lag_follows_its_exact_answer(string version)
    {
        const string Text = "  input Real u;\n  output Real y;\nprotected\n  parameter Real T = 0.2;\nequation\n  T * der(y) = 3 * u - y;";
        var (rows, changes) = Solved(Unit(Text), version, 0.01, 100, 2);
        Assert.Equal(101, rows.Count);
        foreach (var row in rows)
            Assert.Equal(6 * (1 - Math.Exp(-row[0] / 0.2)), row[1], 6 * Math.Pow(0.05, 4) / 120);
        // The slope changes with the state by -1/T, as far as central differences tell.
        Assert.Equal(-5, Assert.Single(changes), 1e-8);
    }

    /// <summary>A ball that keeps 0.8 of its speed: when it meets the floor, and how high it is, from the laws of its fall.</summary>
    [CompiledTheory]
    [InlineData("2.0")]
    [InlineData("3.0")]
    public void Events_are_found_and_set_states(string version)
    {
        const string Text =
            "  output Real y;\nprotected\n  Real h(start = 1, fixed = true);\n  Real v(start = 0, fixed = true);\nequation\n"
            + "  der(h) = v;\n  der(v) = -9.81;\n  when h < 0 then\n    reinit(v, -0.8 * v);\n  end when;\n  y = h;";
        var (rows, _) = Solved(Unit(Text), version, 0.05, 40);
        var (from, speed) = (Math.Sqrt(2 / 9.81), 0.8 * Math.Sqrt(2 * 9.81));
        foreach (var row in rows)
        {
            var t = row[0];
            var (begin, up) = (from, speed);
            while (t > begin + 2 * up / 9.81)
                (begin, up) = (begin + 2 * up / 9.81, 0.8 * up);
            var expected = t < from ? 1 - 9.81 / 2 * t * t : up * (t - begin) - 9.81 / 2 * (t - begin) * (t - begin);
            // Parabolas are integrated exactly; events are found to 1e-13 s at up to 4.5 m/s.
            Assert.Equal(expected, row[1], 1e-11);
        }
    }

    /// <summary>What time alone brings is met exactly: comparisons with it, points of tables, and samples.</summary>
    [CompiledTheory]
    [InlineData("2.0")]
    [InlineData("3.0")]
    public void Instants_are_met_exactly(string version)
    {
        const string Text =
            "  output Real ramp;\n  output Real stairs;\n  output Real ticks;\nprotected\n  Real x(start = 0, fixed = true);\n"
            + "  Real w(start = 0, fixed = true);\n  discrete Real n(start = 0, fixed = true);\nequation\n"
            + "  der(x) = if time >= 0.3 then 1 else 0;\n"
            + "  der(w) = interpolate(time, {0, 0.17, 0.43, 2}, {0, 1, 1, 1});\n"
            + "  when sample(0, 0.25) then\n    n = pre(n) + 1;\n  end when;\n  ramp = x;\n  stairs = w;\n  ticks = n;";
        var (rows, _) = Solved(Unit(Text), version, 0.1, 10);
        Assert.Contains(rows, r => r[0] == 0.3);
        Assert.Contains(rows, r => r[0] == 0.17);
        foreach (var row in rows)
            Assert.Equal(Math.Max(0, row[0] - 0.3), row[1], 1e-14);
        var last = rows[^1];
        // A ramp up to 0.17 s, from then on 1: areas of a triangle and a rectangle.
        Assert.Equal(0.17 / 2 + (1 - 0.17), last[2], 1e-14);
        Assert.Equal(5, last[3]);
        // Right of each sample it is counted, left of it not yet.
        Assert.Equal([1.0, 2.0], rows.Where(r => r[0] == 0.25).Select(r => r[3]));
    }

    /// <summary>What an input leads to changes between events, and passing a limit is an event.</summary>
    [CompiledFact]
    public void Inputs_pass_through_and_are_decided_on()
    {
        const string Text =
            "  input Real u;\n  output Real y;\nprotected\n  Real a;\n  Boolean high;\nequation\n  a = 2 * u;\n  high = a > 3;\n"
            + "  y = if high then 10 else a;";
        var code = CWriter.Write(Unit(Text))[1].Text;
        var flow = code[code.IndexOf("void unit_flow", StringComparison.Ordinal)..];
        Assert.Contains("2.0 * u->u", flow[..flow.IndexOf("\n}", StringComparison.Ordinal)], StringComparison.Ordinal);
        Assert.Contains("z[0] = ", flow, StringComparison.Ordinal);
    }

    /// <summary>An algebraic loop with an exact answer: x' = -y where y + y³ = x.</summary>
    [CompiledFact]
    public void Loops_are_solved_at_every_slope()
    {
        const string Text = "  output Real y;\nprotected\n  Real x(start = 2, fixed = true);\nequation\n  der(x) = -y;\n  y + y ^ 3 = x;";
        var (rows, changes) = Solved(Unit(Text), "3.0", 0.01, 100);
        // With y: (1 + 3 y²) y' = -y, so ln y + 3/2 y² falls by one in a second.
        double Invariant(double y) => Math.Log(y) + 1.5 * y * y;
        Assert.Equal(1, rows[0][1], 1e-12);
        foreach (var row in rows)
            Assert.Equal(Invariant(1) - row[0], Invariant(row[1]), 1e-8);
        var end = rows[^1][1];
        Assert.Equal(-1 / (1 + 3 * end * end), Assert.Single(changes), 1e-7);
    }

    /// <summary>Nothing continuous, nothing to decide, whole numbers and truth: all that layers are made of compiles without a
    /// word.</summary>
    [CompiledTheory]
    [InlineData("Negation")]
    [InlineData("Toggle")]
    [InlineData("Constant")]
    [InlineData("Counter")]
    [InlineData("Sum")]
    [InlineData("PID")]
    [InlineData("Relay")]
    [InlineData("StateSpace")]
    [InlineData("Noise")]
    public void Layers_of_all_kinds_compile(string type)
    {
        var model = new DiagramDefinition
        {
            Name = "Rig",
            Parts = new() { ["c"] = Part(type, "Unit") },
        }.AsModel();
        var unit = CodeUnit.Of(model, PartCatalog.Of(model), new("Unit", 0.01, GridMethod.Euler, false, null, null, true));
        foreach (var version in (string[])["2.0", "3.0"])
            Assert.NotEmpty(ExchangeUnit.Pack(unit, version, null, default).Bytes);
    }
}
