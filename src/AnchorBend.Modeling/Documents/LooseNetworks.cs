using AnchorBend.Modeling.Catalog;

namespace AnchorBend.Modeling.Documents;

/// <summary>A physical port that no wire ends at.</summary>
public sealed record OpenPort(string PartId, string Part, string Port, string Domain);

/// <summary>The parts of a diagram by what hangs together through wires, and the physical ports that are open.</summary>
public sealed class LooseNetworks
{
    readonly string definition;
    readonly DiagramDefinition diagram;
    readonly PartCatalog catalog;
    readonly Dictionary<string, string> above = [];
    readonly Dictionary<string, string> idByName = [];

    /// <param name="definition">Id of the diagram's definition.</param>
    public LooseNetworks(string definition, DiagramDefinition diagram, PartCatalog catalog)
    {
        (this.definition, this.diagram, this.catalog) = (definition, diagram, catalog);
        foreach (var (id, part) in diagram.Parts)
        {
            above[id] = id;
            idByName.TryAdd(part.Name, id);
        }

        foreach (var wire in diagram.Wires.Values)
            if (above.ContainsKey(wire.From.Part) && above.ContainsKey(wire.To.Part))
                above[Root(wire.To.Part)] = Root(wire.From.Part);
    }

    string Root(string id)
    {
        while (above[id] != id)
            id = above[id] = above[above[id]];
        return id;
    }

    public string Id(string name) => idByName[name];

    /// <summary>The network of a part by its path in the flat model, which may be a part inside it; null for the model itself.</summary>
    public string? Of(string path)
    {
        for (var part = path; part.Length > 0; part = part[..Math.Max(0, part.LastIndexOf('.'))])
            if (idByName.TryGetValue(part, out var id))
                return Root(id);
        return null;
    }

    /// <summary>Names of the parts of a network, as they were placed.</summary>
    public IReadOnlyList<string> Parts(string network) => [.. diagram.Parts.Where(p => Root(p.Key) == network).Select(p => p.Value.Name)];

    /// <summary>Whether a diagram holds nothing but this network.</summary>
    public bool IsAll(string network, DiagramDefinition of) => of.Parts.Keys.All(id => Root(id) == network);

    /// <summary>A diagram without the parts of a network and what is said of them.</summary>
    public DiagramDefinition Without(DiagramDefinition of, string network) =>
        of with
        {
            Parts = of.Parts.Where(p => Root(p.Key) != network).ToDictionary(),
            Wires = of.Wires.Where(w => !above.ContainsKey(w.Value.From.Part) || Root(w.Value.From.Part) != network).ToDictionary(),
        };

    public IEnumerable<OpenPort> OpenPorts(string network) => OpenPorts(diagram).Where(p => Root(p.PartId) == network);

    /// <summary>Physical ports of a diagram's parts that no wire ends at.</summary>
    public IEnumerable<OpenPort> OpenPorts(DiagramDefinition of)
    {
        var wired = of.Wires.Values.SelectMany(w => (PortReference[])[w.From, w.To]).Select(e => (e.Part, Stem(e.Port))).ToHashSet();
        foreach (var (id, part) in of.Parts)
        {
            if (catalog.Find(part.Type) is null)
                continue;
            foreach (var port in catalog.Describe(part.Type).Ports)
                if (port is { Domain: { } domain, Optional: null } && !wired.Contains((id, port.Name)))
                    yield return new OpenPort(id, part.Name, port.Name, domain);
        }
    }

    static string Stem(string port) => port.Split('[', '.')[0];

    /// <summary>A finding at an open port, with a click that ends the line there.</summary>
    public Finding Finding(Severity severity, OpenPort port, string message)
    {
        var finding = new Finding(
            severity,
            "open-port",
            message,
            port.Part,
            port.Port,
            Suggestion: "Connect it to what it belongs to, or end it."
        )
        {
            Place = PartPath.Root.Then(port.PartId),
        };
        if (catalog.EndOf(port.Domain) is not { } description)
            return finding;
        if (description.Ports.FirstOrDefault(p => p.Domain == port.Domain) is not { } place)
            return finding;
        var part = diagram.Parts[port.PartId];
        return finding with
        {
            Fix = FindingFix.Connecting(
                description.Traits.EndsAs!,
                definition,
                diagram,
                description.Name,
                description.Title,
                part.X + 16,
                part.Y + 112,
                false,
                place.Name,
                port.PartId,
                port.Port,
                []
            ),
        };
    }
}
