using AnchorBend.Modeling;
using AnchorBend.Modeling.Catalog;
using AnchorBend.Modeling.Documents;

namespace AnchorBend.Compiler.Preparation;

/// <summary>
/// Prepares a diagram so that what hangs loose stops nothing else: a physical part just placed, or a network that is not connected to the
/// rest, is left out of the run with a warning. Where a network cannot be computed, the ports that are open in it are told before the
/// equations that happen to be left over.
/// </summary>
public static class DocumentPreparation
{
    /// <summary>Errors of a network as a whole, whose place is a matter of chance.</summary>
    static readonly HashSet<string> Structural = ["too-many-equations", "too-few-equations", "high-index", "no-reference"];

    /// <summary>Networks that are left out one after the other.</summary>
    const int MostRounds = 20;

    const int MostNamed = 5;

    /// <param name="earlier">A model prepared before, whose code is used again when only values differ.</param>
    /// <param name="overrides">Parameter values by path, as typed.</param>
    public static PreparedModel Prepare(
        ModelDocument document,
        PartCatalog catalog,
        PreparedModel? earlier = null,
        IReadOnlyDictionary<string, string>? overrides = null
    )
    {
        var told = new List<Finding>();
        overrides = PointValues.With(document, overrides, told);
        document = FaultyParts.Of(document, catalog.For(document), told);
        document = DrivenParts.Of(document, catalog.For(document), told);
        document = UnitParts.Of(document, told);
        catalog = catalog.For(document);
        var left = document;
        var networks = new LooseNetworks(document.Root, document.Main, catalog);
        PreparedModel prepared;
        for (var round = 0; ; round++)
        {
            prepared = PreparedModel.Prepare(DocumentElaboration.Elaborate(left, catalog, overrides), earlier);
            var errors = prepared.Findings.Where(f => f.Severity == Severity.Error).ToList();
            if (errors.Count == 0 || errors.Exists(f => !Structural.Contains(f.Code)))
                break;
            // A finding may be at a part inside a part.
            var loose = errors
                .Select(f => networks.Of(f.Part))
                .OfType<string>()
                .Distinct()
                .Where(n => !networks.IsAll(n, left.Main))
                .ToList();
            if (loose.Count == 0 || round == MostRounds)
                break;
            foreach (var network in loose)
            {
                told.Add(LeftOut(networks, network, errors));
                left = left.WithMain(networks.Without(left.Main, network));
            }
        }

        told.AddRange(Open(networks, left, prepared));
        return told.Count == 0 ? prepared : prepared.With([.. told, .. prepared.Findings]);
    }

    /// <summary>
    /// A prepared model after an edit that changed values, settings, requirements or the drawing alone; null where it must be put together
    /// anew.
    /// </summary>
    /// <param name="values">Paths of parameters in the flat model and their new values as typed.</param>
    public static PreparedModel? Again(PreparedModel before, ModelDocument document, IReadOnlyList<(string Path, string Text)> values)
    {
        if (before.Findings.Any(f => f.Fix is not null && HasMoved(f, before.Map, document)))
            return null;
        // What the operating point sets, no field changes.
        if (PointValues.Of(document) is { Count: > 0 } held)
            values = [.. values.Where(v => !held.ContainsKey(v.Path))];
        if ((values.Count == 0 ? before : ValueChange.Apply(before, values)) is not { } same)
            return null;
        var others = before.Findings.Where(f => f.Code != DocumentReferences.Code).ToList();
        var broken = DocumentReferences.Broken(document, before.Map, path => before.Model.Find(path) is not null).ToList();
        return others.Count == before.Findings.Count && broken.Count == 0 ? same : same.With([.. others, .. broken]);
    }

    /// <summary>A fix places parts beside the one that its finding is at, so it goes with that part.</summary>
    static bool HasMoved(Finding finding, SourceMap map, ModelDocument document) =>
        finding.Place is { } path
        && map.At(path) is { Node: var old }
        && document.Part(path) is { Part: var now }
        && (old.X, old.Y, old.Flip, old.Turn) != (now.X, now.Y, now.Flip, now.Turn);

    /// <summary>Open ports of what is left: the reason where it cannot be computed, worth knowing where they close something off.</summary>
    static IEnumerable<Finding> Open(LooseNetworks networks, ModelDocument left, PreparedModel prepared)
    {
        var isTheReason = !prepared.CanRun && prepared.Findings.All(f => f.Severity != Severity.Error || Structural.Contains(f.Code));
        return isTheReason
            ? networks
                .OpenPorts(left.Main)
                .Take(MostNamed)
                .Select(p =>
                    networks.Finding(
                        Severity.Error,
                        p,
                        $"The port '{p.Port}' of '{p.Part}' is open, and the network it belongs to cannot be computed."
                    )
                )
            : networks
                .OpenPorts(left.Main)
                .Where(p => p.Domain == "hydraulic")
                .Select(p =>
                    networks.Finding(
                        Severity.Warning,
                        p,
                        $"The port '{p.Port}' of '{p.Part}' is open: it is closed off, so nothing flows through it."
                    )
                );
    }

    static Finding LeftOut(LooseNetworks networks, string network, List<Finding> errors)
    {
        var parts = networks.Parts(network);
        var open = networks.OpenPorts(network).ToList();
        var isOne = parts.Count == 1;
        var isOver = errors.Exists(f => f.Code == "too-many-equations" && networks.Of(f.Part) == network);
        var reason =
            isOver ? $"{(isOne ? "it has" : "they have")} more equations than unknowns"
            : isOne ? "nothing determines it"
            : "nothing determines them";
        var message = $"{Who(parts)} left out of the run, as {reason}.{Ports(parts, open)}";
        var ground = errors.Find(f => f.Code == "no-reference" && networks.Of(f.Part) == network);
        if (open.Count == 0)
            return new Finding(
                Severity.Warning,
                "left-out",
                message,
                parts[0],
                null,
                Suggestion: ground?.Suggestion ?? "Connect it to the rest of the model."
            )
            {
                Place = PartPath.Root.Then(networks.Id(parts[0])),
                Fix = ground?.Fix,
            };
        var finding = networks.Finding(Severity.Warning, open[0], message);
        return finding with { Code = "left-out", Fix = ground?.Fix ?? finding.Fix };
    }

    static string Who(IReadOnlyList<string> parts) =>
        parts.Count switch
        {
            1 => $"'{parts[0]}' is",
            2 => $"'{parts[0]}' and '{parts[1]}' hang together by themselves and are",
            _ => $"'{parts[0]}' and {parts.Count - 1} other parts hang together by themselves and are",
        };

    static string Ports(IReadOnlyList<string> parts, List<OpenPort> open)
    {
        if (open.Count == 0)
            return "";
        if (open.Count == 1)
            return $" The port '{open[0].Port}' of '{open[0].Part}' is open.";
        var names = open.Take(MostNamed).Select(p => parts.Count == 1 ? $"'{p.Port}'" : $"'{p.Port}' of '{p.Part}'");
        return $" Open ports: {string.Join(", ", names)}{(open.Count > MostNamed ? " and more" : "")}.";
    }
}
