using AnchorBend.Compiler.Emission;
using AnchorBend.Numerics.Integration;
using AnchorBend.Simulation.Events;
using AnchorBend.Simulation.Stepping;

namespace AnchorBend.Simulation;

/// <summary>Why a method could not go on: the most telling of what is known where its step became too small.</summary>
static unsafe class StepCollapse
{
    public static SimulationFailure Of(StepCollapseException e, Motion motion, ChatteringGuard chattering, RunEvent? last)
    {
        var (model, integrator) = (motion.Model, motion.Integrator);
        new ReadOnlySpan<double>(integrator.State, model.StateCount).CopyTo(new Span<double>(model.States, model.StateCount));
        if (model.TrialFailure is { } loop)
            return loop;
        if (e.NotFinite)
        {
            // The culprit shows at the state or a trifle further along the derivative.
            for (var ahead = 0.0; ahead < 1; ahead = ahead == 0 ? 1e-14 : ahead * 10)
            {
                fixed (double* x = motion.Scratch)
                {
                    for (var i = 0; i < model.StateCount; i++)
                        x[i] = model.States[i] + ahead * Math.Max(1, Math.Abs(e.Time)) * model.StateDerivatives[i];
                    if (Diagnosis.FirstNotFinite(model, e.Time + ahead * Math.Max(1, Math.Abs(e.Time)), x) is { } found)
                        return found;
                    if (ahead == 0)
                        model.Evaluate(e.Time, model.States, model.StateDerivatives, EvaluationMode.Derivatives);
                }
            }
        }

        if (chattering.AreMany && last is not null)
            return new SimulationFailure(
                "chattering",
                $"Events come ever closer at {e.Time:G8} s: {last.What} switches again and again.",
                last.Part,
                null,
                e.Time,
                "Let the motion come to rest below a small speed, or give the switch hysteresis."
            );
        var fastest = 0;
        for (var i = 1; i < model.StateCount; i++)
            if (
                Math.Abs(model.StateDerivatives[i]) / (1e-9 + Math.Abs(model.States[i]))
                > Math.Abs(model.StateDerivatives[fastest]) / (1e-9 + Math.Abs(model.States[fastest]))
            )
                fastest = i;
        var variable = model.StateCount == 0 ? null : motion.Plan.Model.Variables[motion.Plan.States[fastest]];
        return new SimulationFailure(
            "step-collapse",
            $"The step became too small to go on at {e.Time:G8} s; '{variable?.Name}' changes fastest there.",
            variable?.Owner ?? "",
            variable?.Name,
            e.Time,
            "Look for a value that grows without limit or a jump without an event, or loosen the tolerance."
        );
    }
}
