using System.Globalization;
using System.Xml;
using System.Xml.Linq;

namespace AnchorBend.Delivery.Exchange;

/// <summary>What a variable of an exchange unit is to others.</summary>
public enum UnitRole
{
    Parameter,
    Input,
    Output,
}

/// <summary>A number of an exchange unit.</summary>
/// <param name="Kind">Its type: r of 64 bits, f of 32; i an integer of version 2; 1, 2, 4, 8 integers of so many bytes, A, B, D, H without
/// sign; b a truth value.</param>
/// <param name="Unit">As the unit calls it; empty for none.</param>
/// <param name="Scale">How it is read in coherent units; null where it has no unit, or one that nothing is known of.</param>
/// <param name="Start">What it begins with; null where it is not told.</param>
/// <param name="IsTunable">Whether it may change while the unit runs.</param>
/// <param name="IsDirect">Of an output, whether an input shows in it at once.</param>
public sealed record UnitVariable(
    string Name,
    uint Reference,
    char Kind,
    UnitRole Role,
    string Unit,
    string Description,
    double? Start,
    bool IsTunable,
    bool IsDirect,
    UnitScale? Scale = null
)
{
    public bool IsBoolean => Kind == 'b';

    public bool IsReal => Kind is 'r' or 'f';
}

/// <summary>A state that is integrated here.</summary>
/// <param name="Reference">Of the state, and <paramref name="Slope"/> of its derivative.</param>
/// <param name="Nominal">Its magnitude.</param>
public sealed record UnitState(string Name, uint Reference, uint Slope, string Unit, string Description, double Nominal);

/// <summary>What a unit for model exchange has for who integrates it.</summary>
/// <param name="Indicators">How many values pass zero at events.</param>
/// <param name="HasSlopes">Whether it tells how values change with others.</param>
public sealed record UnitFlowDescription(IReadOnlyList<UnitState> States, int Indicators, bool HasSlopes);

/// <summary>
/// What an exchange unit says of itself (Functional Mock-up Interface 2.0.4, section 2.2, and 3.0.1, section 2.4), as far as it is needed
/// to run it.
/// </summary>
/// <param name="Identifier">Of its program.</param>
/// <param name="Token">By which an instance is asked for.</param>
/// <param name="Step">Time between communication points that it proposes, s; null where it proposes none.</param>
/// <param name="End">Of a run, s, that it proposes.</param>
/// <param name="CanSave">Whether it can be gone back to.</param>
/// <param name="Left">What of it is not used here: texts, binaries, arrays, clocks.</param>
/// <param name="Flow">Of a unit for model exchange; null for one that steps by itself.</param>
public sealed record UnitDescription(
    bool IsThird,
    string Name,
    string Description,
    string Identifier,
    string Token,
    string Tool,
    double? Step,
    double? End,
    bool CanSave,
    IReadOnlyList<UnitVariable> Variables,
    IReadOnlyList<string> Left,
    UnitFlowDescription? Flow = null
)
{
    const int MostVariables = 50_000,
        MostPorts = 2000;

    public IEnumerable<UnitVariable> Of(UnitRole role) => Variables.Where(v => v.Role == role);

    /// <exception cref="DeliveryException">It is no description of a unit that can be used here.</exception>
    public static UnitDescription Read(Stream text)
    {
        var settings = new XmlReaderSettings
        {
            DtdProcessing = DtdProcessing.Prohibit,
            XmlResolver = null,
            MaxCharactersInDocument = UnitArchive.MostDescription,
        };
        try
        {
            using var reader = XmlReader.Create(text, settings);
            return Of(XDocument.Load(reader).Root!);
        }
        catch (XmlException e)
        {
            throw Refused($"modelDescription.xml is not well formed: {e.Message}");
        }
    }

    static DeliveryException Refused(string message) => new("description", message, "Ask its makers for one that follows the standard.");

    static string Text(XElement element, string name) => element.Attribute(name)?.Value.Trim() ?? "";

    static double? Number(string text) =>
        double.TryParse(text, NumberStyles.Float, CultureInfo.InvariantCulture, out var value) && double.IsFinite(value) ? value : null;

    static bool Truth(string text) => text is "true" or "1";

    static UnitDescription Of(XElement root)
    {
        var version = Text(root, "fmiVersion");
        if (
            root.Name.LocalName != "fmiModelDescription"
            || !(version.StartsWith("2.", StringComparison.Ordinal) || version.StartsWith("3.", StringComparison.Ordinal))
        )
            throw Refused("It is no exchange unit of version 2 or 3 of the standard.");
        var isThird = version[0] == '3';
        // One that can do both steps by itself.
        var kind = root.Element("CoSimulation")
            ?? root.Element("ModelExchange")
            ?? throw new DeliveryException(
                "kind",
                "It is neither for co-simulation nor for model exchange.",
                "Export it for one of these."
            );
        var identifier = Text(kind, "modelIdentifier");
        if (identifier.Length is 0 or > 200 || !identifier.All(c => char.IsAsciiLetterOrDigit(c) || c == '_'))
            throw Refused("The name of its program is no identifier.");
        if (Truth(Text(kind, "needsExecutionTool")))
            throw new DeliveryException("tool", "It needs the program that made it.", "Export it so that it runs by itself.");
        var left = new List<string>();
        var all = root.Element("ModelVariables")?.Elements().Take(MostVariables + 1).ToList() ?? [];
        if (all.Count > MostVariables)
            throw Refused($"It has more than {MostVariables} variables.");
        var direct = Direct(root, all, isThird);
        var scales = new UnitScales(root);
        var variables = all.Select((v, i) => Variable(v, i, isThird, direct, scales, left)).OfType<UnitVariable>().ToList();
        if (variables.Count > MostPorts)
            throw Refused($"It has more than {MostPorts} inputs, outputs and parameters.");
        if (!variables.Exists(v => v.Role == UnitRole.Output))
            throw Refused("It has no output that is a number.");
        var run = root.Element("DefaultExperiment");
        var step = (isThird ? Number(Text(kind, "fixedInternalStepSize")) : null) ?? (run is null ? null : Number(Text(run, "stepSize")));
        var (get, serialize) = isThird
            ? ("canGetAndSetFMUState", "canSerializeFMUState")
            : ("canGetAndSetFMUstate", "canSerializeFMUstate");
        return new UnitDescription(
            isThird,
            Text(root, "modelName") is { Length: > 0 } name ? name : identifier,
            Text(root, "description"),
            identifier,
            Text(root, isThird ? "instantiationToken" : "guid"),
            Text(root, "generationTool"),
            step is > 0 ? step : null,
            run is null ? null : Number(Text(run, "stopTime")),
            Truth(Text(kind, get)) && Truth(Text(kind, serialize)),
            variables,
            [.. left.Distinct()],
            kind.Name.LocalName == "ModelExchange" ? FlowOf(root, kind, all, isThird) : null
        );
    }

    const int MostStates = 400;

    /// <summary>States in the order of the structure, which is that of their vectors.</summary>
    static UnitFlowDescription FlowOf(XElement root, XElement kind, List<XElement> all, bool isThird)
    {
        var structure = root.Element("ModelStructure");
        var byKey = new Dictionary<string, XElement>();
        foreach (var (v, i) in all.Select((v, i) => (v, i)))
            byKey.TryAdd(isThird ? Text(v, "valueReference") : (i + 1).ToString(CultureInfo.InvariantCulture), v);
        XElement Known(string key) =>
            byKey.GetValueOrDefault(key) ?? throw Refused("Its structure names a variable that it does not have.");
        static XElement Typed(XElement v) => v.Name.LocalName == "ScalarVariable" ? v.Elements().First() : v;
        uint Reference(XElement v) =>
            v.Element("Dimension") is null && uint.TryParse(Text(v, "valueReference"), CultureInfo.InvariantCulture, out var r)
                ? r
                : throw Refused($"Its state {Text(v, "name")} is an array.");
        var unknowns = (
            isThird ? structure?.Elements("ContinuousStateDerivative") : structure?.Element("Derivatives")?.Elements("Unknown")
        )?.ToList();
        if (unknowns?.Count > MostStates)
            throw Refused($"It has more than {MostStates} states.");
        var states = (unknowns ?? []).Select(unknown =>
        {
            var slope = Known(Text(unknown, isThird ? "valueReference" : "index"));
            var state = Known(Text(Typed(slope), "derivative"));
            var nominal = Number(Text(Typed(state), "nominal")) is { } size && size != 0 ? Math.Abs(size) : 1;
            return new UnitState(
                Text(state, "name"),
                Reference(state),
                Reference(slope),
                Text(Typed(state), "unit"),
                Text(state, "description"),
                nominal
            );
        });
        var indicators =
            isThird ? structure?.Elements("EventIndicator").Count() ?? 0
            : Number(Text(root, "numberOfEventIndicators")) is { } n and >= 0 and <= MostPorts ? (int)n
            : 0;
        if (indicators > MostPorts)
            throw Refused($"It has more than {MostPorts} event indicators.");
        return new UnitFlowDescription(
            [.. states],
            indicators,
            Truth(Text(kind, isThird ? "providesDirectionalDerivatives" : "providesDirectionalDerivative"))
        );
    }

    /// <summary>Whether an output depends on an input at once, by its reference; one of which nothing is told does.</summary>
    static Func<XElement, int, bool> Direct(XElement root, List<XElement> all, bool isThird)
    {
        var structure = root.Element("ModelStructure");
        var unknowns = isThird ? structure?.Elements("Output") : structure?.Element("Outputs")?.Elements("Unknown");
        var key = isThird ? "valueReference" : "index";
        var told = new Dictionary<string, XElement>();
        foreach (var unknown in unknowns ?? [])
            told.TryAdd(Text(unknown, key), unknown);
        var inputs = all.Select((v, i) => (Element: v, Key: isThird ? Text(v, key) : (i + 1).ToString(CultureInfo.InvariantCulture)))
            .Where(v => Text(v.Element, "causality") == "input")
            .Select(v => v.Key)
            .ToHashSet();
        return (variable, place) =>
            !told.TryGetValue(isThird ? Text(variable, key) : (place + 1).ToString(CultureInfo.InvariantCulture), out var unknown)
            || unknown.Attribute("dependencies") is not { } on
            || on.Value.Split((char[]?)null, StringSplitOptions.RemoveEmptyEntries).Any(inputs.Contains);
    }

    static UnitVariable? Variable(
        XElement v,
        int place,
        bool isThird,
        Func<XElement, int, bool> isDirect,
        UnitScales scales,
        List<string> left
    )
    {
        UnitRole? role = Text(v, "causality") switch
        {
            "parameter" => UnitRole.Parameter,
            "input" => UnitRole.Input,
            "output" => UnitRole.Output,
            _ => null,
        };
        if (role is null)
            return null;
        var name = Text(v, "name");
        var typed = isThird
            ? v
            : v.Elements().FirstOrDefault(e => e.Name.LocalName is "Real" or "Integer" or "Boolean" or "Enumeration" or "String");
        char? kind = (typed?.Name.LocalName) switch
        {
            "Real" or "Float64" => 'r',
            "Float32" => 'f',
            "Integer" or "Enumeration" when !isThird => 'i',
            "Int8" => '1',
            "Int16" => '2',
            "Int32" => '4',
            "Int64" or "Enumeration" => '8',
            "UInt8" => 'A',
            "UInt16" => 'B',
            "UInt32" => 'D',
            "UInt64" => 'H',
            "Boolean" => 'b',
            _ => null,
        };
        if (
            kind is null
            || v.Element("Dimension") is not null
            || !uint.TryParse(Text(v, "valueReference"), CultureInfo.InvariantCulture, out var reference)
        )
        {
            left.Add(name);
            return null;
        }

        var start = Text(typed!, "start");
        return new UnitVariable(
            name,
            reference,
            kind.Value,
            role.Value,
            scales.NameOf(typed!),
            Text(v, "description"),
            kind == 'b'
                ? (
                    start.Length == 0 ? null
                    : Truth(start) ? 1
                    : 0
                )
                : Number(start),
            Text(v, "variability") == "tunable",
            role == UnitRole.Output && isDirect(v, place),
            kind is 'r' or 'f' ? scales.Of(scales.NameOf(typed!)) : null
        );
    }
}
