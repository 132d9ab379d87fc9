using AnchorBend.Compiler.Emission;
using AnchorBend.Compiler.Lowering;
using AnchorBend.Compiler.Preparation;
using AnchorBend.Numerics;
using AnchorBend.Simulation.Events;
using AnchorBend.Simulation.Recording;

namespace AnchorBend.Simulation;

/// <summary>Pausing: a run's state as bytes, and runs that go on from one.</summary>
public sealed unsafe partial class Simulator
{
    /// <summary>An empty record for a run with these options.</summary>
    internal static RunRecord RecordOf(CompiledPlan compiled, RunOptions options) => new(options.Keep ?? [.. Recordable(compiled.Plan)]);

    /// <summary>A run that leaves what it records in a record of somebody else's.</summary>
    internal static Simulator Recording(CompiledPlan compiled, ParameterSet parameters, RunOptions options, RunRecord record) =>
        new(compiled, parameters, options, record);

    /// <summary>Makes all rows readable.</summary>
    internal void Publish() => record.Trace.Publish();

    /// <summary>A row of the present values, where the last one is of an earlier time.</summary>
    internal void RecordNow()
    {
        if (!started || record.Trace.LastTime >= Time)
            return;
        Motion.TakeState();
        Model.FromLeft = true;
        output.Record(Time);
        Publish();
    }

    /// <summary>Saves the state of a run that has started. Going on from it, here or restored, gives the same bits.</summary>
    public RunState Save()
    {
        using var stream = new MemoryStream();
        using (var writer = new BinaryWriter(stream))
            Transfer(new StateArchive(writer));
        return new RunState(Time, Motion.Plan.Reduced?.Dummies ?? [], [.. Model.Parameters.Values], stream.ToArray());
    }

    /// <summary>A run that goes on from a saved state of the same model.</summary>
    /// <param name="parameters">May differ from those of the run that was saved: the change acts like an event at the pause.</param>
    /// <exception cref="InvalidDataException">The state belongs to another model.</exception>
    public static Simulator Restore(CompiledPlan compiled, ParameterSet parameters, RunOptions options, RunState state) =>
        Restore(compiled, parameters, options, state, null);

    /// <param name="earlier">What the run has left up to that state, where it goes on.</param>
    internal static Simulator Restore(
        CompiledPlan compiled,
        ParameterSet parameters,
        RunOptions options,
        RunState state,
        RunRecord? earlier
    )
    {
        if (state.Parameters.Length != parameters.Values.Length)
            throw new InvalidDataException("The saved run belongs to another model.");
        var chosen =
            state.Choice.Length == 0
                ? compiled
                : compiled.ForChoice(state.Choice) ?? throw new InvalidDataException("The saved run belongs to another model.");
        var simulator = new Simulator(chosen, parameters, options, earlier);
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
        simulator.output.PlanAfter(simulator.Time);
        // A run that goes on within itself leaves rows at the wanted times alone.
        if (earlier is null || options.OutputTimes is null)
            simulator.output.Fill(simulator.Time);
        return simulator;
    }

    void Transfer(StateArchive archive)
    {
        // The sizes first: a state of another model must not be read into this one.
        var flat = Motion.Plan.Model;
        var shape =
            $"{flat.Variables.Count} {Motion.Compiled.Layout.HoistBase} {Model.StateCount} {Model.Delays.Length} "
            + $"{flat.Clocks.Count} {options.Method}";
        var found = shape;
        archive.Transfer(ref found);
        if (found != shape)
            throw new InvalidDataException("The saved run belongs to another model or method.");
        archive.Transfer(ref stateEvents);
        archive.Transfer(ref timeEvents);
        archive.Transfer(ref stateChanges);
        foreach (var part in (ISaved[])[Model, .. stretch.Parts, ticks, chattering, spacing])
            part.Transfer(archive);
        TransferUnits(archive);

        // What the step before showed is learnt anew on both sides.
        stretch.ForgetStep();
    }

    /// <summary>Units outside, by their numbers; those of a saved run are opened again where they are not there.</summary>
    void TransferUnits(StateArchive archive)
    {
        var all = archive.IsSaving ? outside.All.ToList() : [];
        var count = all.Count;
        archive.Transfer(ref count);
        for (var i = 0; i < count; i++)
        {
            var number = archive.IsSaving ? all[i].Number : 0L;
            var content = archive.IsSaving ? Convert.ToBase64String(all[i].Unit.Save()) : "";
            archive.Transfer(ref number);
            archive.Transfer(ref content);
            if (!archive.IsSaving)
                (outside.Find(number) ?? throw new InvalidDataException("A unit of the saved run is not there any more.")).Restore(
                    Convert.FromBase64String(content)
                );
        }
    }

    /// <summary>Other parameters from here on.</summary>
    void ParametersChanged()
    {
        var time = Time;
        Motion.TakeState();
        ticks = Ticks(Model.Parameters, time);
        // What was due at this instant has been done before the pause.
        while (ticks.Next <= time)
            ticks.Take(time, _ => { });
        stretch.Times.ForgetTables();
        Model.FromLeft = false;
        stretch.Iteration.Iterate(time, false);
        Motion.ThrowIfNotFinite(time);
        Integrator.Restart(time, Model.States);
        EventHandling.Plan(time, stretch, ticks);
    }
}
