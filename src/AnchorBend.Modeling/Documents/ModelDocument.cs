using System.Text.Json;
using System.Text.Json.Nodes;
using System.Text.Json.Serialization;

namespace AnchorBend.Modeling.Documents;

/// <summary>
/// A model as the user drew it: parts and wires by id, signals' names and probes, parameters, requirements, run settings.
/// Stored and exported as JSON; ids are stable, so edits are small patches and text differences stay local.
/// </summary>
public sealed record ModelDocument
{
    public const string CurrentFormat = "anchor-bend-model/1";

    public string Format { get; init; } = CurrentFormat;

    public required string Name { get; init; }

    public string? Description { get; init; }

    public Dictionary<string, PartNode> Parts { get; init; } = [];

    public Dictionary<string, WireNode> Wires { get; init; } = [];

    /// <summary>What the user said of a signal, by the port it comes from (<c>partId.port</c>); survives rewiring.</summary>
    public Dictionary<string, SignalNode> Signals { get; init; } = [];

    public Dictionary<string, ParameterNode> Parameters { get; init; } = [];

    public Dictionary<string, RequirementNode> Requirements { get; init; } = [];

    public Dictionary<string, AreaNode> Areas { get; init; } = [];

    /// <summary>Parts that the model brings along, by the name of their class.</summary>
    public Dictionary<string, ClassNode> Classes { get; init; } = [];

    public RunSettings Settings { get; init; } = new();

    static readonly JsonSerializerOptions Compact = Options(false);
    static readonly JsonSerializerOptions Indented = Options(true);

    /// <summary>How documents are written: camel case, nulls left out, enumerations as words.</summary>
    public static JsonSerializerOptions Options(bool indented) =>
        new(JsonSerializerDefaults.Web)
        {
            WriteIndented = indented,
            DefaultIgnoreCondition = JsonIgnoreCondition.WhenWritingNull,
            MaxDepth = 32,
            PropertyNameCaseInsensitive = false,
            AllowDuplicateProperties = false,
            UnmappedMemberHandling = JsonUnmappedMemberHandling.Disallow,
            RespectNullableAnnotations = true,
            Converters = { new JsonStringEnumConverter(JsonNamingPolicy.CamelCase) },
        };

    public string ToJson(bool indented = false) => JsonSerializer.Serialize(this, indented ? Indented : Compact);

    /// <summary>Reads a document.</summary>
    /// <exception cref="DocumentException">The text is not a document, or one of a later format.</exception>
    public static ModelDocument FromJson(string json)
    {
        try
        {
            var node = JsonNode.Parse(json, null, new JsonDocumentOptions { MaxDepth = 32, AllowDuplicateProperties = false });
            CheckFormat(node);
            DocumentReferences.Identify(node!);
            return Checked(node.Deserialize<ModelDocument>(Compact) ?? throw new DocumentException("The document is empty."));
        }
        catch (JsonException e)
        {
            throw new DocumentException("This is not a model document. " + Explain(e));
        }
    }

    /// <summary>What another format holds is not looked at: its own words would make no sense.</summary>
    static void CheckFormat(JsonNode? node)
    {
        if (node is not JsonObject document)
            throw new DocumentException("This is not a model document: it begins with a list or a value, not with an object.");
        if (!document.TryGetPropertyValue("format", out var value))
            return;
        if (value is not JsonValue text || !text.TryGetValue<string>(out var format))
            throw new DocumentException("This is not a model document: its format is no text.");
        if (format != CurrentFormat)
            throw new DocumentException($"The format is '{Short(format)}'; this version reads '{CurrentFormat}'.");
    }

    /// <summary>The reader's reason without its names of types.</summary>
    static string Explain(JsonException e)
    {
        var at = e.Path is { Length: > 1 } path ? $"At {Short(path)}: " : "";
        return e.Message switch
        {
            var m when m.Contains("could not be mapped", StringComparison.Ordinal) =>
                $"{at}there is no property of this name in a document.",
            var m when m.Contains("missing required", StringComparison.Ordinal) =>
                $"{at}something is missing: {Between(m, "including: ", ".")}.",
            var m when m.Contains("Duplicate", StringComparison.OrdinalIgnoreCase) => $"{at}a property is given twice.",
            var m when m.Contains("could not be converted", StringComparison.Ordinal) =>
                $"{at}a value is of another kind than is needed there.",
            var m when m.Contains("null values", StringComparison.Ordinal) => $"{at}a value is null that must not be.",
            var m when m.Contains("depth", StringComparison.Ordinal) => "It is nested too deep.",
            _ => e.LineNumber is { } line ? $"It is no JSON at line {line + 1}, byte {e.BytePositionInLine + 1}." : "It is no JSON.",
        };
    }

    static string Between(string text, string start, string end)
    {
        var from = text.IndexOf(start, StringComparison.Ordinal);
        if (from < 0)
            return "a property";
        from += start.Length;
        var to = text.IndexOf(end, from, StringComparison.Ordinal);
        return to < 0 ? text[from..] : text[from..to];
    }

    static string Short(string text) => text.Length > 100 ? text[..100] + "…" : text;

    /// <summary>The path in the flat model and the text of the parameter that an edit of this document has set; null for other
    /// edits.</summary>
    public (string Path, string Text)? ParameterAt(PatchOperation operation)
    {
        if (operation.Op is not ("add" or "replace"))
            return null;
        return JsonPatch.Steps(operation.Path) switch
        {
            ["parts", var id, "parameters", var name]
                when Parts.TryGetValue(id, out var part) && part.Parameters.TryGetValue(name, out var text) => (
                $"{part.Name}.{name}",
                text
            ),
            ["parameters", var name, "value"] when Parameters.TryGetValue(name, out var parameter) => (name, parameter.Value),
            _ => null,
        };
    }

    /// <summary>Most parts, wires and other entries; edits and imports obey the same.</summary>
    public const int MostParts = 10_000,
        MostWires = 30_000,
        MostOthers = 5_000;

    /// <summary>Longest names, texts of fields and descriptions, and texts of parts, in characters.</summary>
    public const int LongestName = 200,
        LongestField = 100_000,
        LongestClass = 200_000;

    /// <summary>A document whose entries are complete and within their limits.</summary>
    /// <exception cref="DocumentException">Says what is not.</exception>
    public static ModelDocument Checked(ModelDocument document)
    {
        if (document.Format != CurrentFormat)
            throw new DocumentException($"The format is '{Short(document.Format ?? "")}'; this version reads '{CurrentFormat}'.");
        if (string.IsNullOrWhiteSpace(document.Name))
            throw new DocumentException("The model has no name.");
        if (
            document.Parts is null
            || document.Wires is null
            || document.Signals is null
            || document.Parameters is null
            || document.Requirements is null
            || document.Areas is null
            || document.Settings is null
            || document.Classes is null
        )
            throw new DocumentException("A collection of the document is null.");
        CheckSizes(document);
        foreach (var (id, part) in document.Parts)
            if (
                part is null
                || part.Type is null
                || string.IsNullOrWhiteSpace(part.Name)
                || part.Parameters is null
                || part.Parameters.Values.Any(v => v is null)
            )
                throw new DocumentException($"Part '{Short(id)}' is incomplete: it needs a type, a name and parameters.");
            else if (!double.IsFinite(part.X) || !double.IsFinite(part.Y))
                throw new DocumentException($"Part '{Short(id)}' is not on the diagram.");
        foreach (var (id, wire) in document.Wires)
            if (
                wire?.From is null
                || wire.To is null
                || wire.Bends is null
                || wire.From.Part is null
                || wire.From.Port is null
                || wire.To.Part is null
                || wire.To.Port is null
            )
                throw new DocumentException($"Wire '{Short(id)}' is incomplete: it needs two ends.");
            else if (wire.Bends.Any(b => b is null || !double.IsFinite(b.X) || !double.IsFinite(b.Y)))
                throw new DocumentException($"A bend of wire '{Short(id)}' is not on the diagram.");
        foreach (var (id, requirement) in document.Requirements)
            if (requirement?.Name is null || requirement.Signal is null || requirement.Limit is null)
                throw new DocumentException($"Requirement '{Short(id)}' is incomplete.");
        foreach (var (name, part) in document.Classes)
            if (part?.Text is null)
                throw new DocumentException($"The part '{Short(name)}' of the document has no text.");
        if (
            document.Parameters.Any(p => p.Value?.Value is null)
            || document.Signals.Any(s => s.Value is null)
            || document.Areas.Any(a => a.Value is null)
        )
            throw new DocumentException("A parameter, signal or area of the document is null.");
        if (document.Areas.Values.Any(a => !double.IsFinite(a.X + a.Y + a.Width + a.Height)))
            throw new DocumentException("An area is not on the diagram.");
        if (document.Settings.SteadyParts.Contains(null!))
            throw new DocumentException("One of the parts at rest is null.");
        if (!double.IsFinite(document.Settings.RelativeTolerance) || !double.IsFinite(document.Settings.AbsoluteTolerance))
            throw new DocumentException("A tolerance of the run is not a finite number.");
        CheckLengths(document);
        return document;
    }

    static void CheckSizes(ModelDocument document)
    {
        foreach (
            var (what, count, most) in ((string, int, int)[])
                [
                    ("parts", document.Parts.Count, MostParts),
                    ("wires", document.Wires.Count, MostWires),
                    ("signals", document.Signals.Count, MostWires),
                    ("parameters", document.Parameters.Count, MostOthers),
                    ("requirements", document.Requirements.Count, MostOthers),
                    ("areas", document.Areas.Count, MostOthers),
                    ("parts of its own", document.Classes.Count, MostOthers),
                ]
        )
            if (count > most)
                throw new DocumentException($"A model holds at most {most} {what}; this one has {count}.");
    }

    static void CheckLengths(ModelDocument document)
    {
        static void Within(string? text, int most, string what)
        {
            if (text?.Length > most)
                throw new DocumentException($"{what} has {text.Length} characters; at most {most} are taken: '{Short(text[..40])}…'.");
        }

        Within(document.Name, LongestName, "The name of the model");
        Within(document.Description, LongestField, "The description");
        foreach (var (id, part) in document.Parts)
        {
            Within(id, LongestName, "The id of a part");
            Within(part.Name, LongestName, "The name of a part");
            Within(part.Type, LongestName, "The type of a part");
            foreach (var (name, text) in part.Parameters)
            {
                Within(name, LongestName, "The name of a parameter");
                Within(text, LongestField, $"The value of {part.Name} ▸ {name}");
            }
        }

        foreach (var (name, parameter) in document.Parameters)
        {
            Within(name, LongestName, "The name of a parameter");
            Within(parameter.Value, LongestField, $"The value of {name}");
            Within(parameter.Description, LongestField, $"The description of {name}");
        }

        foreach (var (_, signal) in document.Signals)
        {
            Within(signal.Name, LongestName, "The name of a signal");
            Within(signal.Unit, LongestName, "The unit of a signal");
        }

        foreach (var (_, r) in document.Requirements)
        {
            Within(r.Name, LongestName, "The name of a requirement");
            foreach (var text in (string?[])[r.Text, r.Signal, r.Reference, r.Limit, r.From, r.To, r.Band])
                Within(text, LongestField, $"A text of the requirement {r.Name}");
        }

        foreach (var (_, area) in document.Areas)
            Within(area.Text, LongestField, "A caption");
        foreach (var (name, part) in document.Classes)
        {
            Within(name, LongestName, "The name of a part");
            Within(part.Text, LongestClass, $"The text of {name}");
        }
    }
}

/// <summary>The document cannot be read or an edit cannot be applied; the message says why.</summary>
public sealed class DocumentException(string message) : Exception(message);

/// <summary>A part on the diagram; position is its upper left corner in grid pixels.</summary>
public sealed record PartNode
{
    public required string Type { get; init; }

    public required string Name { get; init; }

    public double X { get; init; }

    public double Y { get; init; }

    /// <summary>Mirrored: inputs at the right.</summary>
    public bool Flip { get; init; }

    /// <summary>Parameter values as typed: expressions, perhaps with a unit; absent ones have their default.</summary>
    public Dictionary<string, string> Parameters { get; init; } = [];
}

/// <summary>The text of a part in the equation language.</summary>
public sealed record ClassNode
{
    public required string Text { get; init; }
}

public sealed record PortReference(string Part, string Port);

/// <summary>A wire from an output to an input; bends are corner points the user set.</summary>
public sealed record WireNode
{
    public required PortReference From { get; init; }

    public required PortReference To { get; init; }

    public List<Point> Bends { get; init; } = [];
}

public sealed record Point(double X, double Y);

public sealed record SignalNode
{
    public string? Name { get; init; }

    public string? Unit { get; init; }

    /// <summary>Number of the strip the signal is plotted in; null when it is not plotted.</summary>
    public int? Probe { get; init; }
}

/// <summary>A named parameter of the model, for use in expressions.</summary>
public sealed record ParameterNode
{
    public required string Value { get; init; }

    public string? Description { get; init; }
}

public enum RequirementKind
{
    UpperLimit,
    LowerLimit,
    Overshoot,
    RiseTime,
    SettlingTime,
    SteadyStateError,
}

/// <summary>A requirement on one signal.</summary>
public sealed record RequirementNode
{
    public required string Name { get; init; }

    public string? Text { get; init; }

    public RequirementKind Kind { get; init; }

    /// <summary>The signal by identity, <c>partId.port</c>, or the name of something that is no port.</summary>
    public required string Signal { get; init; }

    /// <summary>The set-point likewise, for responses; null takes the final value.</summary>
    public string? Reference { get; init; }

    /// <summary>The limit as typed: in the signal's unit, seconds, or per cent.</summary>
    public string Limit { get; init; } = "0";

    /// <summary>Start and end of the window as typed; null for the whole run.</summary>
    public string? From { get; init; }

    public string? To { get; init; }

    /// <summary>Half width of the settling band, as a fraction of the step, as typed.</summary>
    public string? Band { get; init; }
}

/// <summary>A marked area of the diagram with a caption.</summary>
public sealed record AreaNode
{
    public string Text { get; init; } = "";

    public double X { get; init; }

    public double Y { get; init; }

    public double Width { get; init; }

    public double Height { get; init; }
}

public sealed record RunSettings
{
    public string End { get; init; } = "10 s";

    /// <summary>Short name of an integration method; auto chooses.</summary>
    public string Method { get; init; } = "auto";

    public double RelativeTolerance { get; init; } = 1e-6;

    public double AbsoluteTolerance { get; init; } = 1e-9;

    /// <summary>Step of a fixed-step method, as typed.</summary>
    public string Step { get; init; } = "1 ms";

    /// <summary>No step of an adaptive method is longer than this, as typed; empty leaves it to the method.</summary>
    public string LargestStep { get; init; } = "";

    /// <summary>Distance of output points, as typed; empty for a two-thousandth of the run.</summary>
    public string Output { get; init; } = "";

    /// <summary>given: from the start values; steady: at rest, with the start values as guesses.</summary>
    public string Start { get; init; } = "given";

    /// <summary>Ids of parts that start at rest, where the whole model does not.</summary>
    public IReadOnlyList<string> SteadyParts { get; init; } = [];

    public bool Live { get; init; } = true;
}
