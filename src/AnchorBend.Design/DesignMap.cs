using System.Numerics;

namespace AnchorBend.Design;

/// <summary>
/// The plane of speed against robustness for one plant and one form of controller: at each bandwidth and each peak of the sensitivity the
/// gains with the least load error that have both. Where there are none, the form does not get there.
/// </summary>
/// <param name="Bandwidths">Rising, rad/s.</param>
/// <param name="Peaks">Peaks of the sensitivity, rising; their inverses are evenly spaced, as they are distances to −1.</param>
/// <param name="Places">By row (peak) and column (bandwidth); null where the form does not get.</param>
public sealed record DesignMap(double[] Bandwidths, double[] Peaks, MapPlace?[][] Places)
{
    const int Columns = 36,
        Rows = 27;

    public const double LeastPeak = 1.05,
        MostPeak = 3;

    /// <summary>Peaks that decide how far a map goes.</summary>
    static readonly double[] Looked = [1.3, 1.6, 2, MostPeak];

    /// <summary>How far around a bandwidth a map goes where nothing bounds it.</summary>
    const double Open = 10;

    /// <param name="shape">Form, filter and weights of the controller.</param>
    /// <param name="wanted">Bandwidths that shall lie on the map, rad/s.</param>
    /// <exception cref="DesignException">The plant passes nothing.</exception>
    public static DesignMap Of(PlantResponse plant, PidGains shape, IEnumerable<double> wanted, CancellationToken cancellation = default)
    {
        var (low, high) = Range(plant.Coarse(), shape, [.. wanted], cancellation);
        return Between(plant, shape, low, high, cancellation);
    }

    /// <summary>The map between two bandwidths.</summary>
    public static DesignMap Between(PlantResponse plant, PidGains shape, double low, double high, CancellationToken cancellation = default)
    {
        var coarse = plant.Coarse(2);
        var bandwidths = Enumerable.Range(0, Columns).Select(i => low * Math.Pow(high / low, i / (Columns - 1.0))).ToArray();
        var peaks = Enumerable.Range(0, Rows).Select(i => 1 / (1 / LeastPeak + (1 / MostPeak - 1 / LeastPeak) * i / (Rows - 1))).ToArray();
        var derivatives = BandwidthColumn.Derivatives(coarse, shape, low, high);
        var columns = new MapPlace?[Columns][];
        Parallel.For(0, Columns, new ParallelOptions { CancellationToken = cancellation }, i =>
            columns[i] = new BandwidthColumn(coarse, shape, bandwidths[i]).Places(derivatives, peaks, cancellation)
        );
        return new DesignMap(
            bandwidths,
            peaks,
            [.. Enumerable.Range(0, Rows).Select(row => columns.Select(column => column[row]).ToArray())]
        );
    }

    /// <summary>The best gains at one place, or at the nearest peak that its bandwidth allows; null where no gains of the form are stable
    /// with this bandwidth.</summary>
    public static MapPlace? At(PlantResponse plant, PidGains shape, double bandwidth, double peak, CancellationToken cancellation = default)
    {
        var coarse = plant.Coarse(2);
        var column = new BandwidthColumn(plant, shape, bandwidth);
        var rough = new BandwidthColumn(coarse, shape, bandwidth).Nearest(
            BandwidthColumn.Derivatives(coarse, shape, bandwidth, bandwidth),
            peak,
            cancellation
        );
        if (rough is null)
            return null;
        if (shape.Form != PidForm.PID || rough.Gains.Td == 0)
            return column.Nearest([BandwidthColumn.Derivative.Of(plant, shape, rough.Gains.Td)], peak, cancellation)
                ?? column.Nearest(BandwidthColumn.Derivatives(plant, shape, bandwidth, bandwidth), peak, cancellation);
        // The best derivative time between its neighbours on the grid.
        var best = rough;
        for (var spread = 0.12; spread > 0.01; spread /= 3)
        {
            var centre = best.Gains.Td;
            var times = Enumerable.Range(-2, 5).Select(i => centre * Math.Pow(10, i * spread / 2));
            best = column.Nearest([.. times.Select(td => BandwidthColumn.Derivative.Of(plant, shape, td))], peak, cancellation) ?? best;
        }

        return best;
    }

    /// <summary>From what is far too slow to what is too fast for the form, and what was asked to be seen.</summary>
    static (double Low, double High) Range(PlantResponse plant, PidGains shape, double[] wanted, CancellationToken cancellation)
    {
        var grid = plant.Frequencies.Where(w => w <= plant.Resolved).ToArray();
        double first = grid[0],
            last = grid[^1];
        var reached = new List<double>();
        const int perDecade = 6;
        var count = (int)(perDecade * Math.Log10(last / first));
        for (var i = 0; i <= count; i++)
        {
            var w = SampledPlane.Frequency(first * Math.Pow(10, (double)i / perDecade), shape.Period);
            var derivatives = BandwidthColumn.Derivatives(plant, shape, w, w);
            if (new BandwidthColumn(plant, shape, w).Reaches([.. derivatives.Where((_, k) => k % 3 == 0)], Looked, cancellation))
                reached.Add(w);
        }

        if (reached.Count == 0)
            throw new DesignException(
                "no-map",
                $"No {shape.Form} controller makes this loop stable with a peak of the sensitivity below {MostPeak}.",
                "Take another form, or change the plant."
            );
        var fastest = reached[^1];
        var isOpen = fastest > last / 10;
        var centre = wanted
            .Where(w => w > 0 && double.IsFinite(w))
            .DefaultIfEmpty(PidTuning.SuggestBandwidth(plant.Plant, shape.Period))
            .First();
        var (low, high) = isOpen ? (centre / Open, centre * Open) : (Math.Max(reached[0] / 2, fastest / 40), fastest * 1.8);
        foreach (var w in wanted.Where(w => w > fastest * 1e-4 && w < fastest * 10))
            (low, high) = (Math.Min(low, w / 1.3), Math.Max(high, w * 1.3));
        // Above the highest frequency of samples there are none.
        return shape.Period > 0 ? (low, Math.Min(high, SampledPlane.Highest * Math.PI / shape.Period)) : (low, high);
    }
}
