using AnchorBend.Compiler.Preparation;
using AnchorBend.Language.Binding;
using AnchorBend.Language.Syntax;
using AnchorBend.Language.Units;
using AnchorBend.Simulation.Recording;

namespace AnchorBend.Verification.Measures;

/// <summary>What a measure gave on one run.</summary>
/// <param name="Value">In <paramref name="Unit"/>, the unit that the model computes in; null where there is none.</param>
/// <param name="Instant">When the value was found, for what has an instant; s.</param>
/// <param name="Problem">Why there is no value; null where there is one.</param>
public sealed record MeasureResult(string Expression, double? Value, string Unit, double? Instant, string? Problem)
{
    /// <summary>The value as people read it, in <see cref="ShownUnit"/>.</summary>
    public double? Shown { get; init; }

    public string ShownUnit { get; init; } = "";

    /// <summary>Whether the expression itself is wrong: no run would give it a value.</summary>
    public bool IsWrong { get; init; }
}

/// <summary>Evaluates measures on what a run recorded.</summary>
/// <param name="parameters">Values of all parameters, by index.</param>
/// <param name="start">Start of the run, s.</param>
/// <param name="end">Its end as it was wanted, s.</param>
public sealed class MeasureEvaluation(PreparedModel prepared, double[] parameters, Trace trace, double start, double end)
{
    readonly RecordedTerms recorded = new(prepared, parameters, trace);

    /// <summary>A measure's value; what is wrong with it, or why the run does not decide it, is told in the result.</summary>
    public MeasureResult Evaluate(string text)
    {
        try
        {
            recorded.Forget();
            var scope = new MeasureScope(prepared, parameters, recorded, new Interval(start, end));
            var expression = Parser.ParseMeasure(text);
            var bound = new Binder(scope, withoutEvents: true).Bind(expression);
            var term = bound.ScalarTerm(expression.At);
            var dimension = scope.DimensionOf(term, expression.At);
            var value = scope.Constant(term, expression.At);
            if (!double.IsFinite(value))
                return Without(text, "The result is no finite number.", false);
            return Shown(text, value, scope.MeasuredOf(term) ?? new Measured(value, null, dimension));
        }
        catch (LanguageException e)
        {
            return Without(text, e.Error.Message + (e.Error.Suggestion is null ? "" : " " + e.Error.Suggestion), true);
        }
        catch (MeasureException e)
        {
            return Without(text, e.Message, false);
        }
    }

    static MeasureResult Without(string text, string problem, bool isWrong) => new(text, null, "", null, problem) { IsWrong = isWrong };

    MeasureResult Shown(string text, double value, Measured measured)
    {
        var variable = measured.Of >= 0 && measured.Of < prepared.Model.Variables.Count ? prepared.Model.Variables[measured.Of] : null;
        var unit = variable?.Unit
            ?? (measured.Dimension is { IsNone: false } d && Unit.TryParse(Name(d), out var found, out _) ? found : null);
        var symbol = unit is null || unit.Symbol == "1" ? "" : unit.Symbol;
        var result = new MeasureResult(text, value, symbol, measured.Instant, null) { Shown = value, ShownUnit = Unit.Pretty(symbol) };
        if (measured.Unit is { } read)
            return result with { Shown = value / Unit.Parse(read).Factor, ShownUnit = read };
        if (
            variable?.DisplayUnit is not { } wanted
            || unit is null
            || !Unit.TryParse(wanted, out var display, out _)
            || !display.Fits(unit)
        )
            return result;
        var (scale, shift) = unit.ConversionTo(display);
        // The mean square of a scale with another zero is no mean square of the other.
        if (measured.IsDifference)
            shift = 0;
        return result with { Shown = value * scale + shift, ShownUnit = Unit.Pretty(wanted) };
    }

    /// <summary>The usual unit; one of angles only where it was declared, as an angle is a plain number to dimensions.</summary>
    static string Name(Dimension dimension) =>
        UnitTable.OfDimension(dimension).FirstOrDefault(u => Unit.TryParse(u, out var unit, out _) && unit.Angle == 0 && !unit.Cycles)
        ?? dimension.ToString();
}
