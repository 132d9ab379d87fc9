using AnchorBend.Modeling.Documents;

namespace AnchorBend.Workbench.Studies;

/// <summary>What a row sets that is no parameter: settings of runs, and faults.</summary>
public static class RowSettings
{
    public const string End = "#end",
        Stimulus = "#stimulus",
        Point = "#point",
        Fault = "#fault:",
        Formula = "#formula:";

    public static bool IsOne(string path) => path.StartsWith('#');

    /// <summary>The document with a setting of its runs; stimuli and points are named as people call them.</summary>
    /// <exception cref="DocumentException">There is nothing of that name.</exception>
    public static ModelDocument Set(ModelDocument document, string path, string text)
    {
        text = text.Trim().Trim('"');
        if (TrackPoint.Parse(path) is { } point)
            return point.Set(document, text);
        if (path == End)
            return document with { Settings = document.Settings with { End = text } };
        if (path == Stimulus)
            return document with
            {
                Settings = document.Settings with { Stimulus = Named("stimulus", text, document.Stimuli, s => s.Name) },
            };
        if (path == Point)
            return document with
            {
                Settings = document.Settings with { Point = Named("operating point", text, document.OperatingPoints, p => p.Name) },
            };
        if (
            path.StartsWith(Fault, StringComparison.Ordinal)
            && path[Fault.Length..] is var id
            && document.Faults.TryGetValue(id, out var fault)
        )
            return text is "true" or "false" or "on" or "off"
                ? document with
                {
                    Faults = new Dictionary<string, FaultNode>(document.Faults) { [id] = fault with { IsActive = text is "true" or "on" } },
                }
                : throw new DocumentException($"The fault '{fault.Name}' is on or off, not '{DocumentLimits.Short(text)}'.");
        if (path.StartsWith(Formula, StringComparison.Ordinal) && SignalReference.TryParse(path[Formula.Length..], out var of))
            return WithFormula(document, of, text);
        throw new DocumentException($"Runs have no setting '{DocumentLimits.Short(path)}'.");
    }

    /// <summary>The document with another formula of a part, in every use of the level that it stands on.</summary>
    static ModelDocument WithFormula(ModelDocument document, SignalReference of, string text)
    {
        if (document.Part(of.Part) is not { } found || document.Definitions[found.Definition] is not DiagramDefinition diagram)
            throw new DocumentException("The part whose formula varies is not in the model any more.");
        var part = found.Part with { Parameters = new Dictionary<string, string>(found.Part.Parameters) { [of.Port] = text } };
        return document.With(
            found.Definition,
            diagram with
            {
                Parts = new Dictionary<string, PartNode>(diagram.Parts) { [of.Part.Id] = part },
            }
        );
    }

    static string Named<T>(string what, string name, IReadOnlyDictionary<string, T> all, Func<T, string> nameOf) =>
        name.Length == 0
            ? ""
            : all.FirstOrDefault(e => nameOf(e.Value) == name).Key
                ?? throw new DocumentException($"There is no {what} called '{DocumentLimits.Short(name)}'.");
}
