using AnchorBend.Compiler.Preparation;
using AnchorBend.Modeling.Catalog;
using AnchorBend.Modeling.Documents;
using AnchorBend.Tests;

namespace AnchorBend.Simulation.Tests;

/// <summary>A parameter's new value in a prepared model, against elaborating the model again.</summary>
public class ValueChangeTests
{
    const string Text = """
        parameter Real k(unit = "N/m", min = 0) = 2; parameter Real m(unit = "kg", min = 1e-3, max = 2 * k) = 1; parameter Real twice = 2 * k;
        parameter Integer n = 2; parameter Boolean on = true; Real x[n](each start = 1), y;
        equation
        der(x) = -k / m * x; y = if on then twice else 0;
        """;

    [Theory]
    [InlineData("k", "3.5"), InlineData("k", "0.25 N/cm"), InlineData("m", "-(-250) g"), InlineData("m", "2/3"), InlineData("twice", "1e3")]
    public void A_changed_value_runs_as_if_the_model_were_made_anew(string path, string value)
    {
        var changed = ValueChange.Apply(TextModel.Prepare(Text), [(path, value)]);
        var anew = TextModel.Prepare(Text, new Dictionary<string, string> { [path] = value });
        Assert.NotNull(changed);
        var options = new RunOptions { End = 3 };
        var (a, b) = (TextModel.Run(changed, options), TextModel.Run(anew, options));
        Assert.Equal(b.Trace.Times, a.Trace.Times);
        foreach (var name in new[] { "x[1]", "y" })
            Assert.Equal(
                b.Trace[b.Trace.Rows - 1, anew.Compiled!.Plan.RepresentativeOf(name)],
                a.Trace[a.Trace.Rows - 1, changed.Compiled!.Plan.RepresentativeOf(name)]
            );
    }

    [Theory]
    [InlineData("k", "0", "a zero changes how loops are torn")]
    [InlineData("k", "-1", "below its limit")]
    [InlineData("k", "0.4", "another parameter leaves its limit")]
    [InlineData("k", "3 s", "wrong unit")]
    [InlineData("twice", "3 s", "a unit the declaration does not have")]
    [InlineData("k", "2 * m", "it follows another parameter")]
    [InlineData("k", "{1, 2}", "no scalar")]
    [InlineData("k", "2 +", "no expression")]
    [InlineData("n", "3", "sizes depend on it")]
    [InlineData("on", "false", "no real number")]
    [InlineData("x[1]", "3", "no parameter")]
    [InlineData("q", "3", "unknown")]
    public void What_a_value_alone_does_not_say_is_left_to_a_new_elaboration(string path, string value, string why)
    {
        Assert.True(ValueChange.Apply(TextModel.Prepare(Text), [(path, value)]) is null, why);
    }

    [Theory]
    [InlineData("9 m/s", false, 9.0)]
    [InlineData("9 m/s", true, 9.0)]
    [InlineData("36 km/h", true, 10.0)]
    [InlineData("7", true, 7.0)]
    [InlineData("36 km/h", false, null)]
    [InlineData("7", false, null)]
    [InlineData("7 s", true, null)]
    public void A_value_whose_unit_came_with_it_takes_others_of_the_unit_and_in_a_run_all_that_fit(string text, bool inRun, double? value)
    {
        var document = new DiagramDefinition
        {
            Name = "Test",
            Parts =
            {
                ["c"] = new PartNode
                {
                    Type = "Constant",
                    Name = "c",
                    Parameters = { ["k"] = "8 m/s" },
                },
            },
        }.AsModel();
        var changed = ValueChange.Apply(DocumentPreparation.Prepare(document, PartCatalog.Standard), [("c.k", text)], inRun);
        Assert.Equal(value, changed is null ? null : new ParameterSet(changed.Model).Values[changed.Model.Find("c.k")!.Index]);
    }

    [Fact]
    public void The_first_start_value_given_to_a_part_is_left_to_a_new_elaboration_and_later_ones_are_not()
    {
        // Left alone, the start of a part gives way to those of others.
        const string rest = "Conduction k(G = 1); FixedTemperature e(T = 300); equation connect(a.a, k.a); connect(k.b, e.b);";
        PreparedModel first = TextModel.Prepare("HeatCapacity a(C = 1);" + rest),
            later = TextModel.Prepare("HeatCapacity a(C = 1, T0 = 320);" + rest);
        Assert.True(first.CanRun && later.CanRun);
        Assert.Null(ValueChange.Apply(first, [("a.T0", "330")]));
        Assert.NotNull(ValueChange.Apply(later, [("a.T0", "330")]));
    }

    [Theory]
    [InlineData("replace", "/definitions/main/parts/a/parameters/k", "Gain 1.k", "7")]
    [InlineData("add", "/definitions/main/parameters/tau/value", "tau", "2 s")]
    [InlineData("remove", "/definitions/main/parts/a/parameters/k", null, null)]
    [InlineData("replace", "/definitions/main/parts/a/x", null, null)]
    [InlineData("replace", "/definitions/main/parts/b/parameters/k", null, null)]
    public void An_edit_of_a_document_tells_which_parameter_it_set(string op, string pointer, string? path, string? text)
    {
        var document = new DiagramDefinition
        {
            Name = "Test",
            Parts =
            {
                ["a"] = new PartNode
                {
                    Type = "Gain",
                    Name = "Gain 1",
                    Parameters = { ["k"] = "7" },
                },
            },
            Parameters = { ["tau"] = new ParameterNode { Value = "2 s" } },
        }.AsModel();
        var set = ParameterEdits.Of(document, new PatchOperation(op, pointer));
        Assert.Equal(path is null ? [] : [(path, text!)], set ?? []);
        // A value that was taken away, or one of a part that is not there, is looked at anew; a place in the drawing is no value.
        Assert.Equal(path is null && pointer.Contains("parameters", StringComparison.Ordinal), set is null);
    }
}
