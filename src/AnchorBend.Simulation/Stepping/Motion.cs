using AnchorBend.Compiler.Emission;
using AnchorBend.Compiler.Lowering;
using AnchorBend.Compiler.Planning;
using AnchorBend.Language.Terms;
using AnchorBend.Modeling.Flat;
using AnchorBend.Numerics.Integration;

namespace AnchorBend.Simulation.Stepping;

/// <summary>
/// The motion as far as it has come: a plan with its choice of states, the memory of its variables, and the method that steps. It lives
/// as long as the states stay the same ones.
/// </summary>
sealed unsafe class Motion : IDisposable
{
    TermEvaluator? afterEvent,
        afterStep;

    public Motion(CompiledPlan compiled, ModelInstance model, RunOptions options)
    {
        (Compiled, Plan, Model, Options) = (compiled, compiled.Plan, model, options);
        Scratch = new double[Math.Max(1, model.StateCount) * 2];
        computed =
        [
            .. compiled
                .Plan.Blocks.SelectMany(b => b.Determines)
                .Where(v => compiled.Plan.StateSlot[v] < 0 && compiled.Plan.DerivativeSlot[v] < 0),
        ];
    }

    /// <summary>Variables that lie in memory and are computed there.</summary>
    readonly int[] computed;

    public CompiledPlan Compiled { get; }

    public ExecutionPlan Plan { get; }

    public ModelInstance Model { get; }

    public RunOptions Options { get; }

    /// <summary>The method; set once it is known what it has to heed.</summary>
    public Integrator Integrator { get; set; } = null!;

    /// <summary>The longest step that leaps over nothing that is watched, in s.</summary>
    public double MaximumStep { get; set; }

    /// <summary>Room for states and their derivatives at a time within the step.</summary>
    public double[] Scratch { get; }

    /// <summary>The state within the last step or at its end.</summary>
    public void StateAt(double time, double* x)
    {
        if (time >= Integrator.Time)
            new ReadOnlySpan<double>(Integrator.State, Model.StateCount).CopyTo(new Span<double>(x, Model.StateCount));
        else
            Integrator.Interpolate(time, x);
    }

    /// <summary>The state at the end of the last step becomes the present one.</summary>
    public void TakeState()
    {
        double* from = Integrator.State,
            to = Model.States;
        // A call to copy a few numbers would cost more than copying them.
        var n = Model.StateCount;
        if (n > 16)
            new ReadOnlySpan<double>(from, n).CopyTo(new Span<double>(to, n));
        else
            for (var i = 0; i < n; i++)
                to[i] = from[i];
    }

    public double Previous(int variable)
    {
        var slot = Plan.DiscreteSlot[Plan.Representative[variable]];
        return slot >= 0 ? Model.Memory[Compiled.Layout.PreviousBase + slot] : Model.Value(variable);
    }

    /// <summary>The value of a term after an evaluation in event mode.</summary>
    public double ValueNow(Term term) =>
        (
            afterEvent ??= new TermEvaluator(v => Model.Value(v), Previous, d => Model.Delayed(d, Model.Memory[FlatModel.TimeIndex]))
        ).Evaluate(term);

    /// <summary>The value of a term at the end of the last step.</summary>
    public double ValueByTerm(Term term) =>
        (afterStep ??= new TermEvaluator(v => Model.Value(v), null, d => Model.Delayed(d, Integrator.Time))).Evaluate(term);

    /// <param name="mode">See <see cref="EvaluationMode"/>.</param>
    public void Evaluate(double time, int mode) => Model.Evaluate(time, Model.States, Model.StateDerivatives, mode);

    /// <exception cref="SimulationException">Some value is no finite number.</exception>
    public void ThrowIfNotFinite(double time)
    {
        // Zero times a number is zero, times anything else it is no number.
        var sum = 0.0;
        foreach (var variable in computed)
            sum += 0 * Model.Memory[variable];
        for (var i = 0; i < 2 * Model.StateCount; i++)
            sum += 0 * Model.States[i];
        if (sum != 0 && Diagnosis.FirstNotFinite(Model, time, Model.States) is { } failure)
            throw new SimulationException(failure);
    }

    public void Dispose()
    {
        Integrator?.Dispose();
        Model.Dispose();
    }
}
