using AnchorBend.Compiler.Preparation;
using AnchorBend.Design;
using AnchorBend.Simulation;

namespace AnchorBend.Workbench.Tuning;

/// <summary>What is best for a loop, and what it must keep.</summary>
/// <param name="At">Instant of the operating point in s; null for the steady state.</param>
/// <param name="Forms">Forms that are proposed; none for PI and PID, as far as the controller can be that.</param>
public sealed record RobustWishes(double? At, LoopLimits Limits, LoopGoal Goal, IReadOnlyList<PidForm> Forms);

/// <summary>The best gains of each form under limits, the best form first, beside the present gains.</summary>
/// <param name="Missing">Forms with which nothing keeps the limits.</param>
public sealed record RobustProposal(
    LoopDesign Design,
    IReadOnlyList<LoopFigures> Candidates,
    LoopFigures Present,
    IReadOnlyList<PidForm> Missing
)
{
    /// <param name="part">Path of the controller in the flat model.</param>
    /// <param name="run">Settings of the run that leads to an instant; null where only the steady state is asked for.</param>
    /// <exception cref="DesignException">There is no loop, or the limits cannot be met by any.</exception>
    public static RobustProposal Of(
        PreparedModel prepared,
        ParameterSet parameters,
        string part,
        RobustWishes wishes,
        RunOptions? run,
        CancellationToken wanted
    )
    {
        LoopDesign.Controller(prepared, parameters, part);
        var point = LoopProposal.PointAt(prepared, parameters, wishes.At, run, wanted);
        var design = LoopDesign.Of(prepared, parameters, part, point);
        if (design.Law.IsRejection)
            throw new DesignException(
                "form",
                $"'{part}' rejects disturbances and is no PID.",
                "Look at its design map on the stage Tune, or put a PID in its place."
            );
        if (wishes.Forms.Except(design.Law.Forms).ToList() is [var other, ..])
            throw new DesignException(
                "form",
                $"'{part}' ({design.Law.Name}) cannot be {other}.",
                $"It can be {string.Join(", ", design.Law.Forms)}."
            );
        var found = (wishes.Forms.Count > 0 ? wishes.Forms : [.. design.Law.Forms.Where(f => f is PidForm.PI or PidForm.PID)])
            .Distinct()
            .Select(form => (Form: form, Best: Best(design, form, wishes, wanted)))
            .ToList();
        return new RobustProposal(
            design,
            [.. found.Select(f => f.Best).OfType<LoopFigures>().OrderBy(f => RobustPid.Cost(wishes.Goal, f))],
            LoopFigures.Of(design.Present, design.Plant, wanted),
            [.. found.Where(f => f.Best is null).Select(f => f.Form)]
        );
    }

    static LoopFigures? Best(LoopDesign design, PidForm form, RobustWishes wishes, CancellationToken wanted)
    {
        var shape = design.Shape with { Form = form };
        return shape.HasIntegral
            ? RobustPid.Best(design.Plant, shape, wishes.Limits, wishes.Goal, wanted)
            : RobustGain.Best([design.Plant], shape, wishes.Limits, wanted)?[0];
    }
}
