using AnchorBend.Modeling.Documents;

namespace AnchorBend.Simulation;

/// <summary>Values that a run begins with: of an operating point that was saved. Where the model is to start at rest the search for it
/// begins there; else it starts just there, whatever its initial equations say, with delayed signals as if they had always been
/// so.</summary>
/// <param name="Point">The name of the point.</param>
/// <param name="Values">By names of the flat model; those that it does not have are left out.</param>
public sealed record StartValues(string Point, IReadOnlyDictionary<string, double> Values)
{
    /// <summary>Those of the chosen operating point of a document; null where none is chosen.</summary>
    public static StartValues? Of(ModelDocument document)
    {
        if (document.OperatingPoints.GetValueOrDefault(document.Settings.Point) is not { } point)
            return null;
        var values = new Dictionary<string, double>();
        foreach (var state in point.States)
            values[document.NameOf(state.Target) ?? state.Target] = state.Value;
        return new StartValues(point.Name, values);
    }

    /// <summary>The values with others, which go first.</summary>
    public StartValues With(IEnumerable<(string Name, double Value)> others)
    {
        var values = new Dictionary<string, double>(Values);
        foreach (var (name, value) in others)
            values[name] = value;
        return this with { Values = values };
    }
}
