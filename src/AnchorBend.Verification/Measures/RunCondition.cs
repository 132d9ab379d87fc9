using AnchorBend.Compiler.Preparation;
using AnchorBend.Language;
using AnchorBend.Language.Binding;
using AnchorBend.Language.Syntax;
using AnchorBend.Language.Terms;
using AnchorBend.Language.Units;
using AnchorBend.Modeling;
using AnchorBend.Modeling.Flat;

namespace AnchorBend.Verification.Measures;

/// <summary>Conditions over the signals of a run, such as <c>depth &gt; 12 and speed &lt; 0.1</c>.</summary>
public static class RunCondition
{
    /// <param name="parameters">Values of all parameters, by index.</param>
    /// <exception cref="LanguageException">It is no condition on this model.</exception>
    public static Term Parse(PreparedModel prepared, double[] parameters, string text)
    {
        var expression = Parser.ParseMeasure(text);
        CheckUnits(prepared, parameters, expression);
        var bound = new Binder(new Scope(prepared, parameters), withoutEvents: true).Bind(expression);
        return bound.Type == ScalarType.Boolean
            ? bound.ScalarTerm(expression.At)
            : throw new LanguageException("argument", "A condition is needed here, such as depth > 12.", expression.At);
    }

    static void CheckUnits(PreparedModel prepared, double[] parameters, Expression expression)
    {
        var scope = new UnitScope(prepared, parameters);
        foreach (var term in new Binder(scope, withoutEvents: true).Bind(expression).Elements)
            if (UnitInference.Of(prepared.Model, scope.Dimensions, term).Clash is { } clash)
                throw new LanguageException("unit", clash, expression.At, "Compare and add like with like.");
    }

    class Scope(PreparedModel prepared, double[] parameters) : SignalScope(prepared)
    {
        protected override double ValueOf(int variable, Position at) => Parameter(variable, parameters, at);
    }

    /// <summary>Has numbers with units stand as variables, so that their dimensions are seen.</summary>
    sealed class UnitScope : Scope
    {
        public UnitScope(PreparedModel prepared, double[] parameters)
            : base(prepared, parameters)
        {
            Dimensions = [.. prepared.Dimensions];
            Dimensions[FlatModel.TimeIndex] = Dimension.Base(2);
        }

        public List<Dimension?> Dimensions { get; }

        public override Term WithUnit(Term value, Unit unit)
        {
            if (unit.Dimension.IsNone)
                return value;
            Dimensions.Add(unit.Dimension);
            return new VariableTerm(Dimensions.Count - 1);
        }
    }
}
