using System.Numerics;

namespace AnchorBend.Design;

/// <summary>
/// Finds where an open loop's gain passes one and where its phase passes −180°: signs on a grid that leaves no room for a
/// crossing, turning points between them, bisection for each.
/// </summary>
sealed class CrossingSearch(LinearSystem loop, CancellationToken cancellation)
{
    /// <summary>Phase crossings that are listed; the rest is told by its bounds.</summary>
    const int Listed = 100;

    /// <summary>Points that are spent on the turns of the phase by delays: some 280 phase crossings.</summary>
    const int DelayPoints = 6000;

    /// <summary>An imaginary part below this share of the value is what rounding leaves of zero.</summary>
    const double Rounding = 1e-13;

    readonly List<(double Frequency, Complex Value)> samples = [];
    double resolved;

    public StabilityMargins Run()
    {
        (var grid, resolved) = FrequencyGrid.ForCrossings(loop, DelayPoints);
        foreach (var w in grid)
            Add(w);
        AddTurningPoints(v => Math.Log(v.Magnitude));
        AddTurningPoints(v => v.Real < 0 ? v.Imaginary / v.Magnitude : double.NaN);
        samples.Sort((a, b) => a.Frequency.CompareTo(b.Frequency));
        var gains = GainCrossings();
        var phases = PhaseCrossings();
        var worst = phases.MinBy(c => Math.Abs(Math.Log(c.Margin)));
        var further = Further(phases);
        return new StabilityMargins(gains, phases.Count > Listed ? phases[..Listed] : phases, further, worst);
    }

    void Add(double w)
    {
        cancellation.ThrowIfCancellationRequested();
        var value = At(w);
        // A pole on the axis has no value.
        if (Complex.IsFinite(value))
            samples.Add((w, value));
    }

    Complex At(double w) => loop.At(new Complex(0, w));

    /// <summary>Between three points the quantity may touch zero and come back: its turning point becomes a sample there.</summary>
    void AddTurningPoints(Func<Complex, double> quantity)
    {
        var added = new List<double>();
        for (var i = 1; i + 1 < samples.Count; i++)
        {
            double before = quantity(samples[i - 1].Value),
                here = quantity(samples[i].Value),
                after = quantity(samples[i + 1].Value);
            // A quantity that is not defined everywhere ends where it is no number.
            if (!(before * here > 0) || !(after * here > 0))
                continue;
            var side = Math.Sign(here);
            if (Math.Abs(here) > Math.Abs(before) || Math.Abs(here) > Math.Abs(after) || Math.Abs(here) > 0.5)
                continue;
            var turn = GoldenSection(w => side * quantity(At(w)), samples[i - 1].Frequency, samples[i + 1].Frequency);
            if (quantity(At(turn)) * side <= 0)
                added.Add(turn);
        }

        foreach (var w in added)
            Add(w);
        if (added.Count > 0)
            samples.Sort((a, b) => a.Frequency.CompareTo(b.Frequency));
    }

    /// <summary>The least value within a bracket (Kiefer, Proc. Amer. Math. Soc. 4, 1953).</summary>
    /// <param name="tolerance">Of the place, as a share of it.</param>
    internal static double GoldenSection(Func<double, double> function, double low, double high, double tolerance = 1e-13)
    {
        const double share = 0.6180339887498949;
        double a = high - share * (high - low),
            b = low + share * (high - low);
        double fa = function(a),
            fb = function(b);
        for (var i = 0; i < 60 && high - low > tolerance * high; i++)
        {
            if (fa < fb)
            {
                (high, b, fb) = (b, a, fa);
                a = high - share * (high - low);
                fa = function(a);
            }
            else
            {
                (low, a, fa) = (a, b, fb);
                b = low + share * (high - low);
                fb = function(b);
            }
        }

        return fa < fb ? a : b;
    }

    List<Crossing> GainCrossings()
    {
        var found = new List<Crossing>();
        for (var i = 1; i < samples.Count; i++)
        {
            if (samples[i - 1].Value.Magnitude > 1 == samples[i].Value.Magnitude > 1)
                continue;
            var w = Bisect(samples[i - 1].Frequency, samples[i].Frequency, x => At(x).Magnitude - 1);
            var phase = At(w).Phase * 180 / Math.PI + 180;
            found.Add(new Crossing(w, phase > 180 ? phase - 360 : phase));
        }

        return found;
    }

    List<Crossing> PhaseCrossings()
    {
        var found = new List<Crossing>();
        for (var i = 1; i < samples.Count && samples[i].Frequency <= resolved; i++)
        {
            Complex a = samples[i - 1].Value,
                b = samples[i].Value;
            if (!(a.Real < 0 && b.Real < 0) || SignOfImaginary(a) * SignOfImaginary(b) >= 0)
                continue;
            var w = Bisect(samples[i - 1].Frequency, samples[i].Frequency, x => At(x).Imaginary);
            var value = At(w);
            // Through a pole on the axis the sign jumps without passing zero.
            if (Complex.IsFinite(value) && Math.Abs(value.Imaginary) <= 1e-6 * value.Magnitude)
                found.Add(new Crossing(w, 1 / value.Magnitude));
        }

        return found;
    }

    static int SignOfImaginary(Complex value) => Math.Abs(value.Imaginary) <= Rounding * value.Magnitude ? 0 : Math.Sign(value.Imaginary);

    /// <summary>Bounds of what is not listed: crossings past the listed ones, and those above the frequency to which turns are
    /// resolved.</summary>
    FurtherCrossings? Further(List<Crossing> phases)
    {
        var unlisted = phases.Skip(Listed).ToList();
        var above = samples.Where(s => s.Frequency > resolved).Select(s => 1 / s.Value.Magnitude);
        var factors = unlisted.Select(c => c.Margin).Concat(above).ToList();
        if (loop.Delays.Length == 0 || factors.Count == 0)
            return null;
        var end = samples[^1].Value.Magnitude;
        return new FurtherCrossings(
            unlisted.Count > 0 ? unlisted[0].Frequency : resolved,
            factors.Min(),
            end < 0.1 ? double.PositiveInfinity : factors.Max()
        );
    }

    internal static double Bisect(double low, double high, Func<double, double> function)
    {
        var negative = function(low) < 0;
        for (var i = 0; i < 80 && high - low > 1e-15 * high; i++)
        {
            var middle = Math.Sqrt(low * high);
            if (function(middle) < 0 == negative)
                low = middle;
            else
                high = middle;
        }

        return Math.Sqrt(low * high);
    }
}
