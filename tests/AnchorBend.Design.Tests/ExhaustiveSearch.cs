using System.Numerics;

namespace AnchorBend.Design.Tests;

/// <summary>
/// The best gains by trying them all, as plainly as can be: a dense grid of gains, the sensitivity at dense frequencies from the plant's
/// formula, stability from the roots. A second grid around the best of the first one.
/// </summary>
sealed class ExhaustiveSearch(Func<Complex, Complex> plant, LinearSystem system, double sensitivity, double filter)
{
    readonly double[] frequencies = [.. Enumerable.Range(0, 300).Select(i => 1e-2 * Math.Pow(10, 4.5 * i / 299))];
    Complex[] values = [];
    double step;

    /// <summary>The largest integral gain found, with the gains it stands for.</summary>
    public (double Ki, PidGains Gains) Largest(bool withDerivative, double gain, double time)
    {
        values = [.. frequencies.Select(w => plant(new Complex(0, w)))];
        var form = withDerivative ? PidForm.PID : PidForm.PI;
        var (best, at) = (0.0, new PidGains(form, 1, 1, 0, filter, 1, 0));
        var (kp, td, wide, long_) = (Math.Log(gain), Math.Log(time), Math.Log(300), Math.Log(60));
        for (var round = 0; round < 4; round++)
        {
            var n = round == 0 ? 60 : 16;
            var m =
                !withDerivative ? 0
                : round == 0 ? 24
                : 16;
            step =
                round == 0 ? 1.03
                : round == 1 ? 1.01
                : 1.002;
            var (k0, t0) = (kp, td);
            for (var i = -n / 2; i <= n / 2; i++)
            for (var j = -m / 2; j <= m / 2; j++)
            {
                var (k, t) = (Math.Exp(k0 + 2 * wide * i / n), withDerivative ? Math.Exp(t0 + 2 * long_ * j / Math.Max(1, m)) : 0);
                var gains = at with { K = k, Td = t };
                if (LargestFor(gains, best) is not { } ki)
                    continue;
                (best, at) = (ki, gains with { Ti = k / ki });
                (kp, td) = (Math.Log(k), withDerivative ? Math.Log(t) : td);
            }

            (wide, long_) = (wide / 6, long_ / 6);
        }

        return (best, at);
    }

    /// <summary>The largest integral gain beyond one that is known; null where there is none.</summary>
    double? LargestFor(PidGains gains, double known)
    {
        // Stability does not change within a stretch that keeps the limit, so its end says enough.
        var (last, missed) = (0.0, 0);
        for (var ki = Math.Max(known, 1e-3) * step; ki < 1e4 && missed < 25; ki *= step)
            if (Keeps(gains with { Ti = gains.K / ki }))
                (last, missed) = (ki, 0);
            else
                missed++;
        return last > 0 && RightHalfPlane.Count((gains with { Ti = gains.K / last }).ClosedLoop(system)) == 0 ? last : null;
    }

    bool Keeps(PidGains gains)
    {
        for (var i = 0; i < frequencies.Length; i++)
            if ((1 + gains.Feedback(new Complex(0, frequencies[i])) * values[i]).Magnitude < 1 / sensitivity)
                return false;
        return true;
    }
}
