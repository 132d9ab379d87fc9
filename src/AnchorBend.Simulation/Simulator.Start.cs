using AnchorBend.Compiler.Emission;
using AnchorBend.Compiler.Lowering;
using AnchorBend.Modeling.Flat;
using AnchorBend.Simulation.Events;

namespace AnchorBend.Simulation;

/// <summary>The start of a run: values that satisfy all equations, and the events of the first instant.</summary>
public sealed unsafe partial class Simulator
{
    /// <summary>Finds the start, where the run has not begun yet.</summary>
    void Begin()
    {
        if (!started)
            Start();
        started = true;
    }

    void Start()
    {
        Model.FromLeft = false;
        if (StateSelection.AtStart(Motion) is { } other)
        {
            var parameters = Model.Parameters;
            stretch.Dispose();
            Begin(other, new ModelInstance(other, parameters));
        }

        Integrator.Restart(options.Start, Model.States);
        Model.Memory[FlatModel.InitialFlagIndex] = 1;
        InitialiseDiscretes();
        SolveStart();
        Model.Memory[FlatModel.InitialFlagIndex] = 1;
        stretch.Iteration.Iterate(options.Start, true);
        Motion.ThrowIfNotFinite(options.Start);
        record.Log.CheckAssertions(options.Start);
        ReconsiderStates();
        if (options.Start >= ticks.Next)
            events.TakeTicks(options.Start, stretch, ticks);
        Integrator.Restart(options.Start, Model.States);
        EventHandling.Plan(options.Start, stretch, ticks);
        output.Record(options.Start);
        output.PlanAfter(options.Start);
    }

    /// <summary>Everything at the present states, as at rest: delayed signals begin with their source's first value, which may itself be a
    /// delayed one.</summary>
    void InitialiseDiscretes()
    {
        for (var pass = 0; pass < 1 + Model.Delays.Length; pass++)
        {
            Motion.Evaluate(options.Start, EvaluationMode.Event);
            Model.InitialiseDelays(options.Start);
        }
    }

    void SolveStart()
    {
        var (plan, layout) = (Motion.Plan, Motion.Compiled.Layout);
        var solver = new StartSolver(Model, options, () =>
        {
            for (var pass = 0; pass < 3; pass++)
            {
                InitialiseDiscretes();
                for (var i = 0; i < plan.Discretes.Length; i++)
                    Model.Memory[layout.PreviousBase + i] = Model.Memory[plan.Discretes[i]];
            }
        });
        // A point of a run satisfies what holds during runs, which need not be what holds at their start.
        if (solver.IsNeeded && (options.From is null || options.SteadyStart))
        {
            Model.Memory[FlatModel.InitialFlagIndex] = 0;
            solver.Solve();
        }

        record.Start = solver.Report();
    }

    /// <summary>How fast each state changes at the start that was made, in its unit per second.</summary>
    public IReadOnlyList<(string State, double Rate)> RatesAtStart() =>
        [.. Motion.Plan.States.Select((s, i) => (Motion.Plan.Model.Variables[s].Name, Model.StateDerivatives[i]))];

    /// <summary>Makes the start only.</summary>
    /// <returns>The values of all variables of the model then, by index.</returns>
    /// <exception cref="SimulationException">There is no consistent start.</exception>
    public double[] ValuesAtStart()
    {
        Start();
        return [.. Motion.Plan.Model.Variables.Select(v => Model.Value(v.Index))];
    }
}
