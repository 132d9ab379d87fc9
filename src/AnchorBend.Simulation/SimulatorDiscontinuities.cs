using AnchorBend.Compiler.Analysis;
using AnchorBend.Compiler.Emission;
using AnchorBend.Language.Terms;
using AnchorBend.Numerics;
using AnchorBend.Numerics.Integration;

namespace AnchorBend.Simulation;

/// <summary>
/// Discontinuities of the equations that make no events, such as those of <c>noEvent</c>, absolute values and tables. The error estimates
/// of all methods hold for smooth motion; within a step over a discontinuity they may be too small by orders of magnitude. So a step over
/// one is made again in two, up to it and on from it (Gear and Østerby, "Solving Ordinary Differential Equations with Discontinuities",
/// ACM Trans. Math. Softw. 10, 1984), unless what it bends lies far below the tolerance. Nothing else happens there: truths are not held,
/// nothing is iterated.
/// </summary>
public sealed unsafe partial class Simulator
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

    Discontinuities? corners;
    double[][] cornerKnots = [];
    double[] cornersBefore = [],
        cornersNow = [],
        cornersWithin = [],
        cornerState = [];
    bool cornersKnown;
    double cornerStop = double.PositiveInfinity;
    int cornerPatience = StepsOverDiscontinuity * DiscontinuitiesAtOnce;

    /// <summary>Sets up the discontinuities of a plan.</summary>
    void IndexDiscontinuities()
    {
        corners =
            integrator.Discontinuities != DiscontinuityPolicy.None && compiled.Discontinuities.Count > 0 ? compiled.Discontinuities : null;
        ForgetDiscontinuities();
        if (corners is null)
            return;
        var evaluator = new TermEvaluator(i => model.Parameters.Values[i]);
        cornerKnots = [.. corners.Knots.Select(row => row.Select(evaluator.Evaluate).ToArray())];
        (cornersBefore, cornersNow, cornersWithin) = (new double[corners.Count], new double[corners.Count], new double[corners.Count]);
        cornerState = new double[5 * Math.Max(1, model.StateCount)];
    }

    /// <summary>The motion goes on from another state.</summary>
    void ForgetDiscontinuities() => (cornersKnown, cornerStop) = (false, double.PositiveInfinity);

    /// <summary>Remembers where a step begins.</summary>
    void BeforeDiscontinuities()
    {
        if (corners is null)
            return;
        var n = model.StateCount;
        new ReadOnlySpan<double>(integrator.State, n).CopyTo(cornerState);
        if (cornersKnown)
            return;
        DiscontinuitiesAt(integrator.Time, cornersBefore);
        cornersKnown = true;
    }

    /// <summary>Whether the last step went over a discontinuity and is to be made again up to it.</summary>
    bool WentOverDiscontinuity()
    {
        if (corners is null)
            return false;
        if (integrator.Discontinuities == DiscontinuityPolicy.None)
        {
            cornersKnown = false;
            return false;
        }

        double start = integrator.StepStart,
            end = integrator.Time;
        if (end >= cornerStop)
            cornerStop = double.PositiveInfinity;
        if (integrator.EvaluatedAtEnd && integrator.EndSlope != null)
            fixed (double* g = cornersNow)
                corners.Evaluate(model, end, integrator.State, integrator.EndSlope, model.Memory, g);
        else
            DiscontinuitiesAt(end, cornersNow);
        var (corner, who) = FirstDiscontinuity(start, end);
        var width = DiscontinuityWidth * (end - start) + 4 * (Math.BitIncrement(Math.Abs(end)) - Math.Abs(end));
        var (bends, jumps) =
            who < 0 || end - corner <= Math.Max(width, DiscontinuityTail * (end - start))
                ? (false, false)
                : IsSignificant(corner, start, end, width);
        bends &= integrator.Discontinuities == DiscontinuityPolicy.JumpsAndBends && cornerPatience >= StepsOverDiscontinuity;
        if (!jumps && !bends)
        {
            // An implicit method that finds no solution beyond a jump makes steps so small that the jump itself is harmless in them.
            if (who >= 0 && end - start < MinimumStepFraction * (options.End - options.Start))
                CheckSlidingMode(corner, who);
            (cornersBefore, cornersNow) = (cornersNow, cornersBefore);
            cornerPatience = Math.Min(cornerPatience + 1, StepsOverDiscontinuity * DiscontinuitiesAtOnce);
            return false;
        }

        if (jumps)
            CheckSlidingMode(corner, who);
        else
            cornerPatience -= StepsOverDiscontinuity;
        // A step ends before a jump, and a tiny one leads over it: the last stages of the one before must not see it.
        cornerStop = jumps && corner - width > start + 2 * width ? corner - width : corner + width;
        fixed (double* x = cornerState)
            integrator.Restart(start, x, end - start);
        return true;
    }

    /// <summary>Where a jump throws the motion back each time it is passed, no step leads on.</summary>
    void CheckSlidingMode(double time, int corner)
    {
        if (!IsChattering(time))
            return;
        var what = TermText.Print(corners!.Arguments[corner], plan.Model.NameOf);
        throw new SimulationException(
            new SimulationFailure(
                "chattering",
                $"{chatterCount} jumps within {time - crowdStart:G3} s at {time:G8} s: '{what}' passes {KnotPassed(corner, cornersNow[corner]) ?? 0:G6} to and fro, and the motion slides along there.",
                corners.Owners[corner],
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
        for (var j = 0; j < cornerKnots.Length; j++)
        {
            if (KnotPassed(j, cornersNow[j]) is not { } knot)
                continue;
            // One that is passed later than another, or together with it, needs no closer look.
            if (who >= 0)
            {
                DiscontinuitiesAt(first, cornersWithin);
                if (!Passes(j, knot, cornersWithin[j]))
                    continue;
                cornersNow[j] = cornersWithin[j];
            }

            var place = j;
            var rest = 1e-3 * DiscontinuityWidth * (end - start) + 2 * (Math.BitIncrement(Math.Abs(end)) - Math.Abs(end));
            first = until = RootLocation.After(
                t =>
                {
                    DiscontinuitiesAt(t, cornersWithin);
                    return cornersWithin[place] - knot;
                },
                start,
                cornersBefore[j] - knot,
                until,
                cornersNow[j] - knot,
                rest
            );
            who = j;
        }

        return (first, who);
    }

    /// <summary>The first knot between a discontinuity's argument at the start of the step and a later value.</summary>
    double? KnotPassed(int corner, double value)
    {
        var before = cornersBefore[corner];
        var row = cornerKnots[corner];
        if (value > before)
        {
            foreach (var knot in row)
                if (knot > before)
                    return knot < value ? knot : null;
        }
        else if (value < before)
        {
            for (var i = row.Length - 1; i >= 0; i--)
                if (row[i] < before)
                    return row[i] > value ? row[i] : null;
        }

        return null;
    }

    bool Passes(int corner, double knot, double value) => cornersBefore[corner] < knot ? value > knot : value < knot;

    /// <summary>
    /// Whether the slopes of the states bend or jump at a discontinuity by so much that a step over it would feel it: a bend by <c>J</c>
    /// makes an error of about <c>J·h²/10</c>, a jump by <c>d</c> one of about <c>d·h</c>.
    /// </summary>
    (bool Bends, bool Jumps) IsSignificant(double corner, double start, double end, double width)
    {
        var h = end - start;
        var span = Math.Min(BendSpan * h, Math.Min(corner - start, end - corner));
        // Too near to an end of the step to be measured.
        var bends = span < 4 * width;
        var jumps = false;
        var n = model.StateCount;
        fixed (double* all = cornerState)
        {
            double* a = all + n,
                b = all + 2 * n,
                c = all + 3 * n,
                d = all + 4 * n;
            SlopeAt(Math.Max(start, corner - width), b);
            SlopeAt(Math.Min(end, corner + width), c);
            if (!bends)
                SlopeAt(corner - span, a);
            if (!bends)
                SlopeAt(corner + span, d);
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
        fixed (double* x = scratch)
        {
            integrator.Interpolate(time, x);
            model.Ode.Derivatives(time, x, slope);
        }
    }

    void DiscontinuitiesAt(double time, double[] result)
    {
        fixed (
            double* x = scratch,
                g = result
        )
        {
            var dx = x + model.StateCount;
            StateAt(time, x);
            model.Ode.Derivatives(time, x, dx);
            corners!.Evaluate(model, time, x, dx, model.Memory, g);
        }
    }
}
