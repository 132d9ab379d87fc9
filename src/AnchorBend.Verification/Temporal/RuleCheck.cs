using AnchorBend.Compiler.Preparation;
using AnchorBend.Language;
using AnchorBend.Language.Rules;
using AnchorBend.Language.Syntax;
using AnchorBend.Simulation.Recording;
using AnchorBend.Verification.Measures;

namespace AnchorBend.Verification.Temporal;

/// <summary>Checks temporal rules (<see cref="RuleParser"/>) on what a run recorded, with their margins (<see cref="Margins"/>).</summary>
/// <param name="parameters">Values of all parameters, by index.</param>
/// <param name="start">Start of the run, s.</param>
/// <param name="end">Its end as it was wanted, s.</param>
public sealed class RuleCheck(PreparedModel prepared, double[] parameters, Trace trace, double start, double end)
{
    readonly RecordedTerms recorded = new(prepared, parameters, trace);

    /// <param name="seconds">The value of a time as typed.</param>
    /// <exception cref="LanguageException">The rule cannot be read, or speaks of what is not there.</exception>
    /// <exception cref="MeasureException">The run does not hold what it asks for.</exception>
    public RuleOutcome Check(string text, Func<string, double> seconds)
    {
        var rule = RuleParser.Parse(text);
        if (recorded.Times.Length == 0)
            return Open(start, "The run holds nothing yet.");
        recorded.Forget();
        var scope = new MeasureScope(prepared, parameters, recorded, new Interval(start, end));
        var margins = new Margins(prepared, recorded, scope, seconds)
        {
            // A run that failed, or still goes on, may have come to anything behind its last row.
            IsCut = recorded.Recorded.To < end - 1e-9 * (end - start),
        };
        return new Asked(margins, seconds, end).Of(rule, recorded.Recorded.From);
    }

    /// <summary>What is wrong with a rule whatever a run shows; null where nothing is.</summary>
    public static string? Problem(PreparedModel prepared, double[] parameters, string text, Func<string, double> seconds)
    {
        try
        {
            var rule = RuleParser.Parse(text);
            using var nothing = new Trace([]);
            var recorded = new RecordedTerms(prepared, parameters, nothing);
            var scope = new MeasureScope(prepared, parameters, recorded, new Interval(0, 1));
            new Margins(prepared, recorded, scope, seconds).Read(rule);
            return null;
        }
        catch (LanguageException e)
        {
            return e.Error.Message + (e.Error.Suggestion is null ? "" : " " + e.Error.Suggestion);
        }
    }

    static RuleOutcome Open(double at, string why) => new(at, VerdictKind.Open, null, null, -1, null, why);

    sealed class Asked(Margins margins, Func<string, double> seconds, double end)
    {
        int drawn;

        public RuleOutcome Of(Rule rule, double at) =>
            rule switch
            {
                Whenever w => Each(w, at),
                After a => Stretches(a.Event, at).Select(s => (double?)s).FirstOrDefault() is { } begins
                    ? Of(a.Then, begins)
                    : Open(at, $"It never came to {Words(a.Event)}."),
                _ => Claim(rule, at),
            };

        /// <summary>Instants from one on at which something begins to hold.</summary>
        IEnumerable<double> Stretches(Rule rule, double at) =>
            margins.Of(rule).Low.Holds().Where(s => s.To >= at).Select(s => Math.Max(s.From, at));

        static string Words(Rule rule) => string.Join(", ", RuleParser.StatesOf(rule).Select(s => s.Text));

        RuleOutcome Each(Whenever rule, double at)
        {
            List<RuleOutcome> all = [.. Stretches(rule.Event, at).Select(t => Of(rule.Then, t))];
            if (all.Count == 0)
                return Open(at, $"It never came to {Words(rule.Event)}.");
            var worst = Occasions.Worst(all, o => o.Kind, o => o.Margin ?? -o.Late);
            if (worst.Kind == VerdictKind.Met && (margins.IsCut || MayComeAgain(rule.Event)))
                worst = Open(at, "The run ends before it is decided whether it came once more.");
            var told = Occasions.Told([.. all.Select(o => (o.At, o.Kind))], worst.At);
            return worst with
            {
                At = at,
                Explanation = $"{told}: {worst.Explanation}",
                Occasions = [.. all.Take(Occasions.Most)],
                Lines = [.. all.SelectMany(o => o.Lines).Distinct()],
            };
        }

        /// <summary>Whether the run ends in something that may become an occasion.</summary>
        bool MayComeAgain(Rule rule)
        {
            var bounds = margins.Of(rule);
            return bounds.High.Holds().LastOrDefault((double.NaN, double.NaN)) is var (from, to)
                && to >= bounds.High.End
                && !bounds.Low.Holds().Any(s => s.From >= from);
        }

        RuleOutcome Claim(Rule rule, double at)
        {
            var bounds = margins.Of(rule);
            double low = bounds.Low.At(at),
                high = bounds.High.At(at);
            var late = Late(rule, at);
            // What is not told one by one is not drawn either.
            var lines = drawn++ < Occasions.Most ? new Regions(margins, seconds, end).Of(rule, at) : [];
            if (high >= 0 && low < 0)
                return Open(at, "The run ends before it is decided.") with { Late = late, Lines = lines };
            var isMissed = high < 0;
            var decision = margins.Decides(rule, at, isMissed);
            var margin = isMissed ? high : low;
            return new RuleOutcome(
                at,
                isMissed ? VerdictKind.Missed : VerdictKind.Met,
                Math.Abs(margin) <= double.Epsilon ? 0
                    : double.IsFinite(margin) ? margin
                    : null,
                decision.At,
                decision.Variable,
                late,
                Told(rule, isMissed, late)
            )
            {
                Lines = lines,
            };
        }

        /// <summary>By how much a limit of time was missed: from its end to the first instant at which the rest holds.</summary>
        double? Late(Rule rule, double at)
        {
            if (rule is not Eventually { Within: { } within, Of: var of })
                return null;
            foreach (var (from, to) in margins.Of(of).Low.Holds())
                if (to >= at)
                    return Math.Max(from, at) - (at + seconds(within));
            return null;
        }

        string Told(Rule rule, bool isMissed, double? late) =>
            (rule, late) switch
            {
                (Eventually { Within: not null }, null) => "not reached in the run",
                (Eventually { Within: not null }, { } by) => by > 0
                    ? $"{Occasions.Number(by)} s late"
                    : $"{Occasions.Number(-by)} s before its time is over",
                (Eventually, _) => isMissed ? "not reached in the run" : "reached",
                (Always { For: null }, _) => isMissed ? "not kept" : "least margin",
                (Always, _) => isMissed ? "not held for long enough" : "held",
                (Until, _) => isMissed ? "not held until then" : "held until then",
                _ => isMissed ? "does not hold" : "holds",
            };
    }
}
