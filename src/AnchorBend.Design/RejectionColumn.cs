using System.Numerics;

namespace AnchorBend.Design;

/// <summary>
/// All disturbance-rejecting controllers of one order and ratio of bandwidths that give a loop one bandwidth: for each bandwidth of the
/// controller's own the input gain, by which its whole feedback is divided, is what makes the loop's gain one there; along that way the
/// peak of the sensitivity is followed on the plant's grid.
/// </summary>
sealed class RejectionColumn(PlantResponse plant, RejectionGains shape, double frequency) : IMapColumn
{
    /// <summary>Points of the way, from so much below the loop's bandwidth to so much above.</summary>
    const int Steps = 40;

    const double Below = 0.02,
        Above = 50;

    /// <summary>A little above the bandwidth, where the gain must have fallen.</summary>
    const double Beyond = 1.005;

    readonly double bandwidth = SampledPlane.Place(frequency, shape.Period);
    readonly double gain = plant.Plant.At(new Complex(0, SampledPlane.Place(frequency, shape.Period))).Magnitude;

    /// <param name="Crosses">Whether the loop's gain comes back to one above.</param>
    sealed record Trial(RejectionGains Gains, Complex[] Controller, double Sensitivity, double NoiseGain, bool Crosses)
    {
        public double Distance => 1 / Sensitivity;
    }

    Trial At(double own)
    {
        var with = shape with { InputGain = 1, Bandwidth = own };
        return Judged(with with { InputGain = plant.Sign * with.Feedback(new Complex(0, bandwidth)).Magnitude * gain });
    }

    Trial Judged(RejectionGains gains)
    {
        var transfer = gains.Transfer();
        var (least, noise, crosses) = (double.PositiveInfinity, 0.0, false);
        var (second, before) = (double.PositiveInfinity, double.PositiveInfinity);
        var controller = new Complex[plant.Frequencies.Length];
        for (var i = 0; i < controller.Length; i++)
        {
            var w = plant.Frequencies[i];
            // The values of the plant have its sign turned where that is what the controller's gain needs.
            controller[i] = plant.Sign * transfer(new Complex(0, w));
            var loop = controller[i] * plant.Values[i];
            var (size, distance) = (Squared(loop), Squared(1 + loop));
            crosses |= w > Beyond * bandwidth && size >= 1;
            if (w > plant.Resolved)
                distance = size >= 1 ? 0 : (1 - Math.Sqrt(size)) * (1 - Math.Sqrt(size));
            if (before <= second && before <= distance && i > 1)
                least = Math.Min(least, plant.Lowest(i, second, before, distance));
            (second, before) = (before, distance);
            least = Math.Min(least, distance);
            noise = Math.Max(noise, Squared(controller[i]) / distance);
        }

        return new Trial(gains, controller, 1 / Math.Sqrt(least), Math.Sqrt(noise), crosses);
    }

    static double Squared(Complex z) => z.Real * z.Real + z.Imaginary * z.Imaginary;

    bool Counts(Trial t) => !t.Crosses && double.IsFinite(t.Sensitivity) && plant.IsStable(t.Controller, 1);

    IEnumerable<(double FromOwn, Trial From, double ToOwn, Trial To)> Ways(CancellationToken cancellation)
    {
        double Own(int i) => frequency * Below * Math.Pow(Above / Below, i / (Steps - 1.0));
        var before = At(Own(0));
        for (var i = 1; i < Steps; i++)
        {
            cancellation.ThrowIfCancellationRequested();
            var now = At(Own(i));
            yield return (Own(i - 1), before, Own(i), now);
            before = now;
        }
    }

    public MapPlace?[] Places(double[] peaks, CancellationToken cancellation)
    {
        var found = peaks.Select(_ => new List<Trial>()).ToArray();
        foreach (var (fromOwn, from, toOwn, to) in Ways(cancellation))
            for (var row = 0; row < peaks.Length; row++)
                if ((from.Distance - 1 / peaks[row]) * (to.Distance - 1 / peaks[row]) <= 0)
                    found[row].Add(Between(fromOwn, from, toOwn, to, 1 / peaks[row]));
        return [.. found.Select(trials => Best(trials, cancellation))];
    }

    public bool Reaches(double[] peaks, CancellationToken cancellation) => Places(peaks, cancellation).Any(p => p is not null);

    public MapPlace? Nearest(double peak, CancellationToken cancellation)
    {
        if (Places([peak], cancellation)[0] is { } there)
            return there;
        return Ways(cancellation)
            .SelectMany(w => (Trial[])[w.From, w.To])
            .OrderBy(t => Math.Abs(t.Distance - 1 / peak))
            .Where(Counts)
            .Select(t => Place(t, LoadError(t, double.PositiveInfinity)))
            .FirstOrDefault();
    }

    /// <summary>Where the distance to −1 is a wished one, by halving with a look at the chord.</summary>
    Trial Between(double low, Trial atLow, double high, Trial atHigh, double distance)
    {
        var best = Math.Abs(atLow.Distance - distance) < Math.Abs(atHigh.Distance - distance) ? atLow : atHigh;
        for (var i = 0; i < 7 && Math.Abs(best.Distance - distance) > 1e-4; i++)
        {
            var share = (distance - atLow.Distance) / (atHigh.Distance - atLow.Distance);
            if (i % 3 == 2 || !(share > 0 && share < 1))
                share = 0.5;
            var own = low * Math.Pow(high / low, share);
            best = At(own);
            if ((best.Distance - distance) * (atLow.Distance - distance) > 0)
                (low, atLow) = (own, best);
            else
                (high, atHigh) = (own, best);
        }

        return best;
    }

    /// <summary>The stable one with the least load error; that error is never below 1/ki, so most are left out unseen.</summary>
    MapPlace? Best(List<Trial> trials, CancellationToken cancellation)
    {
        MapPlace? best = null;
        foreach (var trial in trials.OrderByDescending(t => Math.Abs(t.Gains.IntegralGain)))
        {
            cancellation.ThrowIfCancellationRequested();
            if (best is not null && 1 / Math.Abs(trial.Gains.IntegralGain) >= best.LoadError)
                break;
            if (!Counts(trial))
                continue;
            var error = LoadError(trial, best?.LoadError ?? double.PositiveInfinity);
            if (double.IsFinite(error) && error < (best?.LoadError ?? double.PositiveInfinity))
                best = Place(trial, error);
        }

        return best;
    }

    double LoadError(Trial trial, double giveUp) => ErrorIntegral.Load(trial.Gains, plant.Plant, 1 / bandwidth, giveUp, rough: true);

    MapPlace Place(Trial trial, double error)
    {
        var s = new Complex(0, bandwidth);
        var loop = trial.Gains.Feedback(s) * plant.Plant.At(s);
        return new(trial.Gains, frequency, (-loop).Phase * 180 / Math.PI, trial.Sensitivity, trial.NoiseGain, error);
    }
}
