namespace AnchorBend.Modeling.Documents;

/// <summary>What every document obeys, imported or edited: entries are complete, finite, and no more or longer than a model
/// needs.</summary>
public static class DocumentLimits
{
    /// <summary>Most parts and wires of all diagrams together, definitions, and other entries of one kind.</summary>
    public const int MostParts = 10_000,
        MostWires = 30_000,
        MostDefinitions = 2_000,
        MostOthers = 5_000,
        MostChoices = 100;

    /// <summary>Longest names, texts of fields and descriptions, and texts of parts, in characters.</summary>
    public const int LongestName = 200,
        LongestField = 100_000,
        LongestClass = 200_000,
        HashLength = 32;

    /// <summary>A document whose entries are complete and within their limits.</summary>
    /// <exception cref="DocumentException">Says what is not.</exception>
    public static ModelDocument Checked(ModelDocument document)
    {
        if (document.Format != ModelDocument.CurrentFormat)
            throw new DocumentException(
                $"The format is '{Short(document.Format ?? "")}'; this version reads up to '{ModelDocument.CurrentFormat}'."
            );
        if (document.Definitions is null || document.Requirements is null || document.Settings is null)
            throw new DocumentException("A collection of the document is null.");
        if (document.Root is null || document.Definitions.GetValueOrDefault(document.Root) is not DiagramDefinition)
            throw new DocumentException($"The root of the model, '{Short(document.Root ?? "")}', is no diagram of it.");
        CheckSizes(document);
        foreach (var (id, definition) in document.Definitions)
            Check(id, definition);
        foreach (var (id, sheet) in document.Sheets)
            SheetLimits.Check(id, sheet);
        foreach (var (id, requirement) in document.Requirements)
            Check(id, requirement);
        ObservationLimits.Hold(document);
        StudyLimits.Hold(document);
        CaseLimits.Hold(document);
        FaultTreeLimits.Hold(document);
        PlayLimits.Hold(document);
        DeliveryLimits.Hold(document);
        Check(document.Settings);
        return document;
    }

    internal static void CheckSizes(ModelDocument document)
    {
        var diagrams = document.Definitions.Values.OfType<DiagramDefinition>().ToList();
        if (diagrams.Exists(d => d.Parts is null || d.Wires is null || d.Signals is null))
            throw new DocumentException("A collection of the document is null.");
        AtMost("parts", diagrams.Sum(d => d.Parts.Count), MostParts);
        AtMost("wires", diagrams.Sum(d => d.Wires.Count), MostWires);
        AtMost("signals", diagrams.Sum(d => d.Signals.Count), MostWires);
        AtMost("definitions", document.Definitions.Count, MostDefinitions);
        AtMost("requirements", document.Requirements.Count, MostOthers);
        AtMost("sheets", document.Sheets.Count, SheetLimits.MostSheets);
        AtMost("rows of sheets", document.Sheets.Values.Sum(s => s?.Rows?.Count ?? 0), SheetLimits.MostRows);
    }

    internal static void AtMost(string what, int count, int most)
    {
        if (count > most)
            throw new DocumentException($"A model holds at most {most} {what}; this one has {count}.");
    }

    internal static void Check(string id, Definition? definition)
    {
        if (!PartPath.IsId(id) || id.Length > LongestName)
            throw new DocumentException(
                $"'{Short(id)}' cannot be the id of a definition: it takes letters a to z, digits, hyphens and underscores."
            );
        if (string.IsNullOrWhiteSpace(definition?.Name))
            throw new DocumentException(
                id == ModelDocument.MainId ? "The model has no name." : $"The definition '{Short(id)}' has no name."
            );
        Within(definition.Name, LongestName, "The name of a definition");
        Within(definition.Description, LongestField, "The description");
        switch (definition)
        {
            case TextDefinition { Text: null }:
                throw new DocumentException($"The part '{Short(definition.Name)}' of the document has no text.");
            case TextDefinition text:
                Within(text.Text, LongestClass, $"The text of {definition.Name}");
                if (text.Unit is { } hash && !(hash.Length == HashLength && hash.All(char.IsAsciiHexDigitLower)))
                    throw new DocumentException($"The exchange unit of {DocumentLimits.Short(definition.Name)} is named by no hash.");
                break;
            case DiagramDefinition diagram:
                Check(diagram);
                break;
            case Written.WrittenDefinition written:
                written.Check();
                break;
        }
    }

    static void Check(DiagramDefinition diagram)
    {
        if (diagram.Parameters is null || diagram.Areas is null || diagram.Notes is null)
            throw new DocumentException("A collection of the document is null.");
        AtMost("parameters", diagram.Parameters.Count, MostOthers);
        AtMost("areas", diagram.Areas.Count, MostOthers);
        AtMost("notes", diagram.Notes.Count, MostOthers);
        foreach (var (id, part) in diagram.Parts)
            Check(id, part);
        foreach (var (id, wire) in diagram.Wires)
            Check(id, wire);
        foreach (var (name, parameter) in diagram.Parameters)
            Check(name, parameter);
        foreach (var (_, signal) in diagram.Signals)
            Check(signal);
        foreach (var (_, area) in diagram.Areas)
            Check(area);
        foreach (var (_, note) in diagram.Notes)
            Check(note);
        if (diagram.Face is { } face)
            FaceLimits.Check(face);
    }

    internal static void Check(string id, PartNode? part)
    {
        if (part?.Type is null || string.IsNullOrWhiteSpace(part.Name) || part.Parameters is null || part.Parameters.ContainsValue(null!))
            throw new DocumentException($"Part '{Short(id)}' is incomplete: it needs a type, a name and parameters.");
        if (!PartPath.IsId(id) || id.Length > LongestName)
            throw new DocumentException(
                $"'{Short(id)}' cannot be the id of a part: it takes letters a to z, digits, hyphens and underscores."
            );
        if (!double.IsFinite(part.X) || !double.IsFinite(part.Y))
            throw new DocumentException($"Part '{Short(id)}' is not on the diagram.");
        if (part.Turn is < 0 or > 3)
            throw new DocumentException($"Part '{Short(id)}' is turned by {part.Turn} quarters; 0 to 3 are taken.");
        Within(part.Name, LongestName, "The name of a part");
        Within(part.Type, LongestName, "The type of a part");
        if (part.Otherwise?.ContainsValue(null!) == true)
            throw new DocumentException($"What an output of '{Short(part.Name)}' is while it is left out is null.");
        if (part.Shapes is { } shapes)
            ShapeLimits.Check(part.Name, shapes);
        foreach (var (name, text) in part.Texts)
        {
            Within(name, LongestName, "The name of a parameter");
            Within(text, LongestField, $"The value of {part.Name} ▸ {name}");
        }
    }

    internal static void Check(string id, WireNode? wire)
    {
        if (wire?.Bends is null || wire.From is not { Part: not null, Port: not null } || wire.To is not { Part: not null, Port: not null })
            throw new DocumentException($"Wire '{Short(id)}' is incomplete: it needs two ends.");
        if (wire.Bends.Exists(b => b is null || !double.IsFinite(b.X) || !double.IsFinite(b.Y)))
            throw new DocumentException($"A bend of wire '{Short(id)}' is not on the diagram.");
    }

    internal static void Check(string name, ParameterNode? parameter)
    {
        if (parameter?.Value is null)
            throw new DocumentException("A parameter, signal or area of the document is null.");
        Within(name, LongestName, "The name of a parameter");
        Within(parameter.Description, LongestField, $"The description of {name}");
        if (parameter.Choices is { } choices)
        {
            AtMost($"choices of {name}", choices.Count, MostChoices);
            if (choices.Exists(c => c is not { Name: not null, Value: not null }))
                throw new DocumentException($"A choice of {name} is incomplete: it needs a name and a value.");
            foreach (var choice in choices)
                Within(choice.Name, LongestName, $"The name of a choice of {name}");
        }

        foreach (var text in parameter.Texts.Append(parameter.Unit).Append(parameter.Group))
            Within(text, LongestField, $"The value of {name}");
    }

    internal static void Check(SignalNode? signal)
    {
        if (signal is null)
            throw new DocumentException("A parameter, signal or area of the document is null.");
        Within(signal.Name, LongestName, "The name of a signal");
        Within(signal.Unit, LongestName, "The unit of a signal");
        if (signal.Feeds?.Exists(f => f is not { Part: not null, Port: not null }) == true)
            throw new DocumentException("A signal without a source does not say which inputs it fed.");
    }

    internal static void Check(AreaNode? area)
    {
        if (area is null)
            throw new DocumentException("A parameter, signal or area of the document is null.");
        if (!double.IsFinite(area.X + area.Y + area.Width + area.Height))
            throw new DocumentException("An area is not on the diagram.");
        Within(area.Text, LongestField, "A caption");
    }

    internal static void Check(NoteNode? note)
    {
        if (note is null || !double.IsFinite(note.X + note.Y))
            throw new DocumentException("A note is not on the diagram.");
        Within(note.Text, LongestField, "A note");
    }

    internal static void Check(string id, RequirementNode? requirement)
    {
        if (requirement?.Name is null || requirement.Signal is null || requirement.Limit is null)
            throw new DocumentException($"Requirement '{Short(id)}' is incomplete.");
        var r = requirement;
        Within(r.Name, LongestName, "The name of a requirement");
        foreach (var text in (string?[])[r.Text, r.Signal, r.Measure, r.Reference, r.Limit, r.From, r.To, r.Band, r.Rule, r.Rationale])
            Within(text, LongestField, $"A text of the requirement {r.Name}");
        foreach (var text in (string?[])[r.Identifier, r.Source, r.Group])
            Within(text, LongestName, $"A name in the requirement {r.Name}");
        AtMost($"parts of the requirement {r.Name}", r.Parts?.Count ?? 0, 100);
        foreach (var part in r.Parts ?? [])
            if (!PartPath.TryParse(part, out _))
                throw new DocumentException($"A part of the requirement {Short(r.Name)} is no path of ids.");
        if (r.Priority is not (null or "must" or "should" or "may"))
            throw new DocumentException($"The priority of {Short(r.Name)} is must, should or may, not '{Short(r.Priority)}'.");
    }

    internal static void Check(RunSettings settings)
    {
        if (settings.SteadyParts.Contains(null!))
            throw new DocumentException("One of the parts at rest is null.");
        if (!double.IsFinite(settings.RelativeTolerance) || !double.IsFinite(settings.AbsoluteTolerance))
            throw new DocumentException("A tolerance of the run is not a finite number.");
    }

    internal static void Within(string? text, int most, string what)
    {
        if (text?.Length > most)
            throw new DocumentException($"{what} has {text.Length} characters; at most {most} are taken: '{Short(text[..40])}…'.");
    }

    public static string Short(string text) => text.Length > 100 ? text[..100] + "…" : text;
}
