using AnchorBend.Compiler.Emission;
using AnchorBend.Numerics;
using AnchorBend.Numerics.Integration;

namespace AnchorBend.Simulation.Stepping;

/// <summary>
/// Finds the instants at which watched relations change within a step. Event indicators are looked at in between, too, and where one bends
/// towards zero its extremum is sought, so that a signal that crosses there and back is not missed.
/// </summary>
sealed unsafe class CrossingSearch(Motion motion, EventIndicators indicators, CrossingExclusion exclusion, StepSamples samples)
{
    const int ExtremumIterations = 40;

    /// <summary>By what part of a state's size its values may drift off within a step before it is made again, and the part of the step
    /// over which a slope is measured.</summary>
    const double DefectTolerance = 3e-8,
        SlopeSpan = 1e-3;

    readonly ModelInstance model = motion.Model;
    readonly Integrator integrator = motion.Integrator;
    readonly RunOptions options = motion.Options;
    readonly double[] scratch = motion.Scratch;

    readonly CrossingRounding rounding = new(indicators, samples);

    /// <summary>Indicators that are told apart from zero by rounding alone within the step.</summary>
    readonly bool[] isNoise = new bool[indicators.Count];

    readonly double[] besideCrossing = new double[2 * Math.Max(1, motion.Model.StateCount)];

    /// <summary>
    /// The first instant of the last step at which a relation changes, and which; NaN and −1 when none does. The indicators are at hand
    /// there.
    /// </summary>
    /// <param name="mustRepeat">Whether the step does not follow the model there, and is to be made again in shorter ones.</param>
    public (double Time, int Who) First(out bool mustRepeat)
    {
        mustRepeat = false;
        if (exclusion.CannotCross(integrator.Time))
            return (double.NaN, -1);
        var parts = samples.Sample();
        foreach (var k in indicators.Watched)
        {
            exclusion.NoteRange(k, samples.Range(k, parts));
            isNoise[k] = false;
        }

        double crossing;
        int who;
        while (true)
        {
            (crossing, who) = FirstOfAll(parts);
            if (who < 0)
                return (crossing, who);
            crossing = rounding.Beyond(who, parts, crossing);
            if (!rounding.Hides(who, parts))
                break;
            isNoise[who] = true;
        }

        if (!IsFollowedAt(crossing))
        {
            mustRepeat = true;
            return (double.NaN, -1);
        }

        indicators.At(crossing);
        return (crossing, who);
    }

    (double Time, int Who) FirstOfAll(int parts)
    {
        var (crossing, who) = (double.NaN, -1);
        foreach (var k in indicators.Watched)
        {
            if (isNoise[k])
                continue;
            var found = FirstCrossing(k, parts, crossing);
            if (double.IsNaN(found) || !double.IsNaN(crossing) && found >= crossing)
                continue;
            (crossing, who) = (found, k);
        }

        return (crossing, who);
    }

    /// <summary>
    /// Whether the values within an explicit step follow the model at a crossing: the slope of the curve is the model's slope there. Beyond
    /// its border of stability a method can meet the end of a smooth step and be far off within, and no error estimate tells (the
    /// defect; Enright, "A New Error-Control for Initial Value Solvers", Appl. Math. Comput. 31, 1989).
    /// </summary>
    bool IsFollowedAt(double crossing)
    {
        if (integrator.StartState == null)
            return true;
        var h = integrator.Time - integrator.StepStart;
        var span = SlopeSpan * h * (crossing - integrator.StepStart > h / 2 ? -1 : 1);
        // A step that time cannot divide any more is as good as it gets.
        if (Math.Abs(span) < 1e-8 * Math.Abs(crossing))
            return true;
        var n = model.StateCount;
        fixed (
            double* x = scratch,
                beside = besideCrossing
        )
        {
            // Large models have more states than a stack has room for.
            var slopes = beside + n;
            motion.StateAt(crossing, x);
            model.Ode.Derivatives(crossing, x, slopes);
            motion.StateAt(crossing + span, beside);
            model.Ode.Derivatives(crossing + span, beside, x + n);
            for (var i = 0; i < n; i++)
            {
                // Over this span the curve follows the mean of the slopes at its ends but for a trifle.
                var defect = Math.Abs(beside[i] - x[i] - span * (slopes[i] + x[n + i]) / 2) / Math.Abs(span) * h;
                var size =
                    Math.Max(Math.Abs(integrator.StartState[i]), Math.Abs(integrator.State[i]))
                    + Math.Min(1, options.AbsoluteTolerance / options.RelativeTolerance);
                if (!(defect <= DefectTolerance * size))
                    return false;
            }
        }

        return true;
    }

    double FirstCrossing(int k, int parts, double before)
    {
        // A signal that leaves zero may be rounded to its other side on the way.
        var least = indicators.Differs(k, samples[parts][k]) ? 0 : CrossingRounding.OfRange * samples.Range(k, parts);
        for (var i = 1; i <= parts; i++)
        {
            if (!double.IsNaN(before) && samples.Times[i - 1] >= before)
                return double.NaN;
            if (i < parts && (!indicators.Differs(k, samples[i][k]) || Math.Abs(samples[i][k]) <= least))
            {
                if (Extremum(k, i) is var dip && !double.IsNaN(dip))
                    return Locate(k, samples.Times[i - 1], dip);
                continue;
            }

            if (indicators.Differs(k, samples[i][k]))
                return Locate(k, samples.Times[i - 1], samples.Times[i]);
        }

        return double.NaN;
    }

    /// <summary>
    /// Where a event indicator has its point nearest to zero between the neighbours of a sample, the time at which it is seen beyond zero,
    /// by parabolas through three points kept within the bracket (Brent, "Algorithms for Minimization without Derivatives", ch. 5); NaN
    /// where it stays on its side.
    /// </summary>
    double Extremum(int k, int i)
    {
        double a = samples.Times[i - 1],
            b = samples.Times[i],
            c = samples.Times[i + 1];
        // Beyond zero at an end, the crossing is found by the signs.
        if (indicators.Differs(k, samples[i - 1][k]) || indicators.Differs(k, samples[i + 1][k]))
            return double.NaN;
        double fa = Math.Abs(samples[i - 1][k]),
            fb = Math.Abs(samples[i][k]),
            fc = Math.Abs(samples[i + 1][k]);
        var range = Math.Max(fa, Math.Max(fb, fc));
        var (vertex, value) = Parabola(a, fa, b, fb, c, fc);
        if (!(vertex > a && vertex < c) || value > 0.3 * range)
            return double.NaN;
        for (var iteration = 0; iteration < ExtremumIterations; iteration++)
        {
            var next =
                vertex > a && vertex < c ? vertex
                : b - a > c - b ? (a + b) / 2
                : (b + c) / 2;
            var least = 1e-12 * (c - a) + 4e-16 * Math.Abs(b);
            if (Math.Abs(next - b) < least)
                next = b + (c - b > b - a ? least : -least);
            if (!(next > a && next < c))
                return double.NaN;
            var signed = indicators.At(next, k);
            var f = Math.Abs(signed);
            if (indicators.Differs(k, signed))
                return f > CrossingRounding.OfRange * range ? next : double.NaN;
            var gain = fb - f;
            if (next < b)
                (a, fa, b, fb, c, fc) = f <= fb ? (a, fa, next, f, b, fb) : (next, f, b, fb, c, fc);
            else
                (a, fa, b, fb, c, fc) = f <= fb ? (b, fb, next, f, c, fc) : (a, fa, b, fb, next, f);
            (vertex, value) = Parabola(a, fa, b, fb, c, fc);
            // The lowest point is found and lies on this side.
            if (
                value > 0 && Math.Abs(gain) < 1e-3 * fb && value > 0.9 * fb
                || c - a < 1e-10 * (samples.Times[i + 1] - samples.Times[i - 1])
            )
                return double.NaN;
        }

        return double.NaN;
    }

    static (double At, double Value) Parabola(double a, double fa, double b, double fb, double c, double fc)
    {
        double left = (fb - fa) / (b - a),
            right = (fc - fb) / (c - b);
        var curvature = (right - left) / (c - a);
        if (!(curvature > 0))
            return (double.NaN, double.NaN);
        var at = (a + b) / 2 - left / (2 * curvature);
        return (at, fa + (at - a) * (left + curvature * (at - b)));
    }

    double Locate(int k, double start, double end)
    {
        var tolerance = 2 * Math.Max(Math.BitIncrement(Math.Abs(end)) - Math.Abs(end), double.Epsilon);
        double Signed(double t)
        {
            // Negative while the relation still holds its truth, positive once it differs.
            var now = indicators.At(t, k);
            var value = Math.Abs(now);
            return indicators.Differs(k, now) ? Math.Max(value, double.Epsilon) : -Math.Max(value, double.Epsilon);
        }

        var atEnd = Signed(end);
        if (atEnd < 0)
            return end;
        var atStart = Signed(start);
        return atStart > 0 ? Math.BitIncrement(start) : RootLocation.After(Signed, start, atStart, end, atEnd, tolerance);
    }
}
