using System.Globalization;
using AnchorBend.Language.Binding;
using AnchorBend.Language.Syntax;
using AnchorBend.Modeling.Documents;
using AnchorBend.Modeling.Flat;
using AnchorBend.Modeling.Flattening;

namespace AnchorBend.Modeling.Catalog;

/// <summary>A small model that shows a part at work: sources of a fitting size on its inputs, something that gives way on its physical
/// ports, its results plotted.</summary>
public sealed class PartExample
{
    /// <summary>Sizes at which quantities are commonly met, by unit.</summary>
    static readonly Dictionary<string, double> Sizes = new()
    {
        ["Pa"] = 1e6,
        ["m3/s"] = 1e-4,
        ["N"] = 50,
        ["N.m"] = 5,
        ["V"] = 10,
        ["A"] = 1,
        ["K"] = 300,
        ["W"] = 100,
        ["W/m2"] = 500,
        ["W/(m2.K)"] = 20,
        ["rad/s"] = 20,
        ["m/s"] = 0.1,
        ["m"] = 0.05,
        ["rad"] = 0.5,
        ["s"] = 0.2,
    };

    readonly PartCatalog catalog;
    readonly PartDescription part;
    readonly DiagramDefinition diagram;

    PartExample(string name, PartCatalog catalog)
    {
        this.catalog = catalog;
        part = catalog.Describe(name);
        diagram = new DiagramDefinition
        {
            Name = $"{part.Title}, an example",
            Description = part.Help,
            Parts =
            {
                [Shown] = new PartNode { Type = name, Name = part.Title },
            },
        };
    }

    /// <summary>Id of the part that is shown.</summary>
    const string Shown = "part";

    public static ModelDocument Of(string name, PartCatalog catalog)
    {
        var example = new PartExample(name, catalog);
        var type = catalog.Find(name)!;
        if (BundlePart.Is(type))
            example.AddBundle(BundlePart.Joins(type));
        else
            example.AddSurroundings(Flattener.Flatten(type, catalog).Model.Variables);
        return DiagramLayout.Arrange(example.diagram, catalog).AsModel();
    }

    void AddSurroundings(IReadOnlyList<FlatVariable> variables)
    {
        var own = variables.Where(v => v.Owner.Length == 0).ToList();
        var feeds = 0;
        foreach (var inputs in own.Where(v => v.Causality == Causality.Input).GroupBy(v => v.Name.Split('[')[0]))
            if (part.Ports.FirstOrDefault(p => p.Name == inputs.Key) is { Optional: null } port)
                AddFeeds(port, [.. inputs], ref feeds);
        AddConnections();
        foreach (var output in own.Where(v => v.Causality == Causality.Output))
            if (part.Ports.Any(p => p.Name == output.Name.Split('[')[0] && p.Optional is null))
                diagram.Signals[$"{Shown}.{output.Name}"] = new SignalNode { Probe = 2 };
    }

    /// <summary>Sources on the elements of an input.</summary>
    void AddFeeds(PortDescription port, IReadOnlyList<FlatVariable> inputs, ref int feeds)
    {
        var (target, element) = (Shown, 0);
        if (
            port.IsVector
            && catalog.InExamples("joins", inputs[0].Type == ScalarType.Boolean ? "truths" : "vector").FirstOrDefault()
                is { Part: { } join } joining
        )
        {
            target = $"{port.Name}Stack";
            diagram.Parts[target] = new PartNode
            {
                Type = join.Name,
                Name = $"Vector {port.Name}",
                Parameters = { [joining.Role.Size!] = inputs.Count.ToString(CultureInfo.InvariantCulture) },
            };
            Wire(target, "y", Shown, port.Name);
        }

        foreach (var input in inputs)
            Feed(input.Type, input.Unit?.Symbol, ++feeds, target, port.IsVector ? $"u[{++element}]" : input.Name);
    }

    /// <summary>The first input jumps, further ones swing, each at its own rate; conditions switch to and fro.</summary>
    void Feed(ScalarType type, string? unit, int number, string target, string port)
    {
        var kind =
            type == ScalarType.Boolean ? "Boolean"
            : number == 1 ? "Real"
            : "further";
        if (catalog.InExamples("feeds", kind).FirstOrDefault() is not { Part: { } source } feed)
            return;
        var size = Sizes.GetValueOrDefault(unit ?? "", 1);
        string Text(double value) =>
            FormattableString.Invariant($"{value:G6}") + (string.IsNullOrEmpty(unit) || unit == "1" ? "" : " " + unit);
        var id = $"in{number}";
        var node = diagram.Parts[id] = Node(source, feed.Role, $"Input {number}");
        void Set(string? parameter, string text)
        {
            if (parameter is not null)
                node.Parameters[parameter] = text;
        }

        Set(feed.Role.Size, Text(size));
        Set(feed.Role.Swing, Text(0.2 * size));
        Set(feed.Role.Rate, FormattableString.Invariant($"{0.1 * number:G3} Hz"));
        Set(feed.Role.Period, $"{2 + number} s");
        Wire(id, "y", target, port);
        if (kind == "Real")
            diagram.Signals[$"{id}.y"] = new SignalNode { Probe = 2 };
    }

    /// <summary>Something that gives way at each physical port, held at its far end; of each domain the first is held at a potential, so
    /// that something flows.</summary>
    void AddConnections()
    {
        var physical = part.Ports.Where(p => p.Domain is not null && p.Optional is null).ToList();
        var driven = new HashSet<string>();
        var isBetween = physical.Count(p => catalog.InExamples("moves", p.Domain!).Any()) > 1;
        foreach (var port in physical)
        {
            var domain = port.Domain!;
            Load(port, driven.Add(domain));
            // What stands between two points of a mechanism moves masses, as it does in use.
            if (isBetween && catalog.InExamples("moves", domain).FirstOrDefault() is { Part: { } body } moved)
            {
                diagram.Parts[port.Name + "Mass"] = Node(body, moved.Role, $"Mass at {port.Name}");
                Wire(Shown, port.Name, port.Name + "Mass", moved.Role.Near!);
            }

            diagram.Signals[$"{Shown}.{First(port)}.{port.Potential}"] = new SignalNode { Probe = 0 };
            diagram.Signals[$"{Shown}.{First(port)}.{port.Flow}"] = new SignalNode { Probe = 1 };
        }
    }

    /// <summary>A port, or the first of an array of them.</summary>
    static string First(PortDescription port) => port.IsArray ? $"{port.Name}[1]" : port.Name;

    void Load(PortDescription port, bool isDriven)
    {
        var loads = catalog.InExamples("load", port.Domain!).ToList();
        if (loads.Count == 0)
            return;
        // A body is a load that needs nothing to hold it.
        var end = loads.Exists(l => l.Role.Far is not null) ? End(port, isDriven) : null;
        foreach (var (load, role) in loads)
        {
            if (role.Far is not null && end is null)
                continue;
            var id = diagram.Parts.ContainsKey(port.Name) ? port.Name + load.Name : port.Name;
            var node = diagram.Parts[id] = Node(load, role, $"{load.Title} at {port.Name}");
            // Two bodies at one place leave a line between them without a direction.
            if (!isDriven && role.Apart is { } place)
                node.Parameters[place] = "1";
            Wire(Shown, port.IsVector ? port.Name : First(port), id, role.Near!);
            if (role.Far is { } far && end is not null)
                Wire(id, far, end.Part, end.Port);
        }
    }

    /// <summary>What holds the far end of loads; null where the domain has no such part.</summary>
    PortReference? End(PortDescription port, bool isDriven)
    {
        if (catalog.EndOf(port.Domain!) is not { } end)
            return null;
        var id = port.Name + "End";
        var drive = catalog.InExamples("drive", port.Domain!).FirstOrDefault();
        if (!isDriven || drive.Part is null)
        {
            diagram.Parts[id] = new PartNode { Type = end.Name, Name = $"End at {port.Name}" };
            return new PortReference(id, end.Ports[0].Name);
        }

        diagram.Parts[id] = Node(drive.Part, drive.Role, $"End at {port.Name}");
        if (drive.Role.Far is { } far)
        {
            diagram.Parts[id + "Ground"] = new PartNode { Type = end.Name, Name = $"{end.Title} of the supply" };
            Wire(id, far, id + "Ground", end.Ports[0].Name);
        }

        return new PortReference(id, drive.Role.Near!);
    }

    /// <summary>Two signals joined, and both picked again.</summary>
    void AddBundle(bool joins)
    {
        var other = catalog.Parts.First(p => catalog.Find(p.Name) is { } c && BundlePart.Is(c) && BundlePart.Joins(c) != joins);
        string[] members = ["level", "rate"];
        var list = string.Join(", ", members);
        diagram.Parts[Shown].Parameters[BundlePart.List] = list;
        diagram.Parts["other"] = new PartNode
        {
            Type = other.Name,
            Name = other.Title,
            Parameters = { [BundlePart.List] = list },
        };
        var (join, pick) = joins ? (Shown, "other") : ("other", Shown);
        Wire(join, BundlePart.Whole, pick, BundlePart.Whole);
        foreach (var (number, member) in members.Index())
        {
            Feed(ScalarType.Real, null, number + 1, join, member);
            diagram.Signals[$"{pick}.{member}"] = new SignalNode { Probe = 0 };
        }
    }

    static PartNode Node(PartDescription part, ExampleRole role, string name) =>
        new()
        {
            Type = part.Name,
            Name = name,
            Parameters = new Dictionary<string, string>(role.Set),
        };

    void Wire(string from, string output, string to, string input) =>
        diagram.Wires[$"w{diagram.Wires.Count + 1}"] = new WireNode
        {
            From = new PortReference(from, output),
            To = new PortReference(to, input),
        };
}
