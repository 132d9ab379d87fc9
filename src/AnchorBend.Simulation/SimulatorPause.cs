using AnchorBend.Compiler.Emission;
using AnchorBend.Compiler.Preparation;
using AnchorBend.Language.Terms;
using AnchorBend.Numerics;
using AnchorBend.Simulation.Events;

namespace AnchorBend.Simulation;

/// <summary>Pausing a run, saving and restoring its state, going on with other parameters.</summary>
public sealed unsafe partial class Simulator
{
    bool started;

    /// <summary>Runs on until a time, exactly, and pauses there; <see cref="Run"/> or another pause goes on from it.</summary>
    /// <returns>Why the run ended before; null when it paused or reached its end.</returns>
    public SimulationFailure? RunUntil(double time, CancellationToken cancellation = default)
    {
        clock.Start();
        try
        {
            return Failing(() =>
            {
                EnsureStarted();
                while (integrator.Time < Math.Min(time, options.End))
                    Advance(cancellation, null, time);
                // All values at the pause, as a run that goes on from it finds them.
                new ReadOnlySpan<double>(integrator.State, model.StateCount).CopyTo(new Span<double>(model.States, model.StateCount));
                model.Evaluate(integrator.Time, model.States, model.StateDerivatives, EvaluationMode.Outputs);
            });
        }
        finally
        {
            clock.Stop();
        }
    }

    /// <summary>The time the run has reached.</summary>
    public double Time => integrator.Time;

    /// <summary>Saves the state of a run that has started. Going on from it, here or restored, gives the same bits.</summary>
    public RunState Save()
    {
        using var stream = new MemoryStream();
        using (var writer = new BinaryWriter(stream))
            Transfer(new StateArchive(writer));
        return new RunState(integrator.Time, plan.Reduced?.Dummies ?? [], [.. model.Parameters.Values], stream.ToArray());
    }

    /// <summary>A run that goes on from a saved state of the same model.</summary>
    /// <param name="parameters">May differ from those of the run that was saved: the change acts like an event at the pause.</param>
    /// <exception cref="InvalidDataException">The state belongs to another model.</exception>
    public static Simulator Restore(CompiledPlan compiled, ParameterSet parameters, RunOptions options, RunState state)
    {
        if (state.Parameters.Length != parameters.Values.Length)
            throw new InvalidDataException("The saved run belongs to another model.");
        var chosen =
            state.Choice.Length == 0
                ? compiled
                : compiled.ForChoice(state.Choice) ?? throw new InvalidDataException("The saved run belongs to another model.");
        var simulator = new Simulator(chosen, parameters, options);
        try
        {
            using var reader = new BinaryReader(new MemoryStream(state.Content));
            simulator.Transfer(new StateArchive(reader));
            if (reader.BaseStream.Position != reader.BaseStream.Length)
                throw new InvalidDataException("The saved run belongs to another model.");
        }
        catch (Exception e) when (e is EndOfStreamException or InvalidDataException or IndexOutOfRangeException or OverflowException)
        {
            simulator.Dispose();
            throw new InvalidDataException("The saved run belongs to another model or to other settings.");
        }

        simulator.started = true;
        if (!state.Parameters.AsSpan().SequenceEqual(parameters.Values))
            simulator.ParametersChanged();
        simulator.FirstOutputAfter(simulator.integrator.Time);
        simulator.Fill(simulator.integrator.Time, simulator.model.States, simulator.model.StateDerivatives);
        return simulator;
    }

    void Transfer(StateArchive archive)
    {
        // The sizes first: a state of another model must not be read into this one.
        var shape =
            $"{plan.Model.Variables.Count} {compiled.Layout.HoistBase} {model.StateCount} {model.Delays.Length} {plan.Model.Clocks.Count} {options.Method}";
        var found = shape;
        archive.Transfer(ref found);
        if (found != shape)
            throw new InvalidDataException("The saved run belongs to another model or method.");
        model.Transfer(archive);
        integrator.Transfer(archive);
        ticks.Transfer(archive);
        archive.Transfer(ref stateEvents);
        archive.Transfer(ref timeEvents);
        archive.Transfer(ref stateChanges);
        archive.Transfer(ref nextTimeEvent);
        archive.Transfer(ref nextOtherEvent);
        archive.Transfer(ref chatterCount);
        archive.Transfer(ref crowdStart);
        archive.Transfer(ref lastEvent);
        archive.Transfer(ref closeEvents);
        archive.Transfer(ref cornerPatience);
        accumulation.Transfer(archive);
        archive.Transfer(ref suspect);
        archive.Transfer(ref suspectTruth);
        archive.Transfer(ref suspectZero);
        // What event indicators did before is learnt anew on both sides.
        known = Known.Nothing;
        ForgetDiscontinuities();
    }

    void ParametersChanged()
    {
        var time = integrator.Time;
        new ReadOnlySpan<double>(integrator.State, model.StateCount).CopyTo(new Span<double>(model.States, model.StateCount));
        var evaluator = new TermEvaluator(i => model.Parameters.Values[i]);
        ticks = new TickSchedule([.. plan.Model.Clocks.Select(c => Clock(c, evaluator))], Math.BitIncrement(time));
        Array.Clear(knots);
        model.FromLeft = false;
        IterateEvent(time, false);
        ThrowIfNotFinite(time);
        integrator.Restart(time, model.States);
        PlanTimeEvents(time);
    }

    void FirstOutputAfter(double time)
    {
        if (options.OutputTimes is { } times)
        {
            var number = 0;
            while (number < times.Count && times[number] <= time)
                number++;
            PlanOutput(number);
            return;
        }

        PlanOutput((long)Math.Floor((time - options.Start) / OutputInterval + 1e-9) + 1);
    }
}
