using AnchorBend.Compiler.Analysis;
using AnchorBend.Language.Terms;
using AnchorBend.Numerics;
using AnchorBend.Numerics.Integration;

namespace AnchorBend.Simulation.Stepping;

/// <summary>
/// Discontinuities of the equations that make no events, such as those of <c>noEvent</c>, absolute values and tables. The error estimates
/// of all methods hold for smooth motion; within a step over a discontinuity they may be too small by orders of magnitude. So a step over
/// one is made again in two, up to it and on from it (Gear and Østerby, "Solving Ordinary Differential Equations with Discontinuities",
/// ACM Trans. Math. Softw. 10, 1984), unless what it bends lies far below the tolerance. Nothing else happens there: truths are not held,
/// nothing is iterated.
/// </summary>
sealed unsafe class DiscontinuityLocator : ISaved
{
    /// <summary>How near to a discontinuity a step ends, as a part of its length; and the part behind a discontinuity that may stay in a
    /// step.</summary>
    const double DiscontinuityWidth = 1e-10,
        DiscontinuityTail = 1e-7;

    /// <summary>The part of a step over which the bend at a discontinuity is measured.</summary>
    const double BendSpan = 1.0 / 16;

    /// <summary>A bend that moves no state by more than this part of its tolerance is let be.</summary>
    const double HarmlessBend = 0.01;

    /// <summary>Where discontinuities come step after step, as in sliding along one, most are left to the error estimate: steps needed for
    /// each, and for how many at once.</summary>
    const int StepsOverDiscontinuity = 4,
        DiscontinuitiesAtOnce = 10;

    /// <summary>The part of a run that steps must be longer than for it to end at all.</summary>
    const double MinimumStepFraction = 1e-10;

    readonly Motion motion;
    readonly ChatteringGuard chattering;
    readonly ModelInstance model;
    readonly Integrator integrator;
    readonly RunOptions options;
    readonly Discontinuities? discontinuities;
    readonly double[][] knots = [];
    readonly double[] within = [],
        stateBefore = [];
    double[] before = [],
        now = [];
    bool isKnown;
    int patience;

    /// <param name="patience">What the run has left for discontinuities that come step after step; null where it begins.</param>
    public DiscontinuityLocator(Motion motion, ChatteringGuard chattering, int? patience)
    {
        (this.motion, this.chattering, model, integrator, options) = (motion, chattering, motion.Model, motion.Integrator, motion.Options);
        this.patience = patience ?? StepsOverDiscontinuity * DiscontinuitiesAtOnce;
        var all = motion.Compiled.Discontinuities;
        if (integrator.Discontinuities == DiscontinuityPolicy.None || all.Count == 0)
            return;
        discontinuities = all;
        var evaluator = new TermEvaluator(i => model.Parameters.Values[i]);
        knots = [.. all.Knots.Select(row => row.Select(evaluator.Evaluate).ToArray())];
        (before, now, within) = (new double[all.Count], new double[all.Count], new double[all.Count]);
        stateBefore = new double[5 * Math.Max(1, model.StateCount)];
    }

    public int Patience => patience;

    /// <summary>Where the next step has to end; infinity where nothing asks for it.</summary>
    public double Stop { get; private set; } = double.PositiveInfinity;

    /// <summary>The motion goes on from another state.</summary>
    public void Forget() => (isKnown, Stop) = (false, double.PositiveInfinity);

    /// <summary>Remembers where a step begins.</summary>
    public void BeforeStep()
    {
        if (discontinuities is null)
            return;
        var n = model.StateCount;
        new ReadOnlySpan<double>(integrator.State, n).CopyTo(stateBefore);
        if (isKnown)
            return;
        ArgumentsAt(integrator.Time, before);
        isKnown = true;
    }

    /// <summary>Whether the last step went over a discontinuity and is to be made again up to it.</summary>
    public bool WentOver()
    {
        if (discontinuities is null)
            return false;
        if (integrator.Discontinuities == DiscontinuityPolicy.None)
        {
            isKnown = false;
            return false;
        }

        double start = integrator.StepStart,
            end = integrator.Time;
        if (end >= Stop)
            Stop = double.PositiveInfinity;
        if (integrator.EvaluatedAtEnd && integrator.EndSlope != null)
            fixed (double* g = now)
                discontinuities.Evaluate(model, end, integrator.State, integrator.EndSlope, model.Memory, g);
        else
            ArgumentsAt(end, now);
        var (place, who) = FirstDiscontinuity(start, end);
        var width = DiscontinuityWidth * (end - start) + 4 * (Math.BitIncrement(Math.Abs(end)) - Math.Abs(end));
        var (bends, jumps) =
            who < 0 || end - place <= Math.Max(width, DiscontinuityTail * (end - start))
                ? (false, false)
                : IsSignificant(place, start, end, width);
        bends &= integrator.Discontinuities == DiscontinuityPolicy.JumpsAndBends && patience >= StepsOverDiscontinuity;
        if (!jumps && !bends)
        {
            // An implicit method that finds no solution beyond a jump makes steps so small that the jump itself is harmless in them.
            if (who >= 0 && end - start < MinimumStepFraction * (options.End - options.Start))
                CheckSlidingMode(place, who);
            (before, now) = (now, before);
            patience = Math.Min(patience + 1, StepsOverDiscontinuity * DiscontinuitiesAtOnce);
            return false;
        }

        if (jumps)
            CheckSlidingMode(place, who);
        else
            patience -= StepsOverDiscontinuity;
        // A step ends before a jump, and a tiny one leads over it: the last stages of the one before must not see it.
        Stop = jumps && place - width > start + 2 * width ? place - width : place + width;
        fixed (double* x = stateBefore)
            integrator.Restart(start, x, end - start);
        return true;
    }

    /// <summary>Where a jump throws the motion back each time it is passed, no step leads on.</summary>
    void CheckSlidingMode(double time, int place)
    {
        if (!chattering.Notes(time))
            return;
        var what = TermText.Print(discontinuities!.Arguments[place], motion.Plan.Model.NameOf);
        throw new SimulationException(
            new SimulationFailure(
                "chattering",
                $"{chattering.Count} jumps within {chattering.Since(time):G3} s at {time:G8} s: '{what}' passes "
                    + $"{KnotPassed(place, now[place]) ?? 0:G6} to and fro, and the motion slides along there.",
                discontinuities.Owners[place],
                null,
                time,
                "Replace the jump by a steep slope, such as tanh(x/width) for sign(x), or give the switch hysteresis."
            )
        );
    }

    /// <summary>The first instant of the step at which a discontinuity is passed, and which; NaN and −1 where none is.</summary>
    (double Time, int Who) FirstDiscontinuity(double start, double end)
    {
        var (first, who) = (double.NaN, -1);
        var until = end;
        for (var j = 0; j < knots.Length; j++)
        {
            if (KnotPassed(j, now[j]) is not { } knot)
                continue;
            // One that is passed later than another, or together with it, needs no closer look.
            if (who >= 0)
            {
                ArgumentsAt(first, within);
                if (!Passes(j, knot, within[j]))
                    continue;
                now[j] = within[j];
            }

            var place = j;
            var rest = 1e-3 * DiscontinuityWidth * (end - start) + 2 * (Math.BitIncrement(Math.Abs(end)) - Math.Abs(end));
            first = until = RootLocation.After(
                t =>
                {
                    ArgumentsAt(t, within);
                    return within[place] - knot;
                },
                start,
                before[j] - knot,
                until,
                now[j] - knot,
                rest
            );
            who = j;
        }

        return (first, who);
    }

    /// <summary>The first knot between a discontinuity's argument at the start of the step and a later value.</summary>
    double? KnotPassed(int place, double value)
    {
        var past = before[place];
        var row = knots[place];
        if (value > past)
        {
            foreach (var knot in row)
                if (knot > past)
                    return knot < value ? knot : null;
        }
        else if (value < past)
        {
            for (var i = row.Length - 1; i >= 0; i--)
                if (row[i] < past)
                    return row[i] > value ? row[i] : null;
        }

        return null;
    }

    bool Passes(int place, double knot, double value) => before[place] < knot ? value > knot : value < knot;

    /// <summary>
    /// Whether the slopes of the states bend or jump at a discontinuity by so much that a step over it would feel it: a bend by <c>J</c>
    /// makes an error of about <c>J·h²/10</c>, a jump by <c>d</c> one of about <c>d·h</c>.
    /// </summary>
    (bool Bends, bool Jumps) IsSignificant(double place, double start, double end, double width)
    {
        var h = end - start;
        var span = Math.Min(BendSpan * h, Math.Min(place - start, end - place));
        // Too near to an end of the step to be measured.
        var bends = span < 4 * width;
        var jumps = false;
        var n = model.StateCount;
        fixed (double* all = stateBefore)
        {
            double* a = all + n,
                b = all + 2 * n,
                c = all + 3 * n,
                d = all + 4 * n;
            SlopeAt(Math.Max(start, place - width), b);
            SlopeAt(Math.Min(end, place + width), c);
            if (!bends)
                SlopeAt(place - span, a);
            if (!bends)
                SlopeAt(place + span, d);
            for (var i = 0; i < n; i++)
            {
                var harmless = HarmlessBend * (options.AbsoluteTolerance + options.RelativeTolerance * Math.Abs(integrator.State[i]));
                jumps |= !(Math.Abs(c[i] - b[i]) * h <= harmless);
                bends |= jumps || !(0.1 * Math.Abs(d[i] - c[i] - (b[i] - a[i])) / span * h * h <= harmless);
            }
        }

        return (bends, jumps);
    }

    void SlopeAt(double time, double* slope)
    {
        fixed (double* x = motion.Scratch)
        {
            integrator.Interpolate(time, x);
            model.Ode.Derivatives(time, x, slope);
        }
    }

    void ArgumentsAt(double time, double[] result)
    {
        fixed (
            double* x = motion.Scratch,
                g = result
        )
        {
            var dx = x + model.StateCount;
            motion.StateAt(time, x);
            model.Ode.Derivatives(time, x, dx);
            discontinuities!.Evaluate(model, time, x, dx, model.Memory, g);
        }
    }

    public void Transfer(StateArchive archive) => archive.Transfer(ref patience);
}
