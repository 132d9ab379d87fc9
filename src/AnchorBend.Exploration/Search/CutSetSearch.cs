namespace AnchorBend.Exploration.Search;

/// <summary>
/// A search for the least sets of things that go wrong together: first none, then each alone, then pairs, then triples, up to an order;
/// what holds a set that was found already is not tried, as it is not least. Places say of each factor whether it is there (0.75) or not
/// (0.25); what is looked for has come where the outcome is below zero.
/// </summary>
public sealed class CutSetSearch(int count, int most) : ISearch
{
    const double Off = 0.25,
        On = 0.75;

    readonly List<int[]> found = [];

    /// <summary>Sets whose run came to no end: nobody knows of them.</summary>
    int unknown;
    IReadOnlyList<int[]> asked = [];
    int order = -1;

    /// <summary>How many sets there are of so many things, up to an order.</summary>
    public static double Sets(int count, int most)
    {
        var (sum, sets) = (1.0, 1.0);
        for (var size = 1; size <= Math.Min(most, count); size++)
            sum += sets *= (count - size + 1) / (double)size;
        return sum;
    }

    /// <summary>The least sets so far, as places of factors.</summary>
    public IReadOnlyList<IReadOnlyList<int>> Found => found;

    public string? Ended { get; private set; }

    public IReadOnlyList<double[]> Ask()
    {
        while (Ended is null)
        {
            order++;
            if (order > Math.Min(most, count))
            {
                Ended =
                    found.Count == 0
                        ? $"No {Words(most)} fault{(most == 1 ? "" : "s")} bring it about."
                        : $"All sets of up to {Words(most)} are tried.";
                if (unknown > 0)
                    Ended += $" Of {unknown} of them nothing is known, as their runs failed.";
                break;
            }

            asked = [.. OfSize(order).Where(s => !found.Exists(f => f.All(s.Contains)))];
            if (asked.Count > 0)
                return [.. asked.Select(Place)];
        }

        return [];
    }

    public void Tell(IReadOnlyList<Outcome> outcomes)
    {
        for (var i = 0; i < outcomes.Count; i++)
            if (!outcomes[i].IsMet)
                unknown++;
            else if (outcomes[i].Value < 0)
                found.Add(asked[i]);
        if (order == 0 && found.Count > 0)
            Ended = "It comes without any fault.";
    }

    double[] Place(int[] set) => [.. Enumerable.Range(0, count).Select(i => set.Contains(i) ? On : Off)];

    IEnumerable<int[]> OfSize(int size, int from = 0)
    {
        if (size == 0)
            yield return [];
        else
            for (var i = from; i <= count - size; i++)
                foreach (var rest in OfSize(size - 1, i + 1))
                    yield return [i, .. rest];
    }

    static string Words(int number) =>
        number switch
        {
            1 => "one",
            2 => "two",
            3 => "three",
            4 => "four",
            _ => $"{number}",
        };
}
