using System.Runtime.InteropServices;
using AnchorBend.Compiler.Emission;
using AnchorBend.Compiler.Lowering;
using AnchorBend.Compiler.Planning;
using AnchorBend.Language.Terms;
using AnchorBend.Numerics.Linear;

namespace AnchorBend.Simulation;

/// <summary>
/// Solves one torn algebraic loop by Newton's method with the exact Jacobian, damped by halving while the residual grows
/// (Deuflhard, "Newton Methods for Nonlinear Problems", ch. 3), and by homotopy where that fails. The guess is the last solution, so of
/// several solutions the one that continues it is taken.
/// </summary>
sealed unsafe partial class LoopSolver : IDisposable
{
    const int MaximumIterations = 60;
    const int MaximumRelationRounds = 20;

    /// <summary>From this iteration on a relative error of the unknowns of this size is let pass.</summary>
    const int LateIteration = 8;
    const double ErrorLeft = 1e-11;

    const int MaximumHomotopySteps = 200;

    readonly ModelInstance instance;
    readonly LoopBlock block;
    readonly LoopCode code;
    readonly ShiftedMatrix<double>? sparse;
    readonly int n,
        relationBase,
        relationCount,
        jacobianSize;
    readonly double[] relationsBefore;
    double* memory;
    int* pivots;

    public LoopSolver(ModelInstance instance, int index)
    {
        this.instance = instance;
        block = instance.Compiled.Loops[index];
        code = instance.Compiled.LoopCodes[index];
        if (code.Pattern is not null)
            sparse = ShiftedMatrix<double>.For(code.Pattern);
        n = block.Torn.Length;
        relationBase = instance.Compiled.Layout.RelationBase;
        relationCount = instance.Compiled.Plan.Relations.Count;
        relationsBefore = new double[relationCount];
        jacobianSize = code.Pattern?.Count ?? n * n;
        memory = (double*)NativeMemory.AllocZeroed((nuint)(jacobianSize + 10 * n + instance.StateCount), sizeof(double));
        pivots = (int*)NativeMemory.AllocZeroed((nuint)n, sizeof(int));
    }

    /// <summary>How often the loop was solved, and in how many iterations.</summary>
    public long Solutions { get; private set; }

    public long Iterations { get; private set; }

    public void Solve(double time, double* x, double* dx, int mode)
    {
        if (mode != EvaluationMode.Event || relationCount == 0)
        {
            Newton(time, x, dx, mode == EvaluationMode.Event ? EvaluationMode.Event : EvaluationMode.Derivatives);
            return;
        }

        // At an event the relations inside the loop may change its equations: solve with them held until they agree with the solution.
        for (var round = 0; ; round++)
        {
            var relations = new ReadOnlySpan<double>(instance.Memory + relationBase, relationCount);
            code.EvaluateResiduals(instance, time, x, dx, instance.Memory, EvaluationMode.Event, memory + jacobianSize);
            relations.CopyTo(relationsBefore);
            Newton(time, x, dx, EvaluationMode.Derivatives);
            code.EvaluateResiduals(instance, time, x, dx, instance.Memory, EvaluationMode.Event, memory + jacobianSize);
            if (relations.SequenceEqual(relationsBefore))
                return;
            if (round >= MaximumRelationRounds)
                throw Fail(
                    time,
                    "The conditions inside the loop contradict its solution.",
                    "Put a small lag into the loop, or give the switch hysteresis."
                );
        }
    }

    /// <summary>What unknowns are rounded as even where they are smaller: a difference of pressures, as of what it comes from, which is
    /// some orders larger than such differences commonly are.</summary>
    double[] Small => small ??= Array.ConvertAll(Nominal(0), nominal => 64 * nominal);

    double[]? small;

    /// <summary>Remembers the present solution as the one at the start of a step.</summary>
    public void Keep()
    {
        double* anchor = Anchor;
        for (var i = 0; i < n; i++)
            anchor[i] = instance.Memory[block.Torn[i]];
    }

    double* Anchor => memory + jacobianSize + 7 * n;

    /// <summary>
    /// Newton's method from the last solution; where it fails, homotopy from there. The last solution may belong to a trial step that went
    /// far astray, so then the same is tried from the solution at the start of the step.
    /// </summary>
    void Newton(double time, double* x, double* dx, int mode)
    {
        if (Solutions++ == 0)
            Guess(x, dx);
        double* start = memory + jacobianSize + 5 * n;
        for (var i = 0; i < n; i++)
        {
            // A slope is no number after a trial that failed.
            double* place = Place(block.Torn[i], x, dx);
            if (!double.IsFinite(*place))
                *place = 0;
            start[i] = *place;
        }

        if (block.IsLinear && n == 1 && SolveLinear(time, x, dx, mode) || Newton(time, x, dx, mode, false) is not { } failure)
            return;
        Begin(start);
        if (Natural(time, x, dx, mode) && Newton(time, x, dx, mode, false) is null)
            return;
        Begin(start);
        if (Homotopy(time, x, dx, mode))
            return;
        Begin(Anchor);
        if (Newton(time, x, dx, mode, false) is null)
            return;
        Begin(Anchor);
        if (Homotopy(time, x, dx, mode))
            return;
        Begin(Anchor);
        throw failure;

        void Begin(double* values)
        {
            for (var i = 0; i < n; i++)
                *Place(block.Torn[i], x, dx) = values[i];
        }
    }

    /// <summary>Begins with unknowns that follow from the start values of a few, where all are solved for at once.</summary>
    void Guess(double* x, double* dx)
    {
        var plan = instance.Compiled.Plan;
        var evaluator = new TermEvaluator(v => plan.StateSlot[v] >= 0 ? x[plan.StateSlot[v]] : *Place(v, x, dx));
        foreach (var guess in block.Guesses)
            if (IsKnown(guess.Value) && evaluator.Evaluate(guess.Value) is var value && double.IsFinite(value))
                *Place(guess.Variable, x, dx) = value;

        // What was before means nothing yet.
        static bool IsKnown(Term term)
        {
            if (term is PreviousTerm or DelayTerm or SlotTerm or OperandTerm)
                return false;
            foreach (var operand in term.Operands)
                if (!IsKnown(operand))
                    return false;
            return true;
        }
    }

    /// <summary>
    /// One linear equation in one unknown, as a leg of a bridge comes to; one evaluation more, and all that follows from the unknown is at
    /// hand.
    /// </summary>
    /// <returns>Whether it determines the unknown; otherwise nothing has changed.</returns>
    bool SolveLinear(double time, double* x, double* dx, int mode)
    {
        double* r = memory + jacobianSize;
        code.EvaluateResiduals(instance, time, x, dx, instance.Memory, mode, r);
        if (*r != 0)
        {
            code.EvaluateJacobian(instance, time, x, dx, instance.Memory, mode, memory);
            var change = *r / *memory;
            if (!double.IsFinite(change))
                return false;
            double* unknown = Place(block.Torn[0], x, dx);
            var before = *unknown;
            *unknown -= change;
            code.EvaluateResiduals(instance, time, x, dx, instance.Memory, mode, r);
            if (!double.IsFinite(*r))
            {
                *unknown = before;
                return false;
            }
        }

        Iterations++;
        return true;
    }

    /// <summary>
    /// Solves <c>r(z) = (1 − λ) r(z₀)</c> with λ growing from 0, where the last solution z₀ is exact, to 1 (continuation; Allgower and
    /// Georg, "Introduction to Numerical Continuation Methods", ch. 2).
    /// </summary>
    bool Homotopy(double time, double* x, double* dx, int mode)
    {
        double* r = memory + jacobianSize,
            offset = memory + jacobianSize + 3 * n,
            kept = memory + jacobianSize + 4 * n;
        var first = memory + jacobianSize + 6 * n;
        code.EvaluateResiduals(instance, time, x, dx, instance.Memory, mode, r);
        for (var i = 0; i < n; i++)
        {
            first[i] = r[i];
            if (!double.IsFinite(r[i]))
                return false;
        }

        double reached = 0,
            step = 0.25;
        for (var attempt = 0; attempt < MaximumHomotopySteps; attempt++)
        {
            var next = Math.Min(1, reached + step);
            for (var i = 0; i < n; i++)
            {
                kept[i] = *Place(block.Torn[i], x, dx);
                offset[i] = (1 - next) * first[i];
            }

            if (Newton(time, x, dx, mode, true) is null)
            {
                if (next >= 1)
                    return true;
                reached = next;
                step *= 2;
                continue;
            }

            for (var i = 0; i < n; i++)
                *Place(block.Torn[i], x, dx) = kept[i];
            step /= 4;
            if (step < 1e-5)
                return false;
        }

        return false;
    }

    /// <param name="shifted">Whether the offset of the homotopy is taken from the residuals.</param>
    /// <returns>Null when solved, otherwise why not.</returns>
    SimulationException? Newton(double time, double* x, double* dx, int mode, bool shifted)
    {
        double* r = memory + jacobianSize,
            trial = r + n,
            old = trial + n,
            offset = old + n;
        void Residuals()
        {
            code.EvaluateResiduals(instance, time, x, dx, instance.Memory, mode, r);
            if (!shifted)
                return;
            for (var i = 0; i < n; i++)
                r[i] -= offset[i];
        }

        // The better of two points that rounding tells apart counts as the solution.
        bool IsSolved(double* point, double size)
        {
            var solved = IsRounding(time, x, dx, mode, point, size);
            Residuals();
            return solved;
        }

        Residuals();
        var size = Norm(r);
        for (var iteration = 0; iteration < MaximumIterations; iteration++)
        {
            Iterations++;
            if (!double.IsFinite(size))
                return Fail(
                    time,
                    "Its equations give no number.",
                    "Check for a division by zero or a root of a negative number in the loop."
                );
            if (size == 0)
                return null;
            if (Factorize(time, x, dx, mode) is var singular and >= 0)
            {
                var name = instance.Compiled.Plan.Model.NameOf(block.Torn[singular]);
                return Fail(
                    time,
                    $"It is singular: '{name}' is not determined by its equations.",
                    "Change a gain so that the loop gain is not exactly one, or break the loop with a lag."
                );
            }

            for (var i = 0; i < n; i++)
            {
                old[i] = *Place(block.Torn[i], x, dx);
                trial[i] = r[i];
            }

            Apply(trial);
            var (damping, relative, before) = (1.0, 0.0, size);
            while (true)
            {
                relative = 0;
                for (var i = 0; i < n; i++)
                {
                    var change = damping * trial[i];
                    *Place(block.Torn[i], x, dx) = old[i] - change;
                    relative = Math.Max(relative, Math.Abs(change) / (Math.Abs(old[i]) + 1e-10));
                }

                Residuals();
                var next = Norm(r);
                if (block.IsLinear && double.IsFinite(next))
                    return null;
                // Newton's change is what the unknowns still err; quantities that come into the loop are rounded, too, and may keep it
                // from vanishing.
                if (damping == 1 && iteration >= LateIteration && relative < ErrorLeft && double.IsFinite(next))
                    return null;
                if (next <= size || relative < 1e-14)
                {
                    size = next;
                    break;
                }

                if (damping == 1 && IsSolved(old, size))
                    return null;
                damping /= 2;
                if (damping < 1e-9)
                    return Fail(
                        time,
                        "Newton's method finds no solution near the last one.",
                        "Give start values nearer to the solution, or break the loop with a lag."
                    );
            }

            if (relative < 1e-13 && damping == 1 || size > before / 4 && iteration > 2 && IsSolved(null, size))
                return null;
        }

        return Fail(time, "Newton's method does not converge.", "Give start values nearer to the solution, or break the loop with a lag.");
    }

    /// <summary>
    /// Whether the residual is no more than what the rounding of unknowns and states makes of it: then no iteration makes it smaller
    /// (Higham, "Accuracy and Stability of Numerical Algorithms", section 25.2).
    /// </summary>
    /// <param name="point">Where the residual is of that size, if that is not the present point; the unknowns are there afterwards.</param>
    bool IsRounding(double time, double* x, double* dx, int mode, double* point, double size)
    {
        const double ulp = 2.3e-16,
            opsInARow = 10;
        var states = instance.StateCount;
        double* r = memory + jacobianSize,
            first = r + 8 * n,
            unknowns = first + n,
            rounded = unknowns + n;
        for (var i = 0; i < n; i++)
            unknowns[i] = point == null ? *Place(block.Torn[i], x, dx) : point[i];
        var noise = 0.0;
        for (var pattern = 0; pattern < 3; pattern++)
        {
            // As they are, then rounded up and down by turns, then the other way round.
            double Rounded(double value, double error, int i) => pattern == 0 ? value : value + ((i + pattern & 1) == 0 ? error : -error);
            for (var i = 0; i < n; i++)
                *Place(block.Torn[i], x, dx) = Rounded(unknowns[i], ulp * Math.Max(Math.Abs(unknowns[i]), Small[i]), i);
            for (var i = 0; i < states; i++)
                rounded[i] = Rounded(x[i], ulp * Math.Abs(x[i]), i);
            code.EvaluateResiduals(instance, time, rounded, dx, instance.Memory, mode, r);
            for (var i = 0; i < n; i++)
            {
                if (pattern == 0)
                    first[i] = r[i];
                else
                    noise += (r[i] - first[i]) * (r[i] - first[i]);
            }
        }

        for (var i = 0; i < n; i++)
            *Place(block.Torn[i], x, dx) = unknowns[i];
        return size <= opsInARow * Math.Sqrt(noise);
    }

    /// <summary>Evaluates and factorises the Jacobian at the present point.</summary>
    /// <returns>−1, or the unknown that is not determined.</returns>
    public int Factorize(double time, double* x, double* dx, int mode)
    {
        code.EvaluateJacobian(instance, time, x, dx, instance.Memory, mode, memory);
        if (sparse is null)
            return DenseLu.Factorize(memory, pivots, n);
        return sparse.Factorize(0, memory) ? -1 : 0;
    }

    /// <summary>Solves with the Jacobian factorised last, in place.</summary>
    public void Apply(double* b)
    {
        if (sparse is null)
        {
            DenseLu.Solve(memory, pivots, n, b);
            return;
        }

        // The matrix there is the negative of the Jacobian.
        sparse.Solve(b);
        for (var i = 0; i < n; i++)
            b[i] = -b[i];
    }

    double Norm(double* r)
    {
        var sum = 0.0;
        for (var i = 0; i < n; i++)
            sum += r[i] * r[i];
        return Math.Sqrt(sum);
    }

    double* Place(int variable, double* x, double* dx)
    {
        var plan = instance.Compiled.Plan;
        return plan.DerivativeSlot[variable] >= 0 ? dx + plan.DerivativeSlot[variable] : instance.Memory + variable;
    }

    SimulationException Fail(double time, string why, string advice)
    {
        var names = string.Join(", ", block.Owners.Where(o => o.Length > 0).Take(8));
        return new SimulationException(
            new SimulationFailure(
                "loop",
                $"The algebraic loop through {(names.Length > 0 ? names : "the model")} cannot be solved at {time:G6} s. {why}",
                block.Owners.Count > 0 ? block.Owners[0] : "",
                instance.Compiled.Plan.Model.NameOf(block.Torn[0]),
                time,
                advice
            )
        );
    }

    public void Dispose()
    {
        if (memory != null)
            NativeMemory.Free(memory);
        if (pivots != null)
            NativeMemory.Free(pivots);
        memory = null;
        pivots = null;
        sparse?.Dispose();
    }
}
