using System.Globalization;
using System.Text;
using AnchorBend.Language;
using AnchorBend.Language.Units;
using AnchorBend.Modeling.Catalog;

namespace AnchorBend.Modeling.Documents;

/// <summary>
/// A document as a stimulus drives it: sources that have a track become tables of its points, and inputs that nothing drives get one. What
/// is drawn stays where it is, so that everything else finds its way as before.
/// </summary>
public static class DrivenParts
{
    /// <summary>The part that gives points joined by lines or held, and the one that goes smoothly through them.</summary>
    const string Table = "RecordedTable",
        Truth = "RecordedTruth",
        Whole = "RecordedWhole",
        Smooth = "SmoothPoints";

    /// <summary>A smooth curve is a formula for each stretch, so it takes fewer points than a table.</summary>
    const int MostSmooth = 400;

    /// <summary>The document with the chosen stimulus; the same where none is.</summary>
    /// <param name="findings">Is told what cannot be driven.</param>
    public static ModelDocument Of(ModelDocument document, PartCatalog catalog, List<Finding> findings)
    {
        if (document.Settings.Stimulus is not { Length: > 0 } chosen)
            return document;
        if (!document.Stimuli.TryGetValue(chosen, out var stimulus))
        {
            findings.Add(
                Problem("The stimulus that should drive the run is not in the model any more.", "Choose another in the run settings.")
            );
            return document;
        }

        foreach (var (_, track) in stimulus.Tracks.Where(t => t.Value.Shape != TrackShape.Set))
            document = With(document, catalog, stimulus.Name, track, findings);
        return document;
    }

    static ModelDocument With(ModelDocument document, PartCatalog catalog, string stimulus, TrackNode track, List<Finding> findings)
    {
        if (track.Times.Count == 0)
            return document;
        if (
            !SignalReference.TryParse(track.Target, out var target)
            || document.Level(target.Part.Above) is not { } level
            || !level.Diagram.Parts.TryGetValue(target.Part.Id, out var part)
            || catalog.Find(part.Type) is null
        )
        {
            findings.Add(
                Problem(
                    $"'{stimulus}' drives a signal that is not in the model: {DocumentLimits.Short(track.Target)}.",
                    "Remove the track, or give it another signal."
                )
            );
            return document;
        }

        if (UnitOf(track) is not { } unit)
        {
            findings.Add(
                Problem(
                    $"The unit of a track of '{stimulus}' cannot be read: {DocumentLimits.Short(track.Unit!)}.",
                    "Give it another unit in the inspector."
                )
            );
            return document;
        }

        if (track.Shape == TrackShape.Smooth && track.Times.Count > MostSmooth)
        {
            findings.Add(
                Problem(
                    $"A smooth track takes at most {MostSmooth} points; one of '{stimulus}' has {track.Times.Count}.",
                    "Join its points by lines."
                )
            );
            return document;
        }

        if (document.UsesOf(level.Id).Take(2).Count() > 1)
        {
            findings.Add(
                Problem(
                    $"'{part.Name}' stands in a definition that is used several times, so '{stimulus}' cannot drive it alone.",
                    "Make the subsystem independent first."
                )
            );
            return document;
        }

        var description = catalog.Describe(part.Type);
        var ports = description.Ports;
        if (ports.FirstOrDefault(p => p.Name == target.Port) is not { Domain: null, IsVector: false } port)
        {
            findings.Add(
                Problem(
                    $"'{part.Name}' has no signal '{target.Port}' that a track could drive.",
                    "Choose the output of a source, or an input."
                )
            );
            return document;
        }

        var diagram = level.Diagram;
        if (port.Causality == Language.Syntax.Causality.Output)
        {
            if (SourceOf(description) is null)
            {
                findings.Add(
                    Problem(
                        $"'{part.Name}' is no source: what it gives depends on its other ports.",
                        "Choose the output of a source, or an input that nothing drives."
                    )
                );
                return document;
            }

            var driven = Source(track, unit, part.Name, port.Type) with { X = part.X, Y = part.Y, Flip = part.Flip, Turn = part.Turn };
            return document.With(
                level.Id,
                diagram with
                {
                    Parts = new Dictionary<string, PartNode>(diagram.Parts) { [target.Part.Id] = driven },
                    // The table calls its output y.
                    Wires = diagram.Wires.ToDictionary(
                        w => w.Key,
                        w => w.Value.From.Part == target.Part.Id ? w.Value with { From = w.Value.From with { Port = "y" } } : w.Value
                    ),
                }
            );
        }

        if (diagram.Wires.Values.Any(w => w.To.Part == target.Part.Id && w.To.Port == target.Port))
        {
            findings.Add(
                Problem(
                    $"'{part.Name}' ▸ {target.Port} is driven by a wire already.",
                    "Drive the source at its other end, or take the wire away."
                )
            );
            return document;
        }

        var id = "driven";
        while (diagram.Parts.ContainsKey(id))
            id += "x";
        return document.With(
            level.Id,
            diagram with
            {
                Parts = new Dictionary<string, PartNode>(diagram.Parts)
                {
                    [id] = Source(track, unit, $"{part.Name} {target.Port} driven", port.Type) with { X = part.X - 120, Y = part.Y },
                },
                Wires = new Dictionary<string, WireNode>(diagram.Wires)
                {
                    [id] = new WireNode { From = new PortReference(id, "y"), To = new PortReference(target.Part.Id, target.Port) },
                },
            }
        );
    }

    /// <summary>The output of a part that gives nothing but one signal; null for other parts.</summary>
    public static PortDescription? SourceOf(PartDescription part) =>
        part.Ports is [{ Domain: null, IsVector: false, Causality: Language.Syntax.Causality.Output } port] ? port : null;

    /// <summary>Null where it cannot be read.</summary>
    static Unit? UnitOf(TrackNode track) =>
        track.Unit is not { Length: > 0 } typed ? Unit.One
        : Unit.TryParse(typed, out var read, out _) ? read
        : null;

    static PartNode Source(TrackNode track, Unit unit, string name, string type)
    {
        var (times, values) = (new StringBuilder("{"), new StringBuilder("{"));
        for (var i = 0; i < track.Times.Count; i++)
        {
            times.Append(i > 0 ? ", " : "").Append(Number(track.Times[i]));
            values.Append(i > 0 ? ", " : "").Append(Number(track.Values[i] * unit.Factor + unit.Offset));
        }

        var parameters = new Dictionary<string, string>
        {
            ["t"] = times.Append('}').ToString(),
            ["values"] = values.Append('}').ToString(),
        };
        if (type is "Boolean" or "Integer")
            return new PartNode
            {
                Type = type == "Boolean" ? Truth : Whole,
                Name = name,
                Parameters = parameters,
            };
        if (track.Shape != TrackShape.Smooth)
            parameters["between"] = track.Shape == TrackShape.Steps ? "Between.steps" : "Between.linear";
        return new PartNode
        {
            Type = track.Shape == TrackShape.Smooth ? Smooth : Table,
            Name = name,
            Parameters = parameters,
        };
    }

    static string Number(double value) => value.ToString("R", CultureInfo.InvariantCulture);

    static Finding Problem(string message, string suggestion) =>
        new(Severity.Warning, "stimulus", message, "", "run settings", Suggestion: suggestion);
}
