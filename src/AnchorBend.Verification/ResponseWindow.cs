namespace AnchorBend.Verification;

/// <summary>What one window of a run comes to under a requirement, all in the units that the model computes in.</summary>
/// <param name="Margin">What is left to the limit; null where the window does not tell.</param>
/// <param name="Actual">The value compared with the limit.</param>
/// <param name="At">The instant that decides, s.</param>
readonly record struct WindowFinding(double? Margin, double Actual, double At, string Text, IReadOnlyList<LimitLine> Lines);

/// <summary>
/// A signal in a window and what it should reach there. Figures of a step response as IEC 60050-351 has them: its step is from the first
/// value to the goal; rise from 10 % to 90 % of it; settled from when on it stays within a band about the goal.
/// </summary>
/// <param name="Goal">What a response should reach.</param>
/// <param name="Until">Where lines are drawn to: the end of the window or of the run.</param>
/// <param name="IsCut">Whether the run goes on behind the window, so that what has not come yet may only have had no time.</param>
sealed record ResponseWindow(Curve Curve, double Goal, double From, double To, double Until, bool IsCut)
{
    double Initial => Curve.Values[0];

    double Size => Goal - Initial;

    /// <summary>Whether there is anything to respond to.</summary>
    bool IsStep => !(Math.Abs(Size) < 1e-12 * Math.Max(1, Math.Abs(Goal)));

    static WindowFinding Open(string why, params LimitLine[] lines) => new(null, 0, 0, why, lines);

    static WindowFinding NoStep() => Open("There is no step in the window: the signal starts at its goal.");

    public WindowFinding Upper(double limit)
    {
        var (at, high) = Curve.Maximum();
        return new(limit - high, high, at, "highest value in the window", [new LimitLine(From, Until, limit, true)]);
    }

    public WindowFinding Lower(double limit)
    {
        var (at, low) = Curve.Minimum();
        return new(low - limit, low, at, "lowest value in the window", [new LimitLine(From, Until, limit, false)]);
    }

    public WindowFinding SteadyStateError(double limit)
    {
        var error = Math.Abs(Curve.Values[^1] - Goal);
        return new(
            limit - error,
            error,
            Curve.Times[^1],
            "distance from the set-point at the end of the window",
            [new LimitLine(From, Until, Goal + limit, true), new LimitLine(From, Until, Goal - limit, false)]
        );
    }

    /// <param name="limit">In per cent of the step.</param>
    public WindowFinding Overshoot(double limit)
    {
        if (!IsStep)
            return NoStep();
        var (at, peak) = Size > 0 ? Curve.Maximum() : Curve.Minimum();
        var over = Math.Max(0, 100 * (peak - Goal) / Size);
        return new(
            limit - over,
            over,
            at,
            "highest point beyond the goal",
            [new LimitLine(From, Until, Goal + Size * limit / 100, Size > 0)]
        );
    }

    public WindowFinding RiseTime(double limit)
    {
        if (!IsStep)
            return NoStep();
        var begins = Curve.FirstCrossing(Initial + 0.1 * Size, From);
        var due = double.IsNaN(begins) ? To : begins + limit;
        // From when it must have risen, for as long again: what it does later is not of its rise.
        LimitLine[] lines = due < Until ? [new LimitLine(due, Math.Min(due + limit, Until), Initial + 0.9 * Size, Size < 0)] : [];
        var arrives = double.IsNaN(begins) ? double.NaN : Curve.FirstCrossing(Initial + 0.9 * Size, begins);
        if (!double.IsNaN(arrives))
            return new(limit - (arrives - begins), arrives - begins, arrives, "from 10 % to 90 % of the step", lines);
        return IsCut && To - From <= limit
            ? Open("The next step comes before its time is over.", lines)
            : new(limit - (To - From), To - From, Curve.Times[^1], "does not reach 90 % of the step in the window", lines);
    }

    /// <param name="band">Half the width of the band, as a part of the step.</param>
    public WindowFinding SettlingTime(double limit, double band)
    {
        if (!IsStep)
            return NoStep();
        var width = band * Math.Abs(Size);
        // Until the limit it may be anywhere.
        var since = Math.Min(From + limit, Until);
        LimitLine[] lines = [new LimitLine(since, Until, Goal + width, true), new LimitLine(since, Until, Goal - width, false)];
        var settled = Curve.EntersBand(Goal, width);
        if (!double.IsNaN(settled))
            return new(
                limit - (settled - From),
                settled - From,
                settled,
                $"stays within {100 * band:G3} % of the step from then on",
                lines
            );
        return IsCut && To - From < limit
            ? Open("The next step comes before its time is over.", lines)
            : new(Math.Min(limit - (To - From), -1e-9), To - From, Curve.Times[^1], "does not settle in the window", lines);
    }
}
