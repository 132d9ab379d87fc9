using System.Numerics;
using AnchorBend.Design;

namespace AnchorBend.Workbench.Tuning;

/// <summary>Designs of one loop as they are shown, over grids that they share.</summary>
sealed class DesignViews
{
    const int Points = 160,
        Steps = 300;

    /// <summary>Beyond these a stable loop counts as fragile: the peak of the sensitivity and the phase margin in degrees.</summary>
    const double FragilePeak = 3,
        FragileMargin = 20;

    readonly TunedLoop loop;
    readonly double end,
        period;
    readonly MapWishes? wishes;

    /// <param name="end">s.</param>
    public DesignViews(TunedLoop loop, double from, double to, double end, MapWishes? wishes)
    {
        (this.loop, this.end, this.wishes) = (loop, end, wishes);
        period = loop.Design.Present.Period;
        // Samples have no frequencies above half of theirs.
        if (period > 0)
            (from, to) = (Math.Min(from, 0.1 * Math.PI / period), Math.Min(to, SampledPlane.Highest * Math.PI / period));
        Frequencies = FrequencyGrid.Between(
            from,
            to,
            Points,
            PolesAndZeros.Poles(loop.Design.Plant).Select(p => SampledPlane.Frequency(Math.Abs(p.Imaginary), period))
        );
        Times = [.. Enumerable.Range(0, Steps + 1).Select(i => i * end / Steps)];
    }

    public double[] Frequencies { get; }

    public double[] Times { get; }

    public static GainsView View(LoopController gains) =>
        gains switch
        {
            PidGains g => new(g.Name, g.K, g.HasIntegral ? g.Ti : null, g.Form is PidForm.PD or PidForm.PID ? g.Td : null, g.B, null),
            RejectionGains r => new(r.Name, null, null, null, null, new RejectionView(r.InputGain, r.Bandwidth, r.Ratio)),
            _ => throw new ArgumentException($"'{gains.Name}' has no view.", nameof(gains)),
        };

    public static DesignView None(string name, string problem) =>
        new(name, null, null, [], [], null, [], null, [], [], [], [], [], [], new Dictionary<string, string>(), null, problem);

    static double? Finite(double? v) => v is { } x && double.IsFinite(x) ? x : null;

    public static LoopFiguresView Figures(LoopFigures f, SetPointStep? step) =>
        new(
            f.IsStable,
            f.Margins.GainCrossings.Count > 0 ? f.Margins.GainCrossings.Max(c => c.Frequency) : null,
            Finite(f.Margins.Phase?.Margin),
            Finite(f.Margins.Gain?.Margin),
            Finite(f.DelayMargin),
            Finite(f.Sensitivity.Value),
            Finite(f.Sensitivity.Frequency),
            Finite(f.Complementary.Value),
            Finite(f.NoiseGain.Value),
            Finite(f.LoadIae),
            Finite(f.SetPointIae),
            Finite(step?.Overshoot),
            Finite(step?.Settling)
        );

    public DesignView View(string name, LoopFigures figures, string? remark)
    {
        var (gains, plant) = (figures.Gains, loop.Design.Plant);
        var open = gains.OpenLoop(plant);
        var response = Frequencies.Select(w => open.At(new Complex(0, SampledPlane.Place(w, period)))).ToArray();
        var stable = figures.IsStable == true;
        double[] Step(LinearSystem system, bool isHeld = false)
        {
            var step = period > 0 ? StepResponse.OfSampled(system, period, end, Steps, isHeld) : StepResponse.Of(system, end, Steps);
            return [.. step.Values.Select(v => double.IsFinite(v) ? v : 0)];
        }

        var closed = gains.ClosedLoop(plant);
        return new DesignView(
            name,
            View(gains),
            Figures(figures, stable && gains.HasIntegral ? SetPointStep.Of(closed, figures) : null),
            [.. figures.Margins.GainCrossings.Where(c => double.IsFinite(c.Margin)).Select(c => new CrossingView(c.Frequency, c.Margin))],
            [.. figures.Margins.PhaseCrossings.Where(c => double.IsFinite(c.Margin)).Select(c => new CrossingView(c.Frequency, c.Margin))],
            Warning(figures),
            wishes?.MissedBy(figures) ?? [],
            remark,
            [.. response.Select(r => Complex.IsFinite(r) ? Math.Clamp(20 * Math.Log10(r.Magnitude), -400, 400) : 0)],
            Unwrapped(response),
            [.. response.Select(r => 1 / (1 + r).Magnitude is var s && double.IsFinite(s) ? Math.Min(s, 1e6) : 0)],
            stable ? Step(closed) : [],
            stable ? Step(gains.LoadedLoop(plant)) : [],
            stable ? Step(gains.Effort(plant), isHeld: true) : [],
            loop.Controller.Texts(gains, loop.Design.Point),
            loop.Controller.Substitute(gains) is { } other ? new ReplacementView(other.Node.Type, other.Loose) : null,
            null
        );
    }

    /// <summary>Degrees, without jumps, beginning between −270 and 90.</summary>
    public static double[] Unwrapped(Complex[] response)
    {
        var phase = new double[response.Length];
        for (var i = 0; i < phase.Length; i++)
        {
            phase[i] = response[i].Phase * 180 / Math.PI;
            if (!double.IsFinite(phase[i]))
                phase[i] = i > 0 ? phase[i - 1] : 0;
            if (i == 0 && phase[i] > 90)
                phase[i] -= 360;
            if (i > 0)
                phase[i] += 360 * Math.Round((phase[i - 1] - phase[i]) / 360);
        }

        return phase;
    }

    public static string? Warning(LoopFigures f)
    {
        if (f.IsStable == false)
            return "With these gains the loop is unstable.";
        if (f.IsStable is null)
            return "Whether the loop is stable with these gains could not be decided.";
        var near =
            f.Margins.Gain?.Margin is { } g && double.IsFinite(g)
                ? FormattableString.Invariant($" A gain {g:G2} times as large makes it unstable.")
                : "";
        if (f.Sensitivity.Value > FragilePeak)
            return FormattableString.Invariant($"This loop is fragile: the peak of its sensitivity is {f.Sensitivity.Value:G3}.{near}");
        return f.Margins.Phase?.Margin is { } m && Math.Abs(m) < FragileMargin
            ? FormattableString.Invariant($"This loop is fragile: its phase margin is {m:F0}°.{near}")
            : null;
    }
}
