using AnchorBend.Numerics;

namespace AnchorBend.Simulation.Events;

/// <summary>
/// Watches whether a condition changes at ever shorter distances that add up to a finite time, as the bounces of a ball do: infinitely
/// many events before an instant that the motion cannot pass (Zeno behaviour; Zhang, Johansson, Lygeros and Sastry, Int. J. Robust
/// Nonlinear Control 11, 2001). Distances <c>d</c> that shrink by a ratio <c>r</c> leave <c>d·r/(1 − r)</c> to that instant.
/// </summary>
/// <param name="conditions">How many conditions are watched; each in both directions of its change.</param>
sealed class AccumulationWatch(int conditions) : ISaved
{
    /// <summary>Distances that must have shrunk one after the other.</summary>
    const int Enough = 8;

    readonly double[] last = Filled(2 * conditions, double.NegativeInfinity),
        distance = Filled(2 * conditions, double.PositiveInfinity),
        left = Filled(2 * conditions, double.PositiveInfinity),
        end = Filled(2 * conditions, double.PositiveInfinity);
    readonly int[] shrinking = new int[2 * conditions],
        told = new int[2 * conditions];

    /// <summary>By what part of the time left before the instant that a change tells may differ from the one told before, and how often
    /// it must have been told.</summary>
    const double Agreement = 0.2;
    const int Told = 4;

    static double[] Filled(int count, double value)
    {
        var array = new double[count];
        Array.Fill(array, value);
        return array;
    }

    static int Place(int condition, bool becomesTrue) => 2 * condition + (becomesTrue ? 1 : 0);

    /// <summary>Notes a change of a condition.</summary>
    public void Note(int condition, bool becomesTrue, double time)
    {
        var place = Place(condition, becomesTrue);
        var now = time - last[place];
        shrinking[place] = now < distance[place] && double.IsFinite(distance[place]) ? shrinking[place] + 1 : 0;
        var ratio = now / distance[place];
        left[place] = shrinking[place] >= Enough ? now * ratio / (1 - ratio) : double.PositiveInfinity;
        var rest = ratio < 1 ? now * ratio / (1 - ratio) : double.PositiveInfinity;
        told[place] = Math.Abs(time + rest - end[place]) <= Agreement * (now + rest) ? told[place] + 1 : 0;
        (last[place], distance[place], end[place]) = (time, now, time + rest);
    }

    /// <summary>Whether the changes tell the same instant again and again, as those of one motion do. Pulses that end earlier in each
    /// period tell another one each time.</summary>
    public bool Agrees(int condition, bool becomesTrue) => told[Place(condition, becomesTrue)] >= Told;

    /// <summary>The time from the last change to the instant at which the changes add up, while they do; infinite otherwise.</summary>
    public double Left(int condition, bool becomesTrue) => left[Place(condition, becomesTrue)];

    public double Last(int condition, bool becomesTrue) => last[Place(condition, becomesTrue)];

    public double Distance(int condition, bool becomesTrue) => distance[Place(condition, becomesTrue)];

    public void Transfer(StateArchive archive)
    {
        archive.Transfer(last);
        archive.Transfer(distance);
        archive.Transfer(left);
        archive.Transfer(end);
        for (var i = 0; i < shrinking.Length; i++)
        {
            archive.Transfer(ref shrinking[i]);
            archive.Transfer(ref told[i]);
        }
    }
}
