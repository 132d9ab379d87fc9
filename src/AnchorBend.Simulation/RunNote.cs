using System.Globalization;
using AnchorBend.Modeling;

namespace AnchorBend.Simulation;

/// <summary>Something worth knowing about how a run went.</summary>
/// <param name="Code">Stable short name.</param>
/// <param name="Help">A longer explanation; null where the message says all.</param>
public sealed record RunNote(string Code, string Message, string? Help)
{
    /// <summary>What the statistics and the failure of a run say, in words.</summary>
    public static IReadOnlyList<RunNote> Of(RunStatistics s, SimulationFailure? failure)
    {
        var notes = new List<RunNote>();
        if (failure is not null && FindingHelp.Of(failure.Code) is { } help)
            notes.Add(new RunNote(failure.Code, failure.Message, help));
        foreach (var change in s.Switches.Take(6))
            notes.Add(
                change.Instead is { } instead
                    ? new RunNote(
                        "method-replaced",
                        $"At {Time(change.Time)} the method found no step; {instead} went on from there.",
                        null
                    )
                    : new RunNote(
                        "stiff",
                        change.ToImplicit
                            ? $"Stiff from {Time(change.Time)} on: a fast motion kept the steps as short as its own time "
                                + $"constant, so the implicit method went on."
                            : $"No longer stiff from {Time(change.Time)} on; the explicit method went on.",
                        change.ToImplicit ? FindingHelp.Of("stiff") : null
                    )
            );
        if (s.Switches.Count > 6)
            notes.Add(new RunNote("stiff", $"The method changed {s.Switches.Count - 6} more times.", null));
        foreach (var name in s.SmallStates.Take(6))
            notes.Add(
                new RunNote(
                    "small-state",
                    $"'{name}' never became larger than a hundred times its absolute tolerance, so its digits are hardly "
                        + $"controlled. Give it a nominal value of its own size, or the run a smaller absolute tolerance.",
                    FindingHelp.Of("small-state")
                )
            );
        if (s.Rejected > 0.3 * s.Steps && s.Steps > 50)
            notes.Add(
                new RunNote(
                    "rejected",
                    $"{s.Rejected} steps were tried again with a shorter one: something changes suddenly without being an event.",
                    null
                )
            );
        if (s.StateChanges > 0)
            notes.Add(
                new RunNote("index-reduction", $"Other states were chosen {s.StateChanges} times.", FindingHelp.Of("index-reduction"))
            );
        return notes;
    }

    static string Time(double seconds) => seconds.ToString("G4", CultureInfo.InvariantCulture) + " s";
}
