using AnchorBend.Design;
using AnchorBend.Modeling.Documents;

namespace AnchorBend.Workbench.Tuning;

/// <summary>Another part of the library that takes a controller's place where its own cannot have the gains.</summary>
/// <param name="Node">It, where the other one was.</param>
/// <param name="Loose">Pointers of the wires that end at what it has not.</param>
sealed record ControllerSubstitute(PartNode Node, IReadOnlyList<string> Loose)
{
    /// <summary>What both kinds are wired by.</summary>
    static readonly string[] Ports = ["r", "y", "u"],
        Tracking = ["uTrack", "track"];

    /// <summary>The model with it.</summary>
    public ModelDocument In(ModelDocument document, PartPlace place)
    {
        var diagram = (DiagramDefinition)document.Definitions[place.Definition];
        return document.With(
            place.Definition,
            diagram with
            {
                Parts = new Dictionary<string, PartNode>(diagram.Parts) { [place.Path.Id] = Node },
                Wires = diagram
                    .Wires.Where(w => !Loose.Contains(DocumentPath.Of("definitions", place.Definition, "wires", w.Key)))
                    .ToDictionary(),
            }
        );
    }

    /// <summary>What both kinds have under one name and for one purpose.</summary>
    static readonly string[] Kept = ["T", "tracking"];

    /// <summary>Names of the forms that take another part.</summary>
    public static IReadOnlyList<string> Names(ControllerLaw law) =>
        !law.IsRejection ? [RejectionGains.NameOf(1), RejectionGains.NameOf(2)]
        : law.IsSampled ? ["PI", "PID"]
        : ["P", "PI", "PD", "PID"];

    /// <param name="place">Of the part as it is.</param>
    /// <param name="limits">Of its output, null for none.</param>
    /// <param name="texts">The texts that set the gains in the part that takes its place.</param>
    public static ControllerSubstitute Of(
        ModelDocument document,
        PartPlace place,
        LoopController gains,
        (double? Low, double? High) limits,
        IReadOnlyDictionary<string, string> texts
    )
    {
        var node = place.Node;
        var parameters = new Dictionary<string, string>();
        var isSampled = gains.Period > 0;
        var follows = gains is not PidGains || !isSampled;
        foreach (var name in Kept)
            if ((follows || name != "tracking") && node.Parameters.TryGetValue(name, out var text))
                parameters[name] = text;
        // A limit holds whether it was typed or is what the part has by itself.
        foreach (var (name, value) in ((string, double?)[])[("uMin", limits.Low), ("uMax", limits.High)])
            if (value is { } limit)
                parameters[name] = node.Parameters.GetValueOrDefault(name) ?? TypedValue.InUnitOf(null, limit, null);
        foreach (var (name, text) in texts)
            parameters[name] = text;
        if (gains is PidGains && !isSampled && limits is not (null, null))
        {
            // With one limit alone the other one of its own would come in.
            parameters["limited"] = "true";
            parameters.TryAdd("uMin", "-1e9");
            parameters.TryAdd("uMax", "1e9");
        }

        var other = node with
        {
            Type =
                gains is RejectionGains
                    ? isSampled
                        ? "SampledDisturbanceRejection"
                        : "DisturbanceRejection"
                    : isSampled
                        ? "SampledPID"
                        : "PID",
            Parameters = parameters,
        };
        var isTracking = parameters.GetValueOrDefault("tracking") == "true";
        bool IsLoose(PortReference end) =>
            end.Part == place.Path.Id && !Ports.Contains(end.Port) && !(isTracking && Tracking.Contains(end.Port));
        var wires = ((DiagramDefinition)document.Definitions[place.Definition]).Wires;
        return new ControllerSubstitute(
            other,
            [
                .. wires
                    .Where(w => IsLoose(w.Value.From) || IsLoose(w.Value.To))
                    .Select(w => DocumentPath.Of("definitions", place.Definition, "wires", w.Key)),
            ]
        );
    }
}
