using System.Numerics;

namespace AnchorBend.Design;

/// <summary>
/// All controllers of one form that give a loop one bandwidth. With C = K (1 + D(Td) + x I), where I is the integral part and x = 1/Ti, the
/// bandwidth fixes K, so what is left are the derivative time and x. As x grows from nothing, the phase of C at the bandwidth falls from
/// that of 1 + D towards −90°; along this way the peak of the sensitivity is followed on the plant's grid.
/// </summary>
sealed class BandwidthColumn
{
    /// <summary>Points of the way from no integral part to nothing else.</summary>
    const int Steps = 28;

    /// <summary>The largest ω·Td that is tried; beyond, the filter has taken over.</summary>
    const double Longest = 8;

    /// <summary>A little above the bandwidth, where the gain must have fallen.</summary>
    const double Beyond = 1.005;

    /// <summary>Ratio of derivative times that lie beside one another.</summary>
    const double Beside = 1.5;

    readonly PlantResponse plant;
    readonly PidGains shape;
    readonly double frequency,
        bandwidth;
    readonly Complex here,
        beyond;
    readonly int above;

    /// <param name="shape">Form, filter and weights.</param>
    /// <param name="frequency">The bandwidth, rad/s.</param>
    public BandwidthColumn(PlantResponse plant, PidGains shape, double frequency)
    {
        bandwidth = SampledPlane.Place(frequency, shape.Period);
        (this.plant, this.shape, this.frequency) = (plant, shape, frequency);
        here = plant.Sign * plant.Plant.At(new Complex(0, bandwidth));
        beyond = plant.Sign * plant.Plant.At(new Complex(0, Beyond * bandwidth));
        above = Array.FindIndex(plant.Frequencies, w => w > Beyond * bandwidth);
        if (above < 0)
            above = plant.Frequencies.Length;
    }

    /// <summary>What derivative times do to the plant on the grid: (1 + D) G.</summary>
    public sealed record Derivative(double Td, Complex[] Response)
    {
        public static Derivative Of(PlantResponse plant, PidGains shape, double td)
        {
            var part = Part(shape, td);
            return new Derivative(td, [.. plant.Frequencies.Select((w, i) => (1 + part(w)) * plant.Values[i])]);
        }
    }

    static Func<double, Complex> Part(PidGains shape, double td)
    {
        var only = shape with { Form = PidForm.PD, K = 1, Td = td };
        return w => only.Feedback(new Complex(0, w)) - 1;
    }

    /// <summary>Derivative times that suit bandwidths between two, a unit of the logarithm's twelfth apart.</summary>
    public static List<Derivative> Derivatives(PlantResponse plant, PidGains shape, double low, double high)
    {
        (low, high) = (SampledPlane.Place(low, shape.Period), SampledPlane.Place(high, shape.Period));
        const double perDecade = 9;
        var found = new List<Derivative>();
        if (shape.Form is PidForm.P or PidForm.PI or PidForm.PID)
            found.Add(Derivative.Of(plant, shape, 0));
        if (shape.Form is PidForm.P or PidForm.PI)
            return found;
        var count = (int)Math.Ceiling(perDecade * Math.Log10(Longest / 0.03 * high / low));
        for (var i = 0; i <= count; i++)
            found.Add(Derivative.Of(plant, shape, 0.03 / high * Math.Pow(10, i / perDecade)));
        return found;
    }

    /// <summary>Gains on the way, and their peaks.</summary>
    readonly record struct Trial(double K, double X, Derivative Derivative, double Sensitivity, bool Crosses, double NoiseGain)
    {
        public double Distance => 1 / Sensitivity;
    }

    bool Suits(Derivative d) => d.Td == 0 || bandwidth * d.Td <= Longest && bandwidth * d.Td >= 0.02;

    /// <summary>At a share of the way; 0 is without an integral part.</summary>
    Trial At(Derivative derivative, double share)
    {
        var rest = 1 + Part(shape, derivative.Td)(bandwidth);
        var x = 0.0;
        if (share > 0)
        {
            // The phase is that of 1 + D + x I: Im((1 + D + x I) e^(−jθ)) = 0.
            var integral = shape.Integral(bandwidth);
            var turned = Complex.FromPolarCoordinates(1, -(rest.Phase - share * (rest.Phase - integral.Phase)));
            x = -(rest * turned).Imaginary / (integral * turned).Imaginary;
        }

        var k = 1 / ((rest + x * shape.Integral(bandwidth)) * here).Magnitude;
        return Judged(derivative, k, x);
    }

    Trial Judged(Derivative derivative, double k, double x)
    {
        var (frequencies, values, rest) = (plant.Frequencies, plant.Values, derivative.Response);
        var (least, noise) = (double.PositiveInfinity, 0.0);
        var next = 1 + Part(shape, derivative.Td)(Beyond * bandwidth) + x * shape.Integral(Beyond * bandwidth);
        var real = shape.Integral(1).Real;
        var crosses = k * (next * beyond).Magnitude >= 1;
        var (second, before) = (double.PositiveInfinity, double.PositiveInfinity);
        for (var i = 0; i < frequencies.Length; i++)
        {
            var w = frequencies[i];
            var g = values[i];
            // L = K ((1 + D) G + x I G) with I = r + 1/(jω).
            var re = k * (rest[i].Real + x * (real * g.Real + g.Imaginary / w));
            var im = k * (rest[i].Imaginary + x * (real * g.Imaginary - g.Real / w));
            var gain = re * re + im * im;
            var distance = (1 + re) * (1 + re) + im * im;
            if (i >= above && gain >= 1)
                crosses = true;
            if (w > plant.Resolved)
                distance = gain >= 1 ? 0 : (1 - Math.Sqrt(gain)) * (1 - Math.Sqrt(gain));
            // Between points |1 + L|² is nearly a parabola, as L goes nearly straight.
            if (before <= second && before <= distance && i > 1)
                least = Math.Min(least, plant.Lowest(i, second, before, distance));
            (second, before) = (before, distance);
            least = Math.Min(least, distance);
            noise = Math.Max(noise, gain / (Squared(g) * distance));
        }

        return new Trial(k, x, derivative, 1 / Math.Sqrt(least), crosses, Math.Sqrt(noise));
    }

    static double Squared(Complex z) => z.Real * z.Real + z.Imaginary * z.Imaginary;

    /// <summary>Whether it is of the form and has the bandwidth.</summary>
    bool Counts(Trial t) =>
        !t.Crosses && (t.X > 0 || !shape.HasIntegral) && t.X * shape.ShortestTi(t.Derivative.Td) <= 1 && double.IsFinite(t.K);

    bool IsStable(Trial trial)
    {
        var values = new Complex[plant.Frequencies.Length];
        for (var i = 0; i < values.Length; i++)
            values[i] = trial.K * (trial.Derivative.Response[i] / plant.Values[i] + trial.X * shape.Integral(plant.Frequencies[i]));
        return plant.IsStable(values, trial.X > 0 ? 1 : 0);
    }

    /// <summary>The gains with each of some peaks that have the least load error; null where there are none.</summary>
    /// <param name="peaks">Peaks of the sensitivity.</param>
    public MapPlace?[] Places(IReadOnlyList<Derivative> derivatives, double[] peaks, CancellationToken cancellation)
    {
        var found = peaks.Select(_ => new List<Trial>()).ToArray();
        foreach (var (from, to, between) in Ways(derivatives))
        {
            cancellation.ThrowIfCancellationRequested();
            for (var row = 0; row < peaks.Length; row++)
                if ((from.Distance - 1 / peaks[row]) * (to.Distance - 1 / peaks[row]) <= 0)
                    found[row].Add(Between(from, to, between, 1 / peaks[row]));
        }

        return [.. found.Select(trials => Best(trials, derivatives.Count > 8, cancellation))];
    }

    /// <summary>Whether any of some peaks can be had.</summary>
    public bool Reaches(IReadOnlyList<Derivative> derivatives, double[] peaks, CancellationToken cancellation)
    {
        foreach (var (from, to, between) in Ways(derivatives))
        {
            cancellation.ThrowIfCancellationRequested();
            foreach (var peak in peaks)
                if (
                    (from.Distance - 1 / peak) * (to.Distance - 1 / peak) <= 0
                    && Between(from, to, between, 1 / peak) is var trial
                    && Counts(trial)
                    && IsStable(trial)
                )
                    return true;
        }

        return false;
    }

    /// <summary>The best gains with a peak, or with the nearest peak that this bandwidth allows.</summary>
    public MapPlace? Nearest(IReadOnlyList<Derivative> derivatives, double peak, CancellationToken cancellation)
    {
        if (Places(derivatives, [peak], cancellation)[0] is { } there)
            return there;
        var ends = Ways(derivatives)
            .SelectMany(w => (Trial[])[w.From, w.To])
            .Where(t => Counts(t) && double.IsFinite(t.Sensitivity))
            .OrderBy(t => Math.Abs(t.Distance - 1 / peak));
        foreach (var trial in ends)
        {
            cancellation.ThrowIfCancellationRequested();
            if (IsStable(trial))
                return Place(trial, LoadError(trial, double.PositiveInfinity));
        }

        return null;
    }

    /// <summary>Neighbours on all ways, and what lies between them at a share.</summary>
    IEnumerable<(Trial From, Trial To, Func<double, Trial> Between)> Ways(IReadOnlyList<Derivative> derivatives)
    {
        if (shape.HasIntegral)
        {
            foreach (var derivative in derivatives.Where(Suits))
            {
                var before = At(derivative, 0);
                for (var i = 1; i < Steps; i++)
                {
                    double start = Share(i - 1),
                        end = Share(i);
                    var now = At(derivative, end);
                    yield return (before, now, s => At(derivative, start + s * (end - start)));
                    before = now;
                }
            }

            yield break;
        }

        // Without an integral part the derivative time is the way.
        var along = derivatives.Where(Suits).OrderBy(d => d.Td).ToList();
        if (along.Count == 1)
        {
            var only = At(along[0], 0);
            yield return (only, only, _ => only);
        }

        for (var i = 1; i < along.Count; i++)
        {
            var (first, second) = (along[i - 1], along[i]);
            yield return (At(first, 0), At(second, 0), s => At(Derivative.Of(plant, shape, first.Td + s * (second.Td - first.Td)), 0));
        }
    }

    /// <summary>Closer where there is little of the integral part.</summary>
    static double Share(int i) => Math.Pow((double)i / Steps, 1.5);

    /// <summary>Where the distance to −1 is a wished one, by the secant within two neighbours.</summary>
    static Trial Between(Trial from, Trial to, Func<double, Trial> between, double distance)
    {
        var (low, high) = (0.0, 1.0);
        var (atLow, atHigh) = (from.Distance - distance, to.Distance - distance);
        var best = Math.Abs(atLow) < Math.Abs(atHigh) ? from : to;
        for (var i = 0; i < 5 && Math.Abs(best.Distance - distance) > 1e-4; i++)
        {
            var at = atHigh == atLow ? 0.5 : low - atLow * (high - low) / (atHigh - atLow);
            // Halfway where the secant stands still.
            if (i % 3 == 2 || !(at > low && at < high))
                at = (low + high) / 2;
            best = between(at);
            var off = best.Distance - distance;
            if (off * atLow > 0)
                (low, atLow) = (at, off);
            else
                (high, atHigh) = (at, off);
        }

        return best;
    }

    /// <summary>The stable one with the least load error; that error is never below 1/ki, so most are left out unseen.</summary>
    /// <param name="few">Whether derivative times beside one that was looked at are left out.</param>
    MapPlace? Best(List<Trial> trials, bool few, CancellationToken cancellation)
    {
        MapPlace? best = null;
        var seen = new List<double>();
        foreach (var trial in trials.Where(Counts).OrderByDescending(t => t.K * t.X))
        {
            cancellation.ThrowIfCancellationRequested();
            if (best is not null && (!shape.HasIntegral || 1 / (trial.K * trial.X) >= best.LoadError))
                break;
            var td = trial.Derivative.Td;
            if (few && seen.Exists(t => Math.Max(t, td) < Beside * Math.Min(t, td)) || !IsStable(trial))
                continue;
            seen.Add(td);
            var error = LoadError(trial, best?.LoadError ?? double.PositiveInfinity);
            if (double.IsFinite(error) && error < (best?.LoadError ?? double.PositiveInfinity))
                best = Place(trial, error);
        }

        return best;
    }

    PidGains GainsOf(Trial trial) =>
        shape with
        {
            K = plant.Sign * trial.K,
            Ti = trial.X > 0 ? 1 / trial.X : shape.Ti,
            Td = trial.Derivative.Td,
        };

    double LoadError(Trial trial, double giveUp)
    {
        var gains = GainsOf(trial);
        if (shape.HasIntegral)
            return ErrorIntegral.Load(gains, plant.Plant, 1 / bandwidth, giveUp, rough: true);
        // What stays: far below all that moves.
        return gains.LoadedLoop(plant.Plant).At(new Complex(0, plant.Frequencies[0])).Magnitude;
    }

    MapPlace Place(Trial trial, double error)
    {
        var loop = (1 + Part(shape, trial.Derivative.Td)(bandwidth) + trial.X * shape.Integral(bandwidth)) * here;
        return new(GainsOf(trial), frequency, (-loop).Phase * 180 / Math.PI, trial.Sensitivity, trial.NoiseGain, error);
    }
}
