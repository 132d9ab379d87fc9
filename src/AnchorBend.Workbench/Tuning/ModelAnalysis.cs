using System.Globalization;
using System.Numerics;
using AnchorBend.Compiler.Preparation;
using AnchorBend.Design;
using AnchorBend.Design.Identification;
using AnchorBend.Language.Units;
using AnchorBend.Modeling.Documents;
using AnchorBend.Modeling.Flat;
using AnchorBend.Simulation;
using AnchorBend.Workbench.Compute;
using AnchorBend.Workbench.Models;
using AnchorBend.Workbench.Views;

namespace AnchorBend.Workbench.Tuning;

/// <summary>What can be said of a model about an operating point: linear systems, modes, rest, measured responses.</summary>
public sealed class ModelAnalysis(ComputeGate compute)
{
    static readonly TimeSpan Most = TimeSpan.FromSeconds(30),
        MostMeasuring = TimeSpan.FromMinutes(5);

    const int Points = 200,
        MostFrequencies = 120,
        MostCourse = 800;

    /// <exception cref="DesignException">A signal is unknown, or there is no linear system.</exception>
    public LinearAnswer Linear(ModelSession session, LinearRequest request, CancellationToken wanted) => compute.Run(Most, wanted, token =>
        {
            var (prepared, document) = SavedPoints.Model(session, request.Point, token);
            var point = TunedLoops.Point(prepared, document, request.At, token);
            var (from, to) = (Name(prepared, request.From), Name(prepared, request.To));
            var open = (request.Open ?? []).Where(o => o.Length > 0).Select(o => Name(prepared, o)).ToList();
            if (!SampledSystem.IsBetween(prepared, from, to, open))
                return Answer(Linearizer.Between(prepared, point, from, to, open).Reduced(), point, request, token);
            var sampled = SampledSystem.Between(prepared, point, from, to, open);
            // Cut where a value is held, all that comes back is what samples make of it.
            var isLoop = open.Contains(from) && SampledPath.IsHeld(prepared, from);
            return SampledAnswer.Of(sampled, point, request, isLoop, token);
        });

    static LinearAnswer Answer(LinearSystem system, OperatingPoint point, LinearRequest request, CancellationToken wanted)
    {
        var poles = PolesAndZeros.Poles(system);
        var own = FrequencyGrid.For(system, Points);
        var (low, high) = (request.LowFrequency ?? own[0], request.HighFrequency ?? own[^1]);
        if (!(low > 0) || !(high > low) || high > low * 1e15)
            throw new DesignException("range", "Frequencies must rise from above zero.", "Give a lower and a higher one, in rad/s.");
        var frequencies = FrequencyGrid.Between(low, high, Points, poles.Select(p => Math.Abs(p.Imaginary)));
        var response = frequencies.Select(w => system.At(new Complex(0, w))).ToArray();
        var margins = StabilityMargins.Of(system, wanted);
        var peaks = new LoopPeaks(system, null, 0, wanted);
        // Long enough for the slowest part that dies away, short enough to show the fastest.
        var decays = poles.Where(p => p.Real < 0).Select(p => -1 / p.Real).ToList();
        var end = Math.Max(6 * decays.DefaultIfEmpty(1).Max(), 3 * system.Delays.DefaultIfEmpty(0).Sum());
        var step = StepResponse.Of(system, end, 300);
        return new LinearAnswer(
            point.Name,
            null,
            system.Order,
            [.. poles.Select(Root)],
            [.. PolesAndZeros.Zeros(system).Select(Root)],
            frequencies,
            [.. response.Select(r => Math.Clamp(Finite(20 * Math.Log10(r.Magnitude)), -400, 400))],
            DesignViews.Unwrapped(response),
            [.. response.Select(r => Math.Clamp(Finite(r.Real), -1e12, 1e12))],
            [.. response.Select(r => Math.Clamp(Finite(r.Imaginary), -1e12, 1e12))],
            [.. margins.GainCrossings.Where(c => double.IsFinite(c.Margin)).Select(c => new CrossingView(c.Frequency, c.Margin))],
            [.. margins.PhaseCrossings.Where(c => double.IsFinite(c.Margin)).Select(c => new CrossingView(c.Frequency, c.Margin))],
            Known(margins.DelayMargin),
            Known(peaks.Sensitivity.Value),
            Known(peaks.Complementary.Value),
            step.Times,
            [.. step.Values.Select(v => Math.Clamp(Finite(v), -1e12, 1e12))]
        );
    }

    internal static double Finite(double v) => double.IsFinite(v) ? v : 0;

    internal static double? Known(double v) => double.IsFinite(v) ? v : null;

    internal static RootView Root(Complex p) => new(p.Real, p.Imaginary, p.Magnitude, p.Magnitude > 0 ? -p.Real / p.Magnitude : 0);

    /// <summary>The path of a signal that is given by identity or by path.</summary>
    internal static string Name(PreparedModel prepared, string reference) => prepared.Find(reference)?.Name ?? reference;

    /// <summary>The natural motions of the whole model.</summary>
    public ModesAnswer Modes(ModelSession session, ModesRequest request, CancellationToken wanted) => compute.Run(Most, wanted, token =>
        {
            var (prepared, document) = SavedPoints.Model(session, request.Point, token);
            var point = TunedLoops.Point(prepared, document, request.At, token);
            var modes = Mode.Of(Linearizer.Whole(prepared, point));
            return new ModesAnswer(
                point.Name,
                [
                    .. modes.Select(m => new ModeView(
                        m.Pole.Real,
                        m.Pole.Imaginary,
                        m.Frequency,
                        m.Damping,
                        double.IsFinite(m.TimeConstant) ? m.TimeConstant : null,
                        [
                            .. m.States.Select(s => new ModeStateView(
                                s.State,
                                prepared.Map.Around(s.State)?.Path.ToString(),
                                s.Participation,
                                s.Shape.Real,
                                s.Shape.Imaginary
                            )),
                        ]
                    )),
                ],
                [.. prepared.Model.Clocks.Select(c => c.Owner).Where(o => o.Length > 0).Distinct()]
            );
        });

    /// <summary>A frequency response of the running model.</summary>
    /// <exception cref="DesignException">A signal is unknown, or a setting makes no sense.</exception>
    public SweepAnswer Sweep(ModelSession session, SweepRequest request, CancellationToken wanted) =>
        compute.Run(MostMeasuring, wanted, token => Measured(session, request, token));

    static SweepAnswer Measured(ModelSession session, SweepRequest request, CancellationToken wanted)
    {
        if (
            !(request.Low > 0)
            || !(request.High > request.Low)
            || request.High > request.Low * 1e9
            || request.Count is < 2 or > MostFrequencies
        )
            throw new DesignException(
                "range",
                $"Frequencies must rise from above zero, and be 2 to {MostFrequencies}.",
                "Give a lower and a higher one, in rad/s."
            );
        var (prepared, document) = SavedPoints.Model(session, request.Point, wanted);
        var parameters = new ParameterSet(prepared.Model);
        var method = DocumentRun.OptionsOf(document);
        var point = TunedLoops.Point(prepared, document, request.At, wanted);
        var signal = prepared.Find(request.Signal) ?? throw Linearizer.Unknown(prepared.Model, request.Signal);
        var amplitude = request.Amplitude ?? SineSweep.UsualAmplitude(prepared, point, signal.Name);
        var frequencies = FrequencyGrid.Between(request.Low, request.High, request.Count);
        var from = request.From is { Length: > 0 } f ? Name(prepared, f) : null;
        var to = request.To is { Length: > 0 } t ? Name(prepared, t) : null;
        var points = SineSweep.Run(
            prepared,
            parameters,
            signal.Name,
            new SweepOptions(
                frequencies,
                amplitude,
                request.At,
                from,
                to,
                request.Limit is > 0 and var limit ? [(to ?? signal.Name, limit)] : [],
                method
            ),
            wanted
        );
        return Beside(prepared, point, (signal.Name, from, to), amplitude, points, null);
    }

    /// <summary>By a step, a pulse or a relay.</summary>
    /// <exception cref="DesignException">A signal is unknown, a setting makes no sense, or the test shows nothing.</exception>
    public SweepAnswer Transient(ModelSession session, TransientRequest request, CancellationToken wanted) =>
        compute.Run(MostMeasuring, wanted, token =>
        {
            if (!Enum.TryParse<TestKind>(request.Kind, true, out var kind) || !Enum.IsDefined(kind))
                throw new DesignException("kind", $"There is no test '{request.Kind}'.", "Take step, pulse or relay.");
            var (prepared, document) = SavedPoints.Model(session, request.Point, token);
            var point = TunedLoops.Point(prepared, document, request.At, token);
            var signal = prepared.Find(request.Signal) ?? throw Linearizer.Unknown(prepared.Model, request.Signal);
            var to = Name(prepared, request.To);
            var height = request.Height ?? SineSweep.UsualAmplitude(prepared, point, signal.Name);
            var test = TransientTest.Run(
                prepared,
                new ParameterSet(prepared.Model),
                signal.Name,
                new TransientOptions(
                    kind,
                    height,
                    request.Duration,
                    request.At,
                    to,
                    request.Limit is > 0 and var limit ? [(to, limit)] : [],
                    DocumentRun.OptionsOf(document)
                ),
                token
            );
            var every = Math.Max(1, test.Times.Length / MostCourse);
            double[] Thinned(double[] values) => [.. values.Where((_, i) => i % every == 0).Select(Finite)];
            return Beside(
                prepared,
                point,
                (signal.Name, null, to),
                height,
                test.Points,
                new RecordView(Thinned(test.Times), Thinned(test.Input), Thinned(test.Output), test.Moved)
            );
        });

    /// <summary>What was measured, beside what the linear model says.</summary>
    static SweepAnswer Beside(
        PreparedModel prepared,
        OperatingPoint point,
        (string Signal, string? From, string? To) between,
        double amplitude,
        IReadOnlyList<SweepPoint> points,
        RecordView? record
    )
    {
        var (linear, why) = LinearBeside(prepared, point, between.Signal, between.From, between.To, [.. points.Select(p => p.Frequency)]);
        static double? Known(double v) => double.IsFinite(v) ? v : null;
        return new SweepAnswer(
            amplitude,
            [
                .. points.Select(p => new SweepPointView(
                    p.Frequency,
                    Known(p.Value.Real),
                    Known(p.Value.Imaginary),
                    Known(20 * Math.Log10(p.Value.Magnitude)),
                    Known(p.Value.Phase * 180 / Math.PI),
                    p.Coherence,
                    p.Purity,
                    p.Problem
                )),
            ],
            [.. linear.Select(r => Known(20 * Math.Log10(r.Magnitude)) ?? 0)],
            linear.Length > 0 ? DesignViews.Unwrapped(linear) : [],
            why,
            record
        );
    }

    /// <summary>The same by the linear model, where there is one.</summary>
    static (Complex[] Response, string? Why) LinearBeside(
        PreparedModel prepared,
        OperatingPoint point,
        string signal,
        string? from,
        string? to,
        double[] frequencies
    )
    {
        try
        {
            // Around the loop, or the ratio of what a small input does to both signals.
            if (from is null && to is null)
            {
                var loop = Linearizer.Between(prepared, point, signal, signal, signal).Reduced();
                return ([.. frequencies.Select(w => -loop.At(new Complex(0, w)))], null);
            }

            var answer = Linearizer.Between(prepared, point, signal, to ?? signal).Reduced();
            var isExcited = from is null || from == signal;
            var input = Linearizer.Between(prepared, point, signal, isExcited ? signal : from!).Reduced();
            return (
                [
                    .. frequencies.Select(w =>
                    {
                        var s = new Complex(0, w);
                        return answer.At(s) / ((isExcited ? 1 : 0) + input.At(s));
                    }),
                ],
                null
            );
        }
        catch (DesignException e)
        {
            return ([], e.Message);
        }
    }

    /// <summary>A transfer function for a response.</summary>
    /// <exception cref="DesignException">There are too few points, or no such model.</exception>
    public FitAnswer Fit(FitRequest request, CancellationToken wanted) => compute.Run(Most, wanted, token =>
        {
            if (request.Re.Count != request.Frequencies.Count || request.Im.Count != request.Frequencies.Count)
                throw new DesignException("points", "Each frequency needs one real and one imaginary part.", "Send lists of one length.");
            var response = request.Re.Zip(request.Im, (re, im) => new Complex(re, im)).ToArray();
            var fit = RationalFit.Of(
                request.Frequencies,
                response,
                new FitForm(request.Zeros, request.Order, request.Integrators, request.HasDelay),
                token
            );
            var fitted = request.Frequencies.Select(fit.At).ToArray();
            return new FitAnswer(
                fit.Numerator,
                fit.Denominator,
                fit.Delay,
                fit.Quality,
                fit.LargestError,
                fit.IsStable,
                [.. fitted.Select(r => double.IsFinite(r.Magnitude) ? Math.Clamp(20 * Math.Log10(r.Magnitude), -400, 400) : 0)],
                DesignViews.Unwrapped(fitted)
            );
        });
}
