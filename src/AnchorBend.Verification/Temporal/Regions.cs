using AnchorBend.Language.Rules;

namespace AnchorBend.Verification.Temporal;

/// <summary>
/// Where a claim wants signals to be, as limits over stretches of the run, to be drawn. Only what must be is found: of two claims of which
/// one is enough, neither is.
/// </summary>
/// <param name="end">End of the run as it was wanted, s.</param>
sealed class Regions(Margins margins, Func<string, double> seconds, double end)
{
    readonly List<LimitLine> found = [];

    /// <summary>The limits of a claim that is asked at an instant.</summary>
    public IReadOnlyList<LimitLine> Of(Rule rule, double at)
    {
        Walk(rule, at, at, isOnce: false, isNot: false);
        return found;
    }

    /// <param name="from">The rule holds at all instants from here …</param>
    /// <param name="to">… to here.</param>
    /// <param name="isOnce">Whether at one of them is enough.</param>
    /// <param name="isNot">Whether it is the opposite that holds.</param>
    void Walk(Rule rule, double from, double to, bool isOnce, bool isNot)
    {
        switch (rule)
        {
            case State s:
                Add(s, from, Math.Min(to, end), isOnce, isNot);
                break;
            case Not n:
                Walk(n.Of, from, to, isOnce, !isNot);
                break;
            case Both b when !isNot:
                Walk(b.First, from, to, isOnce, isNot);
                Walk(b.Second, from, to, isOnce, isNot);
                break;
            case Either e when isNot:
                Walk(e.First, from, to, isOnce, isNot);
                Walk(e.Second, from, to, isOnce, isNot);
                break;
            case Always a when !isNot:
                Walk(a.Of, from, Behind(to, a.For), isOnce, isNot);
                break;
            case Always a:
                Sometime(a.Of, from, Behind(to, a.For), isNot);
                break;
            case Eventually e when isNot:
                Walk(e.Of, from, Behind(to, e.Within), isOnce, isNot);
                break;
            case Eventually e:
                Sometime(e.Of, from, Behind(to, e.Within), isNot);
                break;
            case Until u when !isNot:
                var last = Behind(from, u.Within);
                var turns = margins.Of(u.Second).Low.Holds().Where(s => s.To >= from).Select(s => (double?)s.From).FirstOrDefault() ?? last;
                Walk(u.First, from, Math.Clamp(turns, from, last), isOnce, isNot);
                Walk(u.Second, from, last, true, isNot);
                break;
        }
    }

    void Sometime(Rule rule, double from, double last, bool isNot)
    {
        // What must go on for the rest of the run does so from the last instant at which it may begin.
        if (rule is Always { For: null } && !isNot)
            Walk(rule, last, end, false, isNot);
        else
            Walk(rule, from, last, true, isNot);
    }

    double Behind(double at, string? time) => Math.Min(end, time is null ? end : at + seconds(time));

    void Add(State state, double from, double to, bool isOnce, bool isNot)
    {
        if (!(to > from))
            return;
        foreach (var (signal, value, isUpper) in margins.States.LimitsOf(state, isNot).Where(l => double.IsFinite(l.Value)))
            found.Add(new LimitLine(from, to, value, isUpper) { IsOnce = isOnce, Signal = signal });
    }
}
