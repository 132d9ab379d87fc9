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
    public static DesignMap Of(
        PlantResponse plant,
        LoopController shape,
        IEnumerable<double> wanted,
        CancellationToken cancellation = default
    )
    {
        var (low, high) = Range(plant.Coarse(), shape, [.. wanted], cancellation);
        return Between(plant, shape, low, high, cancellation);
    }

    /// <summary>The map between two bandwidths.</summary>
    public static DesignMap Between(
        PlantResponse plant,
        LoopController shape,
        double low,
        double high,
        CancellationToken cancellation = default
    )
    {
        var coarse = plant.Coarse(2);
        var bandwidths = Enumerable.Range(0, Columns).Select(i => low * Math.Pow(high / low, i / (Columns - 1.0))).ToArray();
        var peaks = Enumerable.Range(0, Rows).Select(i => 1 / (1 / LeastPeak + (1 / MostPeak - 1 / LeastPeak) * i / (Rows - 1))).ToArray();
        var column = ColumnsOf(coarse, shape, low, high);
        var columns = new MapPlace?[Columns][];
        Parallel.For(0, Columns, new ParallelOptions { CancellationToken = cancellation }, i =>
            columns[i] = column(bandwidths[i]).Places(peaks, cancellation)
        );
        return new DesignMap(
            bandwidths,
            peaks,
            [.. Enumerable.Range(0, Rows).Select(row => columns.Select(column => column[row]).ToArray())]
        );
    }

    /// <summary>The best gains at one place, or at the nearest peak that its bandwidth allows; null where no gains of the form are stable
    /// with this bandwidth.</summary>
    public static MapPlace? At(
        PlantResponse plant,
        LoopController shape,
        double bandwidth,
        double peak,
        CancellationToken cancellation = default
    )
    {
        if (shape is not PidGains pid)
            return ColumnsOf(plant, shape, bandwidth, bandwidth)(bandwidth).Nearest(peak, cancellation);
        var coarse = plant.Coarse(2);
        var column = new BandwidthColumn(plant, pid, bandwidth);
        var rough = new BandwidthColumn(coarse, pid, bandwidth).Nearest(
            BandwidthColumn.Derivatives(coarse, pid, bandwidth, bandwidth),
            peak,
            cancellation
        );
        if (rough is not { Gains: PidGains found })
            return null;
        if (pid.Form != PidForm.PID || found.Td == 0)
            return column.Nearest([BandwidthColumn.Derivative.Of(plant, pid, found.Td)], peak, cancellation)
                ?? column.Nearest(BandwidthColumn.Derivatives(plant, pid, bandwidth, bandwidth), peak, cancellation);
        // The best derivative time between its neighbours on the grid.
        var best = rough;
        for (var spread = 0.12; spread > 0.01; spread /= 3)
        {
            var centre = ((PidGains)best.Gains).Td;
            var times = Enumerable.Range(-2, 5).Select(i => centre * Math.Pow(10, i * spread / 2));
            best = column.Nearest([.. times.Select(td => BandwidthColumn.Derivative.Of(plant, pid, td))], peak, cancellation) ?? best;
        }

        return best;
    }

    /// <summary>The columns of a form between two bandwidths.</summary>
    static Func<double, IMapColumn> ColumnsOf(PlantResponse plant, LoopController shape, double low, double high)
    {
        switch (shape)
        {
            case PidGains pid:
                var derivatives = BandwidthColumn.Derivatives(plant, pid, low, high);
                return w => new PidColumn(new BandwidthColumn(plant, pid, w), derivatives);
            case RejectionGains rejection:
                return w => new RejectionColumn(plant, rejection, w);
            default:
                throw new ArgumentException($"No map of '{shape.Name}' is known.", nameof(shape));
        }
    }

    /// <summary>A column with the derivative times that are tried in it.</summary>
    sealed record PidColumn(BandwidthColumn Column, List<BandwidthColumn.Derivative> Derivatives) : IMapColumn
    {
        public MapPlace?[] Places(double[] peaks, CancellationToken cancellation) => Column.Places(Derivatives, peaks, cancellation);

        /// <remarks>A look, with every third of them.</remarks>
        public bool Reaches(double[] peaks, CancellationToken cancellation) =>
            Column.Reaches([.. Derivatives.Where((_, k) => k % 3 == 0)], peaks, cancellation);

        public MapPlace? Nearest(double peak, CancellationToken cancellation) => Column.Nearest(Derivatives, peak, cancellation);
    }

    /// <summary>From what is far too slow to what is too fast for the form, and what was asked to be seen.</summary>
    static (double Low, double High) Range(PlantResponse plant, LoopController shape, double[] wanted, CancellationToken cancellation)
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
            if (ColumnsOf(plant, shape, w, w)(w).Reaches(Looked, cancellation))
                reached.Add(w);
        }

        if (reached.Count == 0)
            throw new DesignException(
                "no-map",
                $"No {shape.Told} makes this loop stable with a peak of the sensitivity below {MostPeak}.",
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
