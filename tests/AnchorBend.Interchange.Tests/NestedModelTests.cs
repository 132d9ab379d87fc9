using AnchorBend.Compiler.Preparation;
using AnchorBend.Modeling;
using AnchorBend.Modeling.Catalog;
using AnchorBend.Modeling.Documents;
using AnchorBend.Simulation;
using static AnchorBend.Tests.Diagrams;

namespace AnchorBend.Interchange.Tests;

/// <summary>Definitions used as parts, at several depths: as documents, as texts, and mixed with what they stand for.</summary>
public class NestedModelTests
{
    /// <summary>A lag with a gain before it, k and T on its face: y' = (k u − y)/T.</summary>
    static DiagramDefinition Amplifier() =>
        new()
        {
            Name = "Amplifier",
            Description = "A gain and a lag",
            Parameters =
            {
                ["k"] = new ParameterNode { Value = "2", Description = "Gain" },
                ["T"] = new ParameterNode
                {
                    Value = "500 ms",
                    Unit = "s",
                    Minimum = "1e-6",
                    Group = "Dynamics",
                },
                ["bandwidth"] = new ParameterNode { Value = "1/T", IsDerived = true },
            },
            Parts =
            {
                ["i"] = Part("InputPort", "u", 0, 8),
                ["g"] = Part("Gain", "Stage", 80, 0, ("k", "k")),
                ["l"] = Part("Lag", "Filter", 200, 0, ("T", "T")),
                ["o"] = Part("OutputPort", "y", 320, 8),
            },
            Wires =
            {
                ["a"] = Wire("i.port", "g.u"),
                ["b"] = Wire("g.y", "l.u"),
                ["c"] = Wire("l.y", "o.port"),
            },
            Signals = { ["l.y"] = new SignalNode { Name = "filtered" } },
        };

    static ModelDocument TwoAmplifiers() =>
        new DiagramDefinition
        {
            Name = "Chain",
            Parts =
            {
                ["s"] = Part("Constant", "One", 0, 0, ("k", "1")),
                ["p"] = Part("#amp", "First", 120, 0, ("k", "3")),
                ["q"] = Part("#amp", "Second", 240, 0, ("T", "0.25 s")),
            },
            Wires = { ["w"] = Wire("s.y", "p.u"), ["v"] = Wire("p.y", "q.u") },
        }
            .AsModel()
            .With("amp", Amplifier());

    static PreparedModel Prepared(ModelDocument document)
    {
        var prepared = DocumentPreparation.Prepare(document, PartCatalog.Of(document));
        Assert.True(prepared.CanRun, string.Join("\n", prepared.Findings.Select(f => $"{f.Part} {f.Item}: {f.Message}")));
        return prepared;
    }

    static double At(PreparedModel prepared, string reference, double time)
    {
        var options = new RunOptions
        {
            End = time,
            RelativeTolerance = 1e-9,
            AbsoluteTolerance = 1e-11,
        };
        using var simulator = new Simulator(prepared.Compiled!, new ParameterSet(prepared.Model), options);
        var result = simulator.Run();
        Assert.Null(result.Failure);
        return result.Trace.At(prepared.Compiled!.Plan.Representative[prepared.Find(reference)!.Index], time);
    }

    /// <summary>Two lags in series after a step of height K: exact for different time constants.</summary>
    static double Exact(double gain, double t1, double t2, double time) =>
        gain * (1 - (t1 * Math.Exp(-time / t1) - t2 * Math.Exp(-time / t2)) / (t1 - t2));

    [Fact]
    public void A_definition_used_twice_has_other_values_at_each_use()
    {
        var prepared = Prepared(TwoAmplifiers());
        Assert.Equal(3 * (1 - Math.Exp(-2)), At(prepared, "p.y", 1), 1e-7);
        Assert.Equal(Exact(6, 0.5, 0.25, 1), At(prepared, "q.y", 1), 1e-7);
    }

    [Fact]
    public void Signals_inside_are_found_by_identity_by_path_and_by_name()
    {
        var prepared = Prepared(TwoAmplifiers());
        var byIdentity = prepared.Find("q/l.y")!;
        Assert.Same(byIdentity, prepared.Find("Second.Filter.y"));
        Assert.Same(byIdentity, prepared.Find("Second.filtered"));
        Assert.Equal("Second.u", prepared.Find("q/i.port")!.Name);
    }

    [Fact]
    public void The_source_map_leads_from_variables_back_to_parts()
    {
        var prepared = Prepared(TwoAmplifiers());
        var owner = prepared.Model.Find("Second.Filter.y")!.Owner;
        var place = prepared.Map.Find(owner)!;
        Assert.Equal(("q/l", "amp", "Filter"), (place.Path.ToString(), place.Definition, place.Node.Name));
        Assert.All(prepared.Model.Equations, e => Assert.True(e.Owner.Length == 0 || prepared.Map.Around(e.Owner) is not null, e.Owner));
    }

    [Fact]
    public void What_is_derived_follows_and_cannot_be_set_from_outside()
    {
        var prepared = Prepared(TwoAmplifiers());
        var values = prepared.Model.ParameterValues();
        Assert.Equal(4, values[prepared.Model.Find("Second.bandwidth")!.Index], 12);
        var document = TwoAmplifiers();
        document.Main.Parts["q"].Parameters["bandwidth"] = "9";
        Assert.Equal(
            4,
            DocumentElaboration.Elaborate(document, PartCatalog.Of(document)) is var e
                ? e.Model.ParameterValues()[e.Model.Find("Second.bandwidth")!.Index]
                : 0,
            12
        );
    }

    [Fact]
    public void The_face_is_what_the_catalog_shows_of_the_definition()
    {
        var document = TwoAmplifiers();
        var part = PartCatalog.Of(document).Describe("#amp");
        Assert.Equal(("Amplifier", "A gain and a lag"), (part.Title, part.Help));
        Assert.Equal([("u", "left"), ("y", "right")], part.Ports.Select(p => (p.Name, p.Side)));
        Assert.Equal(["k", "T"], part.Parameters.Select(p => p.Name));
        var t = part.Parameters[1];
        Assert.Equal(("s", "1E-06", "Dynamics"), (t.Unit, t.Minimum, t.Group));
    }

    [Fact]
    public void The_same_nested_model_runs_from_its_text_and_reads_back()
    {
        var document = TwoAmplifiers();
        var text = TextExport.Write(document, PartCatalog.Of(document));
        Assert.Contains("  model Amplifier \"A gain and a lag\"", text, StringComparison.Ordinal);
        Assert.Contains("    input Real u", text, StringComparison.Ordinal);
        Assert.Equal(document.ToJson(true), TextImport.Read(text).ToJson(true));
        // The text alone, as any reader of the language takes it, gives the same motion.
        var (classes, errors) = Language.Syntax.Parser.ParseFile(text);
        Assert.Empty(errors);
        var (model, findings) = Modeling.Flattening.Flattener.Flatten(
            classes[^1],
            new Modeling.Flattening.ClassList(classes, PartCatalog.Standard)
        );
        var prepared = PreparedModel.Prepare(model, findings, SourceMap.Empty);
        Assert.Equal(Exact(6, 0.5, 0.25, 1), At(prepared, "Second.y", 1), 1e-7);
    }

    [Fact]
    public void A_text_with_nested_models_becomes_definitions()
    {
        const string text = """
            model Plant
              model Half "Half of it"
                parameter Real share = 0.5;
                input Boolean on;
                input Real u(unit = "V");
                output Real y;
                Gain g(k = share);
                Relay unused;
              equation
                connect(u, g.u); connect(g.y, y);
              end Half;
              Step s; Half h(share = 0.25);
            equation
              connect(s.y, h.u);
            end Plant;
            """;
        var document = TextImport.Read(text);
        var half = Assert.IsType<DiagramDefinition>(document.Definitions["Half"]);
        Assert.Equal("#Half", document.Main.Parts.Values.Single(p => p.Name == "h").Type);
        var inputs = half.Parts.Values.Where(p => p.Type == "InputPort").ToList();
        Assert.Equal("Kind.truth", inputs.Single(p => p.Name == "on").Parameters["kind"]);
        Assert.Equal("V", inputs.Single(p => p.Name == "u").Parameters["unit"]);
        Assert.Equal(2, half.Wires.Count);
    }

    [Fact]
    public void Physical_ports_carry_networks_across_levels()
    {
        // An RC circuit whose resistor is a level: v = 10 (1 − exp(−t/RC)).
        var document = new DiagramDefinition
        {
            Name = "Circuit",
            Parts =
            {
                ["v"] = Part("VoltageSource", "Source", 0, 0, ("V", "10 V")),
                ["r"] = Part("#r", "Line", 0, 0, ("R", "2 kOhm")),
                ["c"] = Part("Capacitor", "Store", 0, 0, ("C", "100 uF")),
                ["g"] = Part("Ground", "Ground"),
            },
            Wires =
            {
                ["a"] = Wire("v.p", "r.left"),
                ["b"] = Wire("r.right", "c.p"),
                ["d"] = Wire("c.n", "v.n"),
                ["e"] = Wire("v.n", "g.p"),
            },
        }
            .AsModel()
            .With(
                "r",
                new DiagramDefinition
                {
                    Name = "Two in series",
                    Parameters = { ["R"] = new ParameterNode { Value = "1 kOhm" } },
                    Parts =
                    {
                        ["l"] = Part("ElectricalPort", "left", 0),
                        ["a"] = Part("Resistor", "A", 80, 0, ("R", "R/2")),
                        ["b"] = Part("Resistor", "B", 160, 0, ("R", "R/2")),
                        ["m"] = Part("ElectricalPort", "right", 240),
                    },
                    Wires =
                    {
                        ["x"] = Wire("l.port", "a.p"),
                        ["y"] = Wire("a.n", "b.p"),
                        ["z"] = Wire("b.n", "m.port"),
                    },
                }
            );
        var prepared = Prepared(document);
        Assert.Equal(10 * (1 - Math.Exp(-1)), At(prepared, "c.v", 0.2), 1e-6);
        Assert.Equal(10 * Math.Exp(-1) / 2000, At(prepared, "r/l.port.i", 0.2), 1e-9);
        Assert.Equal(document.ToJson(true), TextImport.Read(TextExport.Write(document, PartCatalog.Of(document))).ToJson(true));
        var sides = PartCatalog.Of(document).Describe("#r").Ports.Select(p => (p.Name, p.Side, p.Domain));
        Assert.Equal([("left", "left", "electrical"), ("right", "right", "electrical")], sides);
    }

    [Fact]
    public void A_circuit_without_a_ground_is_told_through_levels()
    {
        // The level separates its ports by a transformer of signals: a sensor on one side, a source on the other.
        var document = new DiagramDefinition
        {
            Name = "Circuit",
            Parts =
            {
                ["v"] = Part("VoltageSource", "Source"),
                ["r"] = Part("#r", "Load"),
                ["s"] = Part("Constant", "S"),
            },
            Wires = { ["a"] = Wire("v.p", "r.left"), ["b"] = Wire("r.right", "v.n") },
        }
            .AsModel()
            .With(
                "r",
                new DiagramDefinition
                {
                    Name = "Load",
                    Parts =
                    {
                        ["l"] = Part("ElectricalPort", "left", 0),
                        ["a"] = Part("Resistor", "A", 80),
                        ["m"] = Part("ElectricalPort", "right", 240),
                    },
                    Wires = { ["x"] = Wire("l.port", "a.p"), ["z"] = Wire("a.n", "m.port") },
                }
            );
        var findings = DocumentElaboration.Elaborate(document, PartCatalog.Of(document)).Findings;
        Assert.Equal("no-reference", Assert.Single(findings).Code);
    }

    [Fact]
    public void Bundles_cross_levels_member_by_member()
    {
        var document = new DiagramDefinition
        {
            Name = "Harness",
            Parts =
            {
                ["a"] = Part("Constant", "Level", 0, 0, ("k", "3")),
                ["b"] = Part("Constant", "Rate", 0, 0, ("k", "4")),
                ["j"] = Part("Bundle", "All", 0, 0, ("members", "level, rate")),
                ["u"] = Part("#use", "Use"),
            },
            Wires =
            {
                ["x"] = Wire("a.y", "j.level"),
                ["y"] = Wire("b.y", "j.rate"),
                ["z"] = Wire("j.bundle", "u.signals"),
            },
        }
            .AsModel()
            .With(
                "use",
                new DiagramDefinition
                {
                    Name = "User",
                    Parts =
                    {
                        ["p"] = Part("BundlePort", "signals", 0),
                        ["k"] = Part("Pick", "Taken", 80, 0, ("members", "level, rate")),
                        ["m"] = Part("Product", "Both", 160),
                        ["o"] = Part("OutputPort", "y", 240),
                    },
                    Wires =
                    {
                        ["a"] = Wire("p.bundle", "k.bundle"),
                        ["b"] = Wire("k.level", "m.u[1]"),
                        ["c"] = Wire("k.rate", "m.u[2]"),
                        ["d"] = Wire("m.y", "o.port"),
                    },
                }
            );
        Assert.Equal(12, At(Prepared(document), "u.y", 1), 12);
        Assert.Equal(document.ToJson(true), TextImport.Read(TextExport.Write(document, PartCatalog.Of(document))).ToJson(true));
        Assert.Contains(PartCatalog.Of(document).Describe("#use").Ports, p => p is { Name: "signals", Type: "Bundle" });
    }

    [Fact]
    public void Bundles_of_a_type_read_back_from_a_text_with_their_kind_and_type()
    {
        var document = new DiagramDefinition
        {
            Name = "Harness",
            Parts =
            {
                ["a"] = Part("Constant", "Level", 0, 0, ("k", "3 m")),
                ["j"] = Part("Bundle", "All", 0, 0, ("members", "level"), ("type", "Tank")),
                ["k"] = Part("Pick", "Taken", 80, 0, ("members", "level"), ("type", "Tank")),
                ["g"] = Part("Gain", "Twice", 160, 0, ("k", "2")),
                ["u"] = Part("#use", "Use"),
            },
            Wires =
            {
                ["x"] = Wire("a.y", "j.level"),
                ["y"] = Wire("j.bundle", "k.bundle"),
                ["z"] = Wire("k.level", "g.u"),
                ["s"] = Wire("j.bundle", "u.signals"),
            },
        }
            .AsModel()
            .With(
                "use",
                new DiagramDefinition
                {
                    Name = "User",
                    Parts =
                    {
                        ["p"] = Part("BundlePort", "signals", 0, 0, ("members", "level"), ("type", "Tank")),
                        ["o"] = Part("OutputPort", "y", 240),
                    },
                    Wires = { ["a"] = Wire("p.level", "o.port") },
                }
            )
            .With(
                "t",
                new TextDefinition
                {
                    Name = "Tank",
                    Text = "expandable connector Tank \"What a tank tells\"\n  Real level(unit = \"m\");\nend Tank;",
                }
            );
        Assert.Equal(6, At(Prepared(document), "Twice.y", 1), 12);
        Assert.Equal(3, At(Prepared(document), "Use.y", 1), 12);
        var text = TextExport.Write(document, PartCatalog.Of(document));
        Assert.Contains("  Tank Taken annotation", text, StringComparison.Ordinal);
        Assert.Equal(document.ToJson(true), TextImport.Read(text).ToJson(true));
    }

    [Fact]
    public void A_level_that_would_hold_itself_is_told_with_the_chain()
    {
        var document = new DiagramDefinition { Name = "Top", Parts = { ["a"] = Part("#a", "A") } }
            .AsModel()
            .With("a", new DiagramDefinition { Name = "One", Parts = { ["b"] = Part("#b", "B") } })
            .With("b", new DiagramDefinition { Name = "Two", Parts = { ["c"] = Part("#a", "C") } });
        var finding = Assert.Single(DocumentElaboration.Elaborate(document, PartCatalog.Of(document)).Findings);
        Assert.Equal(("recursion", "a/b/c"), (finding.Code, finding.Place?.ToString()));
        Assert.Contains("One ▸ Two ▸ One", finding.Message, StringComparison.Ordinal);
    }

    [Fact]
    public void A_finding_inside_is_told_where_it_was_drawn_with_a_fix_that_mends_it()
    {
        var document = TwoAmplifiers();
        var inner = Amplifier();
        inner.Parts["g"].Parameters["k"] = "2*kk";
        document = document.With("amp", inner);
        var findings = DocumentElaboration.Elaborate(document, PartCatalog.Of(document)).Findings;
        Assert.All(findings, f => Assert.Equal("unknown-name", f.Code));
        Assert.Contains(findings, f => f.Place?.ToString() == "p/g");
        var json = System.Text.Json.Nodes.JsonNode.Parse(document.ToJson())!;
        var mended = ModelDocument.FromJson(JsonPatch.Apply(json, findings[0].Fix!.Operations).Result.ToJsonString());
        Assert.Empty(DocumentElaboration.Elaborate(mended, PartCatalog.Of(mended)).Findings);
    }

    [Fact]
    public void What_is_not_connected_inside_a_level_offers_a_constant_there()
    {
        var inner = Amplifier();
        inner.Wires.Remove("b");
        var document = TwoAmplifiers().With("amp", inner);
        var finding = DocumentElaboration
            .Elaborate(document, PartCatalog.Of(document))
            .Findings.First(f => f.Code == "unconnected" && f.Place?.ToString() == "p/l");
        Assert.StartsWith("/definitions/amp/parts/", finding.Fix!.Operations[0].Path, StringComparison.Ordinal);
    }

    [Fact]
    public void Values_set_inside_a_definition_reach_all_its_uses_without_a_new_compilation()
    {
        var document = TwoAmplifiers();
        var set = ParameterEdits.Of(
            document.With("amp", Amplifier()),
            new PatchOperation("replace", "/definitions/amp/parameters/T/value", "1 s")
        );
        // Uses set the face from outside, so the model is looked at anew.
        Assert.Null(set);
        document.Main.Parts["p"].Parameters.Clear();
        document.Main.Parts["q"].Parameters.Clear();
        set = ParameterEdits.Of(document, new PatchOperation("replace", "/definitions/amp/parameters/k/value", "2"));
        Assert.Equal([("First.k", "2"), ("Second.k", "2")], set);
    }

    [Fact]
    public void Parts_inside_a_level_may_start_at_rest()
    {
        var document = TwoAmplifiers() with { Settings = new RunSettings { SteadyParts = ["q/l"] } };
        Assert.Equal(["Second.Filter"], DocumentRun.OptionsOf(document).SteadyParts);
    }

    [Fact]
    public void Twenty_levels_of_two_are_refused_by_their_number_in_time()
    {
        var document = new DiagramDefinition { Name = "Top", Parts = { ["a"] = Part("#d0", "A") } }.AsModel();
        for (var i = 0; i < 30; i++)
            document = document.With(
                $"d{i}",
                new DiagramDefinition
                {
                    Name = $"D{i}",
                    Parts =
                    {
                        ["a"] = Part(i == 29 ? "Constant" : $"#d{i + 1}", "A"),
                        ["b"] = Part(i == 29 ? "Constant" : $"#d{i + 1}", "B"),
                    },
                }
            );
        var prepared = DocumentPreparation.Prepare(document, PartCatalog.Of(document));
        Assert.Equal("too-large", Assert.Single(prepared.Findings).Code);
    }

    [Fact]
    public void What_an_exchange_unit_computes_is_not_written_as_a_text()
    {
        var document = new DiagramDefinition { Name = "Rig" }
            .AsModel()
            .With(
                "u",
                new TextDefinition
                {
                    Name = "Bought",
                    Text = "block Bought end Bought;",
                    Unit = new string('a', 32),
                }
            );
        var refused = Assert.Throws<DocumentException>(() => TextExport.Write(document, PartCatalog.Of(document)));
        Assert.Contains("exchange unit", refused.Message, StringComparison.Ordinal);
    }
}
