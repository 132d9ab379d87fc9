using AnchorBend.Compiler.Preparation;
using AnchorBend.Language.Binding;
using AnchorBend.Language.Syntax;
using AnchorBend.Language.Terms;

namespace AnchorBend.Verification.Measures;

/// <summary>Conditions over the signals of a run, such as <c>depth &gt; 12 and speed &lt; 0.1</c>.</summary>
public static class RunCondition
{
    /// <param name="parameters">Values of all parameters, by index.</param>
    /// <exception cref="LanguageException">It is no condition on this model.</exception>
    public static Term Parse(PreparedModel prepared, double[] parameters, string text)
    {
        var expression = Parser.ParseMeasure(text);
        var bound = new Binder(new Scope(prepared, parameters), withoutEvents: true).Bind(expression);
        return bound.Type == ScalarType.Boolean
            ? bound.ScalarTerm(expression.At)
            : throw new LanguageException("argument", "A condition is needed here, such as depth > 12.", expression.At);
    }

    sealed class Scope(PreparedModel prepared, double[] parameters) : SignalScope(prepared)
    {
        protected override double ValueOf(int variable, Position at) => Parameter(variable, parameters, at);
    }
}
