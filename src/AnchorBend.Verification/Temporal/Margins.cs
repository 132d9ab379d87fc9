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

    /// <summary>What stands between the words of the rule.</summary>
    public StateTerms States { get; } = new(prepared, recorded, scope);

    /// <summary>Whether the run was to go on behind what is recorded.</summary>
    public bool IsCut { get; init; }

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
                States.Of(state);
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
                var line = States.Margin(s);
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
                if (u.Within is null && !IsCut)
                    return new Bounds(low, high);
                // What still holds at the end of the run may go on until the other comes.
                var open = Ahead(first.High.Negated(), null, -1).Negated();
                if (u.Within is not { } within)
                    return new Bounds(low, Broken.Largest(high, open));
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
        {
            if (!IsCut)
                return line.LargestAhead(double.PositiveInfinity);
            var all = line.Until(Math.BitIncrement(line.End), beyond * double.PositiveInfinity).LargestAhead(double.PositiveInfinity);
            return new Broken([
                .. all.Pieces.Where(p => p.From < line.End || p.From == p.To).Select(p => p with { To = Math.Min(p.To, line.End) }),
            ]);
        }

        var ahead = seconds(time);
        if (!(ahead >= 0))
            throw new LanguageException("rule", $"'{time}' is no length of time.", default);
        return line.Until(line.End + ahead, beyond * double.PositiveInfinity).LargestAhead(ahead);
    }

    /// <summary>What decides the margin that a rule has at an instant, of what the run tells.</summary>
    /// <param name="isHigh">Whether the upper bound is meant.</param>
    public Decision Decides(Rule rule, double at, bool isHigh)
    {
        var bounds = Of(rule);
        var line = isHigh ? bounds.High : bounds.Low;
        switch (rule)
        {
            case State s:
                return new Decision(at, line.At(at), States.VariableOf(s));
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
}
