using System.Numerics;

namespace AnchorBend.Design;

/// <summary>One proposal: gains, what they achieve, and what to know about them.</summary>
public sealed record PidCandidate(string Name, PidGains Gains, StabilityMargins Margins, bool IsStable, bool IsExact, string? Remark)
{
    public double? Bandwidth => Margins.GainCrossings.Count > 0 ? Margins.GainCrossings.Max(c => c.Frequency) : null;
}

/// <summary>Gains for a wanted gain-crossover frequency and phase margin.</summary>
public static class PidTuning
{
    /// <summary>Ratio Ti/Td of a PID with one free gain; 4 gives a double zero (Åström and Hägglund, "Advanced PID Control", section 6.2).</summary>
    const double IntegralToDerivative = 4;

    /// <summary>
    /// Solves C(jω) G(jω) = exp(j(φ − π)) for the gains of one form: two equations, so PI, PD and PID (with fixed Ti/Td) are met exactly
    /// where the phase the form can give reaches; P meets the bandwidth only.
    /// </summary>
    /// <param name="bandwidth">Wanted gain-crossover frequency, rad/s.</param>
    /// <param name="phaseMargin">Degrees.</param>
    /// <exception cref="DesignException">The plant passes nothing at this frequency.</exception>
    public static PidCandidate Solve(LinearSystem plant, PidForm form, double bandwidth, double phaseMargin, double filter = 10, double b = 1, double c = 0)
    {
        if (!(bandwidth > 0) || !double.IsFinite(bandwidth)) throw new DesignException("bandwidth", "The bandwidth must be positive.", "Try a value near the plant's own corner frequency.");
        if (!(phaseMargin is > 0 and < 180)) throw new DesignException("phase-margin", "The phase margin must lie between 0 and 180 degrees.", "45 to 65 degrees suit most loops.");
        var s = new Complex(0, bandwidth);
        var g = plant.At(s);
        if (!Complex.IsFinite(g) || g.Magnitude < 1e-14)
            throw new DesignException("no-plant", $"At {bandwidth:G4} rad/s nothing comes back to the controller.", "Choose a lower bandwidth, or check the loop's wires.");
        // The phase the controller has to add, in (−180, 180]; a plant of negative gain wants a negative k.
        var wanted = Wrap(phaseMargin - 180 - g.Phase * 180 / Math.PI);
        var sign = 1;
        var (lowest, highest) = Reach(form, filter);
        if (Math.Abs(wanted - Math.Clamp(wanted, lowest, highest)) > Math.Abs(Wrap(wanted + 180) - Math.Clamp(Wrap(wanted + 180), lowest, highest)) && plant.At(1e-6 * s).Real < 0)
        {
            sign = -1;
            wanted = Wrap(wanted + 180);
        }

        var given = form == PidForm.P ? 0 : Math.Clamp(wanted, lowest + 0.5, highest - 0.5);
        var exact = form != PidForm.P && Math.Abs(given - wanted) < 1e-9 || form == PidForm.P && Math.Abs(wanted) < 0.5;
        var (ti, td) = Times(form, bandwidth, given, filter);
        var shape = new PidGains(form, 1, ti, td, filter, b, c);
        var k = sign / (shape.Feedback(s) * g).Magnitude;
        var gains = shape with { K = k };
        string? remark = null;
        if (!exact)
        {
            var achieved = phaseMargin + given - wanted;
            remark = form == PidForm.P
                ? $"P meets the bandwidth; the phase margin follows from the plant and is {achieved:F0}°."
                : $"{form} cannot turn the phase by the {wanted:F0}° needed; the best it gives at this bandwidth is a phase margin of {achieved:F0}°.";
        }

        return Judge(form.ToString(), gains, plant, exact, remark);
    }

    /// <summary>Margins and stability of given gains.</summary>
    public static PidCandidate Judge(string name, PidGains gains, LinearSystem plant, bool exact, string? remark)
    {
        var margins = StabilityMargins.Of(gains.OpenLoop(plant));
        var slowest = PolesAndZeros.Poles(gains.ClosedLoop(plant));
        var scale = slowest.Length == 0 ? 1 : Math.Max(1e-6, slowest.Max(p => p.Magnitude));
        var stable = slowest.All(p => p.Real < 1e-9 * scale);
        if (!stable) remark = "The closed loop would be unstable." + (remark is null ? "" : " " + remark);
        return new PidCandidate(name, gains, margins, stable, exact, remark);
    }

    /// <summary>A bandwidth to begin with: where the plant's phase leaves 60° of margin for a PI with a tenth of the phase.</summary>
    public static double SuggestBandwidth(LinearSystem plant)
    {
        var grid = FrequencyGrid.For(plant, 600);
        var before = double.NaN;
        var turn = 0.0;
        var best = grid[0];
        foreach (var w in grid)
        {
            var g = plant.At(new Complex(0, w));
            if (!Complex.IsFinite(g) || g.Magnitude < 1e-13) break;
            var phase = g.Phase * 180 / Math.PI;
            if (!double.IsNaN(before)) turn += Math.Round((before - (phase + turn)) / 360) * 360;
            phase += turn;
            before = phase;
            if (phase < -115) break;
            best = w;
        }

        return double.Parse(best.ToString("G2", System.Globalization.CultureInfo.InvariantCulture), System.Globalization.CultureInfo.InvariantCulture);
    }

    static double Wrap(double degrees) => degrees - 360 * Math.Ceiling((degrees - 180) / 360);

    /// <summary>The phases a form can give with a positive gain, degrees.</summary>
    static (double Low, double High) Reach(PidForm form, double filter)
    {
        var lead = Math.Atan((Math.Sqrt(filter + 1) - 1 / Math.Sqrt(filter + 1)) / 2) * 180 / Math.PI;
        return form switch
        {
            PidForm.P => (-0.5, 0.5),
            PidForm.PI => (-90, 0),
            PidForm.PD => (0, lead),
            _ => (-90, HighestPid(filter)),
        };
    }

    static double PidPhase(double x, double filter)
    {
        // x = ω·Ti with Td = Ti/4.
        var s = new Complex(0, 1);
        return new PidGains(PidForm.PID, 1, x, x / IntegralToDerivative, filter, 1, 0).Feedback(s).Phase * 180 / Math.PI;
    }

    static double HighestPid(double filter)
    {
        var best = -90.0;
        for (var x = 0.5; x < 100; x *= 1.01) best = Math.Max(best, PidPhase(x, filter));
        return best;
    }

    static (double Ti, double Td) Times(PidForm form, double w, double phase, double filter)
    {
        var radians = phase * Math.PI / 180;
        switch (form)
        {
            case PidForm.PI:
                // arg(1 − j/(ωTi)) = φ.
                return (1 / (w * Math.Tan(-radians)), 0);
            case PidForm.PD:
                return (1e9, Solve(x => new PidGains(PidForm.PD, 1, 1, x, filter, 1, 0).Feedback(new Complex(0, 1)).Phase - radians, 1e-4, Math.Sqrt(filter * filter / (filter + 1))) / w);
            case PidForm.PID:
                var peak = 0.5;
                for (var x = 0.5; x < 100; x *= 1.01)
                    if (PidPhase(x, filter) > PidPhase(peak, filter)) peak = x;
                var ti = Solve(x => PidPhase(x, filter) - phase, 1e-3, peak) / w;
                return (ti, ti / IntegralToDerivative);
            default:
                return (1e9, 0);
        }
    }

    /// <summary>Bisection of a rising function.</summary>
    static double Solve(Func<double, double> function, double low, double high)
    {
        for (var i = 0; i < 100; i++)
        {
            var middle = Math.Sqrt(low * high);
            if (function(middle) < 0) low = middle;
            else high = middle;
        }

        return Math.Sqrt(low * high);
    }
}
