using AnchorBend.Exploration.Designs;

namespace AnchorBend.Exploration.Search;

/// <summary>
/// Differential evolution, current to one of the best, with weights and crossover rates that adapt to what succeeds (JADE: Zhang and
/// Sanderson, IEEE Trans. Evol. Comput. 13, 2009). For many valleys, integers and lists.
/// </summary>
public sealed class DifferentialEvolution : ISearch
{
    const double Best = 0.1,
        Learning = 0.1;

    /// <summary>All places this near to one another are one.</summary>
    const double Together = 1e-7;

    readonly int dimensions,
        size;
    readonly SeededDraw draw;
    readonly List<Attempt> population = [];
    double[][] asked = [];
    (double Weight, double Rate)[] used = [];
    double weight = 0.5,
        rate = 0.5;

    /// <param name="start">A place to begin with, as the present values; null for none.</param>
    public DifferentialEvolution(int dimensions, ulong seed, double[]? start, int? size = null)
    {
        (this.dimensions, draw) = (dimensions, new SeededDraw(seed));
        this.size = size ?? Math.Max(12, 8 * dimensions);
        var places = StudyDesign.LatinHypercube(dimensions, this.size, draw);
        if (start is not null)
            places[0] = start;
        asked = places;
    }

    public string? Ended { get; private set; }

    public IReadOnlyList<double[]> Ask() => Ended is null ? asked : [];

    public void Tell(IReadOnlyList<Outcome> outcomes)
    {
        if (population.Count == 0)
            population.AddRange(asked.Select((p, i) => new Attempt(p, outcomes[i])));
        else
            Select(outcomes);
        if (Spread() < Together)
            Ended = "All of the population has come to one place.";
        else
            asked = Next();
    }

    void Select(IReadOnlyList<Outcome> outcomes)
    {
        var (weights, rates) = (new List<double>(), new List<double>());
        for (var i = 0; i < size; i++)
        {
            if (outcomes[i] > population[i].Outcome)
                continue;
            if (outcomes[i] < population[i].Outcome)
            {
                weights.Add(used[i].Weight);
                rates.Add(used[i].Rate);
            }

            population[i] = new Attempt(asked[i], outcomes[i]);
        }

        if (weights.Count == 0)
            return;
        // The mean of Lehmer leans to large steps.
        weight = (1 - Learning) * weight + Learning * weights.Sum(w => w * w) / weights.Sum();
        rate = (1 - Learning) * rate + Learning * rates.Average();
    }

    double[][] Next()
    {
        var ranked = Enumerable.Range(0, size).OrderBy(i => population[i].Outcome).ToArray();
        var leaders = Math.Max(2, (int)(Best * size));
        used = [.. Enumerable.Range(0, size).Select(_ => (Weight(), Math.Clamp(rate + 0.1 * Normal(), 0, 1)))];
        return
        [
            .. Enumerable
                .Range(0, size)
                .Select(i =>
                {
                    var (w, r) = used[i];
                    var leader = population[ranked[draw.Below(leaders)]].Place;
                    var (one, other) = (Other(i, -1), 0);
                    other = Other(i, one);
                    var own = population[i].Place;
                    var kept = draw.Below(dimensions);
                    return Enumerable
                        .Range(0, dimensions)
                        .Select(d =>
                        {
                            if (d != kept && draw.Share() >= r)
                                return own[d];
                            var v = own[d] + w * (leader[d] - own[d]) + w * (population[one].Place[d] - population[other].Place[d]);
                            // Beyond a bound, halfway to it.
                            return v < 0 ? own[d] / 2
                                : v > 1 ? (1 + own[d]) / 2
                                : v;
                        })
                        .ToArray();
                }),
        ];
    }

    int Other(int than, int and)
    {
        int i;
        do i = draw.Below(size);
        while (i == than || i == and);
        return i;
    }

    /// <summary>Drawn about the weight from the distribution of Cauchy.</summary>
    double Weight()
    {
        double w;
        do w = weight + 0.1 * Math.Tan(Math.PI * (draw.Share() - 0.5));
        while (w <= 0);
        return Math.Min(w, 1);
    }

    double Normal() => Math.Sqrt(-2 * Math.Log(1 - draw.Share())) * Math.Cos(2 * Math.PI * draw.Share());

    double Spread() => Enumerable.Range(0, dimensions).Max(d => population.Max(p => p.Place[d]) - population.Min(p => p.Place[d]));
}
