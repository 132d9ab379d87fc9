using System.Runtime.CompilerServices;
using System.Runtime.InteropServices;
using AnchorBend.Compiler.Analysis;
using AnchorBend.Compiler.Emission;
using AnchorBend.Compiler.Lowering;
using AnchorBend.Compiler.Preparation;
using AnchorBend.Language.Terms;
using AnchorBend.Modeling.Flat;
using AnchorBend.Numerics;
using AnchorBend.Numerics.Integration;
using AnchorBend.Numerics.Linear;
using AnchorBend.Simulation.Events;

namespace AnchorBend.Simulation;

/// <summary>
/// One run's memory together with the compiled plan: evaluates derivatives, outputs and events. Not for use by two threads at once.
/// </summary>
public sealed unsafe class ModelInstance : ModelRuntime, ISaved, IDisposable
{
    readonly OdeAdapter ode;
    readonly ChunkMethod[] derivativeChunks;
    double* block;
    LoopSolver[] loops = [];
    DelayHistory[] delays = [];

    public ModelInstance(CompiledPlan compiled, ParameterSet parameters)
    {
        Compiled = compiled;
        derivativeChunks = compiled.DerivativeChunks;
        Parameters = parameters;
        StateCount = compiled.Plan.States.Length;
        block = (double*)NativeMemory.AllocZeroed((nuint)(compiled.Layout.Size + 2 * StateCount + 8), sizeof(double));
        Memory = block;
        States = block + compiled.Layout.Size;
        StateDerivatives = States + StateCount;
        ode = new OdeAdapter(this);
        Reset();
    }

    public CompiledPlan Compiled { get; }

    /// <summary>What is called outside, at events alone.</summary>
    internal OutsideUnits? Outside { get; set; }

    public ParameterSet Parameters { get; }

    public int StateCount { get; }

    /// <summary>Values by place (see <see cref="MemoryLayout"/>).</summary>
    public double* Memory { get; }

    public double* States { get; }

    public double* StateDerivatives { get; }

    public OdeSystem Ode => ode;

    internal ReadOnlySpan<DelayHistory> Delays => delays;

    /// <summary>
    /// Why a loop could not be solved within a step that was being tried; null after an evaluation that could. The method sees slopes that
    /// are no numbers and tries a shorter step, so this is the reason only where no step is short enough.
    /// </summary>
    internal SimulationFailure? TrialFailure { get; private set; }

    /// <summary>Whether delayed signals are read on the left side of their discontinuities, as within a step.</summary>
    internal bool FromLeft { get; set; }

    /// <summary>Where the present step begins: there the right side counts, as the step goes on from it.</summary>
    internal double StepStart { get; set; } = double.NegativeInfinity;

    /// <summary>Start values again, nothing evaluated yet.</summary>
    public void Reset()
    {
        Parameters.Load(Compiled, Memory);
        var plan = Compiled.Plan;
        for (var i = 0; i < StateCount; i++)
            States[i] = plan.States[i] < Parameters.Starts.Length ? Parameters.Starts[plan.States[i]] : 0;
        foreach (var solver in loops)
            solver.Dispose();
        loops = [.. Compiled.Loops.Select((_, i) => new LoopSolver(this, i))];
        var evaluator = new TermEvaluator(i => Parameters.Values[i]);
        delays = new DelayHistory[plan.Model.Delays.Count];
        for (var i = 0; i < delays.Length; i++)
        {
            var line = plan.Model.Delays[i];
            var duration = evaluator.Evaluate(line.Duration);
            if (!(duration > 0))
                throw new SimulationException(
                    new SimulationFailure(
                        "delay",
                        $"The delay time is {duration:R} s, but must be positive.",
                        line.Owner,
                        null,
                        0,
                        "Give the delay a positive time, or remove the part."
                    )
                );
            delays[i] = new DelayHistory(duration, line.Varying >= 0);
        }
    }

    /// <summary>Takes over all values of an instance of the same model with other states.</summary>
    internal void Continue(ModelInstance from)
    {
        var plan = Compiled.Plan;
        foreach (var variable in plan.Model.Variables)
        {
            var index = variable.Index;
            if (plan.Representative[index] != index || variable.Role == VariableRole.Parameter)
                continue;
            var value = from.Value(index);
            if (plan.StateSlot[index] >= 0)
                States[plan.StateSlot[index]] = value;
            else if (plan.DerivativeSlot[index] >= 0)
                StateDerivatives[plan.DerivativeSlot[index]] = value;
            else
                Memory[index] = value;
        }

        var (layout, before) = (Compiled.Layout, from.Compiled);
        for (var i = 0; i < plan.Discretes.Length; i++)
            Memory[layout.PreviousBase + i] = from.Memory[before.Layout.PreviousBase + before.Plan.DiscreteSlot[plan.Discretes[i]]];
        // Relations are listed in the order of the blocks, which another choice changes; what they say is the same.
        var truth = new Dictionary<string, double>();
        for (var r = 0; r < before.Plan.Relations.Count; r++)
            truth[before.Plan.Relations[r].Term.Key] = from.Memory[before.Layout.RelationBase + r];
        for (var r = 0; r < plan.Relations.Count; r++)
            Memory[layout.RelationBase + r] = truth.GetValueOrDefault(plan.Relations[r].Term.Key);
        foreach (var (abscissa, held) in plan.HeldAbscissas)
            if (before.Plan.HeldAbscissas.TryGetValue(abscissa, out var place))
                Memory[layout.AbscissaBase + held] = from.Memory[before.Layout.AbscissaBase + place];
        (delays, from.delays) = (from.delays, []);
    }

    /// <summary>Saves or loads everything but parameters and what follows from them.</summary>
    public void Transfer(StateArchive archive)
    {
        foreach (var variable in Compiled.Plan.Model.Variables)
            if (variable.Role != VariableRole.Parameter)
                archive.Transfer(ref Memory[variable.Index]);
        archive.Transfer(new Span<double>(Memory + Compiled.Layout.PreviousBase, Compiled.Layout.HoistBase - Compiled.Layout.PreviousBase));
        archive.Transfer(new Span<double>(States, 2 * StateCount));
        foreach (var delay in delays)
            delay.Transfer(archive);
        var (fromLeft, stepStart) = (FromLeft, StepStart);
        archive.Transfer(ref fromLeft);
        archive.Transfer(ref stepStart);
        (FromLeft, StepStart) = (fromLeft, stepStart);
    }

    /// <summary>Evaluates the model at a time and state in one of the modes of <see cref="EvaluationMode"/>.</summary>
    public void Evaluate(double time, double* x, double* dx, int mode)
    {
        if (mode == EvaluationMode.Derivatives)
        {
            EvaluateDerivatives(time, x, dx);
            return;
        }

        Outside?.Attend();
        Memory[FlatModel.TimeIndex] = time;
        foreach (var chunk in Compiled.Chunks)
            chunk(this, time, x, dx, Memory, mode);
    }

    [MethodImpl(MethodImplOptions.AggressiveInlining)]
    void EvaluateDerivatives(double time, double* x, double* dx)
    {
        Memory[FlatModel.TimeIndex] = time;
        foreach (var chunk in derivativeChunks)
            chunk(this, time, x, dx, Memory, EvaluationMode.Derivatives);
    }

    /// <summary>Event indicators after an evaluation at the same time and state.</summary>
    public void EventIndicators(double time, double* x, double* dx, double* result) =>
        Compiled.EventIndicators!(this, time, x, dx, Memory, EvaluationMode.Derivatives, result);

    /// <summary>Event indicators, their non-smooth points and the derivatives of both along time, at a state and its slope.</summary>
    public void IndicatorsAndSlopes(double time, double* x, double* dx, double* result) =>
        Compiled.IndicatorsAndSlopes!(this, time, x, dx, Memory, EvaluationMode.Derivatives, result);

    /// <summary>Values that code of its own computes, after an evaluation in output mode.</summary>
    public void Evaluate(CodeStretch[] code, double time, Span<double> result)
    {
        fixed (double* first = result)
            foreach (var stretch in code)
                stretch.Method(this, time, States, StateDerivatives, Memory, EvaluationMode.Outputs, first + stretch.Offset);
    }

    /// <summary>The value of a variable after an evaluation in output mode.</summary>
    public double Value(int variable) => Value(variable, States, StateDerivatives);

    /// <summary>The value of a variable after an evaluation in output mode with these states.</summary>
    public double Value(int variable, double* x, double* dx)
    {
        var plan = Compiled.Plan;
        var place = plan.Representative[variable];
        if (plan.StateSlot[place] >= 0)
            return x[plan.StateSlot[place]];
        return plan.DerivativeSlot[place] >= 0 ? dx[plan.DerivativeSlot[place]] : Memory[place];
    }

    internal LoopSolver Loop(int loop) => loops[loop];

    /// <summary>Remembers the solutions of all loops as those at the start of a step.</summary>
    internal void KeepLoopSolutions()
    {
        foreach (var loop in loops)
            loop.Keep();
    }

    /// <summary>Newton iterations for one solution of a loop, in the mean.</summary>
    internal double IterationsOf(int loop) => loops[loop].Solutions > 0 ? (double)loops[loop].Iterations / loops[loop].Solutions : 0;

    /// <summary>Lets every delay hold the present value of its source, as at rest.</summary>
    public void InitialiseDelays(double time)
    {
        var plan = Compiled.Plan;
        for (var d = 0; d < delays.Length; d++)
        {
            var source = plan.Model.Delays[d].Source;
            // What was at rest begins to move; a state does so without a jump.
            delays[d].Begin(time, Value(source), plan.StateSlot[plan.Representative[source]] >= 0 ? 1 : 0);
        }
    }

    public override double Delayed(int delay, double time)
    {
        var history = delays[delay];
        return history.Varies
            ? DelayedBy(delay, time, Value(Compiled.Plan.Model.Delays[delay].Varying))
            : history.At(time - history.Duration, FromLeft && time > StepStart);
    }

    public override double DelayedBy(int delay, double time, double duration) =>
        delays[delay].At(time - Math.Clamp(duration, 0, delays[delay].Duration), FromLeft && time > StepStart);

    public override void SolveLoop(int loop, double time, double* x, double* dx, double* memory, int mode) =>
        loops[loop].Solve(time, x, dx, mode);

    public void Dispose()
    {
        foreach (var solver in loops)
            solver.Dispose();
        loops = [];
        jacobian?.Dispose();
        jacobian = null;
        if (block != null)
            NativeMemory.Free(block);
        block = null;
    }

    JacobianEvaluator? jacobian;

    sealed class OdeAdapter(ModelInstance instance) : OdeSystem
    {
        public override SparsePattern JacobianPattern => instance.Compiled.Jacobian.Pattern;

        public override void Jacobian(double t, double* x, double* values)
        {
            instance.jacobian ??= new JacobianEvaluator(instance, instance.Compiled.Jacobian);
            try
            {
                instance.jacobian.Evaluate(t, x, values);
                KeepFinite(new Span<double>(values, JacobianPattern.Count));
            }
            catch (SimulationException e)
            {
                instance.TrialFailure ??= e.Failure;
                new Span<double>(values, JacobianPattern.Count).Fill(double.NaN);
            }
        }

        /// <summary>
        /// A root of zero has a slope without limit; Newton's method gets by with any matrix near the Jacobian, but with none that holds
        /// infinity.
        /// </summary>
        static void KeepFinite(Span<double> values)
        {
            foreach (ref var value in values)
                if (!double.IsFinite(value))
                    value = 0;
        }

        public override int Dimension => instance.StateCount;

        /// <summary>The only stretch of code of a small model without loops, called at once.</summary>
        readonly ChunkMethod? only = instance.Compiled is { Loops.Length: 0, DerivativeChunks: [var chunk] } ? chunk : null;

        readonly double* memory = instance.Memory;

        public override void Derivatives(double t, double* x, double* dx)
        {
            if (only is { } method)
            {
                memory[FlatModel.TimeIndex] = t;
                method(instance, t, x, dx, memory, EvaluationMode.Derivatives);
                return;
            }

            if (instance.loops.Length == 0)
            {
                instance.EvaluateDerivatives(t, x, dx);
                return;
            }

            try
            {
                instance.Evaluate(t, x, dx, EvaluationMode.Derivatives);
                instance.TrialFailure = null;
            }
            catch (SimulationException e)
            {
                instance.TrialFailure ??= e.Failure;
                new Span<double>(dx, instance.StateCount).Fill(double.NaN);
            }
        }
    }
}
