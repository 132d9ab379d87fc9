using AnchorBend.Compiler.Derivation;
using AnchorBend.Compiler.Emission;
using AnchorBend.Compiler.Planning;
using AnchorBend.Modeling.Flat;
using AnchorBend.Numerics.Linear;
using MathNet.Numerics.LinearAlgebra;

namespace AnchorBend.Simulation;

/// <summary>
/// Finds starts of states from initial equations and from the wish to begin at rest: Newton's method with the exact Jacobian and steps of
/// least size, so that what nothing determines stays at its guess (Deuflhard, "Newton Methods for Nonlinear Problems", ch. 4); where that
/// fails, homotopy from the guess; for rest also the implicit Euler method with growing steps (pseudo-transient continuation;
/// Kelley and Keyes, SIAM J. Numer. Anal. 35, 1998).
/// </summary>
sealed unsafe class StartSolver
{
    const int MostIterations = 60;

    /// <summary>Up to this size the step of least size is computed by singular values.</summary>
    const int DenseLimit = 400;

    readonly ModelInstance model;
    readonly CompiledPlan compiled;
    readonly ExecutionPlan plan;
    readonly Action settle;
    readonly double time;
    readonly int[] steady, free;
    readonly int equations;
    readonly double[] guess;

    /// <param name="settle">Evaluates everything at the present states, relations and discrete values included.</param>
    public StartSolver(ModelInstance model, RunOptions options, Action settle)
    {
        (this.model, compiled, plan, this.settle, time) = (model, model.Compiled, model.Compiled.Plan, settle, options.Start);
        equations = plan.Model.InitialEquations.Count;
        bool Rests(int slot) => options.SteadyStart || options.SteadyParts.Any(p => plan.Model.Variables[plan.States[slot]].Owner is var owner && (owner == p || owner.StartsWith(p + ".", StringComparison.Ordinal)));
        foreach (var part in options.SteadyParts)
            if (!plan.Model.Variables.Any(v => v.Owner == part || v.Owner.StartsWith(part + ".", StringComparison.Ordinal)))
                throw Fail("steady", $"There is no part '{part}' to start at rest.", "", null,
                    Language.Nearest.Of(part, plan.Model.Variables.Select(v => v.Owner).Distinct()) is { Length: > 0 } near ? $"Did you mean '{near}'?" : "Check the names of the parts that start at rest in the run's settings.");
        steady = [.. Enumerable.Range(0, plan.States.Length).Where(Rests)];
        guess = [.. Enumerable.Range(0, plan.States.Length).Select(i => model.States[i])];
        free = IsNeeded ? Free() : [];
    }

    public bool IsNeeded => equations + steady.Length > 0;

    /// <summary>Where the states begin, after solving.</summary>
    public IReadOnlyList<StartEntry> Report()
    {
        var solved = free.ToHashSet();
        return [.. plan.States.Select((s, i) => new StartEntry(plan.Model.NameOf(s), guess[i], model.States[i],
            solved.Contains(i) ? StartKind.Solved : plan.Model.Variables[s].IsFixed ? StartKind.Fixed : StartKind.Given))];
    }

    /// <summary>The states to solve for: those that rest, and one for each initial equation by a matching.</summary>
    int[] Free()
    {
        var result = steady.Where(s => !plan.Model.Variables[plan.States[s]].IsFixed).ToHashSet();
        if (equations > 0)
        {
            var pattern = compiled.Start.Jacobian.Pattern;
            var candidates = new List<int>[equations];
            for (var e = 0; e < equations; e++) candidates[e] = [];
            for (var s = 0; s < plan.States.Length; s++)
            {
                if (plan.Model.Variables[plan.States[s]].IsFixed) continue;
                for (var p = pattern.Starts[s]; p < pattern.Starts[s + 1] && pattern.Rows[p] < equations; p++) candidates[pattern.Rows[p]].Add(s);
            }

            // A state without a start value of its own gives way first.
            var order = candidates.Select(c => c.OrderBy(s => plan.Model.Variables[plan.States[s]].Start is null ? 0 : 1).ThenBy(s => s).ToArray()).ToArray();
            var matched = Matching.Match(order, plan.States.Length);
            for (var e = 0; e < equations; e++)
            {
                if (matched[e] >= 0) result.Add(matched[e]);
                else
                {
                    var initial = plan.Model.InitialEquations[e];
                    throw Fail("start", $"The initial equation in line {initial.At.Line} determines no state that is still open.", initial.Owner, null,
                        "Remove fixed = true from a start value it concerns, or remove the equation.");
                }
            }
        }

        return [.. result.Order()];
    }

    /// <summary>Solves; the states of the model hold the start then.</summary>
    /// <exception cref="SimulationException">There is no start, or none is found near the guesses.</exception>
    public void Solve()
    {
        var n = plan.States.Length;
        settle();
        var small = equations + steady.Length <= DenseLimit && free.Length <= DenseLimit;
        if (small && Newton(null)) return;
        if (small)
        {
            Restore();
            if (Homotopy()) return;
        }

        Restore();
        if (steady.Length == n && equations == 0 && Relax() && (!small || Newton(null))) return;
        Report(Residuals());
    }

    void Restore()
    {
        for (var i = 0; i < guess.Length; i++) model.States[i] = guess[i];
        settle();
    }

    double[] Residuals()
    {
        var r = new double[equations + steady.Length];
        if (equations > 0)
            fixed (double* target = r)
                compiled.Start.Residuals(model, time, model.States, model.StateDerivatives, model.Memory, EvaluationMode.Outputs, target);
        for (var i = 0; i < steady.Length; i++) r[equations + i] = model.StateDerivatives[steady[i]];
        return r;
    }

    /// <summary>Derivatives of the residuals along the free states; delayed signals move with their sources.</summary>
    Matrix<double> Slopes()
    {
        var program = compiled.Start.Jacobian;
        var (n, m) = (plan.States.Length, plan.Model.Delays.Count);
        using var evaluator = new JacobianEvaluator(model, program);
        var values = new double[program.Pattern.Count];
        fixed (double* v = values) evaluator.FromPresent(time, model.States, model.StateDerivatives, v);
        var rowOf = new int[equations + n + m];
        Array.Fill(rowOf, -1);
        for (var e = 0; e < equations; e++) rowOf[e] = e;
        for (var i = 0; i < steady.Length; i++) rowOf[equations + steady[i]] = equations + i;
        var columnOf = new int[n + m];
        Array.Fill(columnOf, -1);
        for (var i = 0; i < free.Length; i++) columnOf[free[i]] = i;
        for (var d = 0; d < m; d++)
        {
            rowOf[equations + n + d] = equations + steady.Length + d;
            columnOf[n + d] = free.Length + d;
        }

        var all = Matrix<double>.Build.Dense(equations + steady.Length + m, free.Length + m);
        for (var c = 0; c < n + m; c++)
            for (var p = program.Pattern.Starts[c]; p < program.Pattern.Starts[c + 1]; p++)
                if (columnOf[c] >= 0 && rowOf[program.Pattern.Rows[p]] is var r and >= 0) all[r, columnOf[c]] = values[p];
        if (m == 0) return all;
        var (rows, columns) = (equations + steady.Length, free.Length);
        var through = Matrix<double>.Build.DenseIdentity(m) - all.SubMatrix(rows, m, columns, m);
        return all.SubMatrix(0, rows, 0, columns) + all.SubMatrix(0, rows, columns, m) * through.Solve(all.SubMatrix(rows, m, 0, columns));
    }

    /// <summary>Damped Newton iterations to residuals of zero, or to the given ones.</summary>
    bool Newton(double[]? target)
    {
        double[] Gap() => target is null ? Residuals() : [.. Residuals().Select((r, i) => r - target[i])];
        var gap = Vector<double>.Build.Dense(Gap());
        for (var iteration = 0; iteration < MostIterations; iteration++)
        {
            if (gap.Any(v => !double.IsFinite(v))) return false;
            if (gap.Count == 0 || gap.AbsoluteMaximum() == 0) return true;
            var step = LeastStep(Slopes(), gap);
            var before = free.Select(f => model.States[f]).ToArray();
            var largest = 0.0;
            var damping = 1.0;
            while (true)
            {
                largest = 0;
                for (var i = 0; i < free.Length; i++)
                {
                    model.States[free[i]] = before[i] - damping * step[i];
                    largest = Math.Max(largest, Math.Abs(damping * step[i]) / (1e-9 + Math.Abs(before[i])));
                }

                settle();
                var next = Vector<double>.Build.Dense(Gap());
                var norm = next.L2Norm();
                if (double.IsFinite(norm) && norm <= gap.L2Norm() || largest < 1e-13)
                {
                    gap = next;
                    break;
                }

                damping /= 2;
                if (damping < 1e-8) return false;
            }

            if (largest < 1e-12 && damping == 1) return target is not null || IsSolved(gap.ToArray());
        }

        return target is null && IsSolved(gap.ToArray());
    }

    static Vector<double> LeastStep(Matrix<double> slopes, Vector<double> gap)
    {
        var svd = slopes.Svd(true);
        var cut = 1e-12 * (svd.S.Count > 0 ? svd.S[0] : 0);
        var inner = svd.U.TransposeThisAndMultiply(gap);
        var scaled = Vector<double>.Build.Dense(slopes.ColumnCount, i => i < svd.S.Count && svd.S[i] > cut ? inner[i] / svd.S[i] : 0);
        return svd.VT.TransposeThisAndMultiply(scaled);
    }

    /// <summary>From the guess, where the residuals are what they are, to zero residuals in steps that Newton's method can follow.</summary>
    bool Homotopy()
    {
        var start = Residuals();
        if (start.Any(v => !double.IsFinite(v))) return false;
        double reached = 0, step = 0.1;
        for (var attempt = 0; attempt < 200; attempt++)
        {
            var next = Math.Min(1, reached + step);
            var before = free.Select(f => model.States[f]).ToArray();
            if (Newton([.. start.Select(r => (1 - next) * r)]))
            {
                if (next >= 1) return IsSolved(Residuals());
                reached = next;
                step *= 2;
                continue;
            }

            for (var i = 0; i < free.Length; i++) model.States[free[i]] = before[i];
            settle();
            step /= 4;
            if (step < 1e-6) return false;
        }

        return false;
    }

    /// <summary>Part of a step that the linear equations of it may miss.</summary>
    const double MostMissed = 0.3;

    /// <summary>
    /// Lets the model run to rest by implicit Euler steps, solved once linearly, that grow as long as the linear solution meets the equations
    /// (pseudo-transient continuation; Kelley and Keyes, SIAM J. Numer. Anal. 35, 1998). Slopes may grow on the way: a soft volume stiffens.
    /// </summary>
    bool Relax()
    {
        var n = plan.States.Length;
        var pattern = compiled.Jacobian.Pattern;
        using var matrix = ShiftedMatrix<double>.For(pattern);
        using var evaluator = new JacobianEvaluator(model, compiled.Jacobian);
        var values = new double[Math.Max(1, pattern.Count)];
        var (change, before) = (new double[n], new double[n]);
        var length = 1e-3;
        for (var k = 0; k < 1000; k++)
        {
            if (IsSolved(Residuals())) return true;
            fixed (double* v = values, c = change)
            {
                evaluator.FromPresent(time, model.States, model.StateDerivatives, v);
                for (var i = 0; i < n; i++) (before[i], change[i]) = (model.States[i], model.StateDerivatives[i]);
                if (matrix.Factorize(1 / length, v)) matrix.Solve(c);
                else Array.Clear(change);
            }

            for (var i = 0; i < n; i++) model.States[i] += change[i];
            settle();
            double missed = 0, moved = 0;
            for (var i = 0; i < n; i++)
            {
                var scale = 1e-9 + Math.Abs(before[i]) + Math.Abs(change[i]);
                missed += Math.Pow((change[i] - length * model.StateDerivatives[i]) / scale, 2);
                moved += Math.Pow(change[i] / scale, 2);
            }

            // Near rest both are rounding.
            var ratio = moved < 1e-24 ? 0 : Math.Sqrt(missed / moved);
            if (ratio <= MostMissed)
            {
                length = Math.Min(1e12, length * (ratio < 0.03 ? 5 : ratio < 0.1 ? 2 : 1));
                continue;
            }

            for (var i = 0; i < n; i++) model.States[i] = before[i];
            settle();
            length /= 4;
            if (length < 1e-13) return false;
        }

        return IsSolved(Residuals());
    }

    bool IsSolved(double[] residuals)
    {
        for (var i = 0; i < residuals.Length; i++)
            if (!(Math.Abs(residuals[i]) <= Allowed(i))) return false;
        return true;
    }

    /// <summary>How far a state may go from its guess and still be measured by its own size; one that runs away is not at rest for being large.</summary>
    const double FarFromGuess = 1e3;

    double Allowed(int row)
    {
        if (row < equations) return 1e-7;
        var state = steady[row - equations];
        return 1e-7 * (1 + Math.Min(Math.Abs(model.States[state]), FarFromGuess * (1 + Math.Abs(guess[state]))));
    }

    void Report(double[] residuals)
    {
        var worst = Enumerable.Range(0, residuals.Length).MaxBy(i => double.IsFinite(residuals[i]) ? Math.Abs(residuals[i]) / Allowed(i) : double.PositiveInfinity);
        if (worst < equations)
        {
            var initial = plan.Model.InitialEquations[worst];
            throw Fail("start", $"The initial equation in line {initial.At.Line} cannot be met near the start values: its sides differ by {residuals[worst]:G4}.", initial.Owner, null,
                "Give start values nearer to the solution, or check the initial equations against each other.");
        }

        var state = plan.Model.Variables[plan.States[steady[worst - equations]]];
        throw Fail("steady", $"There is no steady state near the start values: '{state.Name}' keeps changing at {residuals[worst]:G4} per second.", state.Owner, state.Name,
            "Let a controller or a limit hold it, give start values nearer to rest, or start from the given values.");
    }

    SimulationException Fail(string code, string message, string part, string? quantity, string advice) => new(new SimulationFailure(code, message, part, quantity, time, advice));
}
