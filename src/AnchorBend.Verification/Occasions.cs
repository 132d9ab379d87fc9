using System.Globalization;

namespace AnchorBend.Verification;

/// <summary>What is told of a requirement that is judged several times in a run.</summary>
static class Occasions
{
    /// <summary>Those that are told one by one.</summary>
    public const int Most = 200;

    /// <summary>The one that counts: the worst that is missed, else one that is open, else the one with the least margin.</summary>
    /// <param name="margin">Null where it has no size.</param>
    public static T Worst<T>(IReadOnlyList<T> all, Func<T, VerdictKind> kind, Func<T, double?> margin)
        where T : class =>
        all.Where(o => kind(o) == VerdictKind.Missed).MinBy(o => margin(o) ?? double.NegativeInfinity)
        ?? all.FirstOrDefault(o => kind(o) == VerdictKind.Open)
        ?? all.MinBy(o => margin(o) ?? double.PositiveInfinity)!;

    /// <summary>How often it was, how often it was missed, and when it was worst.</summary>
    public static string Told(IReadOnlyList<(double At, VerdictKind Kind)> all, double worst)
    {
        var missed = all.Count(o => o.Kind == VerdictKind.Missed);
        return all.Count == 1
            ? $"once, at {Number(all[0].At)} s"
            : $"{all.Count} times, {(missed > 0 ? $"missed {missed}, " : "")}worst at {Number(worst)} s";
    }

    public static string Number(double value) => value.ToString("G4", CultureInfo.InvariantCulture);
}
