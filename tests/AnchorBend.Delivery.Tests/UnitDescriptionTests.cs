using System.Text;
using AnchorBend.Compiler.Preparation;
using AnchorBend.Delivery.Exchange;
using AnchorBend.Modeling.Catalog;
using AnchorBend.Modeling.Documents;

namespace AnchorBend.Delivery.Tests;

/// <summary>What descriptions of exchange units say, and the class that a part of a unit gets from it.</summary>
public class UnitDescriptionTests
{
    static UnitDescription Read(string text) => UnitDescription.Read(new MemoryStream(Encoding.UTF8.GetBytes(text)));

    static UnitDescription Second(string variables, string structure = "") =>
        Read(
            $"""
            <fmiModelDescription fmiVersion="2.0" modelName="Bought drive" guid="g" generationTool="A tool" description="A drive">
              <CoSimulation modelIdentifier="drive" canGetAndSetFMUstate="true" canSerializeFMUstate="true"/>
              <DefaultExperiment startTime="0" stopTime="4" stepSize="0.002"/>
              <ModelVariables>{variables}</ModelVariables>
              <ModelStructure>{structure}</ModelStructure>
            </fmiModelDescription>
            """
        );

    static UnitDescription Third(string variables, string structure = "", string kind = "") =>
        Read(
            $"""
            <fmiModelDescription fmiVersion="3.0" modelName="Bought drive" instantiationToken="t">
              <CoSimulation modelIdentifier="drive" {kind}/>
              <ModelVariables>{variables}</ModelVariables>
              <ModelStructure>{structure}</ModelStructure>
            </fmiModelDescription>
            """
        );

    const string Output = """<ScalarVariable name="y" valueReference="9" causality="output"><Real unit="N.m"/></ScalarVariable>""";

    [Fact]
    public void The_second_version_has_types_inside_of_its_variables()
    {
        var unit = Second(
            """
            <ScalarVariable name="u" valueReference="1" causality="input" description="Speed"><Real unit="rad/s" start="2.5"/></ScalarVariable>
            <ScalarVariable name="on" valueReference="2" causality="input"><Boolean start="true"/></ScalarVariable>
            <ScalarVariable name="mode" valueReference="3" causality="parameter" variability="fixed"><Enumeration declaredType="M" start="2"/></ScalarVariable>
            <ScalarVariable name="k" valueReference="4" causality="parameter" variability="tunable"><Real start="7"/></ScalarVariable>
            <ScalarVariable name="label" valueReference="5" causality="parameter"><String start="x"/></ScalarVariable>
            <ScalarVariable name="inner" valueReference="6" causality="local"><Real/></ScalarVariable>
            """ + Output
        );
        Assert.Equal(("Bought drive", "drive", "g", "A tool", true), (unit.Name, unit.Identifier, unit.Token, unit.Tool, unit.CanSave));
        Assert.Equal((0.002, 4.0), (unit.Step, unit.End));
        Assert.Equal(
            [("u", 1u, 'r', 2.5), ("on", 2u, 'b', 1.0), ("mode", 3u, 'i', 2.0), ("k", 4u, 'r', 7.0)],
            unit.Variables.Where(v => v.Role != UnitRole.Output).Select(v => (v.Name, v.Reference, v.Kind, v.Start!.Value))
        );
        Assert.Equal([false, true], unit.Of(UnitRole.Parameter).Select(p => p.IsTunable));
        Assert.Equal(["label"], unit.Left);
    }

    [Fact]
    public void The_third_version_has_a_type_for_each_number_of_bytes()
    {
        string[] types = ["Float64", "Float32", "Int8", "Int16", "Int32", "Int64", "UInt8", "UInt16", "UInt32", "UInt64", "Boolean"];
        var variables = types.Select((t, i) => $"""<{t} name="{t}" valueReference="{i}" causality="output"/>""");
        var unit = Third(
            string.Concat(variables)
                + """
                <Float64 name="row" valueReference="20" causality="input"><Dimension start="3"/></Float64>
                <Binary name="blob" valueReference="21" causality="output"/>
                <Clock name="tick" valueReference="22" causality="input"/>
                """,
            kind: "fixedInternalStepSize=\"0.01\""
        );
        Assert.Equal("rf1248ABDHb", new string([.. unit.Of(UnitRole.Output).Select(v => v.Kind)]));
        Assert.Equal(["row", "blob", "tick"], unit.Left);
        Assert.Equal(0.01, unit.Step);
        Assert.False(unit.CanSave);
    }

    /// <summary>By place in the second version, by reference in the third; an output of which nothing is told may follow at once.</summary>
    [Fact]
    public void Outputs_that_follow_from_states_alone_are_told_from_those_that_follow_at_once()
    {
        const string Input = """<ScalarVariable name="u" valueReference="1" causality="input"><Real/></ScalarVariable>""";
        static string Named(string name, int reference) =>
            $"""<ScalarVariable name="{name}" valueReference="{reference}" causality="output"><Real/></ScalarVariable>""";
        var second = Second(
            Input + Named("held", 7) + Named("direct", 8) + Named("silent", 9),
            """<Outputs><Unknown index="2" dependencies=""/><Unknown index="3" dependencies="1"/><Unknown index="4"/></Outputs>"""
        );
        Assert.Equal([("held", false), ("direct", true), ("silent", true)], second.Of(UnitRole.Output).Select(o => (o.Name, o.IsDirect)));

        var third = Third(
            """
            <Float64 name="u" valueReference="5" causality="input"/>
            <Float64 name="held" valueReference="6" causality="output"/>
            <Float64 name="direct" valueReference="7" causality="output"/>
            """,
            """<Output valueReference="6" dependencies="6"/><Output valueReference="7" dependencies="6 5"/>"""
        );
        Assert.Equal([false, true], third.Of(UnitRole.Output).Select(o => o.IsDirect));
    }

    static string ClassOf(UnitDescription unit) => UnitClass.Text(unit, "Bought");

    [Fact]
    public void Names_become_plain_ones_without_meeting_each_other()
    {
        var text = ClassOf(
            Second(
                """
                <ScalarVariable name="motor.speed[1]" valueReference="1" causality="input"><Real/></ScalarVariable>
                <ScalarVariable name="motor_speed_1" valueReference="2" causality="input"><Real/></ScalarVariable>
                <ScalarVariable name="step" valueReference="3" causality="parameter"><Real start="1"/></ScalarVariable>
                <ScalarVariable name="held_1" valueReference="4" causality="parameter"><Integer start="3"/></ScalarVariable>
                <ScalarVariable name="end" valueReference="5" causality="parameter"><Boolean start="1"/></ScalarVariable>
                """ + Output
            )
        );
        Assert.Contains("input Real motor_speed_1 \"motor.speed[1]\";", text, StringComparison.Ordinal);
        Assert.Contains("input Real motor_speed_1_2_ \"motor_speed_1\";", text, StringComparison.Ordinal);
        Assert.Contains("parameter Real step_2_ = 1 \"step\";", text, StringComparison.Ordinal);
        Assert.Contains("parameter Integer v_held_1 = 3 \"held_1\";", text, StringComparison.Ordinal);
        Assert.Contains("parameter Boolean end_ = true \"end\";", text, StringComparison.Ordinal);
        Assert.Contains("output Real y(unit = \"N.m\") \"y\";", text, StringComparison.Ordinal);
    }

    [Fact]
    public void A_unit_that_is_not_known_stands_in_the_description()
    {
        var text = ClassOf(
            Second(
                """
                <ScalarVariable name="a" valueReference="1" causality="input" description="Angle"><Real unit="deg"/></ScalarVariable>
                <ScalarVariable name="b" valueReference="2" causality="input" description="Strange &quot;one&quot;"><Real unit="furlong"/></ScalarVariable>
                """ + Output
            )
        );
        // A part of the model reckons in coherent units: a usual one is converted, and shown as the unit has it.
        Assert.Contains("input Real a(unit = \"rad\", displayUnit = \"deg\") \"Angle\";", text, StringComparison.Ordinal);
        Assert.Contains("outsidePut(unit, 0, a / 0.017453292519943295, done)", text, StringComparison.Ordinal);
        Assert.Contains("input Real b \"Strange \\\"one\\\", in furlong\";", text, StringComparison.Ordinal);
    }

    /// <summary>Powers of base units count, whatever the unit is called; types bring theirs.</summary>
    [Fact]
    public void Units_are_what_the_description_defines()
    {
        var unit = Read(
            """
            <fmiModelDescription fmiVersion="2.0" modelName="M" guid="g">
              <CoSimulation modelIdentifier="m"/>
              <UnitDefinitions>
                <Unit name="warm"><BaseUnit K="1" offset="273.15"/></Unit>
                <Unit name="bar"><BaseUnit kg="1" m="-1" s="-2" factor="1e5"/></Unit>
                <Unit name="turns"><BaseUnit s="-1" rad="1" factor="6.25"/></Unit>
                <Unit name="bad"><BaseUnit m="1" factor="0"/></Unit>
              </UnitDefinitions>
              <TypeDefinitions><SimpleType name="Pressure"><Real unit="bar"/></SimpleType></TypeDefinitions>
              <ModelVariables>
                <ScalarVariable name="t" valueReference="1" causality="parameter"><Real unit="warm" start="20"/></ScalarVariable>
                <ScalarVariable name="p" valueReference="2" causality="input"><Real declaredType="Pressure"/></ScalarVariable>
                <ScalarVariable name="n" valueReference="3" causality="output"><Real unit="turns"/></ScalarVariable>
                <ScalarVariable name="b" valueReference="4" causality="output"><Real unit="bad"/></ScalarVariable>
              </ModelVariables>
            </fmiModelDescription>
            """
        );
        Assert.Equal([new("K", 1, 273.15), new("Pa", 1e5, 0), new("rad/s", 6.25, 0), null], unit.Variables.Select(v => v.Scale));
        var text = ClassOf(unit);
        Assert.Contains("parameter Real t(unit = \"K\") = 293.15", text, StringComparison.Ordinal);
        Assert.Contains("input Real p(unit = \"Pa\", displayUnit = \"bar\")", text, StringComparison.Ordinal);
        Assert.Contains("parameter Real offset_1(unit = \"K\") = 273.15", text, StringComparison.Ordinal);
        Assert.Contains("outsidePut(unit, 0, (t - offset_1), time)", text, StringComparison.Ordinal);
        Assert.Contains("= 6.25 * outsideGet(unit, 0, given);", text, StringComparison.Ordinal);
    }

    /// <summary>Hundreds of inputs make deep calls: the class compiles, or is refused in words, and nothing ends.</summary>
    [Theory]
    [InlineData("CoSimulation", 1500)]
    [InlineData("ModelExchange", 1500)]
    [InlineData("ModelExchange", 60)]
    public void Units_of_many_inputs_are_taken_or_refused(string kind, int inputs)
    {
        var variables = string.Concat(
            Enumerable.Range(1, inputs).Select(i => $"""<Float64 name="u{i}" valueReference="{i}" causality="input" start="0"/>""")
        );
        var unit = Read(
            $"""
            <fmiModelDescription fmiVersion="3.0" modelName="M" instantiationToken="t">
              <{kind} modelIdentifier="m"/>
              <ModelVariables>{variables}<Float64 name="y" valueReference="9999" causality="output"/></ModelVariables>
            </fmiModelDescription>
            """
        );
        var model = new DiagramDefinition
        {
            Name = "Rig",
            Parts = new() { ["c"] = AnchorBend.Tests.Diagrams.Part("#own", "Unit") },
        }
            .AsModel()
            .With("own", new TextDefinition { Name = "Bought", Text = ClassOf(unit) });
        var prepared = DocumentPreparation.Prepare(model, PartCatalog.Of(model));
        if (inputs < 100)
            Assert.NotNull(prepared.Compiled);
        else
            Assert.True(prepared.Compiled is not null || prepared.Findings.Count > 0);
    }

    [Theory]
    [InlineData("speed", "speed")]
    [InlineData("a b/c", "a_b_c")]
    [InlineData("3rd", "v3rd")]
    [InlineData("__", "v")]
    [InlineData("model", "model_")]
    [InlineData("größe", "gr__e")]
    public void A_name_says_the_same_in_plain_letters(string name, string plain) => Assert.Equal(plain, UnitClass.Plain(name));
}
