namespace AnchorBend.Exploration.Search;

/// <summary>
/// The simplex of Nelder and Mead (Computer Journal 7, 1965) with the coefficients for many dimensions of Gao and Han (Comput. Optim. Appl.
/// 51, 2012); places outside the bounds are brought back to them. When it has shrunk it begins anew about the best place, once. For a few
/// factors and smooth outcomes.
/// </summary>
public sealed class SimplexSearch : ISearch
{
    const double FirstSize = 0.15,
        Fine = 1e-8;

    enum Stage
    {
        Corners,
        Reflected,
        Expanded,
        Contracted,
        Shrunk,
    }

    readonly int n;
    readonly double expand,
        contract,
        shrink;
    List<Attempt> corners = [];
    double[][] asked;
    Stage stage = Stage.Corners;
    Attempt? reflected;
    bool isAnew;

    /// <param name="start">The first corner.</param>
    public SimplexSearch(double[] start)
    {
        n = start.Length;
        (expand, contract, shrink) = n < 2 ? (2, 0.5, 0.5) : (1 + 2.0 / n, 0.75 - 1.0 / (2 * n), 1 - 1.0 / n);
        asked = Corners(start, FirstSize);
    }

    double[][] Corners(double[] about, double size) =>
        [
            about,
            .. Enumerable.Range(0, n).Select(d => about.Select((v, i) => i == d ? (v + size <= 1 ? v + size : v - size) : v).ToArray()),
        ];

    public string? Ended { get; private set; }

    public IReadOnlyList<double[]> Ask() => Ended is null ? asked : [];

    double[] Middle => [.. Enumerable.Range(0, n).Select(d => corners.Take(n).Average(c => c.Place[d]))];

    /// <summary>From the middle of all but the worst corner, away from it.</summary>
    double[] Along(double far) => [.. Middle.Select((m, d) => Math.Clamp(m + far * (m - corners[n].Place[d]), 0, 1))];

    public void Tell(IReadOnlyList<Outcome> outcomes)
    {
        Attempt[] tried = [.. asked.Select((p, i) => new Attempt(p, outcomes[i]))];
        switch (stage)
        {
            case Stage.Corners:
                corners = [.. tried];
                break;
            case Stage.Shrunk:
                corners = [corners[0], .. tried];
                break;
            case Stage.Reflected:
                reflected = tried[0];
                if (reflected.Outcome < corners[0].Outcome)
                {
                    Try(Stage.Expanded, Along(expand));
                    return;
                }

                if (!(reflected.Outcome < corners[n - 1].Outcome))
                {
                    Try(Stage.Contracted, Along(reflected.Outcome < corners[n].Outcome ? contract : -contract));
                    return;
                }

                corners[n] = reflected;
                break;
            case Stage.Expanded:
                corners[n] = tried[0].Outcome < reflected!.Outcome ? tried[0] : reflected;
                break;
            case Stage.Contracted:
                var worst = reflected!.Outcome < corners[n].Outcome ? reflected : corners[n];
                if (!(tried[0].Outcome < worst.Outcome))
                {
                    stage = Stage.Shrunk;
                    var best = corners[0].Place;
                    asked = [.. corners.Skip(1).Select(c => best.Select((b, d) => b + shrink * (c.Place[d] - b)).ToArray())];
                    return;
                }

                corners[n] = tried[0];
                break;
        }

        corners = [.. corners.OrderBy(c => c.Outcome)];
        if (Size() > Fine)
            Try(Stage.Reflected, Along(1));
        else if (!isAnew)
        {
            isAnew = true;
            stage = Stage.Corners;
            asked = Corners(corners[0].Place, FirstSize / 5);
        }
        else
            Ended = "Its corners have come to one place.";
    }

    void Try(Stage next, double[] place) => (stage, asked) = (next, [place]);

    double Size() => Enumerable.Range(0, n).Max(d => corners.Max(c => c.Place[d]) - corners.Min(c => c.Place[d]));
}
