namespace AnchorBend.Verification.Measures;

/// <summary>A stretch of time, ends included; s.</summary>
public readonly record struct Interval(double From, double To)
{
    public double Length => To - From;
}

/// <summary>Sets of stretches: rising, not touching each other.</summary>
static class Intervals
{
    public static List<Interval> Both(IReadOnlyList<Interval> a, IReadOnlyList<Interval> b)
    {
        var result = new List<Interval>();
        for (int i = 0, j = 0; i < a.Count && j < b.Count; )
        {
            var (from, to) = (Math.Max(a[i].From, b[j].From), Math.Min(a[i].To, b[j].To));
            if (from <= to)
                result.Add(new Interval(from, to));
            if (a[i].To < b[j].To)
                i++;
            else
                j++;
        }

        return result;
    }

    public static List<Interval> Either(IEnumerable<Interval> a, IEnumerable<Interval> b)
    {
        var result = new List<Interval>();
        foreach (var next in a.Concat(b).OrderBy(i => i.From))
            Join(result, next);
        return result;
    }

    /// <summary>Adds a stretch that does not begin before the last one; those that touch become one.</summary>
    public static void Join(List<Interval> set, Interval next)
    {
        if (set.Count > 0 && next.From <= set[^1].To)
            set[^1] = new Interval(set[^1].From, Math.Max(set[^1].To, next.To));
        else
            set.Add(next);
    }

    /// <summary>What is left of a stretch; ends belong to both.</summary>
    public static List<Interval> Outside(IReadOnlyList<Interval> set, Interval within)
    {
        var result = new List<Interval>();
        var from = within.From;
        foreach (var one in set)
        {
            if (one.From > from)
                result.Add(new Interval(from, one.From));
            from = one.To;
        }

        if (from < within.To || set.Count == 0)
            result.Add(new Interval(from, within.To));
        return result;
    }
}
