using System.Runtime.InteropServices;
using AnchorBend.Compiler.Emission;
using AnchorBend.Compiler.Planning;
using AnchorBend.Numerics.Linear;

namespace AnchorBend.Simulation;

/// <summary>
/// Solves one torn algebraic loop by Newton's method with the exact Jacobian, damped by halving while the residual grows
/// (Deuflhard, "Newton Methods for Nonlinear Problems", ch. 3). The guess is the last solution.
/// </summary>
sealed unsafe class LoopSolver : IDisposable
{
    const int MaximumIterations = 60;
    const int MaximumRelationRounds = 20;

    readonly ModelInstance instance;
    readonly LoopBlock block;
    readonly VectorMethod residuals, jacobian;
    readonly int n, relationBase, relationCount;
    readonly double[] relationsBefore;
    double* memory;

    public LoopSolver(ModelInstance instance, int index)
    {
        this.instance = instance;
        block = instance.Compiled.Loops[index];
        residuals = instance.Compiled.LoopResiduals[index];
        jacobian = instance.Compiled.LoopJacobians[index];
        n = block.Torn.Length;
        relationBase = instance.Compiled.Layout.RelationBase;
        relationCount = instance.Compiled.Plan.Relations.Count;
        relationsBefore = new double[relationCount];
        memory = (double*)NativeMemory.AllocZeroed((nuint)(n * n + 4 * n + n), sizeof(double));
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
            residuals(instance, time, x, dx, instance.Memory, EvaluationMode.Event, memory + n * n);
            relations.CopyTo(relationsBefore);
            Newton(time, x, dx, EvaluationMode.Derivatives);
            residuals(instance, time, x, dx, instance.Memory, EvaluationMode.Event, memory + n * n);
            if (relations.SequenceEqual(relationsBefore)) return;
            if (round >= MaximumRelationRounds) throw Fail(time, "The conditions inside the loop contradict its solution.", "Put a small lag into the loop, or give the switch hysteresis.");
        }
    }

    void Newton(double time, double* x, double* dx, int mode)
    {
        double* j = memory, r = j + n * n, trial = r + n, old = trial + n;
        var pivots = (int*)(old + n);
        residuals(instance, time, x, dx, instance.Memory, mode, r);
        var size = Norm(r);
        Solutions++;
        for (var iteration = 0; iteration < MaximumIterations; iteration++)
        {
            Iterations++;
            if (!double.IsFinite(size)) throw Fail(time, "Its equations give no number.", "Check for a division by zero or a root of a negative number in the loop.");
            if (size == 0) return;
            jacobian(instance, time, x, dx, instance.Memory, mode, j);
            if (DenseLu.Factorize(j, pivots, n) is var singular and >= 0)
            {
                var name = instance.Compiled.Plan.Model.NameOf(block.Torn[singular]);
                throw Fail(time, $"It is singular: '{name}' is not determined by its equations.", "Change a gain so that the loop gain is not exactly one, or break the loop with a lag.");
            }

            for (var i = 0; i < n; i++)
            {
                old[i] = *Place(block.Torn[i], x, dx);
                trial[i] = r[i];
            }

            DenseLu.Solve(j, pivots, n, trial);
            var damping = 1.0;
            var relative = 0.0;
            while (true)
            {
                relative = 0;
                for (var i = 0; i < n; i++)
                {
                    var change = damping * trial[i];
                    *Place(block.Torn[i], x, dx) = old[i] - change;
                    relative = Math.Max(relative, Math.Abs(change) / (Math.Abs(old[i]) + 1e-10));
                }

                residuals(instance, time, x, dx, instance.Memory, mode, r);
                var next = Norm(r);
                if (block.IsLinear && double.IsFinite(next)) return;
                if (next <= size || relative < 1e-14)
                {
                    size = next;
                    break;
                }

                damping /= 2;
                if (damping < 1e-9) throw Fail(time, "Newton's method finds no solution near the last one.", "Give start values nearer to the solution, or break the loop with a lag.");
            }

            if (relative < 1e-13 && damping == 1) return;
        }

        throw Fail(time, "Newton's method does not converge.", "Give start values nearer to the solution, or break the loop with a lag.");
    }

    double Norm(double* r)
    {
        var sum = 0.0;
        for (var i = 0; i < n; i++) sum += r[i] * r[i];
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
        return new SimulationException(new SimulationFailure("loop", $"The algebraic loop through {(names.Length > 0 ? names : "the model")} cannot be solved at {time:G6} s. {why}",
            block.Owners.Count > 0 ? block.Owners[0] : "", instance.Compiled.Plan.Model.NameOf(block.Torn[0]), time, advice));
    }

    public void Dispose()
    {
        if (memory != null) NativeMemory.Free(memory);
        memory = null;
    }
}
