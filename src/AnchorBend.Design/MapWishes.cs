namespace AnchorBend.Design;

/// <summary>What is wished of a loop; null for what may be as it likes.</summary>
/// <param name="Sensitivity">Largest peak of |1/(1 + L)|.</param>
/// <param name="NoiseGain">Largest peak of |C/(1 + L)|.</param>
/// <param name="Bandwidth">At least this, rad/s.</param>
/// <param name="PhaseMargin">At least this, degrees.</param>
/// <param name="LoadError">At most this, as <see cref="MapPlace.LoadError"/>.</param>
public sealed record MapWishes(double? Sensitivity, double? NoiseGain, double? Bandwidth, double? PhaseMargin, double? LoadError)
{
    /// <summary>Each wish by itself, by name.</summary>
    public IEnumerable<(string Name, MapWishes Others)> Each()
    {
        if (Sensitivity is not null)
            yield return ("sensitivity", this with { Sensitivity = null });
        if (NoiseGain is not null)
            yield return ("noiseGain", this with { NoiseGain = null });
        if (Bandwidth is not null)
            yield return ("bandwidth", this with { Bandwidth = null });
        if (PhaseMargin is not null)
            yield return ("phaseMargin", this with { PhaseMargin = null });
        if (LoadError is not null)
            yield return ("loadError", this with { LoadError = null });
    }

    /// <summary>Names of the wishes that a loop misses.</summary>
    public IReadOnlyList<string> MissedBy(LoopFigures figures)
    {
        var crossings = figures.Margins.GainCrossings;
        var place = new MapPlace(
            figures.Gains,
            crossings.Select(c => c.Frequency).DefaultIfEmpty(0).Max(),
            figures.Margins.Phase is { } phase ? Math.Abs(phase.Margin) : double.PositiveInfinity,
            figures.Sensitivity.Value,
            figures.NoiseGain.Value,
            figures.LoadIae ?? double.PositiveInfinity
        );
        return [.. Each().Select(e => e.Name).Where(name => figures.IsStable != true || !Alone(name).AreMetBy(place))];
    }

    /// <summary>One wish without the others.</summary>
    MapWishes Alone(string name) =>
        new(
            name == "sensitivity" ? Sensitivity : null,
            name == "noiseGain" ? NoiseGain : null,
            name == "bandwidth" ? Bandwidth : null,
            name == "phaseMargin" ? PhaseMargin : null,
            name == "loadError" ? LoadError : null
        );

    /// <param name="slack">By what share a wish may be missed: what was searched for to some digits meets it.</param>
    public bool AreMetBy(MapPlace place, double slack = 2e-3) =>
        !(place.Sensitivity > Sensitivity * (1 + slack))
        && !(place.NoiseGain > NoiseGain * (1 + slack))
        && !(place.Bandwidth < Bandwidth * (1 - slack))
        && !(place.PhaseMargin < PhaseMargin * (1 - slack))
        && !(place.LoadError > LoadError * (1 + slack));
}

/// <summary>The place on a map with the least load error that meets all wishes, and the wish that stops it from being better.</summary>
/// <param name="Best">Null where no place meets them all.</param>
/// <param name="Stopper">Name of the wish without which the most would be gained; null where none binds.</param>
/// <param name="Without">The best place without that wish.</param>
public sealed record MapAdvice(MapPlace? Best, string? Stopper, MapPlace? Without)
{
    /// <summary>What a wish must gain to be told, as a share of the load error.</summary>
    const double Noticed = 0.01;

    const int MostRounds = 24;

    public static MapAdvice Of(
        PlantResponse plant,
        LoopController shape,
        DesignMap map,
        MapWishes wishes,
        CancellationToken cancellation = default
    )
    {
        var places = map.Places.SelectMany(r => r).OfType<MapPlace>().ToList();
        MapPlace? Seen(MapWishes kept) => places.Where(p => kept.AreMetBy(p, 0)).MinBy(p => p.LoadError);
        var best = Seen(wishes);
        if (best is not null)
            best = Refined(plant, shape, best, wishes, map, cancellation);
        var (stopper, without) = wishes
            .Each()
            .Select(w => (w.Name, Place: Seen(w.Others)))
            .Where(w => w.Place is not null)
            .MinBy(w => w.Place!.LoadError);
        var gains = without is not null && (best is null || without.LoadError < (1 - Noticed) * best.LoadError);
        return new MapAdvice(best, gains ? stopper : null, gains ? without : null);
    }

    /// <summary>Goes on from a cell of the map in ever shorter steps.</summary>
    static MapPlace Refined(
        PlantResponse plant,
        LoopController shape,
        MapPlace best,
        MapWishes wishes,
        DesignMap map,
        CancellationToken cancellation
    )
    {
        // A cell of the map is this wide; distances to −1 are what its rows are even in.
        var faster = Math.Log(map.Bandwidths[1] / map.Bandwidths[0]);
        var nearer = 1 / map.Peaks[0] - 1 / map.Peaks[1];
        for (var round = 0; round < MostRounds && faster > 2e-3; round++)
        {
            var before = best;
            foreach (var (w, d) in ((int, int)[])[(1, 0), (0, -1), (1, -1), (1, 1), (-1, 0), (0, 1)])
            {
                cancellation.ThrowIfCancellationRequested();
                var distance = Math.Clamp(1 / before.Sensitivity + d * nearer, 1 / DesignMap.MostPeak, 1 / DesignMap.LeastPeak);
                // The edge of a wish itself is where the best mostly lies.
                var peak = Math.Min(1 / distance, wishes.Sensitivity ?? double.PositiveInfinity);
                var there = DesignMap.At(plant, shape, before.Bandwidth * Math.Exp(w * faster), peak, cancellation);
                if (there is not null && wishes.AreMetBy(there) && there.LoadError < best.LoadError)
                    best = there;
            }

            if (ReferenceEquals(before, best))
                (faster, nearer) = (faster / 2, nearer / 2);
        }

        return best;
    }
}
