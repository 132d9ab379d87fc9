using AnchorBend.Language.Terms;
using AnchorBend.Media;
using AnchorBend.Modeling.Flattening;
using AnchorBend.Tests;
using static AnchorBend.Simulation.Tests.PhysicalRun;

namespace AnchorBend.Simulation.Tests;

/// <summary>Functions that are computed outside of the equations, as properties of fluids are.</summary>
public class IntrinsicTests
{
    static readonly Medium Water = Mediums.Of(1, 0);

    [Fact]
    public void A_model_calls_them_and_finds_their_inverse()
    {
        // The enthalpy at which water of 5 bar has 80 °C, by Newton's method through the slope of the temperature.
        var h = Value("Real h(start = 1e5); equation fluidTemperature(1, 0, 5e5, h) = 353.15 + 0 * time;", "h", 1);
        Near(Water.Enthalpy(5e5, 353.15), h, 1e-6);
    }

    [Fact]
    public void A_function_of_parameters_is_a_parameter()
    {
        const string Text = "parameter Real d = fluidDensity(1, 0, 1e5, fluidEnthalpy(1, 0, 1e5, 293.15)); Real x; equation x = d;";
        Near(998.2, TextModel.Values(Text, "x", [0, 1])[0], 1e-4);
    }

    /// <summary>A model grows by the calls, not by what is called.</summary>
    [Fact]
    public void Two_hundred_calls_are_two_hundred_terms()
    {
        var text = "Real x[200]; equation for i in 1:200 loop x[i] = fluidTemperature(1, 0, 1e5, 1000 * i); end for;";
        var prepared = TextModel.Prepare(text);
        Assert.Equal(200, prepared.Model.Equations.Count);
        Assert.All(prepared.Model.Equations, e => Assert.IsType<CallTerm>(e.Right));
        Assert.True(prepared.CanRun);
    }

    [Fact]
    public void Equal_calls_have_equal_keys_and_others_do_not()
    {
        var (t, d) = (BuiltInFunctions.Find("fluidTemperature")!, BuiltInFunctions.Find("fluidDensity")!);
        Term[] operands = [Term.One, Term.Zero, new VariableTerm(3), new VariableTerm(4)];
        Assert.Equal(new CallTerm(t, operands).Key, new CallTerm(t, [.. operands]).Key);
        Assert.NotEqual(new CallTerm(t, operands).Key, new CallTerm(d, operands).Key);
        Assert.Null(BuiltInFunctions.Find("fluidColour"));
    }

    [Fact]
    public void Slopes_follow_the_operands()
    {
        var call = new CallTerm(BuiltInFunctions.Find("fluidDensity")!, [Term.One, Term.Zero, new VariableTerm(0), new VariableTerm(1)]);
        double[] at = [2e5, 3e5];
        double Of(Term term) => new TermEvaluator(i => at[i]).Evaluate(term);
        var slope = Of(TermDerivative.Partial(call, 1));
        var (low, high) = (Water.At(2e5, 3e5 - 10).Density, Water.At(2e5, 3e5 + 10).Density);
        Near((high - low) / 20, slope, 1e-5);
        // And of the slope, as index reduction asks for it.
        var second = Of(TermDerivative.Partial(TermDerivative.Partial(call, 1), 1));
        Near((high - 2 * Of(call) + low) / 100, second, 2e-2);
    }

    [Theory]
    [InlineData("function f input Real x; output Real y; external \"C\"; end f; Real z; equation z = f(1);", "other languages")]
    [InlineData("function f input Real x; output Real y; external \"builtin\"; end f; Real z; equation z = f(1);", "built in")]
    public void Others_are_refused(string text, string reason)
    {
        var (classes, errors) = Language.Syntax.Parser.ParseFile($"model Test\n{text}\nend Test;");
        Assert.Contains(
            errors
                .Select(e => e.Message)
                .Concat(errors.Count > 0 ? [] : TextModel.Prepare($"model Test\n{text}\nend Test;").Findings.Select(f => f.Message)),
            m => m.Contains(reason, StringComparison.Ordinal)
        );
        Assert.NotNull(classes);
    }
}
