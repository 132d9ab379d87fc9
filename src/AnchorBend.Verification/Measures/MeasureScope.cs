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
    /// <summary>A unit that is no coherent one: per cent.</summary>
    public string? Unit { get; init; }
}

/// <summary>Names in measures: all variables of the model, and functions of signals, which are computed as they are met.</summary>
sealed class MeasureScope(PreparedModel prepared, double[] parameters, RecordedTerms recorded, Interval run) : IScope
{
    static readonly Dimension Second = Dimension.Base(2);

    readonly List<Measured> made = [];

    int First => prepared.Model.Variables.Count;

    public int InitialFlag => FlatModel.InitialFlagIndex;

    /// <summary>What a term stands for that is nothing but one function's result; null for other terms.</summary>
    public Measured? MeasuredOf(Term term) => term is VariableTerm v && v.Index >= First ? made[v.Index - First] : null;

    public Value Resolve(Reference reference, Func<Expression, int?, Value> subscripts)
    {
        var name = string.Join(
            '.',
            reference.Parts.Select(p =>
                p.Subscripts.Count == 0
                    ? p.Name
                    : $"{p.Name}[{string.Join(',', p.Subscripts.Select(s => Constant(subscripts(s, null).ScalarTerm(s.At), s.At)))}]"
            )
        );
        if (prepared.Find(name) is { } variable)
            return Value.Scalar(variable.Type, new VariableTerm(variable.Index));
        if (prepared.Model.AllOf(name).ToList() is { Count: > 0 } elements)
            return new Value(
                elements[0].Variable.Type,
                [elements.Count],
                [.. elements.Select(e => (Term)new VariableTerm(e.Variable.Index))]
            );
        var names = prepared.Model.Variables.Select(v => v.Name).Concat(prepared.Model.Aliases.Keys);
        throw new LanguageException(
            "unknown-name",
            $"There is no signal '{name}'.",
            reference.At,
            Nearest.Of(name, names) is { } near ? $"Did you mean '{near}'?" : "Look it up in the list of signals."
        );
    }

    public Term DerivativeOf(int variable, Position at) =>
        prepared.Model.Variables[variable] is { Derivative: >= 0 and var rate }
            ? new VariableTerm(rate)
            : throw new LanguageException("derivative", "This is no state, so its derivative was not computed.", at);

    public double Constant(Term term, Position at) =>
        new TermEvaluator(i =>
            i >= First ? made[i - First].Value
            : prepared.Model.Variables[i].Role == VariableRole.Parameter ? parameters[i]
            : throw new LanguageException(
                "instant",
                $"{prepared.Model.Variables[i].Name} changes during the run: say at which instant or over which time.",
                at,
                $"For example final({prepared.Model.Variables[i].Name})."
            )
        ).Evaluate(term);

    /// <summary>The dimension of a term.</summary>
    /// <exception cref="LanguageException">Units meet in it that do not agree.</exception>
    public Dimension? DimensionOf(Term term, Position at)
    {
        var known = prepared.Dimensions.Concat(made.Select(m => m.Dimension)).ToArray();
        known[FlatModel.TimeIndex] = Second;
        var (dimension, clash) = UnitInference.Of(prepared.Model, known, term);
        return clash is null ? dimension : throw new LanguageException("unit", clash, at, "Compare and add like with like.");
    }

    public IReadOnlyList<Value>? CallFunction(
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
        var call = new MeasureCall(this, recorded, function, arguments, named, run, at);
        made.Add(call.Measure());
        return [Value.Real(new VariableTerm(recorded.Made(made[^1].Value)))];
    }

    public int SampleClock(Term start, Term interval, Position at) => throw NotHere(at);

    public Term Delay(Term source, Term duration, Term? longest, Position at) => throw NotHere(at);

    public int Discrete(string name, Func<int, Term> equation, Position at) => throw NotHere(at);

    static LanguageException NotHere(Position at) =>
        new("variability", "A measure looks at what was recorded; this function makes something new.", at);
}
