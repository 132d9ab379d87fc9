using System.Runtime.InteropServices;
using AnchorBend.Compiler.Emission;
using AnchorBend.Compiler.Planning;
using AnchorBend.Compiler.Preparation;
using AnchorBend.Language.Terms;
using AnchorBend.Modeling.Flat;

namespace AnchorBend.Simulation.Grid;

/// <summary>How states go from one step to the next.</summary>
public enum GridMethod
{
    Euler,
    Heun,
    RungeKutta4,
}

/// <summary>
/// Runs a plan as a target does: everything is decided at the steps of a grid and held in between, inputs too. What this computes is what
/// generated code has to compute, operation by operation.
/// </summary>
public sealed unsafe class GridRun : ModelRuntime, IDisposable
{
    /// <summary>Evaluations of one step after which discrete values are taken as they are.</summary>
    public const int MostEvaluations = 10;

    /// <summary>Newton steps of an algebraic loop; what it has come to then is taken.</summary>
    public const int MostNewtonSteps = 12;

    /// <summary>A loop is solved when no unknown moved by more than this part of 1 + its size.</summary>
    public const double Solved = 1e-10;

    readonly CompiledPlan compiled;
    readonly ExecutionPlan plan;
    readonly double step;
    readonly GridMethod method;
    readonly IReadOnlyList<GridClock> clocks;
    readonly VectorMethod? reinits;
    readonly double* block;
    readonly double* memory,
        x,
        trial,
        k1,
        k2,
        k3,
        k4,
        work;
    long count;

    /// <param name="starts">Values of the states at the start, in their order.</param>
    /// <exception cref="SimulationException">It cannot run on this grid.</exception>
    public GridRun(CompiledPlan compiled, ParameterSet parameters, double step, GridMethod method, IReadOnlyList<double> starts)
    {
        (this.compiled, plan, this.step, this.method) = (compiled, compiled.Plan, step, method);
        clocks = GridClock.Of(plan, parameters, step);
        var n = plan.States.Length;
        var largest = compiled.Loops.Select(l => l.Torn.Length).DefaultIfEmpty(0).Max();
        var size = compiled.Layout.Size + 6 * n + largest * (largest + 2) + 2 * plan.Reinits.Count + 8;
        block = (double*)NativeMemory.AllocZeroed((nuint)size, sizeof(double));
        memory = block;
        x = memory + compiled.Layout.Size;
        trial = x + n;
        k1 = trial + n;
        k2 = k1 + n;
        k3 = k2 + n;
        k4 = k3 + n;
        work = k4 + n;
        parameters.Load(compiled, memory);
        for (var i = 0; i < n; i++)
            x[i] = starts[i];
        if (plan.Reinits.Count > 0)
            reinits = PlanEmitter.Terms(compiled, [.. plan.Reinits.SelectMany(r => new[] { r.Condition, r.Value })]);
    }

    /// <summary>Times that an algebraic loop was not solved.</summary>
    public long Unsolved { get; private set; }

    /// <summary>Steps in which discrete values did not settle.</summary>
    public long Unsettled { get; private set; }

    /// <summary>Makes one step with inputs that are held over it.</summary>
    /// <param name="outputs">Variables whose values at its beginning are wanted.</param>
    public void Step(ReadOnlySpan<int> inputs, ReadOnlySpan<double> given, ReadOnlySpan<int> outputs, Span<double> results)
    {
        for (var i = 0; i < inputs.Length; i++)
            memory[inputs[i]] = given[i];
        var time = count * step;
        if (count == 0)
        {
            memory[FlatModel.InitialFlagIndex] = 1;
            Settle(time);
        }

        foreach (var clock in clocks)
            if (clock.Ticks(count))
                memory[clock.Flag] = 1;
        Settle(time);
        for (var i = 0; i < outputs.Length; i++)
            results[i] = Value(outputs[i]);
        Integrate(time);
        count++;
    }

    double Value(int variable)
    {
        var place = plan.Representative[variable];
        return plan.StateSlot[place] >= 0 ? x[plan.StateSlot[place]]
            : plan.DerivativeSlot[place] >= 0 ? k1[plan.DerivativeSlot[place]]
            : memory[place];
    }

    void Evaluate(double time, double* states, double* slopes, int mode)
    {
        memory[FlatModel.TimeIndex] = time;
        foreach (var chunk in mode == EvaluationMode.Derivatives ? compiled.DerivativeChunks : compiled.Chunks)
            chunk(this, time, states, slopes, memory, mode);
    }

    /// <summary>Evaluates until nothing changes any more, at least twice, as flags of clocks fall after the first.</summary>
    void Settle(double time)
    {
        for (var iteration = 0; ; iteration++)
        {
            Evaluate(time, x, k1, EvaluationMode.Event);
            var changed = Reinit(time);
            foreach (var clock in clocks)
                memory[clock.Flag] = 0;
            changed |= memory[FlatModel.InitialFlagIndex] != 0;
            memory[FlatModel.InitialFlagIndex] = 0;
            for (var d = 0; d < plan.Discretes.Length; d++)
            {
                ref var before = ref memory[compiled.Layout.PreviousBase + d];
                changed |= memory[plan.Discretes[d]] != before;
                before = memory[plan.Discretes[d]];
            }

            if (!changed && iteration > 0)
                return;
            if (iteration + 1 < MostEvaluations)
                continue;
            Unsettled++;
            return;
        }
    }

    bool Reinit(double time)
    {
        if (reinits is null)
            return false;
        var changed = false;
        reinits(this, time, x, k1, memory, EvaluationMode.Outputs, work);
        for (var r = 0; r < plan.Reinits.Count; r++)
            if (work[2 * r] != 0)
            {
                x[plan.StateSlot[plan.Reinits[r].State]] = work[2 * r + 1];
                changed = true;
            }

        return changed;
    }

    void Integrate(double time)
    {
        var n = plan.States.Length;
        if (n == 0)
            return;
        switch (method)
        {
            case GridMethod.Euler:
                for (var i = 0; i < n; i++)
                    x[i] += step * k1[i];
                return;
            case GridMethod.Heun:
                for (var i = 0; i < n; i++)
                    trial[i] = x[i] + step * k1[i];
                Evaluate(time + step, trial, k2, EvaluationMode.Derivatives);
                for (var i = 0; i < n; i++)
                    x[i] += step / 2 * (k1[i] + k2[i]);
                return;
            default:
                for (var i = 0; i < n; i++)
                    trial[i] = x[i] + step / 2 * k1[i];
                Evaluate(time + step / 2, trial, k2, EvaluationMode.Derivatives);
                for (var i = 0; i < n; i++)
                    trial[i] = x[i] + step / 2 * k2[i];
                Evaluate(time + step / 2, trial, k3, EvaluationMode.Derivatives);
                for (var i = 0; i < n; i++)
                    trial[i] = x[i] + step * k3[i];
                Evaluate(time + step, trial, k4, EvaluationMode.Derivatives);
                for (var i = 0; i < n; i++)
                    x[i] += step / 6 * (k1[i] + 2 * (k2[i] + k3[i]) + k4[i]);
                return;
        }
    }

    public override double Delayed(int delay, double time) => throw new InvalidOperationException("delays do not run on a grid");

    public override double DelayedBy(int delay, double time, double duration) => Delayed(delay, time);

    /// <summary>Newton's method; each linear system by Gaussian elimination with the largest pivot of a column.</summary>
    public override void SolveLoop(int loop, double time, double* states, double* slopes, double* values, int mode)
    {
        var (torn, code) = (compiled.Loops[loop].Torn, compiled.LoopCodes[loop]);
        var n = torn.Length;
        var residuals = work;
        var matrix = work + n;
        for (var iteration = 0; iteration < MostNewtonSteps; iteration++)
        {
            code.EvaluateResiduals(this, time, states, slopes, values, mode, residuals);
            code.EvaluateJacobian(this, time, states, slopes, values, mode, matrix);
            if (!Eliminate(matrix, residuals, n))
                break;
            var largest = 0.0;
            for (var i = 0; i < n; i++)
            {
                var place = Place(torn[i], states, slopes);
                *place -= residuals[i];
                var moved = Math.Abs(residuals[i]) / (1 + Math.Abs(*place));
                if (moved > largest)
                    largest = moved;
            }

            if (largest <= Solved)
            {
                code.EvaluateResiduals(this, time, states, slopes, values, mode, residuals);
                return;
            }
        }

        Unsolved++;
    }

    double* Place(int variable, double* states, double* slopes) =>
        plan.StateSlot[variable] >= 0 ? states + plan.StateSlot[variable]
        : plan.DerivativeSlot[variable] >= 0 ? slopes + plan.DerivativeSlot[variable]
        : memory + variable;

    static bool Eliminate(double* a, double* b, int n)
    {
        for (var k = 0; k < n; k++)
        {
            var pivot = k;
            for (var i = k + 1; i < n; i++)
                if (Math.Abs(a[i * n + k]) > Math.Abs(a[pivot * n + k]))
                    pivot = i;
            if (!(Math.Abs(a[pivot * n + k]) > 0))
                return false;
            if (pivot != k)
            {
                for (var j = 0; j < n; j++)
                    (a[k * n + j], a[pivot * n + j]) = (a[pivot * n + j], a[k * n + j]);
                (b[k], b[pivot]) = (b[pivot], b[k]);
            }

            for (var i = k + 1; i < n; i++)
            {
                var factor = a[i * n + k] / a[k * n + k];
                for (var j = k; j < n; j++)
                    a[i * n + j] -= factor * a[k * n + j];
                b[i] -= factor * b[k];
            }
        }

        for (var i = n - 1; i >= 0; i--)
        {
            var sum = b[i];
            for (var j = i + 1; j < n; j++)
                sum -= a[i * n + j] * b[j];
            b[i] = sum / a[i * n + i];
        }

        return true;
    }

    public void Dispose()
    {
        NativeMemory.Free(block);
        GC.SuppressFinalize(this);
    }

    ~GridRun() => NativeMemory.Free(block);
}
