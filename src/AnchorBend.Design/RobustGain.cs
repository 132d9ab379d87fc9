using System.Numerics;

namespace AnchorBend.Design;

/// <summary>
/// The largest gain of P and PD under limits, for one plant or for all of several: without an integral part a constant load leaves an error
/// behind, and the largest gain makes it least. The derivative time is searched on a grid, then between its points by the golden section
/// (Press et al., "Numerical Recipes", section 10.2); for each the possible gains are known exactly (<see cref="GainRange"/>).
/// </summary>
public sealed class RobustGain
{
    const int Times = 40;

    /// <summary>Decades around the plant's own pace in which derivative times lie.</summary>
    const double TimeDecades = 2.5;

    const double Golden = 0.6180339887498949;

    readonly IReadOnlyList<LinearSystem> plants;
    readonly PidGains shape;
    readonly LoopLimits limits;
    readonly PlantResponse[] responses;
    readonly CancellationToken cancellation;

    RobustGain(IReadOnlyList<LinearSystem> plants, PidGains shape, LoopLimits limits, int sign, CancellationToken cancellation)
    {
        (this.plants, this.shape, this.limits, this.cancellation) = (plants, shape, limits, cancellation);
        responses = [.. plants.Select(p => new PlantResponse(p, sign, shape.Period, cancellation))];
    }

    /// <summary>The gains of a form with what they do in each plant; null where none keep the limits in all.</summary>
    /// <param name="shape">Form (P or PD), filter and weights of the controller.</param>
    /// <exception cref="DesignException">Nothing bounds the gain, or the limits cannot be met by any loop.</exception>
    public static IReadOnlyList<LoopFigures>? Best(
        IReadOnlyList<LinearSystem> plants,
        PidGains shape,
        LoopLimits limits,
        CancellationToken cancellation = default
    )
    {
        if (shape.HasIntegral)
            throw new ArgumentException("forms with an integral part have other goals", nameof(shape));
        limits.Check();
        return ((int[])[1, -1])
            .Select(sign => new RobustGain(plants, shape, limits, sign, cancellation).Run())
            .Where(f => f is not null)
            .MaxBy(f => Math.Abs(f![0].Pid().K));
    }

    IReadOnlyList<LoopFigures>? Run()
    {
        var td = 0.0;
        if (shape.Form == PidForm.PD)
        {
            var centre = -Math.Log(RobustPid.Mean(responses.Select(r => RobustPid.Mark(r).Pace)));
            PlantResponse[] coarse = [.. responses.Select(r => r.Coarse())];
            double At(PlantResponse[] with, double logarithm) => Largest(with, Math.Exp(logarithm), limits);
            var step = 2 * TimeDecades * Math.Log(10) / Times;
            var best = Enumerable
                .Range(0, Times + 1)
                .Select(i => centre + (i - Times / 2.0) * step)
                .Select(t => (Time: t, Gain: At(coarse, t)))
                .MaxBy(t => t.Gain);
            var (low, high) = (best.Time - step, best.Time + step);
            for (var i = 0; i < 18; i++)
            {
                cancellation.ThrowIfCancellationRequested();
                var (a, b) = (high - Golden * (high - low), low + Golden * (high - low));
                if (At(responses, a) > At(responses, b))
                    high = b;
                else
                    low = a;
            }

            td = Math.Exp((low + high) / 2);
        }

        var kept = limits;
        for (var round = 0; round < 6; round++)
        {
            var gain = Largest(responses, td, kept);
            if (double.IsInfinity(gain))
                throw new DesignException(
                    "unbounded",
                    $"Nothing bounds the gain of this {shape.Form}: the larger, the better.",
                    "Give a limit of the noise gain, or put the lags and dead times into the plant that it really has."
                );
            if (gain <= 0)
                return null;
            var gains = RobustPid.Written(shape with { K = responses[0].Sign * gain, Td = td });
            var figures = plants.Select(p => LoopFigures.Of(gains, p, cancellation)).ToList();
            var over = figures.Max(limits.PassedBy);
            if (over <= 1 + 1e-4)
                return figures.Exists(f => f.IsStable == false) ? null : figures;
            kept = kept.Tightened(over);
            if (!(kept.Sensitivity > 1))
                return null;
        }

        return null;
    }

    /// <summary>The largest gain that keeps the limits in all plants; 0 where there is none.</summary>
    double Largest(PlantResponse[] with, double td, LoopLimits kept)
    {
        cancellation.ThrowIfCancellationRequested();
        var one = shape with { K = 1, Td = td };
        var (from, to) = (0.0, double.PositiveInfinity);
        foreach (var response in with)
        {
            var range = new GainRange(response, kept, w => one.Feedback(new Complex(0, w)), 0);
            if (range.Best(new Complex[response.Frequencies.Length]) is not { } found)
                return 0;
            (from, to) = (Math.Max(from, found.From), Math.Min(to, found.To));
        }

        return from < to ? to : 0;
    }
}
