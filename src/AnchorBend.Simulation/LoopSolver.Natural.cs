using AnchorBend.Language.Terms;

namespace AnchorBend.Simulation;

/// <summary>What is tried where the residual does not fall.</summary>
sealed unsafe partial class LoopSolver
{
    const int MostNaturalIterations = 200;

    /// <summary>Shares of Newton's change below which none is tried.</summary>
    const double LeastShare = 1e-9;

    /// <summary>Steps that are taken whole as long as they give numbers: a start in a corner, as flows at rest are, says nothing of what
    /// comes.</summary>
    const int FreeIterations = 20;

    /// <summary>
    /// Newton's method damped by its own changes instead of the residual: a step is taken where the change that would follow with the same
    /// Jacobian is smaller (natural monotonicity test; Deuflhard, "Newton Methods for Nonlinear Problems", section 3.3). It does not
    /// depend on how equations are scaled, so that flows and enthalpies may stand in one loop.
    /// </summary>
    /// <returns>Whether the unknowns come near to a solution.</returns>
    bool Natural(double time, double* x, double* dx, int mode)
    {
        var (change, next, at) = (new double[n], new double[n], new double[n]);
        var nominal = Nominal(1);
        var share = 1.0;
        for (var iteration = 0; iteration < MostNaturalIterations; iteration++)
        {
            Iterations++;
            if (!Change(change) || Factorize(time, x, dx, mode) >= 0)
                return false;
            Solved(change);
            for (var i = 0; i < n; i++)
                at[i] = *Place(block.Torn[i], x, dx);
            var size = Size(change);
            if (!double.IsFinite(size))
                return false;
            if (size < 1e-9)
                return true;
            while (true)
            {
                for (var i = 0; i < n; i++)
                    *Place(block.Torn[i], x, dx) = at[i] - share * change[i];
                Guess(x, dx);
                if (Change(next))
                {
                    if (iteration < FreeIterations)
                        break;
                    Solved(next);
                    if (Size(next) <= (1 - share / 4) * size)
                        break;
                }

                share /= 2;
                if (share < LeastShare)
                    return false;
            }

            share = Math.Min(1, 2 * share);
        }

        return false;

        bool Change(double[] residuals)
        {
            fixed (double* r = residuals)
                code.EvaluateResiduals(instance, time, x, dx, instance.Memory, mode, r);
            return Array.TrueForAll(residuals, double.IsFinite);
        }

        void Solved(double[] b)
        {
            fixed (double* first = b)
                Apply(first);
        }

        double Size(double[] changes)
        {
            var sum = 0.0;
            for (var i = 0; i < n; i++)
            {
                var part = changes[i] / Math.Max(nominal[i], Math.Abs(at[i]));
                sum += part * part;
            }

            return Math.Sqrt(sum / n);
        }
    }

    /// <summary>The sizes that unknowns are commonly of.</summary>
    /// <param name="unsaid">Where nothing is said.</param>
    double[] Nominal(double unsaid)
    {
        var variables = instance.Compiled.Plan.Model.Variables;
        var evaluator = new TermEvaluator(v => instance.Memory[v]);
        return
        [
            .. block.Torn.Select(v =>
                variables[v].Nominal is { } nominal && Math.Abs(evaluator.Evaluate(nominal)) is > 0 and < double.MaxValue and var size
                    ? size
                    : unsaid
            ),
        ];
    }
}
