using AnchorBend.Compiler.Derivation;
using AnchorBend.Compiler.Emission;
using AnchorBend.Compiler.Planning;
using AnchorBend.Modeling.Flat;
using MathNet.Numerics.LinearAlgebra;

namespace AnchorBend.Simulation;

/// <summary>
/// Finds starts of states from initial equations and from the wish to begin at rest: Newton's method with the exact Jacobian and steps of
/// least size, so that what nothing determines stays at its guess (Deuflhard, "Newton Methods for Nonlinear Problems", ch. 4); where that
/// fails, homotopy from the guess; for rest also the implicit Euler method with growing steps (pseudo-transient continuation;
/// Kelley and Keyes, SIAM J. Numer. Anal. 35, 1998).
/// </summary>
sealed unsafe partial class StartSolver
{
    const int MostIterations = 60;

    /// <summary>Up to this size the step of least size is computed by singular values.</summary>
    const int DenseLimit = 400;

    readonly ModelInstance model;
    readonly CompiledPlan compiled;
    readonly ExecutionPlan plan;
    readonly Action settle;
    readonly double time;
    readonly int[] steady,
        unknowns;

    /// <summary>What must hold at the start.</summary>
    readonly int equations;

    /// <summary>Those that determine a state.</summary>
    readonly int[] rows;

    /// <summary>Fixed values of variables that follow from other fixed ones: they can only be compared.</summary>
    readonly List<int> redundantConditions = [];

    readonly double[] guess;

    /// <summary>Whether the states of a point are taken up, so that the model's fixed start values say nothing.</summary>
    readonly bool isAnew;

    /// <summary>Whether all states are to rest but those that may move.</summary>
    readonly bool isRest;

    /// <param name="settle">Evaluates everything at the present states, relations and discrete values included.</param>
    public StartSolver(ModelInstance model, RunOptions options, Action settle)
    {
        (this.model, compiled, plan, this.settle, time) = (model, model.Compiled, model.Compiled.Plan, settle, options.Start);
        // Where everything is to rest, start values are guesses; from where a point was, nothing else is to hold.
        equations =
            options.From is not null ? 0
            : options.SteadyStart ? plan.Model.InitialEquations.Count
            : plan.StartEquations.Count;
        foreach (var name in options.Moving)
            if (!plan.States.Any(s => plan.Model.Variables[s].Name == name))
                throw Fail(
                    "moving",
                    $"'{name}' is no state, so it cannot be what moves at rest.",
                    "",
                    null,
                    Language.Nearest.Of(name, plan.States.Select(s => plan.Model.Variables[s].Name)) is { Length: > 0 } near
                        ? $"Did you mean '{near}'?"
                        : "Name a state of the model."
                );
        bool Rests(int slot) =>
            options.SteadyStart && !options.Moving.Contains(plan.Model.Variables[plan.States[slot]].Name)
            || options.SteadyParts.Any(p =>
                plan.Model.Variables[plan.States[slot]].Owner is var owner
                && (owner == p || owner.StartsWith(p + ".", StringComparison.Ordinal))
            );
        foreach (var part in options.SteadyParts)
            if (!plan.Model.Variables.Any(v => v.Owner == part || v.Owner.StartsWith(part + ".", StringComparison.Ordinal)))
                throw Fail(
                    "steady",
                    $"There is no part '{part}' to start at rest.",
                    "",
                    null,
                    Language.Nearest.Of(part, plan.Model.Variables.Select(v => v.Owner).Distinct()) is { Length: > 0 } near
                        ? $"Did you mean '{near}'?"
                        : "Check the names of the parts that start at rest in the run's settings."
                );
        steady = [.. Enumerable.Range(0, plan.States.Length).Where(Rests)];
        isAnew = options.From is not null;
        isRest = steady.Length == plan.States.Length || options.SteadyStart;
        guess = [.. Enumerable.Range(0, plan.States.Length).Select(i => model.States[i])];
        unknowns = IsNeeded ? FindUnknowns() : [];
        rows = [.. Enumerable.Range(0, equations).Except(redundantConditions)];
    }

    public bool IsNeeded => equations + steady.Length > 0;

    /// <summary>Where the states begin, after solving.</summary>
    public IReadOnlyList<StartEntry> Report()
    {
        var solved = unknowns.ToHashSet();
        return
        [
            .. plan.States.Select(
                (s, i) =>
                    new StartEntry(
                        plan.Model.NameOf(s),
                        guess[i],
                        model.States[i],
                        solved.Contains(i) ? StartKind.Solved
                            : plan.Model.Variables[s].IsFixed ? StartKind.Fixed
                            : StartKind.Given
                    )
            ),
        ];
    }

    bool IsOpen(int state) => isAnew || plan.Model.Variables[plan.States[state]] is { IsFixed: false } or { IsFixedByDefault: true };

    /// <summary>The states to solve for: those that rest, and one for each initial equation by a matching.</summary>
    int[] FindUnknowns()
    {
        var result = steady.Where(IsOpen).ToHashSet();
        if (equations > 0)
        {
            var pattern = compiled.Start.Jacobian.Pattern;
            var candidates = new List<int>[equations];
            for (var e = 0; e < equations; e++)
                candidates[e] = [];
            for (var s = 0; s < plan.States.Length; s++)
            {
                if (!IsOpen(s))
                    continue;
                for (var p = pattern.Starts[s]; p < pattern.Starts[s + 1] && pattern.Rows[p] < equations; p++)
                    candidates[pattern.Rows[p]].Add(s);
            }

            // A state without a start value of its own gives way first, one that a part fixes by default last.
            var order = candidates
                .Select(c =>
                    c.OrderBy(s =>
                            plan.Model.Variables[plan.States[s]] is var v && v.Start is null ? 0
                            : v.IsFixed ? 2
                            : 1
                        )
                        .ThenBy(s => s)
                        .ToArray()
                )
                .ToArray();
            var matched = Matching.Match(order, plan.States.Length);
            for (var e = 0; e < equations; e++)
            {
                if (matched[e] >= 0)
                    result.Add(matched[e]);
                else if (plan.FixedVariableOf(e) >= 0)
                    redundantConditions.Add(e);
                else
                {
                    var initial = plan.StartEquations[e];
                    throw Fail(
                        "start",
                        $"The initial equation in line {initial.At.Line} determines no state that is still open.",
                        initial.Owner,
                        null,
                        "Remove fixed = true from a start value it concerns, or remove the equation."
                    );
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
        var first = Kept();
        var small = rows.Length + steady.Length <= DenseLimit && unknowns.Length <= DenseLimit;
        if (!IsFound())
            Report(Residuals());
        CompareFollowers();

        bool IsFound()
        {
            if (small && Newton(null))
                return !RanAway() || Nearer();
            if (small)
            {
                if (Restore(first, 0) && Homotopy())
                    return true;
                if (Restore(first, Aside) && Newton(null))
                    return true;
            }

            if (Relaxes() && (!small || Newton(null)))
                return true;
            return isRest && rows.Length == 0 && Restore(first, 0) && Wait();
        }

        bool Relaxes() => isRest && rows.Length == 0 && Restore(first, 0) && Relax();

        // Where slopes die away, as of a tank that widens with its level, nearly nothing moves very far from where it began.
        bool RanAway() => unknowns.Any(u => Math.Abs(model.States[u] - guess[u]) > FarFromGuess * (1 + Math.Abs(guess[u])));

        // What the model comes to by itself goes before what was found far away.
        bool Nearer()
        {
            var far = new double[n];
            for (var i = 0; i < n; i++)
                far[i] = model.States[i];
            if (Relaxes() && Newton(null) && !RanAway())
                return true;
            for (var i = 0; i < n; i++)
                model.States[i] = far[i];
            return Follows();
        }
    }

    /// <summary>How far a typed start value may be from what follows from others: people round.</summary>
    const double Rounded = 0.01;

    void CompareFollowers()
    {
        if (redundantConditions.Count == 0)
            return;
        var gaps = Gaps();
        foreach (var e in redundantConditions)
        {
            var (variable, value) = (plan.Model.Variables[plan.FixedVariableOf(e)], model.Value(plan.FixedVariableOf(e)));
            if (Math.Abs(gaps[e]) <= Rounded * (1 + Math.Abs(value)))
                continue;
            throw Fail(
                "start",
                $"'{variable.Name}' is fixed at {value - gaps[e]:G6} at the start, but {value:G6} follows from the other fixed "
                    + $"start values.",
                variable.Owner,
                variable.Name,
                "Make them agree, or let only one of them hold: leave out fixed = true, or turn holding off in the part."
            );
        }
    }

    /// <summary>Left minus right sides of what must hold at the start.</summary>
    double[] Gaps()
    {
        var gaps = new double[equations];
        // The code computes all of them, also those that guesses replace here.
        var all = new double[plan.StartEquations.Count];
        if (equations > 0)
            fixed (double* target = all)
                compiled.Start.Residuals(model, time, model.States, model.StateDerivatives, model.Memory, EvaluationMode.Outputs, target);
        all.AsSpan(0, equations).CopyTo(gaps);
        return gaps;
    }

    /// <summary>How far from zero states without a start value begin where zero itself leads nowhere.</summary>
    const double Aside = 0.1;

    /// <summary>Back to the guesses.</summary>
    /// <param name="first">What was kept there.</param>
    /// <param name="aside">How far beside zero where none was given: at zero even functions have no slope that would tell a way.</param>
    bool Restore(double[] first, double aside)
    {
        PutBack(first);
        for (var i = 0; i < guess.Length; i++)
            model.States[i] = guess[i];
        foreach (var i in unknowns)
            if (plan.Model.Variables[plan.States[i]].Start is null)
                model.States[i] += aside;
        return Follows();
    }

    double[] Residuals()
    {
        var r = new double[rows.Length + steady.Length];
        var gaps = Gaps();
        for (var i = 0; i < rows.Length; i++)
            r[i] = gaps[rows[i]];
        for (var i = 0; i < steady.Length; i++)
            r[rows.Length + i] = model.StateDerivatives[steady[i]];
        return r;
    }

    /// <summary>Derivatives of the residuals along the free states; delayed signals move with their sources.</summary>
    Matrix<double> Slopes()
    {
        var program = compiled.Start.Jacobian;
        var (n, m) = (plan.States.Length, plan.Model.Delays.Count);
        using var evaluator = new JacobianEvaluator(model, program);
        var values = new double[program.Pattern.Count];
        fixed (double* v = values)
            evaluator.FromPresent(time, model.States, model.StateDerivatives, v);
        var before = plan.StartEquations.Count;
        var rowOf = new int[before + n + m];
        Array.Fill(rowOf, -1);
        for (var i = 0; i < rows.Length; i++)
            rowOf[rows[i]] = i;
        for (var i = 0; i < steady.Length; i++)
            rowOf[before + steady[i]] = rows.Length + i;
        var columnOf = new int[n + m];
        Array.Fill(columnOf, -1);
        for (var i = 0; i < unknowns.Length; i++)
            columnOf[unknowns[i]] = i;
        for (var d = 0; d < m; d++)
        {
            rowOf[before + n + d] = rows.Length + steady.Length + d;
            columnOf[n + d] = unknowns.Length + d;
        }

        var all = Matrix<double>.Build.Dense(rows.Length + steady.Length + m, unknowns.Length + m);
        for (var c = 0; c < n + m; c++)
        for (var p = program.Pattern.Starts[c]; p < program.Pattern.Starts[c + 1]; p++)
            if (columnOf[c] >= 0 && rowOf[program.Pattern.Rows[p]] is var r and >= 0)
                all[r, columnOf[c]] = values[p];
        if (m == 0)
            return all;
        var (count, columns) = (rows.Length + steady.Length, unknowns.Length);
        var through = Matrix<double>.Build.DenseIdentity(m) - all.SubMatrix(count, m, columns, m);
        return all.SubMatrix(0, count, 0, columns)
            + all.SubMatrix(0, count, columns, m) * through.Solve(all.SubMatrix(count, m, 0, columns));
    }

    bool IsSolved(double[] residuals)
    {
        for (var i = 0; i < residuals.Length; i++)
            if (!(Math.Abs(residuals[i]) <= Allowed(i)))
                return false;
        return true;
    }

    /// <summary>How far a state may go from its guess and still be measured by its own size; one that runs away is not at rest for being
    /// large.</summary>
    const double FarFromGuess = 1e3;

    double Allowed(int row)
    {
        if (row < rows.Length)
            return plan.FixedVariableOf(rows[row]) is >= 0 and var place ? 1e-7 * (1 + Math.Abs(model.Value(place))) : 1e-7;
        var state = steady[row - rows.Length];
        return 1e-7 * (1 + Math.Min(Math.Abs(model.States[state]), FarFromGuess * (1 + Math.Abs(guess[state]))));
    }

    void Report(double[] residuals)
    {
        var worst = Enumerable
            .Range(0, residuals.Length)
            .MaxBy(i => double.IsFinite(residuals[i]) ? Math.Abs(residuals[i]) / Allowed(i) : double.PositiveInfinity);
        if (worst < rows.Length)
        {
            var initial = plan.StartEquations[rows[worst]];
            if (plan.FixedVariableOf(rows[worst]) is >= 0 and var place)
            {
                var variable = plan.Model.Variables[place];
                throw Fail(
                    "start",
                    $"'{variable.Name}' is fixed at a start value that cannot be met near the others: "
                        + $"{Math.Abs(residuals[worst]):G4} are left.",
                    variable.Owner,
                    variable.Name,
                    "Give what it depends on start values nearer to the solution, or check the fixed values against each other."
                );
            }

            throw Fail(
                "start",
                $"The initial equation in line {initial.At.Line} cannot be met near the start values: its sides differ by "
                    + $"{residuals[worst]:G4}.",
                initial.Owner,
                null,
                "Give start values nearer to the solution, or check the initial equations against each other."
            );
        }

        var state = plan.Model.Variables[plan.States[steady[worst - rows.Length]]];
        throw Fail(
            "steady",
            $"There is no steady state near the start values: '{state.Name}' keeps changing at {residuals[worst]:G4} per second.",
            state.Owner,
            state.Name,
            "Let a controller or a limit hold it, give start values nearer to rest, or start from the given values."
        );
    }

    SimulationException Fail(string code, string message, string part, string? quantity, string advice) =>
        new(new SimulationFailure(code, message, part, quantity, time, advice));
}
