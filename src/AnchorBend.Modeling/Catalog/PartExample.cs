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
        var document = new ModelDocument
        {
            Name = $"{part.Title}, an example",
            Description = part.Help,
            Parts =
            {
                ["part"] = new PartNode { Type = name, Name = part.Title },
            },
        };
        if (BundlePart.Is(catalog.Find(name)))
            return OfBundle(document, name, catalog);
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
                document.Parts[target] = new PartNode
                {
                    Type = "Stack",
                    Name = $"Vector {inputs.Key}",
                    Parameters = { ["n"] = inputs.Count().ToString(System.Globalization.CultureInfo.InvariantCulture) },
                };
                Wire(document, target, "y", "part", inputs.Key);
            }

            foreach (var input in inputs)
            {
                feeds++;
                Feed(
                    document,
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
            Load(document, port);
            if (between && (port.Domain is "translational" or "rotational"))
            {
                document.Parts[port.Name + "Mass"] = new PartNode
                {
                    Type = port.Domain == "rotational" ? "Inertia" : "Mass",
                    Name = $"Mass at {port.Name}",
                    Parameters = { ["hold"] = "false" },
                };
                Wire(document, "part", port.Name, port.Name + "Mass", "a");
            }

            if (driven.Add(port.Domain!))
                Drive(document, port);
            document.Signals[$"part.{port.Name}.{port.Potential}"] = new SignalNode { Probe = 0 };
            document.Signals[$"part.{port.Name}.{port.Flow}"] = new SignalNode { Probe = 1 };
        }

        foreach (
            var output in alone.Variables.Where(v =>
                v.Owner.Length == 0
                && v.Causality == Causality.Output
                && part.Ports.Any(p => p.Name == v.Name.Split('[')[0] && p.Optional is null)
            )
        )
            document.Signals[$"part.{output.Name}"] = new SignalNode { Probe = 2 };
        return DiagramLayout.Arrange(document, catalog);
    }

    /// <summary>Two signals joined, and both picked again.</summary>
    static ModelDocument OfBundle(ModelDocument document, string name, PartCatalog catalog)
    {
        var other = BundlePart.Joins(catalog.Find(name)!) ? "Pick" : "Bundle";
        document.Parts["part"].Parameters[BundlePart.List] = "level, rate";
        document.Parts["other"] = new PartNode
        {
            Type = other,
            Name = other,
            Parameters = { [BundlePart.List] = "level, rate" },
        };
        var (join, pick) = other == "Pick" ? ("part", "other") : ("other", "part");
        Wire(document, join, BundlePart.Whole, pick, BundlePart.Whole);
        Feed(document, "in1", ScalarType.Real, 1, null, 1, join, "level");
        Feed(document, "in2", ScalarType.Real, 1, null, 2, join, "rate");
        foreach (var member in new[] { "level", "rate" })
        {
            document.Parts[member] = new PartNode { Type = "Gain", Name = $"Use of {member}" };
            Wire(document, pick, member, member, "u");
            document.Signals[$"{member}.y"] = new SignalNode { Probe = 0 };
        }

        return DiagramLayout.Arrange(document, catalog);
    }

    static void Feed(ModelDocument document, string id, ScalarType type, double size, string? unit, int number, string target, string port)
    {
        string Text(double value) =>
            FormattableString.Invariant($"{value:G6}") + (string.IsNullOrEmpty(unit) || unit == "1" ? "" : " " + unit);
        document.Parts[id] =
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
        Wire(document, id, "y", target, port);
        if (type != ScalarType.Boolean && number == 1)
            document.Signals[$"{id}.y"] = new SignalNode { Probe = 2 };
    }

    static void Load(ModelDocument document, PortDescription port)
    {
        var name = port.Name;
        switch (port.Domain)
        {
            case "translational":
                Add(document, name, "Spring", "b", ("TranslationalFixed", "a"), "a");
                Add(document, name + "Damper", "Damper", "b", null, "a", name, name + "End");
                break;
            case "rotational":
                Add(document, name, "TorsionSpring", "b", ("FixedShaft", "a"), "a");
                Add(document, name + "Damper", "TorsionDamper", "b", null, "a", name, name + "End");
                break;
            case "electrical":
                Add(document, name, "Resistor", "p", ("Ground", "p"), "n");
                break;
            case "thermal":
                Add(document, name, "Conduction", "a", ("FixedTemperature", "b"), "b");
                break;
            default:
                Add(document, name, "Orifice", "a", ("Reservoir", "a"), "b");
                break;
        }
    }

    /// <summary>Gives the far end of the first load of each domain a potential, so that something flows.</summary>
    static void Drive(ModelDocument document, PortDescription port)
    {
        var end = port.Name + "End";
        if (port.Domain == "electrical")
        {
            document.Parts[end] = new PartNode
            {
                Type = "VoltageSource",
                Name = "Supply",
                Parameters = { ["V"] = "10 V" },
            };
            document.Parts["ground"] = new PartNode { Type = "Ground", Name = "Ground of the supply" };
            Wire(document, end, "n", "ground", "p");
            return;
        }

        var (name, text) = port.Domain switch
        {
            "translational" => ("s0", "0.1 m"),
            "rotational" => ("phi0", "60 deg"),
            "thermal" => ("T", "80 degC"),
            _ => ("p", "50 bar"),
        };
        document.Parts[end].Parameters[name] = text;
    }

    /// <summary>A part between the port and an end part of its own, or the end part of another load.</summary>
    static void Add(
        ModelDocument document,
        string id,
        string type,
        string near,
        (string Type, string Port)? end,
        string far,
        string? port = null,
        string? sharedEnd = null
    )
    {
        document.Parts[id] = new PartNode { Type = type, Name = $"{type} at {id}" };
        Wire(document, "part", port ?? id, id, near);
        if (end is { } own)
            document.Parts[id + "End"] = new PartNode { Type = own.Type, Name = $"End at {id}" };
        Wire(document, id, far, sharedEnd ?? id + "End", end?.Port ?? "a");
    }

    static void Wire(ModelDocument document, string from, string output, string to, string input) =>
        document.Wires[$"w{document.Wires.Count + 1}"] = new WireNode
        {
            From = new PortReference(from, output),
            To = new PortReference(to, input),
        };
}
