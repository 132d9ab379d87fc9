using System.Globalization;
using System.Text;
using System.Xml;
using System.Xml.Linq;
using AnchorBend.Language.Units;

namespace AnchorBend.Delivery.Exchange;

/// <summary>
/// What an exchange unit says of itself: variables, units, what it can do (Functional Mock-up Interface 2.0.4, section 2.2, and 3.0.1,
/// section 2.4).
/// </summary>
static class ModelDescription
{
    const string Tool = "Anchor Bend";

    /// <param name="token">The same where and only where all of the unit is.</param>
    /// <param name="end">Where a run ends by default, s; null for none.</param>
    public static string Of(
        CodeUnit unit,
        string identifier,
        string token,
        IReadOnlyList<ExchangeVariable> variables,
        FlowShape? flow,
        bool isThird,
        double? end
    )
    {
        var root = new XElement(
            "fmiModelDescription",
            new XAttribute("fmiVersion", isThird ? "3.0" : "2.0"),
            new XAttribute("modelName", Plain(unit.Name)),
            new XAttribute(isThird ? "instantiationToken" : "guid", token),
            new XAttribute("generationTool", Tool),
            new XAttribute("variableNamingConvention", "structured"),
            isThird ? null : new XAttribute("numberOfEventIndicators", flow?.Indicators.Count ?? 0),
            Kind(unit, identifier, flow, isThird),
            Units(variables, isThird),
            new XElement(
                "DefaultExperiment",
                new XAttribute("startTime", 0),
                end is { } stop ? new XAttribute("stopTime", Number(stop)) : null,
                flow is null ? new XAttribute("stepSize", Number(unit.Request.Step)) : null
            ),
            new XElement("ModelVariables", variables.Select(v => isThird ? Third(v) : Second(v))),
            Structure(variables, isThird)
        );
        var text = new StringBuilder();
        using (
            var writer = XmlWriter.Create(
                text,
                new XmlWriterSettings
                {
                    Indent = true,
                    NewLineChars = "\n",
                    OmitXmlDeclaration = true,
                }
            )
        )
            root.Save(writer);
        return "<?xml version=\"1.0\" encoding=\"UTF-8\"?>\n" + text + "\n";
    }

    /// <summary>How it is run, and what it can do then.</summary>
    static XElement Kind(CodeUnit unit, string identifier, FlowShape? flow, bool isThird)
    {
        var state = isThird ? "State" : "state";
        return new XElement(
            flow is null ? "CoSimulation" : "ModelExchange",
            new XAttribute("modelIdentifier", identifier),
            flow is null ? new XAttribute("canHandleVariableCommunicationStepSize", true) : null,
            flow is null && isThird ? new XAttribute("fixedInternalStepSize", Number(unit.Request.Step)) : null,
            new XAttribute($"canGetAndSetFMU{state}", true),
            new XAttribute($"canSerializeFMU{state}", true),
            flow is null ? null : new XAttribute(isThird ? "providesDirectionalDerivatives" : "providesDirectionalDerivative", true),
            isThird ? null : new XElement("SourceFiles", Sources(identifier).Select(f => new XElement("File", new XAttribute("name", f))))
        );
    }

    /// <summary>Files that make up the program, the headers aside.</summary>
    public static string[] Sources(string identifier) => [identifier + ".c", identifier + "_exchange.c"];

    /// <summary>What third-version importers compile, and how.</summary>
    public static string Build(string identifier) =>
        $"""
            <?xml version="1.0" encoding="UTF-8"?>
            <fmiBuildDescription fmiVersion="3.0">
              <BuildConfiguration modelIdentifier="{identifier}">
                <SourceFileSet language="C99">
                  <SourceFile name="{identifier}.c"/>
                  <SourceFile name="{identifier}_exchange.c"/>
                </SourceFileSet>
                <Library name="m"/>
              </BuildConfiguration>
            </fmiBuildDescription>

            """;

    static string Number(double value) => value.ToString("R", CultureInfo.InvariantCulture);

    /// <summary>Characters that XML has no way to say are left out.</summary>
    static string Plain(string text) => new([.. text.Where(XmlConvert.IsXmlChar)]);

    static XElement? Units(IReadOnlyList<ExchangeVariable> variables, bool isThird)
    {
        var units = variables.Select(v => v.Unit).Where(u => u.Length > 0).Distinct().Order(StringComparer.Ordinal).ToList();
        return units.Count == 0
            ? null
            : new XElement(
                "UnitDefinitions",
                units.Select(u => new XElement(
                    "Unit",
                    new XAttribute("name", u),
                    Unit.TryParse(u, out var unit, out _) ? Base(unit) : null
                ))
            );
    }

    /// <summary>A unit as powers of the base units: value in them = factor · value + offset.</summary>
    static XElement Base(Unit unit)
    {
        string[] names = ["m", "kg", "s", "A", "K", "mol", "cd"];
        return new XElement(
            "BaseUnit",
            names.Select((name, i) => unit.Dimension[i] == 0 ? null : new XAttribute(name, unit.Dimension[i])),
            unit.Angle == 0 ? null : new XAttribute("rad", unit.Angle),
            unit.Factor == 1 ? null : new XAttribute("factor", Number(unit.Factor)),
            unit.Offset == 0 ? null : new XAttribute("offset", Number(unit.Offset))
        );
    }

    static XElement Second(ExchangeVariable v) =>
        new(
            "ScalarVariable",
            new XAttribute("name", Plain(v.Name)),
            new XAttribute("valueReference", v.Reference),
            Description(v),
            Causality(v),
            Variability(v),
            Initial(v),
            new XElement(
                v.Type.ToString(),
                v.Type == ExchangeType.Real && v.Unit.Length > 0 ? new XAttribute("unit", v.Unit) : null,
                v.Nominal is { } size ? new XAttribute("nominal", Number(size)) : null,
                v.Start is { } start ? new XAttribute("start", Typed(v.Type, start)) : null,
                v.SlopeOf is { } state ? new XAttribute("derivative", state + 1) : null
            )
        );

    static XElement Third(ExchangeVariable v) =>
        new(
            v.Type switch
            {
                ExchangeType.Real => "Float64",
                ExchangeType.Integer => "Int32",
                _ => "Boolean",
            },
            new XAttribute("name", Plain(v.Name)),
            new XAttribute("valueReference", v.Reference),
            Description(v),
            Causality(v),
            Variability(v),
            Initial(v),
            v.Type == ExchangeType.Real && v.Unit.Length > 0 ? new XAttribute("unit", v.Unit) : null,
            v.Nominal is { } size ? new XAttribute("nominal", Number(size)) : null,
            v.Start is { } start ? new XAttribute("start", Typed(v.Type, start)) : null,
            v.SlopeOf is { } state ? new XAttribute("derivative", state) : null
        );

    static string Typed(ExchangeType type, double value) =>
        type switch
        {
            ExchangeType.Boolean => value != 0 ? "true" : "false",
            ExchangeType.Integer => ((int)value).ToString(CultureInfo.InvariantCulture),
            _ => Number(value),
        };

    static XAttribute? Description(ExchangeVariable v) =>
        v.Description.Length > 0 ? new XAttribute("description", Plain(v.Description)) : null;

    static XAttribute Causality(ExchangeVariable v) => new("causality", v.Causality.ToString().ToLowerInvariant());

    static XAttribute Variability(ExchangeVariable v) =>
        new(
            "variability",
            v.Causality == ExchangeCausality.Parameter ? "tunable"
                : v.Type == ExchangeType.Real ? "continuous"
                : "discrete"
        );

    static XAttribute? Initial(ExchangeVariable v) =>
        v.Causality switch
        {
            ExchangeCausality.Parameter => new("initial", "exact"),
            ExchangeCausality.Output or ExchangeCausality.Local => new("initial", "calculated"),
            _ => null,
        };

    /// <summary>Outputs, slopes of states, and what is known once it has begun.</summary>
    static XElement Structure(IReadOnlyList<ExchangeVariable> variables, bool isThird)
    {
        var outputs = variables.Where(v => v.Causality == ExchangeCausality.Output).ToList();
        var slopes = variables.Where(v => v.SlopeOf is not null).ToList();
        var states = slopes.Select(s => variables[s.SlopeOf!.Value]).ToList();
        var begun = outputs.Concat(states).Concat(slopes).OrderBy(v => v.Reference);
        // Version 2 counts places among the variables, from 1.
        int Number(int reference) => isThird ? reference : reference + 1;
        IEnumerable<XElement> Known(IEnumerable<ExchangeVariable> which, string third, bool depends = false) =>
            which.Select(v => new XElement(
                isThird ? third : "Unknown",
                new XAttribute(isThird ? "valueReference" : "index", Number(v.Reference)),
                depends ? new XAttribute("dependencies", string.Join(' ', v.On.Select(Number))) : null
            ));
        return isThird
            ? new XElement(
                "ModelStructure",
                Known(outputs, "Output", true),
                Known(slopes, "ContinuousStateDerivative", true),
                Known(begun, "InitialUnknown"),
                Known(variables.Where(v => v.IsIndicator), "EventIndicator")
            )
            : new XElement(
                "ModelStructure",
                new XElement("Outputs", Known(outputs, "", true)),
                slopes.Count > 0 ? new XElement("Derivatives", Known(slopes, "", true)) : null,
                new XElement("InitialUnknowns", Known(begun, ""))
            );
    }
}
