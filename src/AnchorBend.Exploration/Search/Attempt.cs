namespace AnchorBend.Exploration.Search;

/// <summary>What came out at a place: how good it is, and by how much it misses what it must keep.</summary>
/// <param name="Value">What is made least; NaN where there is none, as of a run that failed.</param>
/// <param name="Violation">Sum of what constraints are missed by; 0 where all are kept.</param>
public readonly record struct Outcome(double Value, double Violation) : IComparable<Outcome>
{
    public static readonly Outcome Failed = new(double.NaN, double.PositiveInfinity);

    public bool IsMet => Violation <= 0 && double.IsFinite(Value);

    /// <summary>What keeps the constraints goes before what does not, then the less missed, then the better (Deb, Comput. Methods Appl.
    /// Mech. Eng. 186, 2000).</summary>
    public int CompareTo(Outcome other)
    {
        var (mine, its) = (Missed, other.Missed);
        if (mine > 0 || its > 0)
            return mine.CompareTo(its);
        return Value.CompareTo(other.Value);
    }

    double Missed => double.IsFinite(Value) ? Math.Max(0, Violation) : double.PositiveInfinity;

    public static bool operator <(Outcome a, Outcome b) => a.CompareTo(b) < 0;

    public static bool operator >(Outcome a, Outcome b) => a.CompareTo(b) > 0;
}

/// <summary>A place that was tried.</summary>
/// <param name="Place">A share of each factor, at least 0 and at most 1.</param>
public sealed record Attempt(double[] Place, Outcome Outcome);

/// <summary>
/// A search that asks for places and is told what came out there, so that runs can be made at once, anywhere, and again after a break: the
/// same seed and the same outcomes give the same places.
/// </summary>
public interface ISearch
{
    /// <summary>Places to be tried now; none where the search has ended.</summary>
    IReadOnlyList<double[]> Ask();

    /// <param name="outcomes">Of the places that were asked for, in their order.</param>
    void Tell(IReadOnlyList<Outcome> outcomes);

    /// <summary>Why it has ended; null while it goes on.</summary>
    string? Ended { get; }
}
