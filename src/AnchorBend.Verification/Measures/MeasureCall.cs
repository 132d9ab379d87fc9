using AnchorBend.Language;
using AnchorBend.Language.Binding;
using AnchorBend.Language.Syntax;
using AnchorBend.Language.Terms;
using AnchorBend.Language.Units;

namespace AnchorBend.Verification.Measures;

/// <summary>One call of a function of a signal. docs/measures.md defines each.</summary>
sealed class MeasureCall(
    MeasureScope scope,
    RecordedTerms recorded,
    MeasureFunction function,
    IReadOnlyList<Value> arguments,
    IReadOnlyList<(string Name, Value Value)> named,
    Interval run,
    Position at
)
{
    static readonly Dimension Second = Dimension.Base(2);

    /// <summary>Every signal ends at its last value; who comes near it only in this share of the window has not settled.</summary>
    const double LastShare = 0.05;

    Term Argument(int index) => arguments[index].ScalarTerm(at);

    bool IsCondition => arguments[0].Type == ScalarType.Boolean;

    /// <summary>How many arguments are given by position, at most.</summary>
    int Most => function.Name is "at" or "crossing" ? 2 : 1;

    public Measured Measure()
    {
        if (arguments.Count < 1 || arguments.Count > Most)
            throw new LanguageException("argument", $"{function.Name} is called as {function.Form}.", at);
        if (arguments.Any(a => a.Text is not null || !a.IsScalar))
            throw new LanguageException(
                "argument",
                $"{function.Name} needs one signal.",
                at,
                "Choose an element of an array by its number."
            );
        var window = Window();
        if (function.Name is "duration" or "count" || function.Name is "first" or "last" && IsCondition)
            return OfCondition(Intervals.Both(Condition(Argument(0), function.Name), window));
        if (IsCondition && function.Name is not ("final" or "at" or "mean"))
            throw new LanguageException("argument", $"{function.Name} needs a signal with numbers, not a condition.", at);
        var term = Argument(0);
        var dimension = scope.DimensionOf(term, at);
        if (function.Name == "at")
            return At(term, dimension);
        var curve = WindowedCurve.Of(recorded.Curve(term), window);
        Measured Value((double Time, double Value) found) => new(found.Value, found.Time, dimension, VariableOf(term));
        return function.Name switch
        {
            "minimum" => Value(curve.Minimum()),
            "maximum" => Value(curve.Maximum()),
            "mean" => Value((double.NaN, curve.Mean())) with { Instant = null },
            "rms" => new Measured(curve.RootMeanSquare(), null, dimension, VariableOf(term), true),
            "integral" => new Measured(curve.Integral(), null, dimension is { } d ? d * Second : null),
            "first" => Value(curve.First()),
            "final" or "last" => Value(curve.Last()),
            "peaktopeak" => new Measured(curve.Maximum().Value - curve.Minimum().Value, null, dimension, VariableOf(term), true),
            "crossing" => Crossing(curve, dimension),
            "frequency" => Frequency(curve, dimension),
            _ => Step(curve.Single(function.Name), dimension),
        };
    }

    /// <summary>The variable whose unit a value of the term has.</summary>
    static int VariableOf(Term term) => term is VariableTerm v ? v.Index : -1;

    Value? Named(string name) => named.Where(n => n.Name == name).Select(n => n.Value).FirstOrDefault();

    double? Number(string name, Dimension? wanted) => Named(name) is { } value ? Number(value.ScalarTerm(at), name, wanted) : null;

    /// <summary>A number that is known without an instant; a plain one may stand for any unit.</summary>
    double Number(Term term, string what, Dimension? wanted) =>
        scope.DimensionOf(term, at) is { IsNone: false } given && wanted is { } dimension && given != dimension
            ? throw new LanguageException(
                "unit",
                $"The units do not agree: '{what}' of {function.Name} cannot be in {Unit.Pretty(UnitTable.Usual(given))}.",
                at
            )
            : scope.Constant(term, at);

    List<Interval> Window()
    {
        double? from = Number("from", Second),
            to = Number("to", Second);
        var (start, end) = (from ?? run.From, to ?? run.To);
        if (!(end >= start))
            throw new LanguageException("window", $"The window ends before it begins: from {start:G6} s to {end:G6} s.", at);
        var reached = recorded.Recorded;
        // A run that ended early decides nothing about what lies behind.
        if (to is { } wanted && wanted > reached.To + 1e-9 * Math.Abs(reached.To))
            throw new MeasureException($"The run ends at {reached.To:G6} s, before the window does ({wanted:G6} s).");
        var window = Intervals.Both([new Interval(start, end)], [reached]);
        if (window.Count == 0)
            throw new MeasureException($"The run holds nothing from {start:G6} s to {end:G6} s.");
        if (Named("while") is not { } condition)
            return window;
        if (condition.Type != ScalarType.Boolean)
            throw new LanguageException("argument", "The window takes a condition, such as while = speed > 0.2.", at);
        window = Intervals.Both(window, Condition(condition.ScalarTerm(at), "while"));
        return window.Count > 0 ? window : throw new MeasureException("The condition of the window never holds.");
    }

    List<Interval> Condition(Term term, string what)
    {
        // Units on both sides of a comparison must agree.
        scope.DimensionOf(term, at);
        if (what != "while" && !IsCondition)
            throw new LanguageException("argument", $"{what} needs a condition, such as {what}(depth > 5).", at);
        return recorded.Holds(term);
    }

    Measured OfCondition(List<Interval> holds) =>
        function.Name switch
        {
            "duration" => new Measured(holds.Sum(i => i.Length), null, Second),
            "count" => new Measured(holds.Count, null, Dimension.None),
            _ when holds.Count == 0 => throw new MeasureException("The condition never holds in the window."),
            "first" => new Measured(holds[0].From, holds[0].From, Second),
            _ => new Measured(holds[^1].To, holds[^1].To, Second),
        };

    Measured At(Term term, Dimension? dimension)
    {
        if (arguments.Count < 2)
            throw new LanguageException("argument", "at needs an instant: at(signal, 3).", at);
        var instant = Number(Argument(1), "instant", Second);
        var value = recorded.Curve(term).At(instant);
        return value is { } found
            ? new Measured(found, instant, dimension, VariableOf(term))
            : throw new MeasureException($"The run has no value at {instant:G6} s.");
    }

    Measured Crossing(WindowedCurve curve, Dimension? dimension)
    {
        var level = arguments.Count > 1 ? Number(Argument(1), "level", dimension) : Number("level", dimension) ?? 0;
        var number = Number("number", Dimension.None) ?? 1;
        if (number < 1 || number != Math.Floor(number))
            throw new LanguageException("argument", "The number of a crossing is 1, 2, 3 and so on.", at);
        var direction = Named("direction") is { } given
            ? given.Text switch
            {
                "rising" => 1,
                "falling" => -1,
                "any" => 0,
                _ => throw new LanguageException("argument", "The direction is \"rising\", \"falling\" or \"any\".", at),
            }
            : 0;
        var crossings = curve.Crossings(level, direction).Take((int)Math.Min(number, int.MaxValue)).ToList();
        return crossings.Count == number ? new Measured(crossings[^1], crossings[^1], Second)
            : crossings.Count == 0 ? throw new MeasureException("The level is never crossed in the window.")
            : throw new MeasureException($"The level is crossed {crossings.Count} times in the window only.");
    }

    Measured Frequency(WindowedCurve curve, Dimension? dimension)
    {
        var rises = curve.Crossings(Number("level", dimension) ?? curve.Mean(), 1).ToList();
        return rises.Count >= 2
            ? new Measured((rises.Count - 1) / (rises[^1] - rises[0]), null, Dimension.None / Second) { Unit = "Hz" }
            : throw new MeasureException("The signal does not rise through the level twice in the window.");
    }

    /// <summary>Rise, settling and overshoot of a step from the first value of the window to its goal.</summary>
    Measured Step(Curve curve, Dimension? dimension)
    {
        var initial = curve.Values[0];
        var goal = Number("target", dimension) ?? curve.Values[^1];
        var size = goal - initial;
        var range = curve.Maximum().Value - curve.Minimum().Value;
        if (Math.Abs(size) <= 1e-9 * Math.Max(Math.Abs(goal), range))
            throw new MeasureException("There is no step in the window: the signal begins at its goal.");
        switch (function.Name)
        {
            case "overshoot":
                var (when, peak) = size > 0 ? curve.Maximum() : curve.Minimum();
                var over = Math.Max(0, (peak - goal) / size);
                return new Measured(over, over > 0 ? when : null, Dimension.None) { Unit = "%" };
            case "risetime":
                var (low, high) = (Number("low", Dimension.None) ?? 0.1, Number("high", Dimension.None) ?? 0.9);
                var begins = curve.FirstCrossing(initial + low * size, curve.Times[0]);
                var arrives = double.IsNaN(begins) ? double.NaN : curve.FirstCrossing(initial + high * size, begins);
                return double.IsNaN(arrives)
                    ? throw new MeasureException($"The signal does not reach {100 * high:G4} % of the step in the window.")
                    : new Measured(arrives - begins, arrives, Second);
            default:
                var band = Number("band", Dimension.None) ?? 0.02;
                var settled = curve.EntersBand(goal, band * Math.Abs(size));
                if (Named("target") is null && settled > curve.Times[^1] - LastShare * (curve.Times[^1] - curve.Times[0]))
                    throw new MeasureException(
                        $"The signal does not settle: it stays within {100 * band:G4} % of its last value only from {settled:G4} s on. "
                            + "Give a target, or a longer window."
                    );
                return double.IsNaN(settled)
                    ? throw new MeasureException($"The signal does not stay within {100 * band:G4} % of the step in the window.")
                    : new Measured(settled - curve.Times[0], settled, Second);
        }
    }
}
