using AnchorBend.Compiler.Preparation;
using AnchorBend.Language;
using AnchorBend.Language.Binding;
using AnchorBend.Language.Rules;
using AnchorBend.Language.Syntax;
using AnchorBend.Language.Terms;
using AnchorBend.Language.Units;
using AnchorBend.Modeling;
using AnchorBend.Modeling.Flat;
using AnchorBend.Verification.Measures;

namespace AnchorBend.Verification.Temporal;

/// <summary>
/// A margin over time as far as the run tells: what it is at least and at most, whatever may come behind the end of the run (J. Deshmukh et
/// al., "Robust online monitoring of signal temporal logic", Formal Methods in System Design 51, 2017).
/// </summary>
readonly record struct Bounds(Broken Low, Broken High);

/// <summary>The part of a rule that decided a margin.</summary>
/// <param name="Variable">Whose unit the margin has; −1 where nothing tells.</param>
readonly record struct Decision(double At, double Margin, int Variable);

/// <summary>
/// Margins of the claims of a rule on a recorded run: the quantitative semantics of signal temporal logic (A. Donzé, O. Maler, "Robust
/// satisfaction of temporal logic over real-valued signals", FORMATS 2010). A comparison has the difference of its sides, a truth an
/// infinite margin; and, or, always and eventually are least and largest values. Between rows the signals go straight, so margins are exact
/// for what was recorded.
/// </summary>
sealed class Margins(PreparedModel prepared, RecordedTerms recorded, MeasureScope scope, Func<string, double> seconds)
{
    readonly Dictionary<Rule, Bounds> known = new(ReferenceEqualityComparer.Instance);
    readonly Dictionary<State, Term> terms = new(ReferenceEqualityComparer.Instance);

    Interval Run => recorded.Recorded;

    public Bounds Of(Rule rule)
    {
        if (known.TryGetValue(rule, out var done))
            return done;
        WorkBudget.Current.Check();
        return known[rule] = Found(rule);
    }

    /// <summary>Reads all states and times of a rule without a run.</summary>
    /// <exception cref="LanguageException">One of them cannot be read.</exception>
    public void Read(Rule rule)
    {
        foreach (var state in RuleParser.StatesOf(rule))
            try
            {
                TermOf(state);
            }
            catch (MeasureException)
            {
                // What a run measures is not there yet.
            }

        foreach (var time in RuleParser.TimesOf(rule))
            if (!(seconds(time) >= 0))
                throw new LanguageException("rule", $"'{time}' is no length of time.", default);
    }

    Bounds Found(Rule rule)
    {
        switch (rule)
        {
            case State s:
                var line = OfTerm(TermOf(s));
                return new Bounds(line, line);
            case Not n:
                var of = Of(n.Of);
                return new Bounds(of.High.Negated(), of.Low.Negated());
            case Both b:
                var (first, second) = (Of(b.First), Of(b.Second));
                return new Bounds(Broken.Least(first.Low, second.Low), Broken.Least(first.High, second.High));
            case Either e:
                (first, second) = (Of(e.First), Of(e.Second));
                return new Bounds(Broken.Largest(first.Low, second.Low), Broken.Largest(first.High, second.High));
            case Eventually e:
                of = Of(e.Of);
                return new Bounds(Ahead(of.Low, e.Within, -1), Ahead(of.High, e.Within, 1));
            case Always a:
                of = Of(a.Of);
                return new Bounds(Ahead(of.Low.Negated(), a.For, 1).Negated(), Ahead(of.High.Negated(), a.For, -1).Negated());
            case Until u:
                (first, second) = (Of(u.First), Of(u.Second));
                var (low, high) = (first.Low.HoldsUntil(second.Low), first.High.HoldsUntil(second.High));
                if (u.Within is not { } within)
                    return new Bounds(low, high);
                // What still holds at the end of the run may go on until the other comes.
                var open = Ahead(first.High.Negated(), null, -1).Negated();
                return new Bounds(
                    Broken.Least(low, Ahead(second.Low, within, -1)),
                    Broken.Least(Broken.Largest(high, open), Ahead(second.High, within, 1))
                );
            default:
                throw new LanguageException(
                    "rule",
                    "'whenever' and 'after' begin a rule; they do not stand inside of another claim.",
                    default
                );
        }
    }

    /// <param name="beyond">The sign of what is taken behind the end of the run.</param>
    Broken Ahead(Broken line, string? time, int beyond)
    {
        if (time is null)
            return line.LargestAhead(double.PositiveInfinity);
        var ahead = seconds(time);
        if (!(ahead >= 0))
            throw new LanguageException("rule", $"'{time}' is no length of time.", default);
        return line.Until(line.End + ahead, beyond * double.PositiveInfinity).LargestAhead(ahead);
    }

    Term TermOf(State state)
    {
        if (terms.TryGetValue(state, out var known))
            return known;
        var expression = Parser.ParseMeasure(RuleParser.Plain(state.Text));
        var bound = new Binder(scope, withoutEvents: true).Bind(expression);
        if (bound.Type != ScalarType.Boolean)
            throw new LanguageException(
                "argument",
                $"'{state.Text}' is a value; a condition is needed here.",
                expression.At,
                "Compare it, such as depth > 12 m."
            );
        var term = bound.ScalarTerm(expression.At);
        foreach (var element in bound.Elements)
            scope.DimensionOf(element, expression.At);
        return terms[state] = term;
    }

    Broken OfTerm(Term term)
    {
        switch (term)
        {
            case ConstantTerm c:
                return Broken.Constant(Run.From, Run.To, c.Value != 0 ? double.PositiveInfinity : double.NegativeInfinity);
            case OperationTerm { Kind: Operator.Not } o:
                return OfTerm(o.Left).Negated();
            case OperationTerm { Kind: Operator.And } o:
                return Broken.Least(OfTerm(o.Left), OfTerm(o.Right));
            case OperationTerm { Kind: Operator.Or } o:
                return Broken.Largest(OfTerm(o.Left), OfTerm(o.Right));
            case RelationTerm r:
                return Compared(r.Kind, r.Left, r.Right);
            case OperationTerm { Kind: >= Operator.Less and <= Operator.NotEqual } o:
                return Compared(o.Kind, o.Left, o.Right);
            default:
                return Truth(recorded.Curve(term), v => v != 0);
        }
    }

    static Broken Truth(Curve curve, Func<double, bool> holds) =>
        Broken.Held(curve.Times, Array.ConvertAll(curve.Values, v => holds(v) ? double.PositiveInfinity : double.NegativeInfinity));

    Broken Compared(Operator kind, Term left, Term right)
    {
        var (a, b) = (recorded.Curve(left), recorded.Curve(right));
        var difference = new double[a.Values.Length];
        for (var i = 0; i < difference.Length; i++)
            difference[i] = a.Values[i] - b.Values[i];
        if (Array.Exists(difference, double.IsNaN))
            throw new MeasureException("The run has gaps in a signal of this rule: values are missing.");
        // What must be larger and is equal does not hold: it misses by less than any number.
        if (kind is Operator.Greater or Operator.Less)
            for (var i = 0; i < difference.Length; i++)
                if (difference[i] == 0)
                    difference[i] = kind == Operator.Greater ? -double.Epsilon : double.Epsilon;
        var line = Broken.Through(a.Times, difference);
        switch (kind)
        {
            case Operator.Equal or Operator.NotEqual:
                var equal =
                    IsDiscrete(left) && IsDiscrete(right)
                        ? Truth(new Curve(a.Times, difference), d => d == 0)
                        : Broken.Least(line, line.Negated());
                return kind == Operator.Equal ? equal : equal.Negated();
            case Operator.Greater or Operator.GreaterOrEqual:
                return line;
            default:
                return line.Negated();
        }
    }

    /// <summary>Whether a term has whole values, which are alike or not, and nothing between.</summary>
    bool IsDiscrete(Term term) =>
        term switch
        {
            ConstantTerm c => c.Value == Math.Round(c.Value),
            VariableTerm v => v.Index < prepared.Model.Variables.Count && prepared.Model.Variables[v.Index].Type != ScalarType.Real,
            _ => false,
        };

    /// <summary>What decides the margin that a rule has at an instant, of what the run tells.</summary>
    /// <param name="isHigh">Whether the upper bound is meant.</param>
    public Decision Decides(Rule rule, double at, bool isHigh)
    {
        var bounds = Of(rule);
        var line = isHigh ? bounds.High : bounds.Low;
        switch (rule)
        {
            case State s:
                return new Decision(at, line.At(at), VariableOf(TermOf(s)));
            case Not n:
                return Decides(n.Of, at, !isHigh) is var d ? d with { Margin = -d.Margin } : default;
            case Both b:
                return Chosen(b.First, b.Second, at, isHigh, -1);
            case Either e:
                return Chosen(e.First, e.Second, at, isHigh, 1);
            case Eventually e:
                return InStretch(e.Of, e.Within, at, isHigh, 1);
            case Always a:
                return InStretch(a.Of, a.For, at, isHigh, -1);
            case Until u:
                return UntilThen(u, at, isHigh) with { Margin = line.At(at) };
            default:
                return new Decision(at, line.At(at), -1);
        }
    }

    /// <summary>Where the second is reached best with the first holding until then: there, or where the first holds least on the
    /// way.</summary>
    Decision UntilThen(Until rule, double at, bool isHigh)
    {
        var (hold, reach) = (Of(rule.First) is var f && isHigh ? f.High : f.Low, Of(rule.Second) is var s && isHigh ? s.High : s.Low);
        var last = Math.Min(rule.Within is null ? Run.To : at + seconds(rule.Within), Run.To);
        var (best, reachedAt, least, leastAt) = (double.NegativeInfinity, at, double.PositiveInfinity, at);
        var (decides, isFirst) = (at, false);
        foreach (var t in Broken.Largest(hold, reach).Pieces.SelectMany(p => (double[])[p.From, p.To]).Append(at).Append(last).Order())
        {
            if (t < at || t > last)
                continue;
            if (hold.At(t) < least)
                (least, leastAt) = (hold.At(t), t);
            reachedAt = t;
            if (Math.Min(least, reach.At(t)) is var here && here > best)
                (best, decides, isFirst) = (here, least < reach.At(t) ? leastAt : reachedAt, least < reach.At(t));
        }

        return Decides(isFirst ? rule.First : rule.Second, decides, isHigh);
    }

    Decision Chosen(Rule first, Rule second, double at, bool isHigh, int sign)
    {
        var (a, b) = (Of(first), Of(second));
        double one = isHigh ? a.High.At(at) : a.Low.At(at),
            other = isHigh ? b.High.At(at) : b.Low.At(at);
        return Decides(sign * one >= sign * other ? first : second, at, isHigh);
    }

    Decision InStretch(Rule of, string? time, double at, bool isHigh, int sign)
    {
        var bounds = Of(of);
        var line = isHigh ? bounds.High : bounds.Low;
        var end = Math.Min(time is null ? Run.To : at + seconds(time), Run.To);
        var where = (sign > 0 ? line : line.Negated()).WhereLargest(at, end);
        var inner = Decides(of, where, isHigh);
        // At a jump the other side may count.
        return inner with { Margin = sign > 0 ? Math.Max(inner.Margin, line.At(where)) : Math.Min(inner.Margin, line.At(where)) };
    }

    int VariableOf(Term term) =>
        term switch
        {
            RelationTerm r => SideOf(r.Left, r.Right),
            OperationTerm { Kind: >= Operator.Less and <= Operator.NotEqual } o => SideOf(o.Left, o.Right),
            OperationTerm { Kind: Operator.Not or Operator.And or Operator.Or } o => Math.Max(
                VariableOf(o.Left),
                VariableOf(o.Operands[^1])
            ),
            _ => -1,
        };

    /// <summary>The variable whose unit a comparison is read in: one that is a side itself, or that a side of the same kind is made
    /// of.</summary>
    int SideOf(Term left, Term right)
    {
        var sides = (Term[])[left, right];
        var known = prepared.Model.Variables.Count;
        if (sides.OfType<VariableTerm>().FirstOrDefault(v => v.Index < known && !IsTime(v)) is { } side)
            return side.Index;
        var kind = scope.DimensionOf(left, default) ?? scope.DimensionOf(right, default);
        foreach (var term in sides.SelectMany(Inner))
            if (term is VariableTerm v && v.Index < known && !IsTime(v) && kind is not null && scope.DimensionOf(v, default) == kind)
                return v.Index;
        return -1;
    }

    static bool IsTime(VariableTerm term) => term.Index == FlatModel.TimeIndex;

    static List<Term> Inner(Term term)
    {
        List<Term> found = [term];
        foreach (var operand in term.Operands)
            found.AddRange(Inner(operand));
        return found;
    }
}
