using AnchorBend.Compiler.Preparation;
using AnchorBend.Design;
using AnchorBend.Simulation;

namespace AnchorBend.Workbench.Tuning;

/// <summary>What is wished of a loop.</summary>
/// <param name="At">Instant of the operating point in s; null for the steady state.</param>
/// <param name="Bandwidth">Gain-crossover frequency in rad/s; null for what the loop has, or what suits its plant.</param>
/// <param name="PhaseMargin">In degrees; null for 60.</param>
public sealed record LoopWishes(double? At, double? Bandwidth, double? PhaseMargin);

/// <summary>Gains proposed for one loop, with the plant they are for.</summary>
public sealed record LoopProposal(
    LoopDesign Design,
    OperatingPoint Point,
    double Bandwidth,
    double PhaseMargin,
    IReadOnlyList<PidCandidate> Candidates
)
{
    /// <param name="part">Path of the controller in the flat model.</param>
    /// <param name="run">Settings of the run that leads to an instant; null where only the steady state is asked for.</param>
    /// <exception cref="DesignException">There is no loop, or the wishes cannot be met.</exception>
    public static LoopProposal Of(
        PreparedModel prepared,
        ParameterSet parameters,
        string part,
        LoopWishes wishes,
        RunOptions? run,
        CancellationToken wanted
    )
    {
        var margin = wishes.PhaseMargin ?? 60;
        // What cannot be proposed should not wait for a run to its operating point.
        LoopDesign.Controller(prepared, parameters, part);
        PidTuning.CheckWishes(wishes.Bandwidth ?? 1, margin);
        var point = PointAt(prepared, parameters, wishes.At, run, wanted);
        var design = LoopDesign.Of(prepared, parameters, part, point);
        var bandwidth = wishes.Bandwidth
            ?? PidTuning.Judge("present", design.Present, design.Plant, false, null, wanted).Bandwidth
            ?? PidTuning.SuggestBandwidth(design.Plant, design.Present.Period);
        return new LoopProposal(design, point, bandwidth, margin, design.Candidates(bandwidth, margin, wanted));
    }

    internal static OperatingPoint PointAt(
        PreparedModel prepared,
        ParameterSet parameters,
        double? at,
        RunOptions? run,
        CancellationToken wanted
    )
    {
        if (at is not { } time)
            return OperatingPoint.AtStart(prepared, parameters, run, wanted);
        if (run is null || !(time >= run.Start && time <= run.End))
            throw new DesignException(
                "operating-point",
                $"The operating point lies at {time:G5} s, outside the run, which goes from {run?.Start ?? 0:G5} to {run?.End ?? 0:G5} s.",
                "Choose an instant within the run, or the steady state."
            );
        return OperatingPoint.AtTime(prepared, parameters, time, run, wanted);
    }
}
