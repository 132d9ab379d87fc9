using AnchorBend.Language.Binding;
using AnchorBend.Modeling.Catalog;
using AnchorBend.Modeling.Documents;
using AnchorBend.Simulation.Grid;
using static AnchorBend.Tests.Diagrams;

namespace AnchorBend.Delivery.Tests;

/// <summary>Parts of models as C code, run side by side with the model on the same grid.</summary>
public class CodeUnitTests
{
    static string Root()
    {
        var folder = AppContext.BaseDirectory;
        while (!File.Exists(Path.Combine(folder, "AnchorBend.slnx")))
            folder = Path.GetDirectoryName(folder)!;
        return folder;
    }

    internal static ModelDocument Example(string name) =>
        ModelDocument.FromJson(File.ReadAllText(Path.Combine(Root(), "examples", name + ".json")));

    static ModelDocument Model(string type, params (string, string)[] parameters) =>
        new DiagramDefinition
        {
            Name = "Rig",
            Parts = new() { ["c"] = Part(type, "Unit", parameters) },
        }.AsModel();

    static CodeUnit Unit(
        ModelDocument document,
        string part = "Unit",
        double step = 1e-3,
        GridMethod method = GridMethod.Euler,
        bool isFloat = false,
        string[]? tunable = null
    ) => CodeUnit.Of(document, PartCatalog.Of(document), new CodeRequest(part, step, method, isFloat, tunable));

    static string Source(CodeUnit unit) => CWriter.Write(unit)[1].Text;

    static string Header(CodeUnit unit) => CWriter.Write(unit)[0].Text;

    static void IsSame(CodeUnit unit, int steps = 3000)
    {
        var result = BackToBack.Compare(unit, DrawnInputs.Of(unit, steps, 7));
        Assert.Equal("", result.Compiler);
        Assert.Null(result.First);
        Assert.Equal(steps, result.Steps);
    }

    /// <summary>Cascades, machines, sampled controllers, charts, schedules, tables of decisions, noise.</summary>
    [CompiledTheory]
    [InlineData("plankton-winch", "Controller", GridMethod.Euler)]
    [InlineData("plankton-winch", "Controller", GridMethod.RungeKutta4)]
    [InlineData("plankton-winch", "Drive", GridMethod.Heun)]
    [InlineData("plankton-winch", "Nets and water", GridMethod.RungeKutta4)]
    [InlineData("near-and-far-side", "Sides", GridMethod.Euler)]
    [InlineData("storm-pump", "Start sequence", GridMethod.Euler)]
    [InlineData("storm-pump", "Hand-over", GridMethod.Euler)]
    [InlineData("tide-gate-modes", "Modes", GridMethod.Euler)]
    [InlineData("tide-gate-modes", "Service run", GridMethod.Euler)]
    [InlineData("crane-slewing", "Speed controller", GridMethod.Euler)]
    [InlineData("survey-boat", "Helm", GridMethod.Euler)]
    [InlineData("survey-mission", "Missions", GridMethod.Euler)]
    [InlineData("survey-mission", "Course keeper", GridMethod.RungeKutta4)]
    public void Code_computes_the_bits_of_the_model(string example, string part, GridMethod method) =>
        IsSame(Unit(Example(example), part, 5e-3, method));

    /// <summary>Whole models: networks, mechanisms, hydraulics, machines, charts. Outputs are what has a name.</summary>
    [CompiledTheory]
    [InlineData("plankton-winch")]
    [InlineData("quay-crane")]
    [InlineData("tide-gate")]
    [InlineData("synchronous-winch")]
    [InlineData("survey-mission")]
    [InlineData("crane-slewing")]
    [InlineData("crane-drive-line")]
    [InlineData("buoy-cell")]
    [InlineData("lamp-buoy")]
    [InlineData("pump-watch")]
    [InlineData("hatchery-loop")]
    public void Code_of_a_whole_model_computes_its_bits(string example) =>
        IsSame(Unit(Example(example), "", 1e-4, GridMethod.RungeKutta4), 1000);

    /// <summary>The sum of an integrator by Euler's method: 0.25 a step of 0.5 s with an input of 0.5.</summary>
    [CompiledFact]
    public void An_integrator_sums_up()
    {
        var unit = Unit(Model("Integrator", ("y0", "2")), step: 0.5);
        using var run = unit.Reference();
        int[] inputs = [unit.Inputs.Single().Variable.Index],
            outputs = [unit.Outputs.Single().Variable.Index];
        var y = new double[1];
        foreach (var expected in new[] { 2, 2.25, 2.5, 2.75 })
        {
            run.Step(inputs, [0.5], outputs, y);
            Assert.Equal(expected, y[0]);
        }

        IsSame(unit, 100);
    }

    /// <summary>Exact solution e^(−t/T) of a lag from 1 after one second: errors of order 1, 2 and 4.</summary>
    [Theory]
    [InlineData(GridMethod.Euler, 2e-3)]
    [InlineData(GridMethod.Heun, 7e-6)]
    [InlineData(GridMethod.RungeKutta4, 4e-11)]
    public void Methods_have_their_order(GridMethod method, double error)
    {
        var unit = Unit(Model("Lag", ("T", "1 s"), ("y0", "1")), step: 0.01, method: method);
        using var run = unit.Reference();
        int[] inputs = [unit.Inputs.Single().Variable.Index],
            outputs = [unit.Outputs.Single().Variable.Index];
        var y = new double[1];
        for (var step = 0; step <= 100; step++)
            run.Step(inputs, [0], outputs, y);
        Assert.Equal(Math.Exp(-1), y[0], error);
    }

    /// <summary>What people would write by hand: nothing but its own arithmetic.</summary>
    [Fact]
    public void A_gain_is_one_line()
    {
        var source = Source(Unit(Model("Gain", ("k", "2.5"))));
        Assert.Contains(
            "unit_step(unit_state *s, const unit_parameters *p, const unit_inputs *u, unit_outputs *y)",
            Joined(source),
            StringComparison.Ordinal
        );
        Assert.Contains("= p->k * u->u;", source, StringComparison.Ordinal);
        Assert.Contains("p->k = 2.5;", source, StringComparison.Ordinal);
        Assert.Contains("static const double k = 2.5;", Source(Unit(Model("Gain", ("k", "2.5")), tunable: [])), StringComparison.Ordinal);
    }

    static string Joined(string text) => System.Text.RegularExpressions.Regex.Replace(text, @"\s+", " ");

    [Fact]
    public void Inputs_and_outputs_have_their_types_and_units()
    {
        var header = Header(Unit(Example("tide-gate-modes"), "Modes", 0.01));
        Assert.Contains("bool", header, StringComparison.Ordinal);
        var winch = Header(Unit(Example("plankton-winch"), "Controller"));
        Assert.Contains("double torque;             /* Torque asked of the motor, N.m */", winch, StringComparison.Ordinal);
    }

    /// <summary>The same model gives the same text; another value of a constant changes its line alone.</summary>
    [Fact]
    public void Names_stay_when_values_change()
    {
        string Written(string k) => Source(Unit(Model("PID", ("k", k), ("limited", "true")), tunable: []));
        Assert.Equal(Written("2"), Written("2"));
        var (one, other) = (Written("2").Split('\n'), Written("3").Split('\n'));
        Assert.Equal(one.Length, other.Length);
        Assert.Single(one.Zip(other), l => l.First != l.Second);
    }

    /// <summary>Each line of arithmetic leads back to the part that it comes from.</summary>
    [Fact]
    public void Lines_know_their_parts()
    {
        var file = CWriter.Write(Unit(Example("plankton-winch"), "Controller"))[1];
        var lines = file.Text.Split('\n');
        var ratio = Array.FindIndex(lines, l => l.Contains("const double Ratio_y", StringComparison.Ordinal));
        Assert.Equal("Ratio", CodeUnit.PathWithin(file.Origins[ratio + 1]));
        Assert.Contains("Depth controller", file.Origins.Values.Select(CodeUnit.PathWithin));
    }

    /// <summary>Numbers of 32 bits err by some rounding, no more.</summary>
    [CompiledFact]
    public void Floats_stay_within_rounding()
    {
        var unit = Unit(Example("plankton-winch"), "Controller", isFloat: true);
        Assert.DoesNotContain("double", Source(unit), StringComparison.Ordinal);
        IsSame(unit, 500);
    }

    [CompiledFact]
    public void Clocks_tick_in_whole_steps()
    {
        var model = Model("SampledPID", ("T", "10 ms"));
        IsSame(Unit(model, step: 1e-3));
        IsSame(Unit(model, step: 1e-2));
        var failure = Assert.Throws<DeliveryException>(() => Unit(model, step: 3e-3));
        Assert.Contains("no whole number of steps", failure.Message, StringComparison.Ordinal);
    }

    [CompiledTheory]
    [InlineData("Table", "x", "{0, 1, 2}", "values", "{0, 1, 4}")]
    [InlineData("RecordedTable", "t", "{0, 0.1, 0.35, 1}", "values", "{0, 1, -1, 3}")]
    public void Tables_are_read_as_the_model_reads_them(string type, string x, string xs, string y, string ys) =>
        IsSame(Unit(Model(type, (x, xs), (y, ys)), step: 0.01));

    [Theory]
    [InlineData("DeadTime", "a continuous delay")]
    [InlineData("Mass", "physical port")]
    [InlineData("Resistor", "physical port")]
    public void What_has_no_code_is_told(string type, string said)
    {
        var failure = Assert.Throws<DeliveryException>(() => Unit(Model(type)));
        Assert.Contains(said, failure.Message, StringComparison.Ordinal);
        Assert.NotEmpty(failure.Advice);
    }

    [Fact]
    public void Wrong_requests_are_told()
    {
        Assert.Throws<DeliveryException>(() => Unit(Model("Gain"), "Gone"));
        Assert.Throws<DeliveryException>(() => Unit(Model("Gain"), step: 0));
        Assert.Throws<DeliveryException>(() => Unit(Model("Gain"), step: double.NaN));
        Assert.Throws<DeliveryException>(() => Unit(Model("Gain"), tunable: ["gone"]));
    }

    /// <summary>Rule 8.9 is not kept on purpose: constants stand together at the head.</summary>
    [CheckedTheory]
    [InlineData("plankton-winch", "Controller", GridMethod.RungeKutta4)]
    [InlineData("near-and-far-side", "Sides", GridMethod.Euler)]
    [InlineData("tide-gate-modes", "Service run", GridMethod.Euler)]
    public void Rules_for_safe_code_are_kept(string example, string part, GridMethod method)
    {
        var folder = Directory.CreateTempSubdirectory("rules-").FullName;
        var files = CWriter.Write(Unit(Example(example), part, 5e-3, method));
        foreach (var file in files)
            File.WriteAllText(Path.Combine(folder, file.Name), file.Text);
        var missed = NativeCode.RulesMissed(folder, files[1].Name, CancellationToken.None);
        Directory.Delete(folder, true);
        Assert.Empty(missed.Except(["8.9"]));
    }

    /// <summary>Whatever numbers a part has, the code computes what the model does.</summary>
    [CompiledFact]
    public void Drawn_parts_give_the_same_bits()
    {
        var random = new Random(3);
        string Number(double low, double high) =>
            (low + (high - low) * random.NextDouble()).ToString("R", System.Globalization.CultureInfo.InvariantCulture);
        for (var i = 0; i < 8; i++)
        {
            var model = new DiagramDefinition
            {
                Name = "Rig",
                Parts = new() { ["c"] = Part("#loop", "Unit") },
            }.AsModel();
            model.Definitions["loop"] = new DiagramDefinition
            {
                Name = "Loop",
                Parts = new()
                {
                    ["i"] = Part("InputPort", "in"),
                    ["o"] = Part("OutputPort", "out"),
                    ["p"] = Part(
                        "PID",
                        "Controller",
                        ("k", Number(0.1, 5)),
                        ("Ti", Number(0.1, 3)),
                        ("limited", i % 2 == 0 ? "true" : "false"),
                        ("uMax", Number(0.5, 2)),
                        ("uMin", "-1")
                    ),
                    ["f"] = Part("Lag", "Filter", ("T", Number(0.05, 1)), ("k", Number(-2, 2))),
                    ["s"] = Part("Saturation", "Limit", ("upper", Number(0, 1)), ("lower", Number(-1, 0))),
                },
                Wires = new()
                {
                    ["w1"] = Wire("i.port", "p.r"),
                    ["w2"] = Wire("p.u", "f.u"),
                    ["w3"] = Wire("f.y", "s.u"),
                    ["w4"] = Wire("s.y", "p.y"),
                    ["w5"] = Wire("f.y", "o.port"),
                },
            };
            IsSame(Unit(model, step: 0.01, method: (GridMethod)(i % 3)), 500);
        }
    }

    /// <summary>Words of a model stand in comments; none of them may become code, whatever they say.</summary>
    [CompiledTheory]
    [InlineData("*/ #error out /*")]
    [InlineData("**//* ??/ \\")]
    [InlineData("line one\n#error two\r\n*/ int x; /*/")]
    public void Descriptions_stay_comments(string words)
    {
        var model = new DiagramDefinition
        {
            Name = "Rig",
            Parts = new() { ["c"] = Part("#own", "host") },
        }.AsModel();
        model.Definitions["own"] = new DiagramDefinition
        {
            Name = "Own",
            Parameters =
            {
                ["gain"] = new ParameterNode { Value = "2", Description = words },
            },
            Parts = new()
            {
                ["i"] = Part("InputPort", "in", ("description", $"\"{words.Replace("\\", "\\\\", StringComparison.Ordinal)}\"")),
                ["o"] = Part("OutputPort", "out"),
                ["g"] = Part(
                    "Gain",
                    words.Replace("\n", " ", StringComparison.Ordinal).Replace("\r", " ", StringComparison.Ordinal),
                    ("k", "gain")
                ),
            },
            Wires = new() { ["w1"] = Wire("i.port", "g.u"), ["w2"] = Wire("g.y", "o.port") },
        };
        IsSame(Unit(model, "c"), 50);
        IsSame(Unit(model, "c", tunable: []), 50);
    }

    /// <summary>A name of the level above, a switch of it and a value of a sheet mean in the code what they mean in the model.</summary>
    [Theory]
    [InlineData("true", "12.0")]
    [InlineData("false", "3.0")]
    public void What_comes_from_above_keeps_its_value(string isOn, string value)
    {
        var model = new DiagramDefinition
        {
            Name = "Rig",
            Parameters =
            {
                ["strong"] = new ParameterNode { Value = isOn },
                ["size"] = new ParameterNode { Value = "3 m" },
                ["x"] = new ParameterNode { Value = "4*size" },
            },
            Parts = new() { ["c"] = Part("#own", "Unit") },
        }.AsModel();
        model.Definitions["own"] = new DiagramDefinition
        {
            Name = "Own",
            Parts = new()
            {
                ["i"] = Part("InputPort", "in"),
                ["o"] = Part("OutputPort", "out"),
                ["g"] = Part("Gain", "Gain", ("k", "if strong then x else size")),
            },
            Wires = new() { ["w1"] = Wire("i.port", "g.u"), ["w2"] = Wire("g.y", "o.port") },
        };
        var source = Source(Unit(model, tunable: []));
        Assert.Contains($"= {value};", source, StringComparison.Ordinal);
    }

    /// <summary>A value that comes from the level above is changed in the code as any other.</summary>
    [Fact]
    public void What_comes_from_above_can_be_changed()
    {
        var unit = Unit(Example("plankton-winch"), "Controller");
        Assert.Equal(["drum_r", "gear", "torque_max", "v_max", "weight"], unit.Tunable.Select(t => t.Name).Order());
    }

    [Theory]
    [InlineData("RotationSensor")]
    [InlineData("LoopSensor")]
    public void What_needs_a_network_is_no_unit(string type) =>
        Assert.Equal("physical", Assert.Throws<DeliveryException>(() => Unit(Model(type))).Code);

    /// <summary>A table that would stop the run says in its code that nothing looks at it there.</summary>
    [Fact]
    public void What_nobody_looks_at_is_said()
    {
        var unit = Unit(Model("Table", ("outside", "Table.Outside.error")));
        Assert.NotEmpty(unit.Unchecked);
        Assert.Contains("nothing looks at it", Joined(Source(unit)), StringComparison.Ordinal);
    }
}
