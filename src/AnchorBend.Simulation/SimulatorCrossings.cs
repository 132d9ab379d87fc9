using AnchorBend.Compiler.Analysis;
using AnchorBend.Compiler.Emission;
using AnchorBend.Language.Terms;
using AnchorBend.Numerics;

namespace AnchorBend.Simulation;

/// <summary>
/// Finding the instants at which watched relations change within a step. Event indicators are looked at in between, too, and where one
/// bends towards zero its extremum is sought, so that a signal that crosses there and back is not missed.
/// </summary>
public sealed unsafe partial class Simulator
{
    /// <summary>Parts of a step whose ends are looked at when everything is smooth, for order 5 and for longer steps.</summary>
    const int FewParts = 2,
        ManyParts = 4;

    /// <summary>Parts of a step that no error estimate kept short.</summary>
    const int MostParts = 8;

    const int ExtremumIterations = 40;

    readonly double[] sampleTimes = new double[MostParts + MostNonSmoothPoints + EarlyPoints + 1];
    double[][] samples = [];
    double[] besideCrossing = [];

    /// <summary>The first instant of the last step at which a relation changes; NaN when none does.</summary>
    double FirstCrossing()
    {
        if (CannotCross(integrator.Time))
            return double.NaN;
        var parts = Sample();
        foreach (var k in watchedZeros)
        {
            changes[k] = Math.Max(changes[k], Range(k, parts));
            isNoise[k] = false;
        }

        double crossing;
        int who;
        while (true)
        {
            (crossing, who) = FirstOfAll(parts);
            if (who < 0)
                return crossing;
            crossing = BeyondRounding(who, parts, crossing);
            if (!IsWithinRounding(who, parts))
                break;
            isNoise[who] = true;
        }

        if (!IsFollowedAt(crossing))
        {
            RejectStep();
            return double.NaN;
        }

        Note(crossing, compiled.StateRelations[who]);
        ZerosAt(crossing, zeroes);
        NoteAccumulation(who, crossing);
        return crossing;
    }

    (double Time, int Who) FirstOfAll(int parts)
    {
        var (crossing, who) = (double.NaN, -1);
        foreach (var k in watchedZeros)
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

    /// <summary>By what part of a state's size its values may drift off within a step before it is made again, and the part of the step
    /// over which a slope is measured.</summary>
    const double DefectTolerance = 3e-8,
        SlopeSpan = 1e-3;

    /// <summary>Whether the last step is to be made again, shorter.</summary>
    bool mustRepeat;

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
            StateAt(crossing, x);
            model.Ode.Derivatives(crossing, x, slopes);
            StateAt(crossing + span, beside);
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

    /// <summary>Makes the last step again in shorter ones.</summary>
    void RejectStep()
    {
        integrator.Restart(integrator.StepStart, integrator.StartState, (integrator.Time - integrator.StepStart) / 4);
        (known, mustRepeat) = (Known.Nothing, true);
        ForgetDiscontinuities();
    }

    /// <summary>How far a event indicator moved within the step, as seen at its samples.</summary>
    double Range(int k, int parts)
    {
        var (least, most) = (samples[0][k], samples[0][k]);
        for (var i = 1; i <= parts; i++)
            (least, most) = (Math.Min(least, samples[i][k]), Math.Max(most, samples[i][k]));
        return most - least;
    }

    /// <summary>Evaluates the event indicators at points of the last step.</summary>
    /// <returns>The number of parts between them.</returns>
    int Sample()
    {
        if (samples.Length == 0 || samples[0].Length != zeroes.Length)
            (samples, atCrossing, roundings, isNoise) = (
                [.. sampleTimes.Select(_ => new double[zeroes.Length])],
                new double[zeroes.Length],
                new double[zeroes.Length],
                new bool[zeroes.Length]
            );

        double start = integrator.StepStart,
            end = integrator.Time;
        var parts =
            end - start > LongPart * maximumStep ? MostParts
            : integrator.IsLongStepping ? ManyParts
            : FewParts;
        for (var i = parts; i >= 0; i--)
        {
            var time = i == parts ? end : start + i * (end - start) / parts;
            if (i == parts)
                EndZeros.CopyTo(samples[parts]);
            else if (i == 0 && startIsKnown)
                StartZeros.CopyTo(samples[0]);
            else
                ZerosAt(time, samples[i]);
            sampleTimes[i] = time;
        }

        if (start == lastEvent)
            parts = AddEarlyPoints(parts);
        return AddNonSmoothPoints(parts);
    }

    /// <summary>Samples added at the beginning of a step from an event, each at a sixteenth of the distance of the one behind it.</summary>
    const int EarlyPoints = 9;

    /// <summary>A event indicator nearer to zero at the start of such a step than this part of its range leaves it there.</summary>
    const double LeavesZero = 1e-4;

    /// <summary>
    /// What was at zero at an event may leave it and be back long before a long step's first sample, as a ball that bounces less and less
    /// while the exact parabola lets steps grow.
    /// </summary>
    int AddEarlyPoints(int parts)
    {
        var isNear = false;
        foreach (var k in watchedZeros)
            isNear |= Math.Abs(samples[0][k]) < LeavesZero * Range(k, parts);
        if (!isNear)
            return parts;
        var distance = sampleTimes[1] - sampleTimes[0];
        for (var i = 0; i < EarlyPoints; i++)
        {
            distance /= 16;
            parts = Insert(sampleTimes[0] + distance, parts);
        }

        return parts;
    }

    double FirstCrossing(int k, int parts, double before)
    {
        // A signal that leaves zero may be rounded to its other side on the way.
        var least = Differs(k, samples[parts][k]) ? 0 : RoundingOfRange * Range(k, parts);
        for (var i = 1; i <= parts; i++)
        {
            if (!double.IsNaN(before) && sampleTimes[i - 1] >= before)
                return double.NaN;
            if (i < parts && (!Differs(k, samples[i][k]) || Math.Abs(samples[i][k]) <= least))
            {
                if (Extremum(k, i) is var dip && !double.IsNaN(dip))
                    return Locate(k, sampleTimes[i - 1], dip);
                continue;
            }

            if (Differs(k, samples[i][k]))
                return Locate(k, sampleTimes[i - 1], sampleTimes[i]);
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
        double a = sampleTimes[i - 1],
            b = sampleTimes[i],
            c = sampleTimes[i + 1];
        // Beyond zero at an end, the crossing is found by the signs.
        if (Differs(k, samples[i - 1][k]) || Differs(k, samples[i + 1][k]))
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
            ZerosAt(next, zeroes);
            var f = Math.Abs(zeroes[k]);
            if (Differs(k, zeroes[k]))
                return f > RoundingOfRange * range ? next : double.NaN;
            var gain = fb - f;
            if (next < b)
                (a, fa, b, fb, c, fc) = f <= fb ? (a, fa, next, f, b, fb) : (next, f, b, fb, c, fc);
            else
                (a, fa, b, fb, c, fc) = f <= fb ? (b, fb, next, f, c, fc) : (a, fa, b, fb, next, f);
            (vertex, value) = Parabola(a, fa, b, fb, c, fc);
            // The lowest point is found and lies on this side.
            if (value > 0 && Math.Abs(gain) < 1e-3 * fb && value > 0.9 * fb || c - a < 1e-10 * (sampleTimes[i + 1] - sampleTimes[i - 1]))
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
            ZerosAt(t, zeroes);
            // Negative while the relation still holds its truth, positive once it differs.
            var value = Math.Abs(zeroes[k]);
            return Differs(k, zeroes[k]) ? Math.Max(value, double.Epsilon) : -Math.Max(value, double.Epsilon);
        }

        var atEnd = Signed(end);
        if (atEnd < 0)
            return end;
        var atStart = Signed(start);
        return atStart > 0 ? Math.BitIncrement(start) : RootLocation.After(Signed, start, atStart, end, atEnd, tolerance);
    }

    /// <param name="afterStep">Whether nothing was evaluated since the step ended at this time.</param>
    /// <param name="rounded">Not 0: with every state rounded up or down, in one of several patterns.</param>
    void ZerosAt(double time, Span<double> result, bool afterStep = false, int rounded = 0)
    {
        fixed (
            double* x = scratch,
                g = result
        )
        {
            if (afterStep && integrator.EvaluatedAtEnd && integrator.EndSlope != null)
            {
                model.EventIndicators(time, integrator.State, integrator.EndSlope, g);
                return;
            }

            var dx = x + model.StateCount;
            StateAt(time, x);
            for (var i = 0; rounded > 0 && i < model.StateCount; i++)
                x[i] *= IsRoundedUp(i, rounded) ? 1 + 2.3e-16 : 1 - 2.3e-16;
            if (zerosAreDirect)
                model.Memory[Modeling.Flat.FlatModel.TimeIndex] = time;
            else
                model.Evaluate(time, x, dx, EvaluationMode.Derivatives);
            model.EventIndicators(time, x, dx, g);
        }
    }

    /// <summary>Stops where a condition that the model asserts does not hold; a warning is noted once.</summary>
    void CheckAssertions(double time)
    {
        foreach (var assertion in plan.Assertions)
        {
            if (ValueNow(assertion.Condition) != 0)
                continue;
            if (assertion.IsError)
                throw new SimulationException(
                    new SimulationFailure(
                        "assertion",
                        $"{Sentence(assertion.Message)} (at {time:G8} s)",
                        assertion.Owner,
                        null,
                        time,
                        $"The model demands {TermText.Print(assertion.Condition, plan.Model.NameOf)}."
                    )
                );
            if (warned.Add(assertion.Message))
                events.Add(new RunEvent(time, assertion.Owner, $"warning: {assertion.Message}"));
        }
    }

    readonly HashSet<string> warned = [];

    static string Sentence(string text) => text.EndsWith('.') || text.EndsWith('!') ? text : text + ".";
}
