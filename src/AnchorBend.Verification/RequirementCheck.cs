using AnchorBend.Compiler.Preparation;
using AnchorBend.Language;
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
            return new Verdict(id, requirement.Name, VerdictKind.Open, null, null, null, "", null, Told(e));
        }
    }

    static string Told(LanguageException e) => e.Error.Message + (e.Error.Suggestion is null ? "" : " " + e.Error.Suggestion);

    /// <summary>What is wrong with a requirement on a model, whatever a run shows; null where nothing is.</summary>
    public static string? ProblemOf(
        PreparedModel prepared,
        ParameterSet parameters,
        RequirementNode requirement,
        IReadOnlyDictionary<string, MeasureNode> measures
    )
    {
        if (requirement.Rule is { } rule)
            return ProblemOf(prepared, parameters, rule);
        using var nothing = new Trace([]);
        // A window may lie anywhere: nobody asks here how long a run is.
        var check = new RequirementCheck(prepared, parameters, nothing, -1e300, 1e300, measures);
        try
        {
            if (requirement.Measure is { } of && measures.TryGetValue(of, out var measure))
                return check.evaluation.Evaluate(measure.Expression) is { IsWrong: true } wrong ? wrong.Problem : null;
            check.CheckChecked("", requirement);
            return null;
        }
        catch (LanguageException e)
        {
            return Told(e);
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
        var band = r.Band is { Length: > 0 } w ? Number(w, Unit.Parse("%"), Unit.One, "band") : 0.02;
        if (to <= from)
            throw new LanguageException("window", "The window ends before it begins.", default);
        var place = prepared.Compiled!.Plan.Representative[variable.Index];
        var open = new Verdict(id, r.Name, VerdictKind.Open, null, null, limit, "", null, "The run holds no values in the window.")
        {
            Variable = place,
        };
        if (trace.Rows == 0)
            return open;
        if (!RecordedSignal.Has(prepared, trace, variable))
            return open with { Explanation = "The run did not keep this signal." };
        var whole = new Curve(trace.Times, Values(variable));
        var unit =
            r.Kind == RequirementKind.Overshoot ? "%"
            : isTime ? "s"
            : show.Symbol == "1" ? ""
            : show.Symbol;
        var isLimit = r.Kind is RequirementKind.UpperLimit or RequirementKind.LowerLimit;
        var reference = !isLimit && r.Reference is { Length: > 0 } name ? new Curve(trace.Times, Values(Signal(name))) : null;
        var steps =
            reference is not null && string.IsNullOrEmpty(r.From) && string.IsNullOrEmpty(r.To) ? StepWindow.Of(reference, whole, end) : [];
        if (steps.Count == 0)
            return Judged(whole.Window(from, to), reference?.Window(start, to), from, to, to < end);
        List<Verdict> all =
        [
            .. steps.Select(s =>
                Judged(whole.Rows(s.First, s.Last), reference!.Rows(s.First, s.Last), s.From, s.To, s.IsCut) with
                {
                    At = s.From,
                }
            ),
        ];
        var worst = Occasions.Worst(all, v => v.Kind, v => v.Margin);
        return worst with
        {
            At = null,
            Explanation = $"{Occasions.Told([.. all.Select(v => (v.At!.Value, v.Kind))], worst.At!.Value)}: {worst.Explanation}",
            Lines = [.. all.Take(Occasions.Most).SelectMany(v => v.Lines)],
            Occasions = all.Count == 1 ? [] : [.. all.Take(Occasions.Most)],
        };

        double Shown(double difference) => difference * (coherent ?? show).Factor / show.Factor;
        double ShownValue(double value) => (coherent ?? DefaultUnit(dimension)).ConvertTo(show, value);

        Verdict Judged(Curve curve, Curve? set, double from, double to, bool isCut)
        {
            WorkBudget.Current.Check();
            var isShort = trace.Times[^1] < to - 1e-9 * (end - start) && to <= end;
            // What a limit has been passed by stays so, whatever else comes.
            if (curve.Values.Length == 0 || isShort && !isLimit)
                return open;
            var goal = isLimit ? 0 : set?.Values.LastOrDefault(double.NaN) ?? curve.Values[^1];
            // A comparison with what is not a number would say "missed" of a value that nobody knows.
            if (!double.IsFinite(goal) || !curve.Values.All(double.IsFinite))
                return open with { Explanation = "The run has gaps in the window: values are missing." };
            var window = new ResponseWindow(curve, goal, from, to, Math.Min(to, end), isCut);
            var found = r.Kind switch
            {
                RequirementKind.UpperLimit => window.Upper(limit),
                RequirementKind.LowerLimit => window.Lower(limit),
                RequirementKind.SteadyStateError => window.SteadyStateError(limit),
                RequirementKind.Overshoot => window.Overshoot(limit),
                RequirementKind.RiseTime => window.RiseTime(limit),
                _ => window.SettlingTime(limit, band),
            };
            LimitLine[] lines = [.. found.Lines.Select(l => l with { Signal = prepared.Model.Variables[place].Name })];
            if (found.Margin is not { } margin || isShort && margin >= 0)
                return open with { Explanation = isShort ? open.Explanation : found.Text, Lines = lines };
            var isSignal = unit != "%" && !isTime;
            return new(
                id,
                r.Name,
                margin >= 0 ? VerdictKind.Met : VerdictKind.Missed,
                isSignal ? Shown(margin) : margin,
                isLimit ? ShownValue(found.Actual)
                    : isSignal ? Shown(found.Actual)
                    : found.Actual,
                isLimit ? ShownValue(limit)
                    : isSignal ? Shown(limit)
                    : limit,
                unit,
                found.At,
                found.Text
            )
            {
                Lines = lines,
                Variable = place,
            };
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
                Lines = o.Lines,
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
