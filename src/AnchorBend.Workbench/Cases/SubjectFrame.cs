using AnchorBend.Modeling.Documents;
using AnchorBend.Modeling.Restructuring;

namespace AnchorBend.Workbench.Cases;

/// <summary>
/// A frame about one part, so that it can be run alone: a model that holds nothing but it. Inputs that nothing drives are driven by the
/// stimulus of the case. Signals keep their identities, seen from the frame; what lies outside of the part is left out.
/// </summary>
static class SubjectFrame
{
    const string Frame = "frame";

    /// <exception cref="DocumentException">There is no such part.</exception>
    public static (ModelDocument Document, CaseNode Node) Of(ModelDocument document, CaseNode node, string subject)
    {
        if (!PartPath.TryParse(subject, out var path) || document.Part(path) is not { } found)
            throw new DocumentException("The part that this case is about is not in the model any more.");
        var outside = path.Above.ToString();
        // A path that leads nowhere stands for what lies outside.
        string Seen(string identity) =>
            !SignalReference.TryParse(identity, out var signal) ? identity
            : signal.Part == path || signal.Part.ToString().StartsWith(path + "/", StringComparison.Ordinal)
                ? identity[(outside.Length == 0 ? 0 : outside.Length + 1)..]
            : "";

        var id = Frame;
        while (document.Definitions.ContainsKey(id))
            id += "-";
        var diagram = new DiagramDefinition { Name = found.Part.Name, Parameters = ParametersAbove(document, path) };
        diagram.Parts[path.Id] = found.Part with { OnlyWhen = null };
        var framed = document.With(id, diagram) with
        {
            Root = id,
            PlotSheets = [],
            Panels = [],
            Alerts = [],
            Studies = [],
            Cases = new Dictionary<string, CaseNode> { [Frame] = node },
            Requirements = document
                .Requirements.Where(r => r.Value.Signal.Length == 0 || Seen(r.Value.Signal).Length > 0)
                .ToDictionary(r => r.Key, r => r.Value),
            Stimuli = document.Stimuli.ToDictionary(
                s => s.Key,
                s =>
                    s.Value with
                    {
                        Tracks = s.Value.Tracks.Where(t => Seen(t.Value.Target).Length > 0).ToDictionary(t => t.Key, t => t.Value),
                    }
            ),
            Faults = document.Faults.Where(f => Seen(f.Value.Signal).Length > 0).ToDictionary(f => f.Key, f => f.Value),
            Settings = document.Settings with { SteadyParts = [] },
        };
        framed = SignalIdentities.Changed(document, framed, Seen);
        return (framed, framed.Cases[Frame] with { Subject = subject });
    }

    /// <summary>What the part may speak of: parameters of the levels that it stands in, with the values that their uses have.</summary>
    static Dictionary<string, ParameterNode> ParametersAbove(ModelDocument document, PartPath path)
    {
        var all = new Dictionary<string, ParameterNode>();
        for (var level = path.Above; ; level = level.Above)
        {
            var given = level.IsRoot ? [] : document.Part(level)?.Part.Parameters ?? [];
            var inner = all.Keys.ToHashSet();
            var declared = document.Level(level)?.Diagram.Parameters ?? [];
            foreach (var (name, parameter) in declared)
            {
                var text = given.GetValueOrDefault(name);
                // A level that hands on what is called the same above means that.
                if (text == name)
                    continue;
                // All stand in one level of the frame: a name that means another parameter further in would be read as that.
                var hidden = ParameterUses
                    .Names(text ?? parameter.Value)
                    .FirstOrDefault(n => inner.Contains(n) || text is not null && declared.ContainsKey(n));
                if (hidden is not null)
                    throw new DocumentException(
                        $"The part cannot be run alone: '{hidden}' means different parameters on the levels around it. Rename one of them."
                    );
                all.TryAdd(name, text is null ? parameter : parameter with { Value = text });
            }

            if (level.IsRoot)
                return all;
        }
    }
}
