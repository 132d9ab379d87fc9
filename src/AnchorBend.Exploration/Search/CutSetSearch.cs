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
    IReadOnlyList<int[]> asked = [];
    int order = -1;

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
                break;
            }

            asked = [.. Sets(order).Where(s => !found.Exists(f => f.All(s.Contains)))];
            if (asked.Count > 0)
                return [.. asked.Select(Place)];
        }

        return [];
    }

    public void Tell(IReadOnlyList<Outcome> outcomes)
    {
        for (var i = 0; i < outcomes.Count; i++)
            if (outcomes[i] is { IsMet: true, Value: < 0 })
                found.Add(asked[i]);
        if (order == 0 && found.Count > 0)
            Ended = "It comes without any fault.";
    }

    double[] Place(int[] set) => [.. Enumerable.Range(0, count).Select(i => set.Contains(i) ? On : Off)];

    IEnumerable<int[]> Sets(int size) => Sets(size, 0);

    IEnumerable<int[]> Sets(int size, int from)
    {
        if (size == 0)
            yield return [];
        else
            for (var i = from; i <= count - size; i++)
                foreach (var rest in Sets(size - 1, i + 1))
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
