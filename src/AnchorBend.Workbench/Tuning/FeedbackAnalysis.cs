using System.Globalization;
using System.Numerics;
using AnchorBend.Design;
using AnchorBend.Workbench.Compute;
using AnchorBend.Workbench.Models;

namespace AnchorBend.Workbench.Tuning;

/// <summary>State feedback with an observer for a plant of a model.</summary>
public sealed class FeedbackAnalysis(ComputeGate compute)
{
    static readonly TimeSpan Most = TimeSpan.FromSeconds(30);

    const int Points = 200,
        Steps = 300;

    /// <exception cref="DesignException">A signal is unknown, samples lie between, or the plant cannot be made stable so.</exception>
    public FeedbackAnswer Of(ModelSession session, FeedbackRequest request, CancellationToken wanted) => compute.Run(Most, wanted, token =>
        {
            var (prepared, document) = SavedPoints.Model(session, request.Point, token);
            var point = TunedLoops.Point(prepared, document, request.At, token);
            var open = (request.Open ?? []).Select(o => ModelAnalysis.Name(prepared, o)).ToList();
            var plant = Linearizer
                .Between(prepared, point, ModelAnalysis.Name(prepared, request.From), ModelAnalysis.Name(prepared, request.To), open)
                .Reduced();
            var weights = request.Weights is { } w
                ? new FeedbackWeights(w.Effort, w.Integral, w.Noise)
                : FeedbackWeights.For(plant, request.Bandwidth, request.Observer, request.Integral);
            return Answer(StateFeedback.Of(plant, weights), plant, point, token);
        });

    static FeedbackAnswer Answer(StateFeedback found, LinearSystem plant, OperatingPoint point, CancellationToken wanted)
    {
        var margins = StabilityMargins.Of(found.Loop, wanted);
        var peaks = new LoopPeaks(found.Loop, null, 0, wanted);
        var (closed, unstable) = (found.Closed, RightHalfPlane.Count(found.Closed, wanted));
        var frequencies = FrequencyGrid.For(found.Loop, Points);
        var response = frequencies.Select(w => found.Loop.At(new Complex(0, w))).ToArray();
        var poles = PolesAndZeros.Poles(closed);
        var end = 6 * poles.Where(p => p.Real < 0).Select(p => -1 / p.Real).DefaultIfEmpty(1).Max();
        StepResponse Step(LinearSystem system) => unstable == 0 ? StepResponse.Of(system, end, Steps) : new StepResponse([], []);
        double[] Values(StepResponse step) => [.. step.Values.Select(ModelAnalysis.Finite)];
        var answer = Step(closed);
        return new FeedbackAnswer(
            point.Name,
            new WeightsView(found.Weights.Effort, found.Weights.Integral, found.Weights.Noise),
            found.States,
            found.Feedback,
            found.Observer,
            [.. poles.Select(ModelAnalysis.Root)],
            [.. margins.GainCrossings.Where(c => double.IsFinite(c.Margin)).Select(c => new CrossingView(c.Frequency, c.Margin))],
            [.. margins.PhaseCrossings.Where(c => double.IsFinite(c.Margin)).Select(c => new CrossingView(c.Frequency, c.Margin))],
            ModelAnalysis.Known(margins.DelayMargin),
            ModelAnalysis.Known(peaks.Sensitivity.Value),
            unstable is null ? null : unstable == 0,
            frequencies,
            [.. response.Select(r => Math.Clamp(ModelAnalysis.Finite(20 * Math.Log10(r.Magnitude)), -400, 400))],
            DesignViews.Unwrapped(response),
            answer.Times,
            Values(answer),
            Values(Step(found.Loaded(plant))),
            Values(Step(found.Effort)),
            Texts(found.Controller)
        );
    }

    static Dictionary<string, string> Texts(LinearSystem controller)
    {
        static string Number(double v) => v.ToString("R", CultureInfo.InvariantCulture);
        var n = controller.Order;
        var rows = Enumerable.Range(0, n).Select(i => string.Join(", ", Enumerable.Range(0, n).Select(j => Number(controller.A[i, j]))));
        return new()
        {
            ["A"] = $"[{string.Join("; ", rows)}]",
            ["b"] = TunedController.Row(controller.B),
            ["c"] = TunedController.Row(controller.C),
            ["d"] = "0",
        };
    }
}
