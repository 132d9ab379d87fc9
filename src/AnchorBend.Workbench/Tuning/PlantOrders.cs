using AnchorBend.Compiler.Preparation;
using AnchorBend.Design;
using AnchorBend.Design.Identification;
using AnchorBend.Simulation;
using AnchorBend.Workbench.Compute;
using AnchorBend.Workbench.Models;

namespace AnchorBend.Workbench.Tuning;

/// <param name="Part">Path of the controller by ids.</param>
/// <param name="Height">Of the step in the controller's output; null for a hundredth of it.</param>
/// <param name="Duration">s; null for what suits the loop.</param>
/// <param name="Limit">How far the measured value may move before the test is given up; null for any way.</param>
public sealed record PlantOrderRequest(string Part, double? At, string? Point, double? Height, double? Duration, double? Limit);

/// <summary>What a step beside the controller's own action shows of its plant.</summary>
/// <param name="Order">1 or 2.</param>
/// <param name="InputGain">With the sign that the controller's gain has.</param>
/// <param name="Slope">Of the gain over the frequency, where it was read.</param>
/// <param name="Frequency">Where it was read, rad/s.</param>
/// <param name="Remark">What is to be known of it; null for nothing.</param>
public sealed record PlantOrderAnswer(
    int Order,
    double InputGain,
    double Slope,
    double Frequency,
    double Height,
    double Duration,
    string? Remark,
    RecordView Record
);

/// <summary>Order and input gain of a loop's plant, measured on the running model.</summary>
public sealed class PlantOrders(ComputeGate compute, TunedLoops loops)
{
    static readonly TimeSpan Most = TimeSpan.FromMinutes(2);

    /// <summary>A step lasts so many times the time in which the loop turns by a radian.</summary>
    const double Turns = 40;

    const int MostCourse = 400;

    /// <summary>The measured value should not move by itself more than this part of what the step moves.</summary>
    const double Quiet = 0.3;

    /// <exception cref="DesignException">There is no loop, or the step shows too little.</exception>
    public PlantOrderAnswer Of(ModelSession session, PlantOrderRequest request, CancellationToken wanted) =>
        compute.Run(Most, wanted, token => Measured(session, request, token));

    PlantOrderAnswer Measured(ModelSession session, PlantOrderRequest request, CancellationToken wanted)
    {
        var loop = loops.Find(session, request.Part, request.At, request.Point, wanted);
        var (design, prepared) = (loop.Design, loop.Prepared);
        var about = design.WorkingBandwidth(wanted);
        var (from, to) = ($"{design.Part}.u", $"{design.Part}.y");
        var height = request.Height ?? SineSweep.UsualAmplitude(prepared, design.Point, from);
        var duration = request.Duration ?? Turns / about;
        var test = TransientTest.Run(
            prepared,
            new ParameterSet(prepared.Model),
            from,
            new TransientOptions(
                TestKind.Step,
                height,
                duration,
                request.At,
                to,
                request.Limit is > 0 and var limit ? [(to, limit)] : [],
                DocumentRun.OptionsOf(loop.Controller.Document)
            ),
            wanted
        );
        var read = PlantOrder.Of(test.Points, about);
        var every = Math.Max(1, test.Times.Length / MostCourse);
        double[] Thinned(double[] values) => [.. values.Where((_, i) => i % every == 0).Select(v => double.IsFinite(v) ? v : 0)];
        return new PlantOrderAnswer(
            read.Order,
            design.Sign * read.InputGain,
            read.Slope,
            read.Frequency,
            height,
            duration,
            Remark(read, test),
            new RecordView(Thinned(test.Times), Thinned(test.Input), Thinned(test.Output), test.Moved)
        );
    }

    static string? Remark(PlantOrder read, TransientTest test)
    {
        if (test.Moved > Quiet * test.Output.Max(Math.Abs))
            return "The measured value moved much by itself meanwhile; take a larger step or a point at rest.";
        return read.IsClear
            ? null
            : FormattableString.Invariant(
                $"Around {read.Frequency:G3} rad/s the gain falls with the power {-read.Slope:F1} of the frequency, between the orders."
            );
    }
}
