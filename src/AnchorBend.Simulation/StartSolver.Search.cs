using AnchorBend.Numerics.Linear;
using MathNet.Numerics.LinearAlgebra;

namespace AnchorBend.Simulation;

/// <summary>Ways to a start: Newton's method, homotopy from the guess, and letting the model come to rest.</summary>
sealed unsafe partial class StartSolver
{
    /// <summary>Damped Newton iterations to residuals of zero, or to the given ones.</summary>
    bool Newton(double[]? target)
    {
        double[] Gap() => target is null ? Residuals() : [.. Residuals().Select((r, i) => r - target[i])];
        var gap = Vector<double>.Build.Dense(Gap());
        for (var iteration = 0; iteration < MostIterations; iteration++)
        {
            if (gap.Any(v => !double.IsFinite(v)))
                return false;
            if (gap.Count == 0 || gap.AbsoluteMaximum() == 0)
                return true;
            if (LeastStep(Slopes(), gap) is not { } step)
                return false;
            var before = unknowns.Select(f => model.States[f]).ToArray();
            var here = Kept();
            var largest = 0.0;
            var damping = 1.0;
            while (true)
            {
                largest = 0;
                for (var i = 0; i < unknowns.Length; i++)
                {
                    model.States[unknowns[i]] = before[i] - damping * step[i];
                    largest = Math.Max(largest, Math.Abs(damping * step[i]) / (1e-9 + Math.Abs(before[i])));
                }

                if (Follows())
                {
                    var next = Vector<double>.Build.Dense(Gap());
                    var norm = next.L2Norm();
                    if (double.IsFinite(norm) && norm <= gap.L2Norm() || largest < 1e-13)
                    {
                        gap = next;
                        break;
                    }
                }

                PutBack(here);
                damping /= 2;
                if (damping < 1e-8)
                    return false;
            }

            if (largest < 1e-12 && damping == 1)
                return target is not null || IsSolved(gap.ToArray());
        }

        return target is null && IsSolved(gap.ToArray());
    }

    /// <summary>Evaluates everything at states that are tried; a loop without solution there makes the step shorter.</summary>
    bool Follows()
    {
        try
        {
            settle();
            return true;
        }
        catch (SimulationException)
        {
            return false;
        }
    }

    /// <summary>All values as they are: loops are solved from those before, so a state that is given up must leave none behind.</summary>
    double[] Kept() => new ReadOnlySpan<double>(model.Memory, compiled.Layout.Size).ToArray();

    void PutBack(double[] kept) => kept.CopyTo(new Span<double>(model.Memory, compiled.Layout.Size));

    /// <summary>The shortest step that takes the gap away to first order; null where slopes are no numbers, or nothing can step.</summary>
    static Vector<double>? LeastStep(Matrix<double> slopes, Vector<double> gap)
    {
        if (slopes.ColumnCount == 0)
            return null;
        // The decomposition never ends on what is no number, nor always on sizes next to the ends of their range.
        var size = slopes.Enumerate().Max(Math.Abs);
        if (!double.IsFinite(size))
            return null;
        size = size > 0 ? Math.ScaleB(1, Math.ILogB(size)) : 0;
        if (size > 0)
            slopes = slopes.Map(v => Math.Abs(v / size) < 1e-100 ? 0 : v / size);
        else
            size = 1;
        var svd = slopes.Svd(true);
        var cut = 1e-12 * (svd.S.Count > 0 ? svd.S[0] : 0);
        var inner = svd.U.TransposeThisAndMultiply(gap / size);
        var scaled = Vector<double>.Build.Dense(slopes.ColumnCount, i => i < svd.S.Count && svd.S[i] > cut ? inner[i] / svd.S[i] : 0);
        return svd.VT.TransposeThisAndMultiply(scaled);
    }

    /// <summary>From the guess, where the residuals are what they are, to zero residuals in steps that Newton's method can
    /// follow.</summary>
    bool Homotopy()
    {
        var start = Residuals();
        if (start.Any(v => !double.IsFinite(v)))
            return false;
        double reached = 0,
            step = 0.1;
        for (var attempt = 0; attempt < 200; attempt++)
        {
            var next = Math.Min(1, reached + step);
            var before = unknowns.Select(f => model.States[f]).ToArray();
            var here = Kept();
            if (Newton([.. start.Select(r => (1 - next) * r)]))
            {
                if (next >= 1)
                    return IsSolved(Residuals());
                reached = next;
                step *= 2;
                continue;
            }

            PutBack(here);
            for (var i = 0; i < unknowns.Length; i++)
                model.States[unknowns[i]] = before[i];
            if (!Follows())
                return false;
            step /= 4;
            if (step < 1e-6)
                return false;
        }

        return false;
    }

    /// <summary>Part of a step that the linear equations of it may miss.</summary>
    const double MostMissed = 0.3;

    /// <summary>
    /// Lets the model run to rest by implicit Euler steps, solved once linearly, that grow as long as the linear solution meets the
    /// equations (pseudo-transient continuation; Kelley and Keyes, SIAM J. Numer. Anal. 35, 1998). Slopes may grow on the way: a soft
    /// volume stiffens. States that may move stay where they are.
    /// </summary>
    bool Relax()
    {
        var n = plan.States.Length;
        var pattern = compiled.Jacobian.Pattern;
        using var matrix = ShiftedMatrix<double>.For(pattern);
        using var evaluator = new JacobianEvaluator(model, compiled.Jacobian);
        var values = new double[Math.Max(1, pattern.Count)];
        var (change, before) = (new double[n], new double[n]);
        var rests = new bool[n];
        foreach (var s in steady)
            rests[s] = true;
        var length = 1e-3;
        for (var k = 0; k < 1000; k++)
        {
            if (IsSolved(Residuals()))
                return true;
            fixed (
                double* v = values,
                    c = change
            )
            {
                evaluator.FromPresent(time, model.States, model.StateDerivatives, v);
                for (var i = 0; i < n; i++)
                    (before[i], change[i]) = (model.States[i], rests[i] ? model.StateDerivatives[i] : 0);
                if (matrix.Factorize(1 / length, v))
                    matrix.Solve(c);
                else
                    Array.Clear(change);
            }

            var here = Kept();
            for (var i = 0; i < n; i++)
                model.States[i] += change[i] = rests[i] ? change[i] : 0;
            var follows = Follows();
            double missed = 0,
                moved = 0;
            for (var i = 0; i < n; i++)
            {
                var scale = 1e-9 + Math.Abs(before[i]) + Math.Abs(change[i]);
                missed += rests[i] ? Math.Pow((change[i] - length * model.StateDerivatives[i]) / scale, 2) : 0;
                moved += Math.Pow(change[i] / scale, 2);
            }

            // Near rest both are rounding.
            var ratio =
                !follows ? double.PositiveInfinity
                : moved < 1e-24 ? 0
                : Math.Sqrt(missed / moved);
            if (ratio <= MostMissed)
            {
                length = Math.Min(
                    1e12,
                    length
                        * (
                            ratio < 0.03 ? 5
                            : ratio < 0.1 ? 2
                            : 1
                        )
                );
                continue;
            }

            PutBack(here);
            for (var i = 0; i < n; i++)
                model.States[i] = before[i];
            settle();
            length /= 4;
            if (length < 1e-13)
                return false;
        }

        return IsSolved(Residuals());
    }
}
