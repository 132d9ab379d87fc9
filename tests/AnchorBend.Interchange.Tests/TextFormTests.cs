using System.Reflection;
using AnchorBend.Compiler.Preparation;
using AnchorBend.Language.Syntax;
using AnchorBend.Modeling;
using AnchorBend.Modeling.Catalog;
using AnchorBend.Modeling.Documents;
using AnchorBend.Modeling.Flattening;
using AnchorBend.Simulation;

namespace AnchorBend.Interchange.Tests;

/// <summary>Diagrams as text: what is written reads back to the same model, and texts from elsewhere become diagrams.</summary>
public class TextFormTests
{
    static ModelDocument Example(string name)
    {
        using var reader = new StreamReader(Assembly.GetExecutingAssembly().GetManifestResourceStream($"examples/{name}.json")!);
        return ModelDocument.FromJson(reader.ReadToEnd());
    }

    public static TheoryData<string> Examples() =>
        [
            .. Assembly
                .GetExecutingAssembly()
                .GetManifestResourceNames()
                .Where(n => n.StartsWith("examples/", StringComparison.Ordinal))
                .Select(n => Path.GetFileNameWithoutExtension(n)),
        ];

    [Theory, MemberData(nameof(Examples))]
    public void An_example_reads_back_to_the_same_model(string name)
    {
        var document = Example(name);
        Assert.Equal(document.ToJson(true), TextImport.Read(TextExport.Write(document, PartCatalog.Of(document))).ToJson(true));
    }

    [Theory, MemberData(nameof(Examples))]
    public void The_text_of_an_example_is_the_same_model_without_our_annotations(string name)
    {
        var document = Example(name);
        var text = TextExport.Write(document, PartCatalog.Of(document));
        var (classes, errors) = Parser.ParseFile(text);
        Assert.Empty(errors);
        var (model, findings) = Flattener.Flatten(classes[^1], new ClassList(classes, PartCatalog.Standard));
        Assert.DoesNotContain(findings, f => f.Severity == Severity.Error);
        var prepared = PreparedModel.Prepare(DocumentElaboration.Elaborate(document, PartCatalog.Of(document)));
        var values = model.ParameterValues();
        var own = prepared.Model.ParameterValues();
        foreach (var v in model.Variables.Where(v => v.Role == Modeling.Flat.VariableRole.Parameter))
        {
            var expected = own[prepared.Model.Find(v.Name)!.Index];
            Assert.True(
                Math.Abs(values[v.Index] - expected) <= 1e-12 * Math.Abs(expected),
                $"{v.Name}: {values[v.Index]:R}, not {expected:R}"
            );
        }

        Assert.Equal(prepared.Model.Equations.Count, model.Equations.Count);
    }

    /// <summary>The order of a part's parameters and of the wires means nothing.</summary>
    static string Sorted(ModelDocument document) =>
        (
            document with
            {
                Definitions = document
                    .Definitions.OrderBy(d => d.Key, StringComparer.Ordinal)
                    .ToDictionary(d => d.Key, d => d.Value is DiagramDefinition diagram ? Sorted(diagram) : d.Value),
            }
        ).ToJson(true);

    static DiagramDefinition Sorted(DiagramDefinition diagram) =>
        diagram with
        {
            Parts = diagram.Parts.ToDictionary(
                p => p.Key,
                p => p.Value with { Parameters = p.Value.Parameters.OrderBy(x => x.Key, StringComparer.Ordinal).ToDictionary() }
            ),
            Wires = diagram.Wires.OrderBy(w => w.Key, StringComparer.Ordinal).ToDictionary(),
        };

    const string Letters = "abcXYZ 019_'\\\"äµ.{}";

    [Fact]
    public void Random_diagrams_read_back_to_the_same_model()
    {
        var types = PartCatalog.Standard.Parts.Select(p => p.Name).ToArray();
        for (var seed = 0; seed < 300; seed++)
        {
            var random = new Random(seed);
            string Word() => new([.. Enumerable.Range(0, random.Next(1, 9)).Select(_ => Letters[random.Next(Letters.Length)])]);
            var document = new DiagramDefinition
            {
                Name = "M" + Word(),
                Description = random.Next(2) == 0 ? null : "d" + Word(),
            }.AsModel() with
            {
                Settings = new RunSettings
                {
                    End = $"{random.Next(1, 99)} min",
                    Method = "radau5",
                    SteadyParts = [Word()],
                },
            };
            var names = new HashSet<string>();
            for (var i = random.Next(1, 12); i > 0; i--)
            {
                var name = "n" + Word();
                if (!names.Add(name))
                    continue;
                var part = new PartNode
                {
                    Type = types[random.Next(types.Length)],
                    Name = name,
                    X = 8 * random.Next(-50, 200),
                    Y = 8 * random.Next(-50, 200),
                    Flip = random.Next(3) == 0,
                };
                foreach (var parameter in PartCatalog.Standard.Describe(part.Type).Parameters.Where(_ => random.Next(3) == 0))
                    part.Parameters[parameter.Name] = (random.Next(5)) switch
                    {
                        0 => "3.5",
                        1 => "-1e-3",
                        2 => "2 * (a + 1) rpm",
                        3 => "no text that parses (",
                        _ => "20 degC",
                    };
                document.Main.Parts[$"p{i}-{random.Next(1000)}"] = part;
            }

            var ids = document.Main.Parts.Keys.ToList();
            for (var i = random.Next(0, 10); i > 0; i--)
                document.Main.Wires[$"w{i}"] = new WireNode
                {
                    From = new PortReference(ids[random.Next(ids.Count)], random.Next(2) == 0 ? "y" : "u[2]"),
                    To = new PortReference(random.Next(9) == 0 ? "gone" : ids[random.Next(ids.Count)], "port.inner"),
                    Bends = [.. Enumerable.Range(0, random.Next(4)).Select(_ => new Point(random.Next(500), random.Next(500)))],
                };
            document.Main.Signals[$"{ids[0]}.y"] = new SignalNode
            {
                Name = Word(),
                Unit = "rpm",
                Probe = 1,
            };
            document.Main.Parameters["a"] = new ParameterNode
            {
                Value = random.Next(2) == 0 ? "5 kN" : "2 + 3",
                Description = random.Next(2) == 0 ? null : Word(),
            };
            document.Main.Areas["a1"] = new AreaNode
            {
                Text = Word(),
                X = 3,
                Y = 4,
                Width = 5,
                Height = 6,
            };
            document.Requirements["r1"] = new RequirementNode
            {
                Name = Word(),
                Signal = Word(),
                Limit = "5 %",
            };
            if (random.Next(3) == 0)
                document.Definitions["own"] = new TextDefinition
                {
                    Name = "Own",
                    Text = "block Own \"Own part\"\n  output Real y;\nequation\n  y = 1;\nend Own;",
                };
            var text = TextExport.Write(document, PartCatalog.Of(document));
            // What is read speaks of signals and parts by identity.
            Assert.Equal(Sorted(ModelDocument.FromJson(document.ToJson())), Sorted(TextImport.Read(text)));
        }
    }

    [Fact]
    public void Bundles_are_connectors_of_the_standard_and_read_back_with_their_members()
    {
        var document = new DiagramDefinition
        {
            Name = "Harness",
            Parts =
            {
                ["a"] = new PartNode
                {
                    Type = "Constant",
                    Name = "Level",
                    X = 0,
                    Y = 0,
                },
                ["b"] = new PartNode
                {
                    Type = "Bundle",
                    Name = "Tank",
                    X = 96,
                    Y = 0,
                    Parameters = { ["members"] = "level, spare" },
                },
                ["c"] = new PartNode
                {
                    Type = "Pick",
                    Name = "Use",
                    X = 192,
                    Y = 0,
                    Parameters = { ["members"] = "level" },
                },
                ["d"] = new PartNode
                {
                    Type = "Gain",
                    Name = "Twice",
                    X = 288,
                    Y = 0,
                    Parameters = { ["k"] = "2" },
                },
            },
            Wires =
            {
                ["w1"] = new WireNode { From = new PortReference("a", "y"), To = new PortReference("b", "level") },
                ["w2"] = new WireNode { From = new PortReference("b", "bundle"), To = new PortReference("c", "bundle") },
                ["w3"] = new WireNode { From = new PortReference("c", "level"), To = new PortReference("d", "u") },
            },
        }.AsModel();
        var text = TextExport.Write(document, PartCatalog.Standard);
        Assert.Contains("connect(Tank, Use)", text, StringComparison.Ordinal);
        Assert.Contains("connect(Use.level, Twice.u)", text, StringComparison.Ordinal);
        Assert.Equal(document.ToJson(true), TextImport.Read(text).ToJson(true));
        Assert.Equal(
            "Nothing is wired to 'spare' of 'Tank'.",
            Assert.Single(DocumentElaboration.Elaborate(document, PartCatalog.Standard).Findings).Message
        );
    }

    [Fact]
    public void A_changed_value_changes_one_line()
    {
        var document = Example("tide-gate");
        var before = TextExport.Write(document, PartCatalog.Standard).Split('\n');
        document.Main.Parts["pump"].Parameters["leak"] = "2e-13 m3/(s.Pa)";
        var after = TextExport.Write(document, PartCatalog.Standard).Split('\n');
        Assert.Equal(before.Length, after.Length);
        Assert.Single(before.Zip(after), p => p.First != p.Second);
    }

    [Fact]
    public void A_text_from_elsewhere_becomes_a_diagram_from_left_to_right()
    {
        const string text = """
            model Loop "Written by hand"
              parameter Real gain(unit = "1") = 4;
              Step set(height = 2); Sum error(signs = {1, -1}); Gain p(k = gain); Lag plant(T = 0.5);
            equation
              connect(set.y, error.u[1]); connect(error.y, p.u); connect(p.y, plant.u); connect(plant.y, error.u[2]);
              annotation(experiment(StopTime = 3));
            end Loop;
            """;
        var document = TextImport.Read(text);
        Assert.Equal("3 s", document.Settings.End);
        var x = document.Main.Parts.Values.ToDictionary(p => p.Name, p => p.X);
        Assert.True(x["set"] < x["error"] && x["error"] < x["p"] && x["p"] < x["plant"]);
        Assert.Empty(Overlaps(document));
        var prepared = PreparedModel.Prepare(DocumentElaboration.Elaborate(document, PartCatalog.Of(document)));
        using var simulator = new Simulator(prepared.Compiled!, new ParameterSet(prepared.Model), DocumentRun.OptionsOf(document));
        var result = simulator.Run();
        Assert.Equal(8.0 / 5, result.Trace[result.Trace.Rows - 1, prepared.Compiled!.Plan.RepresentativeOf("plant.y")], 1e-4);
    }

    static IEnumerable<(string, string)> Overlaps(ModelDocument document)
    {
        var boxes = document
            .Main.Parts.Values.Select(p =>
                (p.Name, p.X, p.Y, PartCatalog.Standard.Describe(p.Type).Width, PartCatalog.Standard.Describe(p.Type).Height)
            )
            .ToList();
        return from a in boxes
            from b in boxes
            where
                string.CompareOrdinal(a.Name, b.Name) < 0
                && a.X < b.X + b.Width
                && b.X < a.X + a.Width
                && a.Y < b.Y + b.Height
                && b.Y < a.Y + a.Height
            select (a.Name, b.Name);
    }

    [Fact]
    public void A_model_with_equations_of_its_own_becomes_one_part()
    {
        var document = TextImport.Read(
            "model Decay Real x(start = 1, fixed = true); output Real y; equation der(x) = -x; y = x; end Decay;"
        );
        Assert.Equal("#own", Assert.Single(document.Main.Parts).Value.Type);
        Assert.Equal("Decay", document.Definitions["own"].Name);
        Assert.True(PreparedModel.Prepare(DocumentElaboration.Elaborate(document, PartCatalog.Of(document))).CanRun);
    }

    [Theory]
    [InlineData("model A Gain g; equation connect(g.y, ); end A;", "Line 1, column")]
    [InlineData("", "holds no model")]
    [InlineData("function f input Real x; output Real y; algorithm y := x; end f;", "holds no model")]
    [InlineData("model A Gain g; equation connect(g, g.u); end A;", "a connection must join ports")]
    public void A_text_that_is_no_model_is_refused_with_the_place(string text, string reason) =>
        Assert.Contains(reason, Assert.Throws<DocumentException>(() => TextImport.Read(text)).Message, StringComparison.Ordinal);
}
