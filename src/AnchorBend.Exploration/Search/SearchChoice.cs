namespace AnchorBend.Exploration.Search;

public enum SearchMethod
{
    Automatic,
    Simplex,
    CovarianceAdaptation,
    DifferentialEvolution,
    QuasiNewton,
}

/// <summary>A method of search for a problem, and a sentence why.</summary>
public sealed record SearchChoice(ISearch Search, SearchMethod Method, string Why)
{
    const int Few = 4,
        Many = 30;

    /// <param name="wholes">Factors of whole numbers and lists.</param>
    /// <param name="start">The present values as shares; the middle where there are none.</param>
    /// <param name="runs">How many runs may be made.</param>
    public static SearchChoice Of(SearchMethod method, int dimensions, int wholes, double[]? start, int runs, ulong seed)
    {
        if (dimensions < 1)
            throw new ExplorationException("factors", "Nothing varies in this search.", "Add a parameter with bounds.");
        double[] from = start ?? [.. Enumerable.Repeat(0.5, dimensions)];
        (SearchMethod, string) Automatic() =>
            wholes > 0
                ? (SearchMethod.DifferentialEvolution, "Some factors are whole numbers or lists, which only a population gets across.")
            : dimensions <= Few && runs < 60 * dimensions
                ? (SearchMethod.Simplex, "There are few factors and few runs, and a simplex makes the most of each.")
            : dimensions > Many ? (SearchMethod.QuasiNewton, "There are many factors, and slopes lead through them with the fewest runs.")
            : (SearchMethod.CovarianceAdaptation, "Factors are numbers, and an adapted strategy stands valleys, noise and failed runs.");
        var (chosen, why) = method == SearchMethod.Automatic ? Automatic() : (method, "It was asked for.");
        return new SearchChoice(
            chosen switch
            {
                SearchMethod.Simplex => new SimplexSearch(from),
                SearchMethod.CovarianceAdaptation => new CovarianceAdaptation(dimensions, seed, start),
                SearchMethod.DifferentialEvolution => new DifferentialEvolution(dimensions, seed, start),
                _ => new QuasiNewton(from),
            },
            chosen,
            why
        );
    }
}
