using AnchorBend.Language.Units;

namespace AnchorBend.Simulation;

/// <summary>A stretch of a run in which steps end at certain instants; it holds until the next one begins.</summary>
/// <param name="From">Where it begins, s.</param>
/// <param name="Every">Distance of the instants from its beginning on, s; null for none.</param>
/// <param name="Until">One more instant, s; null for none.</param>
public sealed record StepStops(double From, double? Every, double? Until)
{
    /// <summary>The first instant behind a time, s.</summary>
    public double Next(double time)
    {
        var next = double.PositiveInfinity;
        if (Every is { } every)
        {
            // Rounding may leave the first one at the time itself.
            var k = Math.Floor((time - From) / every) + 1;
            next = From + k * every > time ? From + k * every : From + (k + 1) * every;
            if (!(next > time))
                next = double.PositiveInfinity;
        }

        return Until is { } until && until > time ? Math.Min(next, until) : next;
    }
}

/// <summary>A parameter given another value during a run.</summary>
/// <param name="Time">From when on, s; null where it was set before the run began.</param>
/// <param name="Parameter">By identity or by name.</param>
/// <param name="Unit">Unit of the value; null for the parameter's own.</param>
public sealed record SetValue(double? Time, string Parameter, double Value, string? Unit = null)
{
    /// <summary>The value in the unit of the parameter; null where the units do not fit.</summary>
    public double? In(Unit? own)
    {
        if (Unit is not { Length: > 0 } typed)
            return Value;
        if (own is null || !Language.Units.Unit.TryParse(typed, out var unit, out _) || !unit.Fits(own))
            return null;
        var (scale, shift) = unit.ConversionTo(own);
        return Value * scale + shift;
    }
}

/// <summary>
/// What was done to a run from outside. Where steps end is a part of it: methods choose steps by what lies before them, so the same values
/// at the same times give the same bits only with the same stops.
/// </summary>
/// <param name="Stops">In the order of time.</param>
/// <param name="Values">In the order of time.</param>
public sealed record RunScript(IReadOnlyList<StepStops> Stops, IReadOnlyList<SetValue> Values)
{
    /// <summary>Whether everything was done at a stop, so that a run by this script has the same bits. Elsewhere it has the same values up
    /// to the tolerance.</summary>
    public bool IsExact { get; init; } = true;
}
