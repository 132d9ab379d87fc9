using System.Globalization;
using System.Numerics;
using AnchorBend.Compiler.Preparation;
using AnchorBend.Design;
using AnchorBend.Design.Identification;
using AnchorBend.Modeling.Documents;
using AnchorBend.Simulation;

namespace AnchorBend.Workbench.Tuning;

/// <summary>A loop with gains on a plant.</summary>
sealed record StepDesign(LinearSystem Plant, LoopFigures After, string? Remark)
{
    /// <summary>The highest frequency at which the loop's gain is one, rad/s; 0 where it never is.</summary>
    public double Bandwidth => After.Margins.GainCrossings.Select(c => c.Frequency).DefaultIfEmpty(0).Max();
}

/// <summary>
/// The plant of a loop as the running model shows it: a sine is added to the controller's output, one frequency after the other and beside
/// the loop that stays closed, and a small model is fitted to what comes to the measured value. Where the design goes beyond what was
/// measured, more is.
/// </summary>
sealed class PlantMeasurement
{
    /// <summary>Frequencies that are measured at first, and each time more are needed.</summary>
    const int First = 24,
        More = 10,
        Rounds = 3;

    /// <summary>How far around the bandwidth.</summary>
    const double Around = 8;

    /// <summary>How far beyond a loop's bandwidth its plant must be known.</summary>
    const double Beside = 2;

    /// <summary>Below this the fitted model is too far from what was measured to stand for it.</summary>
    const double LeastQuality = 0.9;

    readonly TunedController controller;
    readonly Excitation excitation;
    readonly double? at;
    readonly CancellationToken wanted;
    readonly double amplitude,
        cap;
    readonly List<SweepPoint> points = [];
    readonly List<string> left = [];
    double high;
    RationalFit? fit;

    /// <param name="at">Instant of the operating point, s; null for rest.</param>
    /// <param name="bandwidth">That is wanted, rad/s; null for what the loop has.</param>
    /// <exception cref="DesignException">It is not known at which frequencies to measure, or too few can be.</exception>
    public PlantMeasurement(
        TunedController controller,
        OperatingPoint point,
        Excitation excitation,
        double? at,
        double? bandwidth,
        CancellationToken wanted
    )
    {
        (this.controller, this.excitation, this.at, this.wanted) = (controller, excitation, at, wanted);
        var about = bandwidth ?? Expected(point);
        var low = excitation.Low ?? about / Around;
        high = excitation.High ?? about * Around;
        cap = controller.Present.Period > 0 ? SampledPlane.Highest * Math.PI / controller.Present.Period : double.PositiveInfinity;
        high = Math.Min(high, cap);
        if (!(low > 0) || !(high > low) || high > low * 1e9)
            throw new DesignException(
                "range",
                "It is not known at which frequencies the loop works.",
                "Say what bandwidth is wanted, or between which frequencies, in rad/s, it shall be excited."
            );
        amplitude = excitation.Amplitude ?? SineSweep.UsualAmplitude(controller.Prepared, point, Signal);
        Measure(FrequencyGrid.Between(low, high, First));
        if (points.Count < First / 3)
            throw new DesignException(
                "unmeasured",
                $"Only {points.Count} of {First} frequencies could be measured. {left.FirstOrDefault()}",
                "Take another amplitude or operating point, or wider limits."
            );
    }

    string Signal => $"{controller.Path}.u";

    string Answer => $"{controller.Path}.y";

    void Measure(IReadOnlyList<double> frequencies)
    {
        var measured = SineSweep.Run(
            controller.Prepared,
            new ParameterSet(controller.Prepared.Model),
            Signal,
            new SweepOptions(
                frequencies,
                amplitude,
                at,
                null,
                Answer,
                excitation.Limit is > 0 and var limit ? [(Answer, limit)] : [],
                DocumentRun.OptionsOf(controller.Document)
            ),
            wanted
        );
        points.AddRange(measured.Where(p => p.Problem is null && p.Value.Magnitude > 0));
        left.AddRange(
            measured.Where(p => p.Problem is not null).Select(p => FormattableString.Invariant($"{p.Frequency:G3} rad/s: {p.Problem}"))
        );
    }

    /// <summary>The loop's present bandwidth by the linear model, or what suits it; not a number where there is none.</summary>
    double Expected(OperatingPoint point)
    {
        try
        {
            var prepared = controller.Prepared;
            var design = LoopDesign.Of(prepared, new ParameterSet(prepared.Model), controller.Path, point);
            return PidTuning.Judge("present", design.Present, design.Plant, false, null, wanted).Bandwidth
                ?? PidTuning.SuggestBandwidth(design.Plant, design.Present.Period);
        }
        catch (DesignException)
        {
            return double.NaN;
        }
    }

    /// <summary>What is designed on the fitted plant, with more of it measured where that goes further.</summary>
    /// <exception cref="DesignException">No small model fits.</exception>
    public StepDesign Design(Func<LinearSystem, StepDesign> design)
    {
        for (var round = 1; ; round++)
        {
            fit = RationalFit.Smallest([.. points.Select(p => p.Frequency)], [.. points.Select(p => p.Value)], wanted);
            if (fit.Quality < LeastQuality)
                throw new DesignException(
                    "unfit",
                    FormattableString.Invariant(
                        $"No small model fits what was measured: the best misses it by {100 * (1 - fit.Quality):F0} % in the mean."
                    ),
                    "Measure fewer decades around the wanted bandwidth, or with another amplitude."
                );
            var period = controller.Present.Period;
            var plant = fit.System();
            var found = design(period > 0 ? SampledPlane.Of(Discretisation.Of(plant, period, Hold.Zoh), period) : plant);
            if (round == Rounds || excitation.High is not null || !(found.Bandwidth * Beside > high) || high >= cap)
                return found;
            var before = high;
            high = Math.Min(found.Bandwidth * 2 * Beside, cap);
            Measure([.. FrequencyGrid.Between(before, high, More + 1).Skip(1)]);
        }
    }

    /// <summary>What to say of a design that goes beyond what was measured; null where it does not.</summary>
    public string? Beyond(StepDesign design) =>
        design.Bandwidth > high
            ? FormattableString.Invariant(
                $"The loop's bandwidth, {design.Bandwidth:G3} rad/s, lies beyond what was measured (up to {high:G3} rad/s)."
            )
            : null;

    public MeasuredPlantView View()
    {
        Complex[] response = [.. points.Select(p => p.Value)];
        Complex[] fitted = [.. points.Select(p => fit!.At(p.Frequency))];
        static double[] Decibels(Complex[] values) => [.. values.Select(v => Math.Clamp(20 * Math.Log10(v.Magnitude), -400, 400))];
        return new MeasuredPlantView(
            amplitude,
            [.. points.Select(p => p.Frequency)],
            Decibels(response),
            DesignViews.Unwrapped(response),
            Decibels(fitted),
            DesignViews.Unwrapped(fitted),
            fit!.Quality,
            Told(fit),
            left
        );
    }

    static string Told(RationalFit fit)
    {
        var text = $"order {fit.Denominator.Count - 1}{(fit.Denominator[^1] == 0 ? ", integrating" : "")}";
        return fit.Delay > 0 ? $"{text}, dead time {fit.Delay.ToString("G3", CultureInfo.InvariantCulture)} s" : text;
    }
}
