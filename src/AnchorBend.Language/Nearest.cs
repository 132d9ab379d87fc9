namespace AnchorBend.Language;

/// <summary>Finds the name a user probably meant.</summary>
public static class Nearest
{
    /// <summary>
    /// The candidate with the smallest edit distance (Damerau–Levenshtein with adjacent swaps; letter case costs little), or null when
    /// more than a third of the letters differ.
    /// </summary>
    public static string? Of(string typed, IEnumerable<string> candidates)
    {
        string? best = null;
        var bestCost = Math.Max(1.0, typed.Length / 3.0) + 0.01;
        foreach (var candidate in candidates)
        {
            if (candidate == typed || Math.Abs(candidate.Length - typed.Length) > bestCost)
                continue;
            var cost = Distance(typed, candidate);
            if (cost >= bestCost)
                continue;
            bestCost = cost;
            best = candidate;
        }

        return best;
    }

    static double Distance(string a, string b)
    {
        var rows = new double[3][];
        for (var i = 0; i < 3; i++)
            rows[i] = new double[b.Length + 1];
        for (var j = 0; j <= b.Length; j++)
            rows[1][j] = j;
        for (var i = 1; i <= a.Length; i++)
        {
            var (older, previous, current) = (rows[(i - 1) % 3], rows[i % 3], rows[(i + 1) % 3]);
            current[0] = i;
            for (var j = 1; j <= b.Length; j++)
            {
                var same =
                    a[i - 1] == b[j - 1] ? 0
                    : char.ToLowerInvariant(a[i - 1]) == char.ToLowerInvariant(b[j - 1]) ? 0.2
                    : 1;
                current[j] = Math.Min(previous[j - 1] + same, Math.Min(previous[j], current[j - 1]) + 1);
                if (i > 1 && j > 1 && a[i - 1] == b[j - 2] && a[i - 2] == b[j - 1])
                    current[j] = Math.Min(current[j], older[j - 2] + 1);
            }
        }

        return rows[(a.Length + 1) % 3][b.Length];
    }
}
