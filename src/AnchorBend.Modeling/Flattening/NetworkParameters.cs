using AnchorBend.Language;
using AnchorBend.Language.Syntax;
using AnchorBend.Language.Terms;
using AnchorBend.Modeling.Flat;

namespace AnchorBend.Modeling.Flattening;

/// <summary>
/// Physical networks as wholes: which connectors hang together through connections and, by <c>Connections.branch</c>, through parts. A
/// connector's parameters, such as the properties of a fluid, come from the one <c>Connections.root</c> of its network; an electrical
/// network needs a reference of potential (after the Modelica Language Specification 3.6, section 9.4, which states roots and branches).
/// </summary>
sealed class NetworkParameters(Elaborator flat)
{
    readonly FlatModel model = flat.Model;
    readonly List<Finding> findings = flat.Findings;

    readonly Dictionary<Instance, Instance> networkOf = [];

    readonly List<(Instance Connector, Position At)> roots = [];

    /// <summary>Parameters of connectors that decide sizes and are others than was assumed, by name.</summary>
    public Dictionary<string, double> Structural { get; } = [];

    Instance Network(Instance connector)
    {
        while (networkOf.TryGetValue(connector, out var up) && !ReferenceEquals(up, connector))
        {
            if (networkOf.TryGetValue(up, out var further))
                networkOf[connector] = further;
            connector = up;
        }

        return connector;
    }

    void JoinNetwork(Instance a, Instance b)
    {
        var (ra, rb) = (Network(a), Network(b));
        networkOf.TryAdd(ra, ra);
        networkOf.TryAdd(rb, rb);
        if (!ReferenceEquals(ra, rb))
            networkOf[rb] = ra;
    }

    public void JoinNetworks(Instance[]? first, Instance[]? second, (string First, string Second) names, Position at)
    {
        if (first is null || second is null)
            return;
        for (var i = 0; i < Math.Max(first.Length, second.Length); i++)
        {
            // A single port meets each of a row of them.
            var (one, other) = (first[Math.Min(i, first.Length - 1)], second[Math.Min(i, second.Length - 1)]);
            if (DomainOf(one) is { } a && DomainOf(other) is { } b && a != b)
                throw new LanguageException(
                    "domain",
                    $"'{names.First}' is {a} and '{names.Second}' is {b}.",
                    at,
                    "Put a part between them that converts, such as a motor or a cylinder."
                );
            JoinNetwork(one, other);
        }
    }

    static string? DomainOf(Instance connector) => Said(connector, "domain");

    static string? Said(Instance connector, string name) =>
        (connector.Type.Definition.Annotation?.Argument("__AnchorBend")?.Value.Argument(name)?.Value.Binding as StringLiteral)?.Value;

    /// <summary><c>Connections.branch(a, b)</c> and <c>Connections.root(a)</c>.</summary>
    public void NoteNetwork(Instance instance, Call call)
    {
        var ends = call
            .Arguments.Select(a =>
                a is Reference r && flat.Sets.PartAt(instance, r) is [var only]
                    ? only
                    : throw new LanguageException("call", $"{call.Function} takes connectors.", call.At)
            )
            .ToList();
        if (call.Function == "Connections.root" && ends.Count is 1 or 2)
            roots.Add((ends[0], call.At));
        else if (call.Function == "Connections.branch" && ends.Count == 2)
            JoinNetwork(ends[0], ends[1]);
        else
            throw new LanguageException("call", "Write Connections.branch(a, b) or Connections.root(a).", call.At);
    }

    public void CompleteNetworks()
    {
        var members = flat.Instances.All.Where(i => i.IsConnector).ToLookup(Network);
        var rootOf = roots.ToLookup(r => Network(r.Connector));
        foreach (var network in members)
        {
            var parameters = network.Any(c => c.Members.Values.Any(m => m.Declaration.Variability == Variability.Parameter));
            if (!parameters)
                continue;
            var own = rootOf[network.Key].ToList();
            if (own.Count == 0)
            {
                TellWhatIsAssumed([.. network]);
                continue;
            }

            if (own.Count > 1)
                findings.Add(
                    new Finding(
                        Severity.Error,
                        "two-roots",
                        $"'{PartOf(own[0].Connector)}' and '{PartOf(own[1].Connector)}' both say which fluid this network holds.",
                        PartOf(own[1].Connector),
                        null,
                        own[1].At,
                        "Remove one of them."
                    )
                );
            foreach (var connector in network)
                if (!ReferenceEquals(connector, own[0].Connector))
                    TakeParameters(connector, own[0].Connector);
        }

        CheckReferences(members);
    }

    /// <summary>A network that nothing says its fluid of holds what its connectors assume, which nobody may have meant.</summary>
    void TellWhatIsAssumed(IReadOnlyList<Instance> network)
    {
        if (Said(network[0], "assumes") is { } assumed && network.Select(PartOf).Distinct().Skip(1).Any())
            findings.Add(
                new Finding(
                    Severity.Information,
                    "assumed-fluid",
                    $"Nothing says which fluid the network at '{PartOf(network[0])}' holds: {assumed} is assumed.",
                    PartOf(network[0]),
                    Suggestion: "Connect a fluid to any point of it."
                )
            );
    }

    void TakeParameters(Instance connector, Instance root)
    {
        foreach (var (name, member) in connector.Members)
        {
            if (
                member.Declaration.Variability != Variability.Parameter
                || member.Variable is not { } mine
                || !root.Members.TryGetValue(name, out var given)
                || given.Variable is not { } theirs
            )
                continue;
            for (var i = 0; i < Math.Min(mine.Elements.Length, theirs.Elements.Length); i++)
            {
                var own = model.Variables[((VariableTerm)mine.Elements[i]).Index];
                // What decided sizes before the network was known decides them anew.
                if (
                    own.IsStructural
                    && flat.Values.Evaluate(theirs.Elements[i]) is var found
                    && found != flat.Values.Evaluate(mine.Elements[i])
                )
                    Structural[own.Name] = found;
                own.Binding = theirs.Elements[i];
            }
        }
    }

    static string PartOf(Instance connector)
    {
        var dot = connector.Path.LastIndexOf('.');
        return dot < 0 ? "" : connector.Path[..dot];
    }

    /// <summary>Potentials of an electrical network are defined up to a constant until one of them is given.</summary>
    void CheckReferences(ILookup<Instance, Instance> networks)
    {
        var electrical = networks.SelectMany(n => n).Where(c => DomainOf(c) == "electrical").ToList();
        if (electrical.Count == 0)
            return;
        var (connected, fromInside) = flat.Sets.Connectors();
        // A part passes the reference on between its own connectors, unless it says that it separates them.
        var group = electrical.ToDictionary(c => c, c => c);
        Instance Root(Instance c)
        {
            while (!ReferenceEquals(group[c], c))
                c = group[c] = group[group[c]];
            return c;
        }

        void Unite(Instance a, Instance b) => group[Root(b)] = Root(a);
        foreach (var set in electrical.GroupBy(Network))
        foreach (var c in set.Skip(1))
            Unite(set.First(), c);
        var partOf = flat.Instances.All.Where(i => !i.IsConnector).ToDictionary(i => i.Path, i => i);
        bool Says(Instance connector, string word) =>
            partOf.TryGetValue(PartOf(connector), out var part)
            && part.Type.Definition.Annotation?.Argument("__AnchorBend")?.Value.Argument(word)?.Value.Binding
                is BooleanLiteral { Value: true };
        foreach (var part in electrical.GroupBy(PartOf))
            // What stands between the ports of a level says for itself whether it passes the reference on.
            if (!Says(part.First(), "separates") && !part.Any(c => fromInside.Contains(c.Path)))
                foreach (var c in part.Skip(1))
                    Unite(part.First(), c);
        foreach (var network in electrical.GroupBy(Root))
        {
            if (network.Any(c => Says(c, "reference")) || !network.Any(c => connected.Contains(c.Path)))
                continue;
            var first = network.First(c => connected.Contains(c.Path));
            findings.Add(
                new Finding(
                    Severity.Error,
                    "no-reference",
                    $"The electrical network around '{PartOf(first)}' has no ground, so its voltages are not defined.",
                    PartOf(first),
                    first.Path[(first.Path.LastIndexOf('.') + 1)..],
                    default,
                    "Connect a ground to one of its points."
                )
            );
        }
    }
}
