using AnchorBend.Compiler.Preparation;
using AnchorBend.Language;
using AnchorBend.Modeling.Catalog;
using AnchorBend.Modeling.Documents;
using AnchorBend.Simulation;
using AnchorBend.Simulation.Recording;
using AnchorBend.Verification;
using AnchorBend.Workbench.Compute;
using AnchorBend.Workbench.Runs;
using AnchorBend.Workbench.Views;

namespace AnchorBend.Workbench.Shelf;

/// <summary>A model at a glance: its top level drawn small, what it does, and how it stands by its requirements.</summary>
/// <param name="Parts">On all levels.</param>
/// <param name="Domains">Physical domains of the parts.</param>
/// <param name="Picture">The top level without texts and numbers; null where it has too many parts for a small picture.</param>
/// <param name="Views">What is drawn of its parts.</param>
/// <param name="Course">Its first plotted signal over a run; null where there is none to show.</param>
/// <param name="Verdicts">Of its requirements in that run, in their order.</param>
/// <param name="Problem">Why it was not run; null where it was.</param>
public sealed record ModelCard(
    long Revision,
    string? Description,
    int Parts,
    IReadOnlyList<string> Domains,
    DiagramDefinition? Picture,
    IReadOnlyDictionary<string, PartView> Views,
    CardCourse? Course,
    IReadOnlyList<VerdictKind> Verdicts,
    string? Problem
)
{
    /// <summary>A small picture shows no more.</summary>
    const int MostParts = 120;

    /// <summary>Columns of the small curve.</summary>
    const int Columns = 60;

    /// <summary>What a run for a card may take: whoever wants more opens the model.</summary>
    static readonly TimeSpan MostRunning = TimeSpan.FromSeconds(8);

    internal const string TooLong = "Its run takes longer than a few seconds: open it to see all of it.";

    static readonly TimeSpan MostPreparing = TimeSpan.FromSeconds(10);

    /// <exception cref="OperationCanceledException">Nobody wants it any more.</exception>
    public static ModelCard Of(ModelDocument document, PartCatalog catalog, long revision, ComputeGate compute, CancellationToken wanted)
    {
        try
        {
            var (prepared, view) = compute.Run(MostPreparing, wanted, _ =>
            {
                var ready = DocumentPreparation.Prepare(document, catalog);
                return (ready, new ModelViewBuilder(ready, document, catalog, PartPath.Root, null).Build(revision, revision, false, false));
            });
            var (course, verdicts, problem) = Run(prepared, document, view, compute, wanted);
            return Card(document, catalog, revision, view, course, verdicts, problem);
        }
        catch (TooLongException)
        {
            return Card(document, catalog, revision, null, null, [], TooLong);
        }
    }

    /// <param name="view">Null where it took too long to put together.</param>
    static ModelCard Card(
        ModelDocument document,
        PartCatalog catalog,
        long revision,
        ModelView? view,
        CardCourse? course,
        IReadOnlyList<VerdictKind> verdicts,
        string? problem
    )
    {
        var isDrawn = view is not null && document.Main.Parts.Count <= MostParts;
        return new ModelCard(
            revision,
            document.Description,
            document.Definitions.Values.OfType<DiagramDefinition>().Sum(d => d.Parts.Count),
            DomainsOf(document, catalog),
            isDrawn ? Outline(document.Main) : null,
            isDrawn ? view!.Parts.ToDictionary(p => p.Key, p => Outline(p.Value)) : new Dictionary<string, PartView>(),
            course,
            verdicts,
            problem
        );
    }

    /// <summary>What it is found by, and its domains.</summary>
    public static CardFacts FactsOf(ModelDocument document, PartCatalog catalog)
    {
        var words = new SortedSet<string>(StringComparer.Ordinal) { document.Name, document.Description ?? "" };
        foreach (var part in Everything(document))
            words.Add(part.Name);
        foreach (var described in Described(document, catalog))
            words.Add(described.Title);
        foreach (var definition in document.Definitions.Values)
            words.Add(definition.Name);
        return new CardFacts(string.Join(' ', words).ToLowerInvariant(), DomainsOf(document, catalog));
    }

    static IEnumerable<PartNode> Everything(ModelDocument document) =>
        document.Definitions.Values.OfType<DiagramDefinition>().SelectMany(d => d.Parts.Values);

    /// <summary>The kinds of parts that come from a catalog; what those of the model hold is in it anyway.</summary>
    static IEnumerable<PartDescription> Described(ModelDocument document, PartCatalog catalog) =>
        Everything(document).Select(p => p.Type).Distinct().Where(t => catalog.Find(t) is not null).Select(catalog.Describe);

    static List<string> DomainsOf(ModelDocument document, PartCatalog catalog) =>
        [
            .. Described(document, catalog)
                .SelectMany(d => d.Ports)
                .Select(p => p.Domain)
                .OfType<string>()
                .Where(d => d.Length > 0)
                .Distinct()
                .Order(StringComparer.Ordinal),
        ];

    static DiagramDefinition Outline(DiagramDefinition diagram) =>
        new()
        {
            Name = diagram.Name,
            Parts = diagram.Parts.ToDictionary(p => p.Key, p => p.Value with { Parameters = [] }),
            Wires = diagram.Wires,
            Areas = diagram.Areas,
        };

    static PartView Outline(PartView part) =>
        part with
        {
            Parameters = new Dictionary<string, ParameterView>(),
            Actions = [],
            Derived = [],
            Results = [],
            Members = null,
            Bundle = null,
            Ports =
            [
                .. part.Ports.Select(p =>
                    p with
                    {
                        Description = null,
                        Takes = [],
                        What = "",
                        Potential = null,
                        Flow = null,
                        Elements = null,
                        Action = null,
                    }
                ),
            ],
        };

    /// <summary>The plotted signal that tells most: one that a requirement is on, else one that does not come from a source.</summary>
    static SignalView? Telling(ModelDocument document, ModelView view)
    {
        var required = document.Requirements.Values.Select(r => r.Signal).ToHashSet();
        var sources = view.Parts.Where(p => p.Value.Ports.All(q => q is { IsInput: false, Domain: null })).Select(p => p.Key).ToHashSet();
        return view.Plotted.FirstOrDefault(p => required.Contains(p.Key)).Value
            ?? view.Plotted.FirstOrDefault(p => !sources.Contains(p.Key.Split('.')[0])).Value
            ?? view.Plotted.Values.FirstOrDefault();
    }

    static (CardCourse?, IReadOnlyList<VerdictKind>, string?) Run(
        PreparedModel prepared,
        ModelDocument document,
        ModelView view,
        ComputeGate compute,
        CancellationToken wanted
    )
    {
        if (document.Main.Parts.Count == 0)
            return (null, [], null);
        if (!view.CanRun)
            return (null, [], view.Findings.FirstOrDefault(f => f.Severity == "error")?.Message ?? "It does not run as it is.");
        try
        {
            var parameters = new ParameterSet(prepared.Model);
            var run = compute.Run(MostRunning, wanted, w => VerifiedRun.Of(prepared, parameters, RunPool.OptionsOf(document), document, w));
            using var trace = run.Result.Trace;
            // A run that nobody wants any more ends early, too; nothing follows from that.
            wanted.ThrowIfCancellationRequested();
            if (run.Result.Failure is { Code: "canceled" })
                return (CardCourse.Of(prepared, trace, Telling(document, view), Columns), [], TooLong);
            return (
                CardCourse.Of(prepared, trace, Telling(document, view), Columns),
                [.. run.Verdicts.Select(v => v.Kind)],
                run.Result.Failure?.Message
            );
        }
        catch (TooLongException)
        {
            return (null, [], TooLong);
        }
        catch (Exception e) when (e is SimulationException or DocumentException or BudgetException)
        {
            return (null, [], e.Message);
        }
    }
}

/// <summary>A signal's course, small.</summary>
/// <param name="Label">The signal's name.</param>
/// <param name="Unit">Of the values, as people read them.</param>
/// <param name="Points">Time in s and value, one after the other.</param>
public sealed record CardCourse(string Label, string Unit, IReadOnlyList<double> Points)
{
    internal static CardCourse? Of(PreparedModel prepared, Trace trace, SignalView? signal, int columns)
    {
        if (signal is null || prepared.Find(signal.Recorded) is not { } variable || !trace.Has(variable.Index) || trace.Rows == 0)
            return null;
        var curve = TraceReduction.Reduce(trace, [variable.Index], trace.Times[0], trace.Times[trace.Rows - 1], columns)[0];
        var points = new double[2 * curve.Times.Length];
        for (var i = 0; i < curve.Times.Length; i++)
            (points[2 * i], points[2 * i + 1]) = (Short(curve.Times[i]), Short(curve.Values[i] * signal.Scale + signal.Shift));
        return points.All(double.IsFinite) ? new CardCourse(signal.Label, signal.Unit, points) : null;
    }

    /// <summary>As many digits as a small curve and a last value need.</summary>
    static double Short(double value) => (float)value;
}
