using System.Runtime.CompilerServices;
using AnchorBend.Compiler.Emission;
using AnchorBend.Numerics.Integration;

namespace AnchorBend.Simulation.Stepping;

/// <summary>Whether nothing can have happened to what is watched within a step: most steps need no closer look.</summary>
sealed unsafe class CrossingExclusion(Motion motion, EventIndicators indicators)
{
    /// <summary>A step longer than this part of the longest one was not kept short by an error estimate.</summary>
    public const double LongPart = 0.3;

    /// <summary>How many times its own recent change a event indicator must be away from zero to be left alone where its slope is not
    /// known.</summary>
    const double SafeDistance = 3;

    readonly ModelInstance model = motion.Model;
    readonly CompiledPlan compiled = motion.Compiled;
    readonly Integrator integrator = motion.Integrator;

    readonly double[] ends = new double[4 * (indicators.Count + motion.Compiled.NonSmoothPointOf.Length)],
        changes = new double[indicators.Count];
    int endPlace;
    Known known;
    bool startIsKnown;

    /// <summary>What is known of the event indicators at the start of the step.</summary>
    enum Known
    {
        Nothing,
        Values,
        ValuesAndSlopes,
    }

    /// <summary>
    /// Values and slopes of the indicators and their non-smooth points at both ends of the step, by turns; <see cref="endPlace"/> is where
    /// those of its end begin.
    /// </summary>
    int StartPlace => ends.Length / 2 - endPlace;

    /// <summary>Numbers that the indicators with their non-smooth points and slopes are.</summary>
    public int Size => ends.Length / 2;

    public ReadOnlySpan<double> StartValues => ends.AsSpan(StartPlace, indicators.Count);

    public Span<double> EndValues => ends.AsSpan(endPlace, indicators.Count);

    public bool StartIsKnown => startIsKnown;

    /// <summary>The motion goes on from another state.</summary>
    public void Forget() => known = Known.Nothing;

    /// <summary>Notes how far an indicator moved within a step.</summary>
    public void NoteRange(int k, double range) => changes[k] = Math.Max(changes[k], range);

    /// <summary>Whether nothing can have happened within the last step. Remembers the values at its end.</summary>
    public bool CannotCross(double end)
    {
        endPlace = StartPlace;
        return indicators.AreDirect && integrator.StartState != null && indicators.Watched.Length > 0
            ? CannotCrossBySlopes(end)
            : CannotCrossByChanges(end);
    }

    /// <summary>
    /// A cubic with the values and slopes at both ends lies within its four Bézier ordinates (de Casteljau). Where these are on one side by
    /// more than the curve bends away from a straight line, the function itself, also with a non-smooth point, stays there.
    /// </summary>
    bool CannotCrossBySlopes(double end)
    {
        var start = integrator.StepStart;
        var h = end - start;
        var third = h / 3;
        var n = indicators.Count;
        fixed (double* both = ends)
        {
            double* g0 = both + StartPlace,
                g1 = both + endPlace;
            if (known != Known.ValuesAndSlopes)
                model.IndicatorsAndSlopes(start, integrator.StartState, integrator.StartSlope, g0);
            model.IndicatorsAndSlopes(end, integrator.State, integrator.EndSlope, g1);
            (known, startIsKnown) = (Known.ValuesAndSlopes, true);
            var slopes = n + compiled.NonSmoothPointOf.Length;
            foreach (var k in indicators.Watched)
                if (!StaysOnOneSide(g0[k], third * g0[slopes + k], g1[k], third * g1[slopes + k]) || indicators.Differs(k, g1[k]))
                    return false;
            foreach (var j in indicators.WatchedNonSmooth)
                if (!StaysOnOneSide(g0[n + j], third * g0[slopes + n + j], g1[n + j], third * g1[slopes + n + j]))
                    return false;
        }

        return h <= LongPart * motion.MaximumStep;
    }

    [MethodImpl(MethodImplOptions.AggressiveInlining)]
    static bool StaysOnOneSide(double a, double rise, double d, double fall)
    {
        double b = a + rise,
            c = d - fall;
        var bend = Math.Max(Math.Abs(b - (2 * a + d) / 3), Math.Abs(c - (a + 2 * d) / 3));
        return Math.Min(Math.Min(a, b), Math.Min(c, d)) > bend || Math.Max(Math.Max(a, b), Math.Max(c, d)) < -bend;
    }

    /// <summary>Every event indicator is smooth and far from zero, measured by what it changed over this step and the ones
    /// before.</summary>
    bool CannotCrossByChanges(double end)
    {
        startIsKnown = known == Known.Values;
        indicators.At(end, EndValues, true);
        ReadOnlySpan<double> before = StartValues,
            now = EndValues;
        var cannotCross = startIsKnown && indicators.WatchedNonSmooth.Length == 0;
        foreach (var k in indicators.Watched)
        {
            var change = Math.Abs(now[k] - before[k]);
            // One quiet step, symmetric about a peak, must not hide what the ones before did.
            changes[k] = startIsKnown ? Math.Max(change, 0.7 * changes[k]) : 0;
            if (!(Math.Min(Math.Abs(now[k]), Math.Abs(before[k])) > SafeDistance * changes[k]) || indicators.Differs(k, now[k]))
                cannotCross = false;
        }

        known = Known.Values;
        return cannotCross;
    }
}
