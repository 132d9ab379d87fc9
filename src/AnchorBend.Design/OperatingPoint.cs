using AnchorBend.Compiler.Preparation;
using AnchorBend.Modeling.Flat;
using AnchorBend.Simulation;

namespace AnchorBend.Design;

/// <summary>Values of all variables at one instant.</summary>
/// <param name="Values">By variable index of the flat model.</param>
public sealed record OperatingPoint(double Time, double[] Values, bool IsSteady)
{
    /// <summary>How fast states change there, in their units per second; nothing where nobody looked.</summary>
    public IReadOnlyList<(string State, double Rate)> Rates { get; init; } = [];

    /// <summary>States that move there although the rest rests.</summary>
    public IReadOnlyList<string> Moving { get; init; } = [];

    /// <summary>The name of the saved point that it is; null for one that was not saved.</summary>
    public string? Saved { get; init; }

    /// <summary>What it is called.</summary>
    public string Name => Saved ?? (IsSteady ? $"steady state at the start{Apart}" : FormattableString.Invariant($"{Time:G5} s"));

    string Apart => Moving.Count > 0 ? $", but for {string.Join(", ", Moving)}" : "";

    /// <summary>The point at which runs with these settings begin: of a saved point, or at rest.</summary>
    /// <param name="run">Null for the state at rest.</param>
    /// <exception cref="DesignException">There is no steady state, or it is not found.</exception>
    /// <exception cref="SimulationException">The run cannot begin there.</exception>
    public static OperatingPoint AtStart(
        PreparedModel prepared,
        ParameterSet parameters,
        RunOptions? run,
        CancellationToken cancellation = default
    ) =>
        run?.From is not { } from ? Settled(prepared, parameters)
        : run.SteadyStart ? Settled(prepared, parameters, new RestSearch(from, run.Start, run.Moving)) with { Saved = from.Point }
        : AtTime(prepared, parameters, run.Start, run, cancellation) with { Saved = from.Point };

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
        if (time <= settings.Start)
            time = settings.Start + 1e-9 * (settings.End - settings.Start);
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

    /// <summary>
    /// A state in which nothing changes, with sources as at the start; what nothing determines stays at its start value. What holds at the
    /// start of runs alone (initial equations, fixed start values) gives way where it contradicts rest.
    /// </summary>
    /// <param name="begin">Where the search begins, with sources as when, and what may move; null for the start values, the start, and
    /// nothing.</param>
    /// <exception cref="DesignException">There is no steady state, or it is not found.</exception>
    public static OperatingPoint Steady(PreparedModel prepared, ParameterSet parameters, RestSearch? begin = null)
    {
        begin ??= new RestSearch();
        if (Try(prepared, parameters, begin, out var failure) is { } found)
            return found;
        if (failure!.Code is "start" or "steady" && begin.From is null)
        {
            begin = begin with { From = new StartValues("", new Dictionary<string, double>()) };
            if (Try(prepared, parameters, begin, out failure) is { } without)
                return without;
        }

        var courses = Courses(prepared).Except(begin.Moving).ToList();
        throw new DesignException(
            failure!.Code,
            failure.Message,
            failure.Code != "steady" ? failure.Advice
                : courses.Count > 0 ? $"Nothing depends on {string.Join(", ", courses.Take(3))}, so the operating point may let it move."
                : "Let a controller or a limit hold it, let it move in the operating point, or linearise at a time instead."
        );
    }

    /// <summary>
    /// Rest, or where there is none rest of all that anything depends on: the angle of an engine goes on and the place of a ship, and
    /// nothing
    /// else feels it (the cyclic coordinates of a relative equilibrium: Marsden and Ratiu, Introduction to Mechanics and Symmetry, 2nd ed.,
    /// §1.3). What does move is told.
    /// </summary>
    /// <exception cref="DesignException">There is no such state, or it is not found.</exception>
    public static OperatingPoint Settled(PreparedModel prepared, ParameterSet parameters, RestSearch? begin = null)
    {
        begin ??= new RestSearch();
        try
        {
            return Steady(prepared, parameters, begin);
        }
        catch (DesignException e) when (e.Code == "steady")
        {
            var courses = Courses(prepared).Except(begin.Moving).ToList();
            var freed = begin with { StillMoving = [.. begin.Moving, .. courses] };
            if (courses.Count == 0 || Try(prepared, parameters, freed, out _) is not { } found)
                throw;
            var moved = found.Rates.Where(r => Math.Abs(r.Rate) > AtRest).Select(r => r.State).ToHashSet();
            return found with { Moving = [.. begin.Moving, .. courses.Where(moved.Contains)] };
        }
    }

    /// <summary>What changes more slowly than the search for rest asks for has not moved, in units per second.</summary>
    const double AtRest = 1e-7;

    static OperatingPoint? Try(PreparedModel prepared, ParameterSet parameters, RestSearch begin, out SimulationFailure? failure)
    {
        var options = new RunOptions
        {
            Start = begin.Time,
            End = begin.Time + 1,
            SteadyStart = true,
            From = begin.From,
            Moving = begin.Moving,
        };
        using var simulator = new Simulator(prepared.Compiled!, parameters, options);
        try
        {
            var values = simulator.ValuesAtStart();
            failure = null;
            return new OperatingPoint(begin.Time, Fill(prepared, parameters, begin.Time, v => values[v]), true)
            {
                Rates = simulator.RatesAtStart(),
                Moving = begin.Moving,
            };
        }
        catch (SimulationException e)
        {
            failure = e.Failure;
            return null;
        }
    }

    /// <summary>States that no derivative and no delayed signal depends on.</summary>
    static IEnumerable<string> Courses(PreparedModel prepared)
    {
        var plan = prepared.Compiled!.Plan;
        var pattern = prepared.Compiled.Start.Jacobian.Pattern;
        var before = plan.StartEquations.Count;
        for (var c = 0; c < plan.States.Length; c++)
            if (pattern.Rows[pattern.Starts[c]..pattern.Starts[c + 1]].All(r => r < before))
                yield return plan.Model.Variables[plan.States[c]].Name;
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

/// <summary>How a state of rest is searched for.</summary>
/// <param name="From">Where it begins; null for the start values.</param>
/// <param name="Time">When sources have the values that they have, s.</param>
/// <param name="StillMoving">States that need not rest, and stay where the search begins; by name.</param>
public sealed record RestSearch(StartValues? From = null, double Time = 0, IReadOnlyList<string>? StillMoving = null)
{
    internal IReadOnlyList<string> Moving => StillMoving ?? [];
}

/// <summary>A design step that cannot be done: why, and what to try.</summary>
public sealed class DesignException(string code, string message, string advice) : Exception(message)
{
    public string Code { get; } = code;

    public string Advice { get; } = advice;
}
