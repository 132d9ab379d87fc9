using AnchorBend.Compiler.Preparation;
using AnchorBend.Modeling.Flat;
using AnchorBend.Simulation;

namespace AnchorBend.Design;

/// <summary>Values of all variables at one instant.</summary>
/// <param name="Values">By variable index of the flat model.</param>
public sealed record OperatingPoint(double Time, double[] Values, bool IsSteady)
{
    /// <summary>What it is called.</summary>
    public string Name => IsSteady ? "steady state at the start" : FormattableString.Invariant($"{Time:G5} s");

    /// <summary>The point a run reaches at a time.</summary>
    /// <exception cref="SimulationException">The run does not get there.</exception>
    public static OperatingPoint AtTime(
        PreparedModel prepared,
        ParameterSet parameters,
        double time,
        RunOptions settings,
        CancellationToken cancellation = default
    )
    {
        if (time <= 0)
            time = 1e-9 * settings.End;
        var options = settings with { End = time, OutputTimes = [time], RecordEvents = false, Keep = null, OutputInterval = null };
        // A session, as a stimulus may give the run other values on its way.
        using var session = new RunSession(prepared, parameters, options);
        session.Advance(new PauseAt(), cancellation);
        using var trace = session.Trace;
        cancellation.ThrowIfCancellationRequested();
        if (session.Failure is { } failure)
            throw new SimulationException(failure);
        var row = trace.Rows - 1;
        return new OperatingPoint(time, Fill(prepared, session.Parameters, time, v => trace.Has(v) ? trace[row, v] : null), false);
    }

    /// <summary>A state in which nothing changes, with sources as at the start; what nothing determines stays at its start value.</summary>
    /// <exception cref="DesignException">There is no steady state, or it is not found.</exception>
    public static OperatingPoint Steady(PreparedModel prepared, ParameterSet parameters)
    {
        using var simulator = new Simulator(prepared.Compiled!, parameters, new RunOptions { End = 1, SteadyStart = true });
        try
        {
            var values = simulator.ValuesAtStart();
            return new OperatingPoint(0, Fill(prepared, parameters, 0, v => values[v]), true);
        }
        catch (SimulationException e)
        {
            throw new DesignException(
                e.Failure.Code,
                e.Failure.Message,
                e.Failure.Code == "steady" ? "Let a controller or a limit hold it, or linearise at a time instead." : e.Failure.Advice
            );
        }
    }

    static double[] Fill(PreparedModel prepared, ParameterSet parameters, double time, Func<int, double?> value)
    {
        var values = (double[])parameters.Values.Clone();
        var representative = prepared.Compiled!.Plan.Representative;
        foreach (var variable in prepared.Model.Variables)
            if (variable.Role is VariableRole.Continuous or VariableRole.Discrete)
                values[variable.Index] = value(representative[variable.Index]) ?? 0;
        values[FlatModel.TimeIndex] = time;
        return values;
    }
}

/// <summary>A design step that cannot be done: why, and what to try.</summary>
public sealed class DesignException(string code, string message, string advice) : Exception(message)
{
    public string Code { get; } = code;

    public string Advice { get; } = advice;
}
