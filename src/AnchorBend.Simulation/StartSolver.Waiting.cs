using AnchorBend.Language;
using AnchorBend.Numerics.Integration;
using AnchorBend.Numerics.Linear;

namespace AnchorBend.Simulation;

/// <summary>Rest by waiting for it: the model runs on, with what comes from outside as it is at the start.</summary>
sealed unsafe partial class StartSolver
{
    const int MostWaitingSteps = 3_000;

    /// <summary>What has not come to rest after this time, in s, does not.</summary>
    const double LongestWait = 1e9;

    /// <summary>The model at one instant: nothing from outside changes.</summary>
    sealed class Still(OdeSystem moving, double time, bool[] rests) : OdeSystem
    {
        public override int Dimension => moving.Dimension;

        public override SparsePattern JacobianPattern => moving.JacobianPattern;

        public override void Derivatives(double t, double* x, double* dx)
        {
            moving.Derivatives(time, x, dx);
            for (var i = 0; i < Dimension; i++)
                if (!rests[i])
                    dx[i] = 0;
        }

        public override void Jacobian(double t, double* x, double* values)
        {
            moving.Jacobian(time, x, values);
            var pattern = JacobianPattern;
            for (var p = 0; p < pattern.Count; p++)
                if (!rests[pattern.Rows[p]])
                    values[p] = 0;
        }
    }

    /// <summary>
    /// Runs from the guesses by Radau's method of order 5 until nothing changes any more: where linear steps do not follow, as in long
    /// pipes whose friction changes faster than their pressures. Sums that nothing changes, such as the mass of a closed loop, stay.
    /// </summary>
    bool Wait()
    {
        var n = plan.States.Length;
        var rests = new bool[n];
        foreach (var s in steady)
            rests[s] = true;
        const double relative = 1e-6;
        var scale = new ErrorScale(relative, IntegratorChoice.Absolute(model, relative));
        using var integrator = new Radau5(new Still(model.Ode, time, rests), scale, LongestWait);
        try
        {
            integrator.Restart(0, model.States);
            for (var k = 0; k < MostWaitingSteps && integrator.Time < LongestWait; k++)
            {
                WorkBudget.Current.Check();
                integrator.Step(LongestWait);
                for (var i = 0; i < n; i++)
                    model.States[i] = integrator.State[i];
                // Looking is as dear as a step.
                if (k % 10 == 0 && Follows() && IsSolved(Residuals()))
                    return true;
            }
        }
        catch (Exception e) when (e is StepCollapseException or SimulationException) { }

        return Follows() && IsSolved(Residuals());
    }
}
