using System.Globalization;
using System.Numerics;

namespace AnchorBend.Design;

/// <summary>One proposal: gains, what they achieve, and what to know about them.</summary>
/// <param name="IsExact">Whether both wishes are met: the only gain crossing is the bandwidth asked for, and the margin there the one
/// asked for.</param>
public sealed record PidCandidate(string Name, LoopController Gains, StabilityMargins Margins, bool IsStable, bool IsExact, string? Remark)
{
    /// <inheritdoc cref="LoopFigures.Pid"/>
    public PidGains Pid() => (PidGains)Gains;

    public double? Bandwidth => Margins.GainCrossings.Count > 0 ? Margins.GainCrossings.Max(c => c.Frequency) : null;
}

/// <summary>Gains for a wanted gain-crossover frequency and phase margin.</summary>
public static class PidTuning
{
    /// <summary>
    /// Solves C(jω) G(jω) = exp(j(φ − π)) for the gains of one form: two equations, so PI and PD are met exactly where the phase the form
    /// can give reaches; P meets the bandwidth only. PID has a third gain, so among all ratios Ti/Td that meet both wishes the one
    /// with the largest integral gain k/Ti is taken (see <see cref="PidRatio"/>).
    /// </summary>
    /// <param name="plant">For a controller that works at samples on the plane of <see cref="SampledPlane"/>.</param>
    /// <param name="shape">Form, filter, weights and sample time.</param>
    /// <param name="bandwidth">Wanted gain-crossover frequency, rad/s.</param>
    /// <param name="phaseMargin">Degrees.</param>
    /// <exception cref="DesignException">The plant passes nothing at this frequency.</exception>
    public static PidCandidate Solve(
        LinearSystem plant,
        PidGains shape,
        double bandwidth,
        double phaseMargin,
        CancellationToken cancellation = default
    )
    {
        CheckWishes(bandwidth, phaseMargin);
        if (shape.Period > 0 && bandwidth > SampledPlane.Highest * Math.PI / shape.Period)
            throw new DesignException(
                "bandwidth",
                FormattableString.Invariant(
                    $"With a sample every {shape.Period:G4} s no loop has a bandwidth above {Math.PI / shape.Period:G4} rad/s."
                ),
                "Choose a lower bandwidth, or a shorter sample time."
            );
        var place = SampledPlane.Place(bandwidth, shape.Period);
        var g = plant.At(new Complex(0, place));
        if (!Complex.IsFinite(g) || g.Magnitude < 1e-14)
            throw new DesignException(
                "no-plant",
                $"At {bandwidth:G4} rad/s nothing comes back to the controller.",
                "Choose a lower bandwidth, or check the loop's wires."
            );
        var wish = new Wish(plant, g, place, phaseMargin, shape with { K = 1, Ti = 1, Td = 0 });
        // Which sign of k the plant asks for shows in what comes out: a double integrator looks negative at low frequencies, an unstable
        // lag does, too.
        var positive = Solve(wish, 1, cancellation);
        if (positive is { IsStable: true, IsExact: true })
            return positive;
        var negative = Solve(wish, -1, cancellation);
        var turned =
            negative.IsStable != positive.IsStable ? negative.IsStable : negative.IsStable && negative.IsExact && !positive.IsExact;
        return turned ? negative : positive;
    }

    /// <exception cref="DesignException">A wish is out of range.</exception>
    public static void CheckWishes(double bandwidth, double phaseMargin)
    {
        if (!(bandwidth is > 1e-15 and < 1e15))
            throw new DesignException(
                "bandwidth",
                "The bandwidth must lie between 1e-15 and 1e15 rad/s.",
                "Try a value near the plant's own corner frequency."
            );
        if (!(phaseMargin is > 0 and < 180))
            throw new DesignException(
                "phase-margin",
                "The phase margin must lie between 0 and 180 degrees.",
                "45 to 65 degrees suit most loops."
            );
    }

    /// <param name="Response">The plant at the bandwidth.</param>
    /// <param name="Bandwidth">Its place on the plane of samples, where there are any.</param>
    /// <param name="Shape">Form, filter, weights and sample time of the gains.</param>
    sealed record Wish(LinearSystem Plant, Complex Response, double Bandwidth, double PhaseMargin, PidGains Shape);

    static PidCandidate Solve(Wish wish, int sign, CancellationToken cancellation)
    {
        var form = wish.Shape.Form;
        var phases = new PidPhase(wish.Shape, wish.Bandwidth);
        // The phase the controller has to add, in (−180, 180].
        var wanted = Wrap(wish.PhaseMargin - 180 - wish.Response.Phase * 180 / Math.PI + (sign < 0 ? 180 : 0));
        var (lowest, highest) = Reach(form, phases);
        var given = form == PidForm.P ? 0 : Math.Clamp(wanted, lowest + 0.5, highest - 0.5);
        var exact = form != PidForm.P && Math.Abs(given - wanted) < 1e-9 || form == PidForm.P && Math.Abs(wanted) < 0.5;
        PidGains With(double ti, double td)
        {
            var shape = wish.Shape with { Ti = ti, Td = td };
            return shape with { K = sign / (shape.Feedback(new Complex(0, wish.Bandwidth)) * wish.Response).Magnitude };
        }

        var gains = form switch
        {
            PidForm.PI => With(phases.IntegralTime(given), 0),
            PidForm.PD => With(1e9, phases.DerivativeTime(given)),
            PidForm.PID => PidRatio.Choose(wish.Plant, wish.Bandwidth, given, wish.Shape, With, cancellation),
            _ => With(1e9, 0),
        };
        string? remark = null;
        if (!exact)
        {
            var achieved = Wrap(wish.PhaseMargin + given - wanted);
            remark =
                form == PidForm.P
                    ? $"P meets the bandwidth; the phase margin follows from the plant and is {achieved:F0}°."
                    : $"{form} cannot turn the phase by the {wanted:F0}° needed; the best it gives at this bandwidth is a phase "
                        + $"margin of {achieved:F0}°.";
        }

        return Compared(
            Judge(form.ToString(), gains, wish.Plant, exact, remark, cancellation),
            SampledPlane.Frequency(wish.Bandwidth, wish.Shape.Period)
        );
    }

    /// <summary>Tells where gains that solve the equations at the bandwidth asked for do not make it the loop's bandwidth, or its margin
    /// the loop's margin.</summary>
    internal static PidCandidate Compared(PidCandidate candidate, double bandwidth)
    {
        // Gains are rounded to five digits before they are judged.
        var others = candidate.Margins.GainCrossings.Where(c => Math.Abs(c.Frequency - bandwidth) > 1e-3 * bandwidth).ToList();
        if (others.Count == 0)
            return candidate;
        var worst = others.MinBy(c => Math.Abs(c.Margin))!;
        var text =
            string.Create(
                CultureInfo.InvariantCulture,
                $"The gain also passes one at {worst.Frequency:G4} rad/s, with a phase margin of {worst.Margin:F1}°"
            ) + (others.Count > 1 ? $", and at {others.Count - 1} more." : ".");
        return candidate with { IsExact = false, Remark = candidate.Remark is null ? text : $"{candidate.Remark} {text}" };
    }

    /// <summary>Margins and stability of given gains.</summary>
    public static PidCandidate Judge(
        string name,
        LoopController gains,
        LinearSystem plant,
        bool exact,
        string? remark,
        CancellationToken cancellation = default
    )
    {
        var margins = SampledPlane.Margins(gains.OpenLoop(plant), gains.Period, cancellation);
        var unstable = RightHalfPlane.Count(gains.ClosedLoop(plant), cancellation);
        var said = unstable switch
        {
            0 => null,
            null => "Whether the closed loop is stable could not be decided.",
            _ => "The closed loop would be unstable.",
        };
        return new PidCandidate(
            name,
            gains,
            margins,
            unstable == 0,
            exact && unstable == 0,
            said is null ? remark : said + (remark is null ? "" : " " + remark)
        );
    }

    /// <summary>A bandwidth to begin with: where the plant's phase leaves 60° of margin for a PI with a tenth of the phase.</summary>
    /// <param name="period">Sample time where the plant is on the plane of samples, s; else 0.</param>
    public static double SuggestBandwidth(LinearSystem plant, double period = 0)
    {
        var grid = FrequencyGrid.For(plant, 600);
        var before = double.NaN;
        var turn = 0.0;
        var best = grid[0];
        foreach (var w in grid)
        {
            var g = plant.At(new Complex(0, w));
            if (!Complex.IsFinite(g) || g.Magnitude < 1e-13)
                break;
            var phase = g.Phase * 180 / Math.PI;
            if (!double.IsNaN(before))
                turn += Math.Round((before - (phase + turn)) / 360) * 360;
            phase += turn;
            before = phase;
            if (phase < -115)
                break;
            best = w;
        }

        best = SampledPlane.Frequency(best, period);
        return double.Parse(best.ToString("G2", CultureInfo.InvariantCulture), CultureInfo.InvariantCulture);
    }

    static double Wrap(double degrees) => degrees - 360 * Math.Ceiling((degrees - 180) / 360);

    /// <summary>The phases a form can give with a positive gain, degrees.</summary>
    static (double Low, double High) Reach(PidForm form, PidPhase phases) =>
        form switch
        {
            PidForm.P => (-0.5, 0.5),
            PidForm.PI => (phases.Lowest, 0),
            PidForm.PD => (0, phases.Lead),
            _ => (phases.Lowest, phases.Highest(PidRatio.Largest)),
        };
}
