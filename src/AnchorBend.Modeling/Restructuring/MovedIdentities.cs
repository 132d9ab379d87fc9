using AnchorBend.Modeling.Documents;

namespace AnchorBend.Modeling.Restructuring;

/// <summary>Requirements and parts at rest follow parts that come to stand elsewhere.</summary>
static class MovedIdentities
{
    /// <summary>What an identity becomes, by the steps from the changed diagram down and the port behind them; null leaves it.</summary>
    public delegate (IReadOnlyList<string> Steps, string? Port)? Move(IReadOnlyList<string> steps, string? port);

    /// <param name="document">The document after the change, but for its references.</param>
    /// <param name="before">The document before it, in which they lead somewhere.</param>
    /// <param name="definition">The diagram that was changed.</param>
    public static ModelDocument Follow(ModelDocument document, ModelDocument before, string definition, Move move)
    {
        string Signal(string reference)
        {
            if (
                !SignalReference.TryParse(reference, out var signal)
                || Moved(before, definition, signal.Part, signal.Port, move) is not { } to
            )
                return reference;
            return $"{string.Join('/', to.Steps)}.{to.Port}";
        }

        document = SignalIdentities.Changed(before, document, Signal);
        string Part(string text) =>
            PartPath.TryParse(text, out var path) && Moved(before, definition, path, null, move) is { } to
                ? string.Join('/', to.Steps)
                : text;
        List<string> resting = [.. document.Settings.SteadyParts.Select(Part)];
        return document with
        {
            Deliveries = document.Deliveries.ToDictionary(d => d.Key, d => d.Value with { Part = Part(d.Value.Part) }),
            Settings = resting.SequenceEqual(document.Settings.SteadyParts)
                ? document.Settings
                : document.Settings with
                {
                    SteadyParts = resting,
                },
        };
    }

    static (IReadOnlyList<string> Steps, string? Port)? Moved(
        ModelDocument before,
        string definition,
        PartPath path,
        string? port,
        Move move
    )
    {
        var at = PartPath.Root;
        var steps = path.Steps;
        for (var depth = 0; depth < steps.Count; depth++)
        {
            if (before.Level(at) is not { } level)
                return null;
            if (level.Id == definition)
                return move([.. steps.Skip(depth)], port) is { } to ? ([.. steps.Take(depth), .. to.Steps], to.Port) : null;
            at = at.Then(steps[depth]);
        }

        return null;
    }
}
