using System.Numerics;

namespace AnchorBend.Design;

/// <summary>A point of an open loop's gain that is wished.</summary>
/// <param name="Frequency">rad/s.</param>
/// <param name="Gain">|L|, as a factor.</param>
public sealed record DrawnPoint(double Frequency, double Gain);

/// <summary>
/// The gains of a form whose open loop comes nearest to a drawn gain, by least squares of the logarithm of |L| along straight lines
/// between its points; what a controller as a whole is multiplied with follows in closed form (the mean of what is left), the other gains
/// from a grid and polls in ever shorter steps. Only stable loops count where there are any.
/// </summary>
/// <param name="Gains">With the sign that the plant asks for.</param>
/// <param name="Off">Root of the mean square of what is left, dB.</param>
public sealed record DrawnLoop(LoopController Gains, double Off, bool IsStable)
{
    const int Samples = 60,
        Grid = 26,
        Judged = 200;

    /// <summary>How far the times of a controller go beyond the drawn frequencies.</summary>
    const double Beyond = 30;

    /// <param name="points">Two or more, at different frequencies.</param>
    /// <exception cref="DesignException">Too few points, or nothing of the form comes out.</exception>
    public static DrawnLoop Nearest(
        PlantResponse plant,
        LoopController shape,
        IReadOnlyList<DrawnPoint> points,
        CancellationToken cancellation = default
    )
    {
        var drawn = points.OrderBy(p => p.Frequency).ToList();
        if (drawn.Any(p => !(p.Frequency > 0 && double.IsFinite(p.Frequency) && p.Gain > 0 && double.IsFinite(p.Gain))))
            throw new DesignException("drawn", "A drawn point is no frequency and gain.", "Draw it anew.");
        if (drawn.Count < 2 || drawn[^1].Frequency < drawn[0].Frequency * 1.01)
            throw new DesignException("drawn", "One point is no course.", "Draw another one at another frequency.");
        if (shape.Period > 0 && drawn[^1].Frequency >= SampledPlane.Highest * Math.PI / shape.Period)
            throw new DesignException(
                "drawn",
                FormattableString.Invariant($"Samples have no frequencies above {Math.PI / shape.Period:G3} rad/s."),
                "Take the points there away."
            );
        return new Search(plant, shape, drawn, cancellation).Run();
    }

    sealed class Search
    {
        readonly PlantResponse plant;
        readonly LoopController shape;
        readonly CancellationToken cancellation;
        readonly double low,
            high;

        /// <summary>Places of the samples on the axis, the plant's gain there and the wished one, both as logarithms.</summary>
        readonly (Complex S, double Plant, double Wish)[] samples;

        public Search(PlantResponse plant, LoopController shape, List<DrawnPoint> drawn, CancellationToken cancellation)
        {
            (this.plant, this.shape, this.cancellation) = (plant, shape, cancellation);
            (low, high) = (drawn[0].Frequency, drawn[^1].Frequency);
            samples =
            [
                .. Enumerable
                    .Range(0, Samples)
                    .Select(i => low * Math.Pow(high / low, i / (Samples - 1.0)))
                    .Select(w =>
                    {
                        var s = new Complex(0, SampledPlane.Place(w, shape.Period));
                        return (s, Math.Log(plant.Plant.At(s).Magnitude), Wished(drawn, w));
                    })
                    .Where(p => double.IsFinite(p.Item2)),
            ];
            if (samples.Length < Samples / 2)
                throw new DesignException("drawn", "The plant passes nothing where the loop is drawn.", "Draw it at other frequencies.");
        }

        static double Wished(List<DrawnPoint> drawn, double w)
        {
            var i = Math.Clamp(drawn.FindIndex(p => p.Frequency >= w), 1, drawn.Count - 1);
            var (a, b) = (drawn[i - 1], drawn[i]);
            var share = a.Frequency == b.Frequency ? 0 : Math.Log(w / a.Frequency) / Math.Log(b.Frequency / a.Frequency);
            return Math.Log(a.Gain) + share * Math.Log(b.Gain / a.Gain);
        }

        /// <summary>Gains before they are scaled, by the logarithms of what is free in them.</summary>
        LoopController Unscaled(double[] free) =>
            shape switch
            {
                PidGains pid => pid with
                {
                    K = 1,
                    Ti = pid.HasIntegral ? Math.Exp(free[0]) : pid.Ti,
                    Td = pid.Form is PidForm.PD or PidForm.PID ? Math.Exp(free[^1]) : 0,
                },
                RejectionGains r => r with { InputGain = 1, Bandwidth = Math.Exp(free[0]) },
                _ => throw new ArgumentException($"'{shape.Name}' cannot be drawn.", nameof(shape)),
            };

        int Free =>
            shape switch
            {
                PidGains { Form: PidForm.P } => 0,
                PidGains { Form: PidForm.PID } => 2,
                _ => 1,
            };

        (double Scale, double Off) Fitted(double[] free)
        {
            var controller = Unscaled(free);
            var transfer = controller is RejectionGains r ? r.Transfer() : controller.Feedback;
            var left = samples.Select(p => p.Wish - p.Plant - Math.Log(transfer(p.S).Magnitude)).ToArray();
            var mean = left.Average();
            return (mean, left.Sum(l => (l - mean) * (l - mean)));
        }

        LoopController Scaled(double[] free)
        {
            var scale = plant.Sign * Math.Exp(Fitted(free).Scale);
            return LoopDesign.Written(
                Unscaled(free) switch
                {
                    PidGains pid => pid with { K = scale },
                    RejectionGains r => r with { InputGain = 1 / scale },
                    var other => other,
                }
            );
        }

        bool IsStable(double[] free)
        {
            var controller = Scaled(free);
            var transfer = controller is RejectionGains r ? r.Transfer() : controller.Feedback;
            return plant.IsStable(
                [.. plant.Frequencies.Select(w => plant.Sign * transfer(new Complex(0, w)))],
                controller.HasIntegral ? 1 : 0
            );
        }

        IEnumerable<double[]> Starts()
        {
            var (first, last) = (Math.Log(1 / (high * Beyond)), Math.Log(Beyond / low));
            double At(int i) => first + (last - first) * i / (Grid - 1);
            return Free switch
            {
                0 =>
                [
                    [],
                ],
                1 => Enumerable.Range(0, Grid).Select(i => (double[])[shape is RejectionGains ? -At(i) : At(i)]),
                _ => Enumerable.Range(0, Grid).SelectMany(i => Enumerable.Range(0, Grid).Select(j => (double[])[At(i), At(j)])),
            };
        }

        double[] Refined(double[] free)
        {
            var best = Fitted(free).Off;
            for (var step = 0.3; step > 1e-4; )
            {
                cancellation.ThrowIfCancellationRequested();
                var better = false;
                for (var i = 0; i < free.Length; i++)
                    foreach (var way in (double[])[step, -step])
                    {
                        var there = (double[])free.Clone();
                        there[i] += way;
                        if (Fitted(there).Off is var off && off < best)
                            (free, best, better) = (there, off, true);
                    }

                step = better ? step : step / 2;
            }

            return free;
        }

        public DrawnLoop Run()
        {
            var order = Starts().Select(f => (Free: f, Fitted(f).Off)).Where(f => double.IsFinite(f.Off)).OrderBy(f => f.Off).ToList();
            if (order.Count == 0)
                throw new DesignException("drawn", $"No {shape.Told} comes near what is drawn.", "Draw it at other frequencies.");
            var best = Refined(order[0].Free);
            var stable = IsStable(best);
            if (!stable)
                foreach (var (free, _) in order.Take(Judged))
                {
                    cancellation.ThrowIfCancellationRequested();
                    if (!IsStable(free))
                        continue;
                    (best, stable) = (free, true);
                    if (Refined(free) is var refined && IsStable(refined))
                        best = refined;
                    break;
                }

            return new DrawnLoop(Scaled(best), 20 / Math.Log(10) * Math.Sqrt(Fitted(best).Off / samples.Length), stable);
        }
    }
}
