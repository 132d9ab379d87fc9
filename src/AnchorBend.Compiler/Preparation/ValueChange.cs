using AnchorBend.Language;
using AnchorBend.Language.Binding;
using AnchorBend.Language.Syntax;
using AnchorBend.Language.Terms;
using AnchorBend.Modeling.Flat;

namespace AnchorBend.Compiler.Preparation;

/// <summary>
/// Gives parameters of a prepared model other values without elaborating it again. Only where that cannot change anything else: a
/// scalar real parameter, or any scalar of a source, on which no structure and no start left to its part depends takes a value
/// without names in it, no limit is violated, and the same parameters stay zero but those of sources (plans leave out products with
/// zeros). Everything else is left to a new elaboration, which also words its findings.
/// </summary>
public static class ValueChange
{
    /// <param name="changes">Path of a parameter in the flat model and its new value as typed.</param>
    /// <param name="inRun">Whether only the value counts, as in a run that goes on: what it is shown in stays as it is.</param>
    /// <returns>The model with the new values; null where the model must be elaborated again.</returns>
    public static PreparedModel? Apply(PreparedModel prepared, IEnumerable<(string Path, string Text)> changes, bool inRun = false)
    {
        var values = new List<(string, double)>();
        foreach (var (path, text) in changes)
        {
            if (Settable(prepared, path) is not { } parameter || Literal(text, parameter, inRun) is not { } value)
                return null;
            values.Add((path, value));
        }

        return Apply(prepared, values);
    }

    /// <param name="changes">Path of a parameter in the flat model and its new value in its own unit.</param>
    /// <returns>The model with the new values; null where the model must be elaborated again.</returns>
    public static PreparedModel? Apply(PreparedModel prepared, IReadOnlyList<(string Path, double Value)> changes)
    {
        var bindings = new Dictionary<int, Term>();
        foreach (var (path, value) in changes)
        {
            if (Settable(prepared, path) is not { } parameter || !IsOf(parameter.Type, value))
                return null;
            bindings[parameter.Index] = Term.Of(value);
        }

        var model = prepared.Model.WithBindings(bindings);
        return KeepsWhatMatters(prepared.Model, model) ? prepared.With(model) : null;
    }

    /// <summary>A value as typed, in the unit of a parameter that can be set during a run.</summary>
    /// <returns>Null where it cannot be set, or not to that.</returns>
    public static double? Read(PreparedModel prepared, string path, string text) =>
        Settable(prepared, path) is { } parameter ? Literal(text, parameter, true) : null;

    static FlatVariable? Settable(PreparedModel prepared, string path) =>
        prepared.CanRun
        && prepared.Model.Find(path) is { Role: VariableRole.Parameter, IsStructural: false, DecidesDefaultStart: false } parameter
        && parameter.Name == path
        && (parameter.Type == ScalarType.Real || parameter.IsPlayed)
            ? parameter
            : null;

    static bool IsOf(ScalarType type, double value) =>
        double.IsFinite(value)
        && type switch
        {
            ScalarType.Boolean => value is 0 or 1,
            ScalarType.Real => true,
            _ => value == Math.Round(value),
        };

    static double? Literal(string text, FlatVariable parameter, bool inRun)
    {
        try
        {
            var expression = Parser.ParseField(text);
            if (parameter.Unit is null && expression is Quantity)
                return null;
            // A unit typed with the value is the parameter's own where none is declared: another one is another model.
            if (!parameter.DeclaresUnit && parameter.Unit is not null && !inRun)
                if (expression is not Quantity { Unit.Symbol: var symbol } || symbol != parameter.DisplayUnit)
                    return null;
            var (scale, shift) = (1.0, 0.0);
            if (expression is Quantity quantity)
            {
                if (!quantity.Unit.Fits(parameter.Unit!))
                    return null;
                (scale, shift) = quantity.Unit.ConversionTo(parameter.Unit!);
                expression = quantity.Value;
            }

            var value = new Binder(new NoNames()).Bind(expression);
            if (!value.IsScalar || value.Elements is not [ConstantTerm number])
                return null;
            return parameter.Type switch
            {
                ScalarType.Boolean => value.Type == ScalarType.Boolean ? number.Value : null,
                ScalarType.Integer => value.IsNumeric && number.Value == Math.Round(number.Value) ? number.Value : null,
                _ => value.IsNumeric ? number.Value * scale + shift : null,
            };
        }
        catch (LanguageException)
        {
            return null;
        }
    }

    static bool KeepsWhatMatters(FlatModel before, FlatModel after)
    {
        var (old, now) = (before.ParameterValues(), after.ParameterValues());
        if (ParameterSet.ZeroThatChanged(after, old, now) is not null)
            return false;
        if (!ParameterAssertions.AreAsBefore(after, old, now))
            return false;
        var evaluator = new TermEvaluator(i => now[i]);
        foreach (var v in after.Variables)
        {
            if (v.Role != VariableRole.Parameter)
                continue;
            var value = now[v.Index];
            if (v.Minimum is not null && !(value >= evaluator.Evaluate(v.Minimum)))
                return false;
            if (v.Maximum is not null && !(value <= evaluator.Evaluate(v.Maximum)))
                return false;
        }

        return true;
    }

    /// <summary>A place where no name means anything.</summary>
    sealed class NoNames : IScope
    {
        public int InitialFlag => FlatModel.InitialFlagIndex;

        public Value Resolve(Reference reference, Func<Expression, int?, Value> subscripts) => throw Names(reference.At);

        public Term DerivativeOf(int variable, Position at) => throw Names(at);

        public double Constant(Term term, Position at) => new TermEvaluator(_ => throw Names(at)).Evaluate(term);

        public int SampleClock(Term start, Term interval, Position at) => throw Names(at);

        public Term Delay(Term source, Term duration, Term? longest, Position at) => throw Names(at);

        public int Discrete(string name, Func<int, Term> equation, Position at) => throw Names(at);

        static LanguageException Names(Position at) => new("variability", "A value without names is wanted.", at);
    }
}
