using AnchorBend.Compiler.Preparation;
using AnchorBend.Language;
using AnchorBend.Language.Binding;
using AnchorBend.Language.Syntax;
using AnchorBend.Language.Terms;
using AnchorBend.Language.Units;
using AnchorBend.Modeling;
using AnchorBend.Modeling.Flat;

namespace AnchorBend.Verification.Measures;

/// <summary>What a function of a signal gave: a number that stands for itself in the rest of the expression.</summary>
/// <param name="Dimension">Null where it is not known.</param>
/// <param name="Of">The variable whose unit the number has; −1 where it has another.</param>
/// <param name="IsDifference">Whether it is a difference of such values, which a shift of the scale does not touch.</param>
sealed record Measured(double Value, double? Instant, Dimension? Dimension, int Of = -1, bool IsDifference = false)
{
    /// <summary>A unit of the same kind that people read it in.</summary>
    public string? Unit { get; init; }
}

/// <summary>Names in measures: all variables of the model, and functions of signals, which are computed as they are met.</summary>
sealed class MeasureScope(PreparedModel prepared, double[] parameters, RecordedTerms recorded, Interval run) : SignalScope(prepared)
{
    static readonly Dimension Second = Dimension.Base(2);

    readonly PreparedModel prepared = prepared;
    readonly List<Measured> made = [];

    int First => prepared.Model.Variables.Count;

    /// <summary>What a term stands for that is nothing but one function's result; null for other terms.</summary>
    public Measured? MeasuredOf(Term term) => term is VariableTerm v && v.Index >= First ? made[v.Index - First] : null;

    protected override double ValueOf(int variable, Position at) =>
        variable >= First ? made[variable - First].Value : Parameter(variable, parameters, at);

    /// <summary>The dimension of a term.</summary>
    /// <exception cref="LanguageException">Units meet in it that do not agree.</exception>
    public Dimension? DimensionOf(Term term, Position at)
    {
        var known = prepared.Dimensions.Concat(made.Select(m => m.Dimension)).ToArray();
        known[FlatModel.TimeIndex] = Second;
        var (dimension, clash) = UnitInference.Of(prepared.Model, known, term);
        return clash is null ? dimension : throw new LanguageException("unit", clash, at, "Compare and add like with like.");
    }

    public override IReadOnlyList<Value>? CallFunction(
        string name,
        IReadOnlyList<Value> arguments,
        IReadOnlyList<(string Name, Value Value)> named,
        Position at
    )
    {
        if (MeasureFunction.Find(name) is not { } function)
            throw new LanguageException(
                "unknown-function",
                $"There is no function '{name}'.",
                at,
                Nearest.Of(name, MeasureFunction.All.Select(f => f.Name).Concat(Binder.Functions)) is { } near
                    ? $"Did you mean {near}?"
                    : null
            );
        foreach (var (given, _) in named)
            if (!MeasureFunction.Window.Contains(given) && !function.Named.Contains(given))
                throw new LanguageException(
                    "argument",
                    $"{name} has no argument '{given}'.",
                    at,
                    $"It takes {string.Join(", ", function.Named.Concat(MeasureFunction.Window))}."
                );
        return [Value.Real(Made(new MeasureCall(this, recorded, function, arguments, named, run, at).Measure()))];
    }

    /// <summary>A number with a unit; one without dimension may stand beside any unit, as every plain number.</summary>
    public override Term WithUnit(Term value, Unit unit) =>
        value is ConstantTerm number && !unit.Dimension.IsNone ? Made(new Measured(number.Value, null, unit.Dimension)) : value;

    VariableTerm Made(Measured measured)
    {
        made.Add(measured);
        return new VariableTerm(recorded.Made(measured.Value));
    }
}
