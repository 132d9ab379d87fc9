using System.Runtime.CompilerServices;
using AnchorBend.Compiler.Emission;
using AnchorBend.Compiler.Lowering;
using AnchorBend.Language.Terms;
using AnchorBend.Modeling.Flat;
using AnchorBend.Numerics.Integration;

namespace AnchorBend.Simulation.Stepping;

/// <summary>The event indicators of a plan and the truths of their relations: their values at any time within the last step.</summary>
sealed unsafe class EventIndicators
{
    readonly Motion motion;
    readonly ModelInstance model;
    readonly double[] scratch;

    /// <summary>What each event indicator decides, and where its truth is held.</summary>
    readonly (Operator Kind, int Place)[] truths;

    /// <summary>Whether the watched event indicators can be computed without the rest of the model.</summary>
    readonly bool zerosAreDirect;

    /// <param name="matters">Of all relations, whether they can matter in this run.</param>
    public EventIndicators(Motion motion, bool[] matters)
    {
        (this.motion, model, scratch) = (motion, motion.Model, motion.Scratch);
        var compiled = motion.Compiled;
        Count = compiled.StateRelations.Length;
        Values = new double[Count];
        Watched = [.. Enumerable.Range(0, Count).Where(k => matters[compiled.StateRelations[k]])];
        WatchedNonSmooth =
        [
            .. Enumerable.Range(0, compiled.NonSmoothPointOf.Length).Where(j => Watched.Contains(compiled.NonSmoothPointOf[j])),
        ];
        truths = [.. compiled.StateRelations.Select(r => (motion.Plan.Relations[r].Term.Kind, compiled.Layout.RelationBase + r))];
        zerosAreDirect = Watched.All(k => compiled.DirectIndicators[k]);
    }

    public int Count { get; }

    /// <summary>The indicators whose relations matter in this run.</summary>
    public int[] Watched { get; }

    /// <summary>Their non-smooth points.</summary>
    public int[] WatchedNonSmooth { get; }

    /// <summary>The indicators where they were last asked for.</summary>
    public double[] Values { get; }

    /// <summary>Whether the watched ones can be computed without the rest of the model.</summary>
    public bool AreDirect => zerosAreDirect;

    /// <summary>Where the truth of an indicator's relation is held in memory.</summary>
    public int PlaceOfTruth(int k) => truths[k].Place;

    /// <summary>Whether a watched relation's event indicator says something else than the held truth.</summary>
    [MethodImpl(MethodImplOptions.AggressiveInlining)]
    public bool Differs(int k, double value)
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

    /// <summary>Puts the indicators at a time into <see cref="Values"/>.</summary>
    public void At(double time) => At(time, Values);

    /// <summary>One indicator at a time, in its place among <see cref="Values"/>; the others there mean nothing afterwards.</summary>
    public double At(double time, int k)
    {
        if (!motion.Compiled.DirectIndicators[k])
        {
            At(time);
            return Values[k];
        }

        fixed (
            double* x = scratch,
                g = Values
        )
        {
            motion.StateAt(time, x);
            model.Memory[FlatModel.TimeIndex] = time;
            model.EventIndicators(time, x, x + model.StateCount, g);
            return g[k];
        }
    }

    /// <param name="afterStep">Whether nothing was evaluated since the step ended at this time.</param>
    /// <param name="rounded">Not 0: with every state rounded up or down, in one of several patterns.</param>
    public void At(double time, Span<double> result, bool afterStep = false, int rounded = 0)
    {
        fixed (
            double* x = scratch,
                g = result
        )
        {
            if (afterStep && motion.Integrator.EvaluatedAtEnd && motion.Integrator.EndSlope != null)
            {
                model.EventIndicators(time, motion.Integrator.State, motion.Integrator.EndSlope, g);
                return;
            }

            var dx = x + model.StateCount;
            motion.StateAt(time, x);
            for (var i = 0; rounded > 0 && i < model.StateCount; i++)
                x[i] *= IsRoundedUp(i, rounded) ? 1 + 2.3e-16 : 1 - 2.3e-16;
            if (zerosAreDirect)
                model.Memory[FlatModel.TimeIndex] = time;
            else
                model.Evaluate(time, x, dx, EvaluationMode.Derivatives);
            model.EventIndicators(time, x, dx, g);
        }
    }

    /// <summary>The non-smooth points lie behind the event indicators; the slopes at the end mean nothing here.</summary>
    public void NonSmoothPointsAt(double time, double[] result)
    {
        fixed (
            double* x = scratch,
                g = result
        )
        {
            motion.StateAt(time, x);
            model.IndicatorsAndSlopes(time, x, x + model.StateCount, g);
        }
    }

    /// <summary>Mixed signs by the golden ratio's bits (Knuth, "The Art of Computer Programming" 3, section 6.4), each pattern followed by
    /// its opposite.</summary>
    static bool IsRoundedUp(int state, int pattern) => ((uint)(state + 7 * (pattern >> 1)) * 2654435769u >> 31 ^ (uint)pattern & 1) == 0;
}
