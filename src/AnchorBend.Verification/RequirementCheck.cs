using AnchorBend.Compiler.Preparation;
using AnchorBend.Language.Binding;
using AnchorBend.Language.Syntax;
using AnchorBend.Language.Terms;
using AnchorBend.Language.Units;
using AnchorBend.Modeling.Documents;
using AnchorBend.Modeling.Flat;
using AnchorBend.Simulation;
using AnchorBend.Simulation.Recording;
using AnchorBend.Verification.Measures;
using AnchorBend.Verification.Temporal;

namespace AnchorBend.Verification;

public enum VerdictKind
{
    Met,
    Missed,

    /// <summary>The run did not show what is needed to decide.</summary>
    Open,
}

/// <summary>The outcome of one requirement after one run.</summary>
/// <param name="Margin">How much is left to the limit, in <paramref name="Unit"/>; negative when missed.</param>
/// <param name="Actual">The value compared with the limit.</param>
/// <param name="Decides">The instant that decides; null when there is none.</param>
public sealed record Verdict(
    string Id,
    string Name,
    VerdictKind Kind,
    double? Margin,
    double? Actual,
    double? Limit,
    string Unit,
    double? Decides,
    string Explanation
)
{
    /// <summary>For limits: what to draw into the plot, over which window.</summary>
    public IReadOnlyList<LimitLine> Lines { get; init; } = [];

    /// <summary>For rules on what happens now and then: each time, with what came of it.</summary>
    public IReadOnlyList<Verdict> Occasions { get; init; } = [];

    /// <summary>When such an occasion was, s.</summary>
    public double? At { get; init; }

    /// <summary>Representative variable of the signal, −1 where it is unknown.</summary>
    public int Variable { get; init; } = -1;
}

/// <summary>A limit line of the plot; the value is in the signal's own unit.</summary>
/// <param name="IsUpper">Whether the signal must stay below it; else above.</param>
public sealed record LimitLine(double From, double To, double Value, bool IsUpper);

/// <summary>Checks requirements against a run.</summary>
/// <param name="measures">The measures that requirements may speak of, by id.</param>
public sealed class RequirementCheck(
    PreparedModel prepared,
    ParameterSet parameters,
    Trace trace,
    double start,
    double end,
    IReadOnlyDictionary<string, MeasureNode>? measures = null
)
{
    readonly MeasureEvaluation evaluation = new(prepared, parameters.Values, trace, start, end);

    /// <summary>Checks one requirement; an unknown signal or an unreadable limit gives an open verdict that says so.</summary>
    public Verdict Check(string id, RequirementNode requirement)
    {
        try
        {
            return CheckChecked(id, requirement);
        }
        catch (LanguageException e)
        {
            return new Verdict(
                id,
                requirement.Name,
                VerdictKind.Open,
                null,
                null,
                null,
                "",
                null,
                e.Error.Message + (e.Error.Suggestion is null ? "" : " " + e.Error.Suggestion)
            );
        }
    }

    Verdict CheckChecked(string id, RequirementNode r)
    {
        if (r.Rule is { } rule)
            return OfRule(id, r, rule);
        if (r.Measure is { } of)
            return OfMeasure(id, r, of);
        var variable = Signal(r.Signal);
        var isTime = r.Kind is RequirementKind.RiseTime or RequirementKind.SettlingTime;
        var second = Unit.Parse("s");
        var coherent = variable.Unit;
        var dimension = coherent?.Dimension ?? prepared.Dimensions[variable.Index];
        var show = variable.DisplayUnit is { } d && Unit.TryParse(d, out var display, out _) ? display : coherent ?? DefaultUnit(dimension);
        var limit =
            r.Kind == RequirementKind.Overshoot ? Number(r.Limit, Unit.Parse("%"), Unit.Parse("%"), "limit")
            : isTime ? Number(r.Limit, second, second, "limit")
            : Number(r.Limit, show, coherent ?? DefaultUnit(dimension), "limit");
        var from = r.From is { Length: > 0 } f ? Number(f, second, second, "start of the window") : start;
        var to = r.To is { Length: > 0 } t ? Number(t, second, second, "end of the window") : end;
        if (to <= from)
            throw new LanguageException("window", "The window ends before it begins.", default);
        var place = prepared.Compiled!.Plan.Representative[variable.Index];
        var curve = new Curve(trace.Times, Values(variable)).Window(from, to);
        var open = new Verdict(id, r.Name, VerdictKind.Open, null, null, limit, "", null, "The run holds no values in the window.")
        {
            Variable = place,
        };
        if (curve.Values.Length == 0 || (trace.Rows > 0 && trace.Times[^1] < to - 1e-9 * (end - start) && to <= end))
            return open;
        var goal = r.Kind is RequirementKind.UpperLimit or RequirementKind.LowerLimit ? 0 : Goal(r, curve, to);
        if (!RecordedSignal.Has(prepared, trace, variable))
            return open with { Explanation = "The run did not keep this signal." };
        // A comparison with what is not a number would say "missed" of a value that nobody knows.
        if (!double.IsFinite(goal) || !curve.Values.All(double.IsFinite))
            return open with { Explanation = "The run has gaps in the window: values are missing." };
        var unit =
            r.Kind == RequirementKind.Overshoot ? "%"
            : isTime ? "s"
            : show.Symbol == "1" ? ""
            : show.Symbol;
        double Shown(double difference) => difference * (coherent ?? show).Factor / show.Factor;
        double ShownValue(double value) => (coherent ?? DefaultUnit(dimension)).ConvertTo(show, value);
        Verdict Decide(double margin, double actual, double at, string text, params LimitLine[] lines) =>
            new(id, r.Name, margin >= 0 ? VerdictKind.Met : VerdictKind.Missed, margin, actual, limit, unit, at, text)
            {
                Lines = lines,
                Variable = place,
            };

        switch (r.Kind)
        {
            case RequirementKind.UpperLimit:
                var (when, high) = curve.Maximum();
                return Decide(
                    Shown(limit - high),
                    ShownValue(high),
                    when,
                    "highest value in the window",
                    new LimitLine(from, Math.Min(to, end), limit, true)
                ) with
                {
                    Limit = ShownValue(limit),
                };
            case RequirementKind.LowerLimit:
                (when, var low) = curve.Minimum();
                return Decide(
                    Shown(low - limit),
                    ShownValue(low),
                    when,
                    "lowest value in the window",
                    new LimitLine(from, Math.Min(to, end), limit, false)
                ) with
                {
                    Limit = ShownValue(limit),
                };
            case RequirementKind.SteadyStateError:
                var error = Math.Abs(curve.Values[^1] - goal);
                return Decide(
                    Shown(limit - error),
                    Shown(error),
                    curve.Times[^1],
                    "distance from the set-point at the end of the window",
                    new LimitLine(from, Math.Min(to, end), goal + limit, true),
                    new LimitLine(from, Math.Min(to, end), goal - limit, false)
                ) with
                {
                    Limit = Shown(limit),
                };
        }

        var initial = curve.Values[0];
        var size = goal - initial;
        if (Math.Abs(size) < 1e-12 * Math.Max(1, Math.Abs(goal)))
            return open with { Explanation = "There is no step in the window: the signal starts at its goal." };
        switch (r.Kind)
        {
            case RequirementKind.Overshoot:
                var (at, peak) = size > 0 ? curve.Maximum() : curve.Minimum();
                var over = Math.Max(0, 100 * (peak - goal) / size);
                return Decide(
                    limit - over,
                    over,
                    at,
                    "highest point beyond the goal",
                    new LimitLine(from, Math.Min(to, end), goal + size * limit / 100, size > 0)
                );
            case RequirementKind.RiseTime:
                var begins = curve.FirstCrossing(initial + 0.1 * size, from);
                var arrives = double.IsNaN(begins) ? double.NaN : curve.FirstCrossing(initial + 0.9 * size, begins);
                if (double.IsNaN(arrives))
                    return Decide(limit - (to - from), to - from, curve.Times[^1], "does not reach 90 % of the step in the window");
                return Decide(limit - (arrives - begins), arrives - begins, arrives, "from 10 % to 90 % of the step");
            default:
                var band = r.Band is { Length: > 0 } w ? Number(w, Unit.Parse("%"), Unit.One, "band") : 0.02;
                var settled = curve.EntersBand(goal, band * Math.Abs(size));
                // Until the limit it may be anywhere.
                var (since, until) = (Math.Min(from + limit, Math.Min(to, end)), Math.Min(to, end));
                LimitLine[] lines =
                [
                    new LimitLine(since, until, goal + band * Math.Abs(size), true),
                    new LimitLine(since, until, goal - band * Math.Abs(size), false),
                ];
                if (double.IsNaN(settled))
                    return Decide(Math.Min(limit - (to - from), -1e-9), to - from, curve.Times[^1], "does not settle in the window", lines);
                return Decide(
                    limit - (settled - from),
                    settled - from,
                    settled,
                    $"stays within {100 * band:G3} % of the step from then on",
                    lines
                );
        }
    }

    /// <summary>What is wrong with a rule on a model, whatever a run shows; null where nothing is.</summary>
    public static string? ProblemOf(PreparedModel prepared, ParameterSet parameters, string rule)
    {
        using var nothing = new Trace([]);
        var second = Unit.Parse("s");
        var check = new RequirementCheck(prepared, parameters, nothing, 0, 1);
        return RuleCheck.Problem(prepared, parameters.Values, rule, t => check.Number(t, second, second, "time"));
    }

    /// <summary>A temporal rule: its margin in the unit of the signal that decides, or in seconds where only a time is missed.</summary>
    Verdict OfRule(string id, RequirementNode r, string rule)
    {
        var second = Unit.Parse("s");
        RuleOutcome outcome;
        try
        {
            outcome = new RuleCheck(prepared, parameters.Values, trace, start, end).Check(rule, t => Number(t, second, second, "time"));
        }
        catch (MeasureException e)
        {
            return new Verdict(id, r.Name, VerdictKind.Open, null, null, null, "", null, e.Message);
        }

        return Told(outcome) with
        {
            Occasions = [.. outcome.Occasions.Select(Told)],
        };

        Verdict Told(RuleOutcome o)
        {
            var variable = o.Variable >= 0 ? prepared.Model.Variables[o.Variable] : null;
            var coherent = variable?.Unit ?? DefaultUnit(variable is null ? null : prepared.Dimensions[variable.Index]);
            var show = variable?.DisplayUnit is { } d && Unit.TryParse(d, out var display, out _) ? display : coherent;
            var isTime = o.Margin is null && o.Late is not null;
            var margin = isTime ? -o.Late : o.Margin * coherent.Factor / show.Factor;
            return new Verdict(
                id,
                r.Name,
                o.Kind,
                o.Kind == VerdictKind.Open ? null : margin,
                null,
                null,
                isTime ? "s"
                    : show.Symbol == "1" ? ""
                    : show.Symbol,
                o.Decides,
                o.Explanation
            )
            {
                At = o.At,
                Variable = variable is null ? -1 : prepared.Compiled!.Plan.Representative[variable.Index],
            };
        }
    }

    /// <summary>A measure held to a limit, both as the measure is read.</summary>
    Verdict OfMeasure(string id, RequirementNode r, string of)
    {
        if (measures?.GetValueOrDefault(of) is not { } measure)
            throw new LanguageException(
                "measure",
                "The measure of this requirement is not in the model any more.",
                default,
                "Choose another."
            );
        if (r.Kind is not (RequirementKind.UpperLimit or RequirementKind.LowerLimit))
            throw new LanguageException("measure", "A measure is held to an upper or a lower limit.", default);
        var result = evaluation.Evaluate(measure.Expression);
        var unit = result.ShownUnit.Length > 0 ? Unit.Parse(result.ShownUnit) : Unit.One;
        var open = new Verdict(id, r.Name, VerdictKind.Open, null, null, null, result.ShownUnit, null, result.Problem ?? "");
        if (result.Shown is not { } actual)
            return open;
        var limit = Number(r.Limit, unit, unit, "limit");
        var margin = r.Kind == RequirementKind.UpperLimit ? limit - actual : actual - limit;
        return open with
        {
            Kind = margin >= 0 ? VerdictKind.Met : VerdictKind.Missed,
            Margin = margin,
            Actual = actual,
            Limit = limit,
            Decides = result.Instant,
            Explanation = measure.Name,
        };
    }

    /// <summary>What a response should reach: the reference at the end of the window, or the signal's own last value.</summary>
    double Goal(RequirementNode r, Curve curve, double to)
    {
        if (r.Reference is not { Length: > 0 } name)
            return curve.Values[^1];
        var variable = Signal(name);
        var reference = new Curve(trace.Times, Values(variable)).Window(start, to);
        return reference.Values.Length > 0 ? reference.Values[^1] : double.NaN;
    }

    FlatVariable Signal(string name) =>
        prepared.Find(name)
        ?? throw new LanguageException(
            "unknown-name",
            $"There is no signal '{name}'.",
            default,
            Language.Nearest.Of(name, prepared.Model.Variables.Select(v => v.Name).Concat(prepared.Model.Aliases.Keys)) is { } near
                ? $"Did you mean '{near}'?"
                : null
        );

    double[] Values(FlatVariable variable) => RecordedSignal.Values(prepared, parameters.Values, trace, variable);

    static Unit DefaultUnit(Dimension? dimension) =>
        dimension is { IsNone: false } d && Unit.TryParse(UnitTable.Usual(d), out var unit, out _) ? unit : Unit.One;

    /// <summary>A number as typed; without a unit it is in <paramref name="usual"/>. The result is in <paramref name="wanted"/>.</summary>
    double Number(string text, Unit usual, Unit wanted, string what)
    {
        var expression = Parser.ParseField(text);
        var unit = usual;
        if (expression is Quantity q)
            (expression, unit) = (q.Value, q.Unit);
        if (!unit.Fits(wanted))
            throw new LanguageException(
                "unit",
                $"The {what} is given in {Unit.Pretty(unit.Symbol)}, but {Unit.Pretty(wanted.Symbol)} or a unit of its kind is needed.",
                default
            );
        var evaluator = new TermEvaluator(i => parameters.Values[i]);
        return unit.ConvertTo(
            wanted,
            evaluator.Evaluate(new Binder(new ParameterScope(prepared.Model, parameters)).Bind(expression).ScalarTerm(default))
        );
    }
}
