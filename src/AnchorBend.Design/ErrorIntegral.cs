namespace AnchorBend.Design;

/// <summary>Integrals of the absolute deviation of a stable loop after a unit step.</summary>
public static class ErrorIntegral
{
    /// <summary>Grid points over a stretch that is as long as the loop is slow, and all that one integral may take.</summary>
    const int Fine = 1200,
        Rough = 300,
        Most = 150_000;

    /// <summary>Of a unit load step at the plant's input, in units of the output times s; NaN where it does not settle.</summary>
    /// <param name="pace">A time over which the loop changes, s.</param>
    /// <param name="giveUp">An integral beyond which nobody is interested: it ends there.</param>
    /// <param name="rough">Whether some thousandths do not matter.</param>
    public static double Load(
        LoopController gains,
        LinearSystem plant,
        double pace,
        double giveUp = double.PositiveInfinity,
        bool rough = false
    )
    {
        var loop = gains.LoadedLoop(plant);
        var integral = gains.Period > 0 ? Sampled(loop, gains.Period, 0, giveUp) : Of(loop, 0, pace, giveUp, rough, 1 / gains.IntegralGain);
        // The integral of the deviation itself is 1/ki, so less than that was not looked at to the end.
        return integral < 0.99 / Math.Abs(gains.IntegralGain) ? double.NaN : integral;
    }

    /// <summary>Of the error of a unit set-point step.</summary>
    /// <inheritdoc cref="Load" path="/param"/>
    public static double SetPoint(
        LoopController gains,
        LinearSystem plant,
        double pace,
        double giveUp = double.PositiveInfinity,
        bool rough = false
    ) => gains.Period > 0 ? Sampled(gains.ClosedLoop(plant), gains.Period, 1, giveUp) : Of(gains.ClosedLoop(plant), 1, pace, giveUp, rough);

    /// <summary>Of a sampled loop: the sum of the absolute deviations at its samples, times the period.</summary>
    static double Sampled(LinearSystem loop, double period, double final, double giveUp)
    {
        var (sum, largest, quiet) = (0.0, 0.0, 0);
        var last = double.NaN;
        foreach (var value in StepResponse.Samples(loop, period).Take(Most))
        {
            last = Math.Abs(value - final);
            if (!double.IsFinite(last))
                return double.NaN;
            sum += period * last;
            if (sum > giveUp)
                return sum;
            largest = Math.Max(largest, last);
            quiet = last <= 1e-7 * largest && largest > 0 ? quiet + 1 : 0;
            if (quiet > 20)
                return sum;
        }

        return last < 1e-3 * largest ? sum : double.NaN;
    }

    /// <param name="final">What the output comes to.</param>
    /// <param name="whole">The integral of the deviation itself, where it is known.</param>
    static double Of(LinearSystem loop, double final, double pace, double giveUp, bool rough, double? whole = null)
    {
        var wished = 20 * pace / (rough ? Rough : Fine);
        // Dead times that are short beside a step would ask for steps without number; so short they are as good as approximated.
        if (loop.Delays.All(d => d < (rough ? 2 : 1) * wished))
            loop = PadeApproximation.WithoutDelays(loop);
        var step = TimeResponse.StepFor(loop, wished, rough ? 4 : 10);
        var response = new TimeResponse(loop, step);
        var before = response.Next() - final;
        var (sum, largest, quiet) = (0.0, Math.Abs(before), 0);
        var tail = new Tail(whole ?? 0, 10 * pace / step);
        for (var k = 1; k < Most; k++)
        {
            var now = response.Next() - final;
            if (!double.IsFinite(now))
                return double.NaN;
            // Where it passes zero, two triangles.
            sum +=
                now * before >= 0
                    ? step * (Math.Abs(now) + Math.Abs(before)) / 2
                    : step * (now * now + before * before) / (2 * Math.Abs(now - before));
            if (sum > giveUp)
                return sum;
            tail.Add(before, now, step);
            if (rough && whole is not null && tail.Rest is { } rest)
                return sum + rest;
            largest = Math.Max(largest, Math.Abs(now));
            before = now;
            quiet = Math.Abs(now) < 1e-5 * largest ? quiet + 1 : 0;
            if (quiet > 100 && quiet > k / 6 && largest > 0)
                return sum;
        }

        return Math.Abs(before) < 1e-2 * largest ? sum : double.NaN;
    }

    /// <summary>A slow end of a response, which is not followed to its last: once it falls like one exponential, and what is left of the
    /// known integral is what that exponential has, nothing else can be in it.</summary>
    struct Tail(double whole, double length)
    {
        double sum,
            first;
        int count;

        public void Add(double before, double now, double step)
        {
            sum += step * (before + now) / 2;
            if (before * now > 0 && Math.Abs(now) < Math.Abs(before))
            {
                if (count++ == 0)
                    first = before;
                time += step;
                last = now;
                return;
            }

            (count, time) = (0, 0);
        }

        double time,
            last;

        /// <summary>The absolute integral that is left; null while it is not known.</summary>
        public readonly double? Rest
        {
            get
            {
                if (count < length)
                    return null;
                var rest = whole - sum;
                var expected = last * time / Math.Log(first / last);
                return Math.Abs(rest - expected) < 0.03 * Math.Abs(expected) ? Math.Abs(rest) : null;
            }
        }
    }
}
