using AnchorBend.Language.Binding;
using AnchorBend.Language.Syntax;
using AnchorBend.Modeling.Documents;
using AnchorBend.Modeling.Flattening;

namespace AnchorBend.Modeling.Catalog;

/// <summary>A small model that shows a part at work: sources of a fitting size on its inputs, something that gives way on its physical
/// ports, its results plotted.</summary>
public static class PartExample
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

    public static ModelDocument Of(string name, PartCatalog catalog)
    {
        var part = catalog.Describe(name);
        var diagram = new DiagramDefinition
        {
            Name = $"{part.Title}, an example",
            Description = part.Help,
            Parts =
            {
                ["part"] = new PartNode { Type = name, Name = part.Title },
            },
        };
        if (BundlePart.Is(catalog.Find(name)))
            return OfBundle(diagram, name, catalog).AsModel();
        var (alone, _) = Flattener.Flatten(catalog.Find(name)!, catalog);
        var feeds = 0;
        foreach (
            var inputs in alone
                .Variables.Where(v => v.Owner.Length == 0 && v.Causality == Causality.Input)
                .GroupBy(v => v.Name.Split('[')[0])
        )
        {
            if (part.Ports.FirstOrDefault(p => p.Name == inputs.Key) is not { Optional: null } port)
                continue;
            var (target, element) = ("part", 0);
            if (port.IsVector)
            {
                target = $"{inputs.Key}Stack";
                diagram.Parts[target] = new PartNode
                {
                    Type = "Stack",
                    Name = $"Vector {inputs.Key}",
                    Parameters = { ["n"] = inputs.Count().ToString(System.Globalization.CultureInfo.InvariantCulture) },
                };
                Wire(diagram, target, "y", "part", inputs.Key);
            }

            foreach (var input in inputs)
            {
                feeds++;
                Feed(
                    diagram,
                    $"in{feeds}",
                    input.Type,
                    Sizes.GetValueOrDefault(input.Unit?.Symbol ?? "", 1),
                    input.Unit?.Symbol,
                    feeds,
                    target,
                    port.IsVector ? $"u[{++element}]" : input.Name
                );
            }
        }

        var driven = new HashSet<string>();
        // What stands between two points of a mechanism moves masses, as it does in use.
        var between = part.Ports.Count(p => p.Domain is "translational" or "rotational" && p.Optional is null) > 1;
        foreach (var port in part.Ports.Where(p => p.Domain is not null && p.Optional is null))
        {
            Load(diagram, port);
            if (between && (port.Domain is "translational" or "rotational"))
            {
                diagram.Parts[port.Name + "Mass"] = new PartNode
                {
                    Type = port.Domain == "rotational" ? "Inertia" : "Mass",
                    Name = $"Mass at {port.Name}",
                    Parameters = { ["hold"] = "false" },
                };
                Wire(diagram, "part", port.Name, port.Name + "Mass", "a");
            }

            if (driven.Add(port.Domain!))
                Drive(diagram, port);
            diagram.Signals[$"part.{port.Name}.{port.Potential}"] = new SignalNode { Probe = 0 };
            diagram.Signals[$"part.{port.Name}.{port.Flow}"] = new SignalNode { Probe = 1 };
        }

        foreach (
            var output in alone.Variables.Where(v =>
                v.Owner.Length == 0
                && v.Causality == Causality.Output
                && part.Ports.Any(p => p.Name == v.Name.Split('[')[0] && p.Optional is null)
            )
        )
            diagram.Signals[$"part.{output.Name}"] = new SignalNode { Probe = 2 };
        return DiagramLayout.Arrange(diagram, catalog).AsModel();
    }

    /// <summary>Two signals joined, and both picked again.</summary>
    static DiagramDefinition OfBundle(DiagramDefinition diagram, string name, PartCatalog catalog)
    {
        var other = BundlePart.Joins(catalog.Find(name)!) ? "Pick" : "Bundle";
        diagram.Parts["part"].Parameters[BundlePart.List] = "level, rate";
        diagram.Parts["other"] = new PartNode
        {
            Type = other,
            Name = other,
            Parameters = { [BundlePart.List] = "level, rate" },
        };
        var (join, pick) = other == "Pick" ? ("part", "other") : ("other", "part");
        Wire(diagram, join, BundlePart.Whole, pick, BundlePart.Whole);
        Feed(diagram, "in1", ScalarType.Real, 1, null, 1, join, "level");
        Feed(diagram, "in2", ScalarType.Real, 1, null, 2, join, "rate");
        foreach (var member in new[] { "level", "rate" })
        {
            diagram.Parts[member] = new PartNode { Type = "Gain", Name = $"Use of {member}" };
            Wire(diagram, pick, member, member, "u");
            diagram.Signals[$"{member}.y"] = new SignalNode { Probe = 0 };
        }

        return DiagramLayout.Arrange(diagram, catalog);
    }

    static void Feed(
        DiagramDefinition diagram,
        string id,
        ScalarType type,
        double size,
        string? unit,
        int number,
        string target,
        string port
    )
    {
        string Text(double value) =>
            FormattableString.Invariant($"{value:G6}") + (string.IsNullOrEmpty(unit) || unit == "1" ? "" : " " + unit);
        diagram.Parts[id] =
            type == ScalarType.Boolean
                ? new PartNode
                {
                    Type = "BooleanPulse",
                    Name = $"Input {number}",
                    Parameters = { ["period"] = $"{2 + number} s", ["startTime"] = "1 s" },
                }
            : number == 1
                ? new PartNode
                {
                    Type = "Step",
                    Name = "Input 1",
                    Parameters = { ["height"] = Text(size), ["startTime"] = "1 s" },
                }
            : new PartNode
            {
                Type = "Sine",
                Name = $"Input {number}",
                Parameters =
                {
                    ["amplitude"] = Text(0.2 * size),
                    ["offset"] = Text(size),
                    ["f"] = FormattableString.Invariant($"{0.1 * number:G3} Hz"),
                },
            };
        Wire(diagram, id, "y", target, port);
        if (type != ScalarType.Boolean && number == 1)
            diagram.Signals[$"{id}.y"] = new SignalNode { Probe = 2 };
    }

    static void Load(DiagramDefinition diagram, PortDescription port)
    {
        var name = port.Name;
        switch (port.Domain)
        {
            case "translational":
                Add(diagram, name, "Spring", "b", ("TranslationalFixed", "a"), "a");
                Add(diagram, name + "Damper", "Damper", "b", null, "a", name, name + "End");
                break;
            case "rotational":
                Add(diagram, name, "TorsionSpring", "b", ("FixedShaft", "a"), "a");
                Add(diagram, name + "Damper", "TorsionDamper", "b", null, "a", name, name + "End");
                break;
            case "electrical":
                Add(diagram, name, "Resistor", "p", ("Ground", "p"), "n");
                break;
            case "thermal":
                Add(diagram, name, "Conduction", "a", ("FixedTemperature", "b"), "b");
                break;
            default:
                Add(diagram, name, "Orifice", "a", ("Reservoir", "a"), "b");
                break;
        }
    }

    /// <summary>Gives the far end of the first load of each domain a potential, so that something flows.</summary>
    static void Drive(DiagramDefinition diagram, PortDescription port)
    {
        var end = port.Name + "End";
        if (port.Domain == "electrical")
        {
            diagram.Parts[end] = new PartNode
            {
                Type = "VoltageSource",
                Name = "Supply",
                Parameters = { ["V"] = "10 V" },
            };
            diagram.Parts["ground"] = new PartNode { Type = "Ground", Name = "Ground of the supply" };
            Wire(diagram, end, "n", "ground", "p");
            return;
        }

        var (name, text) = port.Domain switch
        {
            "translational" => ("s0", "0.1 m"),
            "rotational" => ("phi0", "60 deg"),
            "thermal" => ("T", "80 degC"),
            _ => ("p", "50 bar"),
        };
        diagram.Parts[end].Parameters[name] = text;
    }

    /// <summary>A part between the port and an end part of its own, or the end part of another load.</summary>
    static void Add(
        DiagramDefinition diagram,
        string id,
        string type,
        string near,
        (string Type, string Port)? end,
        string far,
        string? port = null,
        string? sharedEnd = null
    )
    {
        diagram.Parts[id] = new PartNode { Type = type, Name = $"{type} at {id}" };
        Wire(diagram, "part", port ?? id, id, near);
        if (end is { } own)
            diagram.Parts[id + "End"] = new PartNode { Type = own.Type, Name = $"End at {id}" };
        Wire(diagram, id, far, sharedEnd ?? id + "End", end?.Port ?? "a");
    }

    static void Wire(DiagramDefinition diagram, string from, string output, string to, string input) =>
        diagram.Wires[$"w{diagram.Wires.Count + 1}"] = new WireNode
        {
            From = new PortReference(from, output),
            To = new PortReference(to, input),
        };
}
