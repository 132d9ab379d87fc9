using System.Runtime.CompilerServices;
using AnchorBend.Language.Terms;
using AnchorBend.Simulation.Events;

namespace AnchorBend.Simulation;

/// <summary>What is watched, and whether nothing can have happened to it within a step: most steps need no closer look.</summary>
public sealed unsafe partial class Simulator
{
    /// <summary>A step longer than this part of the longest one was not kept short by an error estimate.</summary>
    const double LongPart = 0.3;

    /// <summary>How many times its own recent change a event indicator must be away from zero to be left alone where its slope is not
    /// known.</summary>
    const double SafeDistance = 3;

    /// <summary>The event indicators whose relations matter in this run.</summary>
    int[] watchedZeros = [];

    /// <summary>Their non-smooth points.</summary>
    int[] watchedNonSmooth = [];

    /// <summary>What each event indicator decides, and where its truth is held.</summary>
    (Operator Kind, int Place)[] truths = [];

    /// <summary>Whether the watched event indicators can be computed without the rest of the model.</summary>
    bool zerosAreDirect;

    /// <summary>
    /// Values and slopes of the event indicators and their non-smooth points at both ends of the step, by turns; <see cref="endPlace"/> is
    /// where those of its end begin.
    /// </summary>
    double[] ends = [];

    double[] changes = [];
    int endPlace;

    int StartPlace => ends.Length / 2 - endPlace;

    ReadOnlySpan<double> StartZeros => ends.AsSpan(StartPlace, zeroes.Length);

    Span<double> EndZeros => ends.AsSpan(endPlace, zeroes.Length);

    /// <summary>What is known of the event indicators at the start of the step.</summary>
    enum Known
    {
        Nothing,
        Values,
        ValuesAndSlopes,
    }

    Known known;
    bool startIsKnown;

    /// <summary>Sets up what is watched in a plan.</summary>
    void IndexZeros(bool[] matters)
    {
        var count = compiled.StateRelations.Length;
        zeroes = new double[count];
        (ends, endPlace, changes) = (new double[4 * (count + compiled.NonSmoothPointOf.Length)], 0, new double[count]);
        watchedZeros = [.. Enumerable.Range(0, count).Where(k => matters[compiled.StateRelations[k]])];
        watchedNonSmooth =
        [
            .. Enumerable.Range(0, compiled.NonSmoothPointOf.Length).Where(j => watchedZeros.Contains(compiled.NonSmoothPointOf[j])),
        ];
        truths = [.. compiled.StateRelations.Select(r => (plan.Relations[r].Term.Kind, compiled.Layout.RelationBase + r))];
        zerosAreDirect = watchedZeros.All(k => compiled.DirectIndicators[k]);
        besideCrossing = new double[2 * Math.Max(1, model.StateCount)];
        known = Known.Nothing;
        (accumulation, suspect) = (new AccumulationWatch(count), -1);
    }

    /// <summary>Whether a watched relation's event indicator says something else than the held truth.</summary>
    [MethodImpl(MethodImplOptions.AggressiveInlining)]
    bool Differs(int k, double value)
    {
        var (kind, place) = truths[k];
        var now = kind switch
        {
            Operator.Less => value < 0,
            Operator.LessOrEqual => value <= 0,
            Operator.Greater => value > 0,
            _ => value >= 0,
        };
        return now != (model.Memory[place] != 0);
    }

    /// <summary>Whether nothing can have happened within the last step. Remembers the values at its end.</summary>
    bool CannotCross(double end)
    {
        endPlace = StartPlace;
        return zerosAreDirect && integrator.StartState != null && watchedZeros.Length > 0
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
        var n = zeroes.Length;
        fixed (double* both = ends)
        {
            double* g0 = both + StartPlace,
                g1 = both + endPlace;
            if (known != Known.ValuesAndSlopes)
                model.IndicatorsAndSlopes(start, integrator.StartState, integrator.StartSlope, g0);
            model.IndicatorsAndSlopes(end, integrator.State, integrator.EndSlope, g1);
            (known, startIsKnown) = (Known.ValuesAndSlopes, true);
            var slopes = n + compiled.NonSmoothPointOf.Length;
            foreach (var k in watchedZeros)
                if (!StaysOnOneSide(g0[k], third * g0[slopes + k], g1[k], third * g1[slopes + k]) || Differs(k, g1[k]))
                    return false;
            foreach (var j in watchedNonSmooth)
                if (!StaysOnOneSide(g0[n + j], third * g0[slopes + n + j], g1[n + j], third * g1[slopes + n + j]))
                    return false;
        }

        return h <= LongPart * maximumStep;
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
        ZerosAt(end, EndZeros, true);
        ReadOnlySpan<double> before = StartZeros,
            now = EndZeros;
        var calm = startIsKnown && watchedNonSmooth.Length == 0;
        foreach (var k in watchedZeros)
        {
            var change = Math.Abs(now[k] - before[k]);
            // One quiet step, symmetric about a peak, must not hide what the ones before did.
            changes[k] = startIsKnown ? Math.Max(change, 0.7 * changes[k]) : 0;
            if (!(Math.Min(Math.Abs(now[k]), Math.Abs(before[k])) > SafeDistance * changes[k]) || Differs(k, now[k]))
                calm = false;
        }

        known = Known.Values;
        return calm;
    }
}
