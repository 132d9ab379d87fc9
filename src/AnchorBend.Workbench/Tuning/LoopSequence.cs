using AnchorBend.Compiler.Preparation;
using AnchorBend.Design;
using AnchorBend.Simulation;
using AnchorBend.Workbench.Compute;
using AnchorBend.Workbench.Models;

namespace AnchorBend.Workbench.Tuning;

/// <summary>
/// Tunes loops inside one another, inner ones first: each with the gains that were found before it already in the model, on the plant that
/// the running model shows beside the controller's own action, or on the linear one.
/// </summary>
public sealed class LoopSequence(ComputeGate compute)
{
    static readonly TimeSpan Most = TimeSpan.FromMinutes(5);

    const double UsualPeak = 1.6;

    /// <exception cref="DesignException">There is no loop, nothing was measured, or the wishes cannot be met.</exception>
    public TuneStepAnswer Step(ModelSession session, TuneStepRequest request, CancellationToken wanted) =>
        compute.Run(Most, wanted, token => StepOf(session, request, token));

    static TuneStepAnswer StepOf(ModelSession session, TuneStepRequest request, CancellationToken wanted)
    {
        var controller = TunedLoops.With(session, request.Part, request.Point, request.Before ?? [], wanted);
        var prepared = controller.Prepared;
        var point = TunedLoops.Point(prepared, controller.Document, request.At, wanted);
        var form = request.Form is null
            ? (controller.Present is PidGains { HasIntegral: true, Form: var has } ? has : PidForm.PI)
            : DesignAsks.Form(request.Form, controller.Law);
        var shape = LoopDesign.ShapeOf(controller.Present) with { Form = form };
        if (controller.Substitute(shape) is not null)
            throw new DesignException(
                "form",
                "A disturbance-rejecting controller is not tuned in a sequence.",
                "Design it in the view Loop, or put a PID in its place."
            );
        if (request.Excitation is { } excitation)
        {
            var measuring = new PlantMeasurement(controller, point, excitation, request.At, request.Margin?.Bandwidth, wanted);
            return Answer(controller, measuring.Design(p => Designed(p, shape, request, wanted)), measuring);
        }

        var plant = LoopDesign.Of(prepared, new ParameterSet(prepared.Model), controller.Path, point).Plant;
        return Answer(controller, Designed(plant, shape, request, wanted), null);

        TuneStepAnswer Answer(TunedController controller, StepDesign design, PlantMeasurement? measured) =>
            new(
                DesignViews.View(controller.Present),
                DesignViews.View(design.After.Gains),
                DesignViews.Figures(LoopFigures.Of(controller.Present, design.Plant, wanted), null),
                DesignViews.Figures(design.After, null),
                controller.Texts(design.After.Gains, point),
                design.Remark,
                measured?.Beyond(design) ?? DesignViews.Warning(design.After),
                measured?.View()
            );
    }

    static StepDesign Designed(LinearSystem plant, PidGains shape, TuneStepRequest request, CancellationToken wanted)
    {
        var (gains, remark) = Found(plant, shape, request, wanted);
        return new StepDesign(plant, LoopFigures.Of(LoopDesign.Written(gains), plant, wanted), remark);
    }

    static (PidGains Gains, string? Remark) Found(LinearSystem plant, PidGains shape, TuneStepRequest request, CancellationToken wanted)
    {
        if (request.Margin is { } m)
        {
            var solved = PidTuning.Solve(plant, shape, m.Bandwidth, m.PhaseMargin, wanted);
            return (solved.Pid(), solved.Remark);
        }

        if (!shape.HasIntegral)
            throw new DesignException("form", $"{shape.Form} has no integral part to make the best of.", "Take PI or PID, or a margin.");
        var most = request.Sensitivity ?? UsualPeak;
        return (
            RobustPid.Best(plant, shape, new LoopLimits(most), LoopGoal.Load, wanted)?.Pid()
                ?? throw new DesignException("limits", $"No {shape.Form} keeps this peak of the sensitivity.", "Let it be higher."),
            null
        );
    }
}
