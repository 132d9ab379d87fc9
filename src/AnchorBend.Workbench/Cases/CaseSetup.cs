using AnchorBend.Compiler.Preparation;
using AnchorBend.Language.Terms;
using AnchorBend.Modeling.Catalog;
using AnchorBend.Modeling.Documents;
using AnchorBend.Simulation;
using AnchorBend.Workbench.Studies;

namespace AnchorBend.Workbench.Cases;

/// <summary>A model as one of its cases runs it.</summary>
/// <param name="Document">With the settings of the case, and its subject alone.</param>
/// <param name="Node">The case, with its signals as the document knows them.</param>
/// <param name="Set">Values of parameters, by path, as typed.</param>
/// <param name="Shape">What of it changes more than values: cases of one shape share what was compiled.</param>
public sealed record CaseSetup(ModelDocument Document, CaseNode Node, IReadOnlyDictionary<string, string> Set, string Shape)
{
    /// <exception cref="DocumentException">Something that the case sets is not in the model.</exception>
    public static CaseSetup Of(ModelDocument document, CaseNode node)
    {
        if (node.Subject is { Length: > 0 } subject)
            (document, node) = SubjectFrame.Of(document, node, subject);
        var settings = document.Settings with
        {
            Stimulus = Known("stimulus", node.Stimulus, document.Stimuli.ContainsKey) ?? document.Settings.Stimulus,
            Point = Known("operating point", node.Point, document.OperatingPoints.ContainsKey) ?? document.Settings.Point,
            End = node.End ?? document.Settings.End,
            Method = node.Method ?? document.Settings.Method,
            Step = node.Step ?? document.Settings.Step,
        };
        document = document with { Settings = settings };
        var set = new Dictionary<string, string>();
        var shape = $"{settings.Stimulus}\n{settings.Point}\n{node.Subject}\n";
        foreach (var value in ValuesOf(document, node))
        {
            var path = document.NameOf(value.Target) ?? value.Target;
            if (RowSettings.IsOne(value.Target))
            {
                document = RowSettings.Set(document, value.Target, value.Text);
                shape += $"{value.Target}={value.Text}\n";
            }
            else
            {
                set[path] = value.Text;
                if (!double.TryParse(value.Text.Split(' ')[0], System.Globalization.CultureInfo.InvariantCulture, out _))
                    shape += $"{path}={value.Text}\n";
            }
        }

        return new CaseSetup(document, node, set, shape);
    }

    /// <summary>What is set for the group, then what the case sets itself: the last counts.</summary>
    public static IEnumerable<CaseValueNode> ValuesOf(ModelDocument document, CaseNode node) =>
        (node.Group is { } id ? document.CaseGroups.GetValueOrDefault(id)?.Values.Values.OrderBy(v => v.Order).ToList() ?? [] : []).Concat(
            node.Values.Values.OrderBy(v => v.Order)
        );

    static string? Known(string what, string? id, Func<string, bool> isThere) =>
        id is not { Length: > 0 } || isThere(id)
            ? id
            : throw new DocumentException($"The {what} of this case is not in the model any more.");

    /// <param name="earlier">A model of the same shape, whose code is used again where only values differ.</param>
    /// <exception cref="DocumentException">One of the values is no expression, or sets what is not in the model.</exception>
    public PreparedModel Prepare(Func<ModelDocument, PartCatalog> catalog, PreparedModel? earlier = null)
    {
        var prepared = DocumentPreparation.Prepare(Document, catalog(Document), earlier, Set);
        if (prepared.CanRun)
            foreach (var path in Set.Keys)
                if (prepared.Model.Find(path) is null && !prepared.Model.Words.ContainsKey(path))
                    throw new DocumentException($"There is no '{DocumentLimits.Short(path)}' in the model, which this case sets.");
        return prepared;
    }

    /// <exception cref="DocumentException">The settings of the run are wrong.</exception>
    public RunOptions Options => DocumentRun.OptionsOf(Document);
}
