using MathNet.Numerics.LinearAlgebra;
using MathNet.Numerics.LinearAlgebra.Double;

namespace AnchorBend.Exploration.Search;

/// <summary>
/// Quasi-Newton steps with the update of Broyden, Fletcher, Goldfarb and Shanno within bounds (Nocedal and Wright, "Numerical
/// Optimization", sections 6.1 and 16.7): derivatives by central differences, all asked for at once, then several lengths of the step at
/// once. For smooth outcomes near a good place. What misses constraints is made worse by a multiple of what it misses.
/// </summary>
public sealed class QuasiNewton : ISearch
{
    /// <summary>Of differences: between what bends and what rounds in runs with usual tolerances.</summary>
    const double Difference = 1e-4;

    const double Fine = 1e-7,
        Slight = 1e-10,
        LongestFirst = 0.2;

    static readonly double[] Lengths = [2, 1, 0.5, 0.2, 0.06, 0.015, 0.003];

    readonly int n;
    Vector<double> at;
    Vector<double>? slope,
        way;
    Matrix<double> inverse;
    double value = double.NaN,
        weight;
    double[][] asked;
    bool isAlong;

    public QuasiNewton(double[] start)
    {
        n = start.Length;
        at = DenseVector.OfArray(start);
        inverse = DenseMatrix.CreateIdentity(n);
        asked = Around();
    }

    public string? Ended { get; private set; }

    public IReadOnlyList<double[]> Ask() => Ended is null ? asked : [];

    /// <summary>The place itself, and one to either side in each dimension.</summary>
    double[][] Around()
    {
        double[] Moved(int d, double by) => [.. at.Select((v, i) => i == d ? Math.Clamp(v + by, 0, 1) : v)];
        return [at.ToArray(), .. Enumerable.Range(0, n).SelectMany(d => (double[][])[Moved(d, Difference), Moved(d, -Difference)])];
    }

    double Merit(Outcome outcome) =>
        double.IsFinite(outcome.Value) ? outcome.Value + weight * Math.Max(0, outcome.Violation) : double.PositiveInfinity;

    public void Tell(IReadOnlyList<Outcome> outcomes)
    {
        if (weight == 0)
            weight = 10 * (1 + Math.Abs(double.IsFinite(outcomes[0].Value) ? outcomes[0].Value : 0));
        if (isAlong)
            Step(outcomes);
        else
            Turn(outcomes);
    }

    void Turn(IReadOnlyList<Outcome> outcomes)
    {
        value = Merit(outcomes[0]);
        var now = DenseVector.Create(n, d =>
            (Merit(outcomes[1 + 2 * d]) - Merit(outcomes[2 + 2 * d])) / (asked[1 + 2 * d][d] - asked[2 + 2 * d][d])
        );
        if (!double.IsFinite(value) || !now.All(double.IsFinite))
        {
            Ended = "A run beside the best place failed, so no slope is known there.";
            return;
        }

        if (slope is not null && way is not null)
            Update(way, now - slope);
        slope = now;
        // What a bound holds does not move.
        bool IsHeld(int d) => at[d] <= 0 && now[d] > 0 || at[d] >= 1 && now[d] < 0;
        var free = DenseVector.Create(n, d => IsHeld(d) ? 0 : now[d]);
        if (free.AbsoluteMaximum() < Slight * (1 + Math.Abs(value)))
        {
            Ended = "The slope is zero there, as far as it can be told.";
            return;
        }

        Vector<double> next = -(inverse * free);
        for (var d = 0; d < n; d++)
            if (IsHeld(d))
                next[d] = 0;
        if (next * free >= 0)
            (inverse, next) = (DenseMatrix.CreateIdentity(n), -free);
        if (way is null)
            next *= Math.Min(1, LongestFirst / next.AbsoluteMaximum());
        way = next;
        isAlong = true;
        asked = [.. Lengths.Select(l => Within(at + l * next))];
    }

    static double[] Within(Vector<double> v) => [.. v.Select(x => Math.Clamp(x, 0, 1))];

    void Step(IReadOnlyList<Outcome> outcomes)
    {
        isAlong = false;
        var best = Enumerable
            .Range(0, asked.Length)
            .MinBy(i => Merit(outcomes[i]) is var m && double.IsNaN(m) ? double.PositiveInfinity : m);
        var there = DenseVector.OfArray(asked[best]);
        var moved = there - at;
        if (!(Merit(outcomes[best]) < value))
        {
            // From a shape that has gone wrong once more straight down.
            if (!IsIdentity())
            {
                inverse = DenseMatrix.CreateIdentity(n);
                (slope, way) = (null, null);
                asked = Around();
                return;
            }

            Ended = "No step along the slope is better.";
            return;
        }

        (at, way) = (there, moved);
        if (moved.AbsoluteMaximum() < Fine)
            Ended = "Its steps have become too small to matter.";
        else
            asked = Around();
    }

    bool IsIdentity() => (inverse - DenseMatrix.CreateIdentity(n)).FrobeniusNorm() < 1e-12;

    void Update(Vector<double> moved, Vector<double> turned)
    {
        var along = moved * turned;
        if (!(along > 1e-12 * moved.L2Norm() * turned.L2Norm()))
            return;
        // The first shape has the size of the first curvature.
        if (IsIdentity())
            inverse *= along / (turned * turned);
        var left = DenseMatrix.CreateIdentity(n) - moved.OuterProduct(turned) / along;
        inverse = left * inverse * left.Transpose() + moved.OuterProduct(moved) / along;
    }
}
