using AnchorBend.Modeling;
using AnchorBend.Modeling.Documents;

namespace AnchorBend.Compiler.Preparation;

/// <summary>Values that parameters have at the operating point which a document's runs begin at.</summary>
static class PointValues
{
    /// <summary>By path in the flat model, as typed; nothing where no point is chosen.</summary>
    public static Dictionary<string, string> Of(ModelDocument document)
    {
        var values = new Dictionary<string, string>();
        foreach (var value in document.OperatingPoints.GetValueOrDefault(document.Settings.Point)?.Parameters ?? [])
            values[document.NameOf(value.Target) ?? value.Target] = value.Value;
        return values;
    }

    /// <summary>Them with others, which go first.</summary>
    /// <param name="findings">Is told what is not in the model any more.</param>
    public static IReadOnlyDictionary<string, string>? With(
        ModelDocument document,
        IReadOnlyDictionary<string, string>? others,
        List<Finding> findings
    )
    {
        if (document.Settings.Point.Length == 0)
            return others;
        if (!document.OperatingPoints.TryGetValue(document.Settings.Point, out var point))
        {
            findings.Add(
                Problem(
                    "The operating point at which runs should begin is not in the model any more.",
                    "Choose another in the run settings."
                )
            );
            return others;
        }

        var values = Of(document);
        foreach (var value in point.Parameters)
            if (SignalReference.TryParse(value.Target, out _) && document.NameOf(value.Target) is null)
            {
                values.Remove(value.Target);
                findings.Add(
                    Problem(
                        $"The operating point '{point.Name}' sets a value of a part that is not in the model any more: {value.Target}.",
                        "Find the point again under Tune, or remove it."
                    )
                );
            }

        foreach (var (path, text) in others ?? new Dictionary<string, string>())
            values[path] = text;
        return values;
    }

    static Finding Problem(string message, string suggestion) =>
        new(Severity.Warning, "operating-point", message, "", "run settings", Suggestion: suggestion);
}
