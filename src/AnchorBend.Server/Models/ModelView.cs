using AnchorBend.Language.Binding;
using AnchorBend.Language.Syntax;
using AnchorBend.Language.Units;
using AnchorBend.Modeling;
using AnchorBend.Modeling.Catalog;
using AnchorBend.Modeling.Documents;
using AnchorBend.Modeling.Flat;
using AnchorBend.Simulation;

namespace AnchorBend.Server.Models;

/// <summary>A port of a placed part.</summary>
/// <param name="Kind">real, boolean, vector, bundle, or any for a member that a bundle is given.</param>
/// <param name="Elements">Keys of the signals that the port carries, where these are several.</param>
/// <param name="Domain">Physical domain; null for a signal.</param>
/// <param name="Potential">Key of the potential among the signals; null for a signal.</param>
/// <param name="Flow">Key of the flow into the part; null for a signal.</param>
public sealed record PortView(
    string Name,
    string? Description,
    bool IsInput,
    string Side,
    string Kind,
    string? Sign,
    string? Domain,
    string? Potential,
    string? Flow,
    IReadOnlyList<string>? Elements
);

/// <summary>What is to be drawn of a placed part and offered for its parameters.</summary>
/// <param name="Members">What the bundle that a part picks from holds; null for other parts.</param>
public sealed record PartView(
    string Face,
    double Width,
    double Height,
    string Shape,
    string? Symbol,
    IReadOnlyList<PortView> Ports,
    IReadOnlyDictionary<string, ParameterView> Parameters,
    CurveView? Curve,
    IReadOnlyList<string>? Members
);

/// <summary>A curve that two array parameters are.</summary>
public sealed record CurveView(IReadOnlyList<double> X, IReadOnlyList<double> Y);

/// <summary>A parameter's value now, in its own unit, and the unit it has.</summary>
/// <param name="Display">The value in the unit people read it in, where that is another one.</param>
public sealed record ParameterView(double? Value, string? Unit, bool Shown, string? Display);

/// <summary>A signal: its names, unit and factor for showing.</summary>
/// <param name="Scale">Shown value = value · scale + shift.</param>
public sealed record SignalView(string Path, string Label, string Unit, double Scale, double Shift, bool IsBoolean);

/// <summary>What the interface needs to draw a model besides its document.</summary>
/// <param name="ResultsRevision">The last revision that changed what a run shows; runs of earlier ones are out of date.</param>
public sealed record ModelView(
    long Revision,
    long ResultsRevision,
    bool CanUndo,
    bool CanRedo,
    bool CanRun,
    IReadOnlyDictionary<string, PartView> Parts,
    IReadOnlyDictionary<string, SignalView> Signals,
    IReadOnlyDictionary<string, ParameterView> Parameters,
    IReadOnlyList<FindingView> Findings,
    int Equations,
    int Unknowns,
    IReadOnlyList<PartDescription> OwnParts
)
{
    public static ModelView Of(ModelSession session, CancellationToken wanted)
    {
        var (prepared, document, revision) = session.Prepare(wanted);
        return new ModelViewBuilder(prepared, document, session.Catalog()).Build(
            revision,
            session.ResultsRevision,
            session.CanUndo,
            session.CanRedo
        );
    }
}

public sealed record FindingView(
    string Severity,
    string Code,
    string Message,
    string? Part,
    string? PartName,
    string? Item,
    string? Suggestion,
    FindingFix? Fix,
    string? Help
);

sealed class ModelViewBuilder(PreparedModel prepared, ModelDocument document, PartCatalog catalog)
{
    readonly double[] values = prepared.Model.ParameterValues();
    readonly ILookup<string, FlatVariable> byOwner = prepared.Model.Variables.ToLookup(v => v.Owner);
    readonly HashSet<(string Part, string Port)> wired =
    [
        .. document.Wires.Values.SelectMany(w => new[] { (w.From.Part, w.From.Port), (w.To.Part, w.To.Port) }),
    ];

    /// <summary>What is wrong with the settings of a run; null where it can start.</summary>
    FindingView? SettingsProblem()
    {
        try
        {
            DocumentRun.OptionsOf(document);
            return null;
        }
        catch (DocumentException e)
        {
            return new FindingView(
                "error",
                "settings",
                e.Message,
                null,
                null,
                "run settings",
                "Mend it in the run settings, at the right end of the time bar.",
                null,
                null
            );
        }
    }

    public ModelView Build(long revision, long resultsRevision, bool canUndo, bool canRedo)
    {
        var parts = new Dictionary<string, PartView>();
        var signals = new Dictionary<string, SignalView>();
        foreach (var (id, part) in document.Parts)
        {
            if (catalog.Find(part.Type) is null)
            {
                parts[id] = new PartView("?", 64, 48, "plate", null, [], new Dictionary<string, ParameterView>(), null, null);
                continue;
            }

            if (catalog.Find(part.Type) is { } definition && BundlePart.Is(definition))
            {
                parts[id] = Bundle(id, part, definition, signals);
                continue;
            }

            var owned = prepared.PartIds.GetValueOrDefault(part.Name) == id ? byOwner[part.Name].ToList() : [];
            parts[id] = Part(id, part, owned);
            foreach (
                var variable in owned
                    .Where(v => v.Causality == Causality.Output)
                    .Concat(
                        parts[id]
                            .Ports.SelectMany(p => new[] { p.Potential, p.Flow })
                            .OfType<string>()
                            .Select(key => prepared.Model.Find(part.Name + key[id.Length..]))
                            .OfType<FlatVariable>()
                    )
            )
                signals[$"{id}.{variable.Name[(part.Name.Length + 1)..]}"] = Signal(
                    variable,
                    document.Signals.GetValueOrDefault($"{id}.{variable.Name[(part.Name.Length + 1)..]}")
                );
        }

        var shared = byOwner[""].Where(v => v.Role == VariableRole.Parameter).ToDictionary(v => v.Name, v => Parameter(v, true));
        var findings = prepared.Findings.Select(Finding).ToList();
        var settings = SettingsProblem();
        if (settings is not null)
            findings.Insert(0, settings);
        var unknowns = prepared.Model.Variables.Count(v => v.Role is VariableRole.Continuous or VariableRole.Discrete && v.Derivative < 0);
        return new ModelView(
            revision,
            resultsRevision,
            canUndo,
            canRedo,
            prepared.CanRun && settings is null,
            parts,
            signals,
            shared,
            findings,
            prepared.Model.Equations.Count,
            unknowns,
            [.. catalog.Parts.TakeWhile(p => PartCatalog.Standard.Find(p.Name) is null || document.Classes.ContainsKey(p.Name))]
        );
    }

    PartView Part(string id, PartNode part, List<FlatVariable> owned)
    {
        var description = catalog.Describe(part.Type);
        var flags = owned
            .Where(v => v.Role == VariableRole.Parameter)
            .ToDictionary(v => v.Name[(part.Name.Length + 1)..], v => values[v.Index]);
        var ports = new List<PortView>();
        foreach (var port in description.Ports)
        {
            var made = port.Domain is null ? owned.Where(v => v.Causality == port.Causality && Stem(v, part) == port.Name).ToList() : [];
            if (port.IsVector)
            {
                ports.Add(
                    new PortView(
                        port.Name,
                        port.Description,
                        port.Causality == Causality.Input,
                        port.Side,
                        "vector",
                        null,
                        null,
                        null,
                        null,
                        [.. made.Select(v => $"{id}.{v.Name[(part.Name.Length + 1)..]}")]
                    )
                );
                continue;
            }

            IEnumerable<string> names =
                made.Count > 0 ? made.Select(v => v.Name[(part.Name.Length + 1)..])
                : port.IsArray ? [port.Name + "[1]"]
                : [port.Name];
            foreach (var name in names)
            {
                if (port.Optional is { } flag && flags.GetValueOrDefault(flag) == 0 && !wired.Contains((id, name)))
                    continue;
                ports.Add(
                    new PortView(
                        name,
                        port.Description,
                        port.Causality == Causality.Input,
                        port.Side,
                        port.Type switch
                        {
                            "Boolean" => "boolean",
                            "Bundle" => "bundle",
                            _ => "real",
                        },
                        Sign(part.Type, name, flags),
                        port.Domain,
                        port.Potential is null ? null : $"{id}.{name}.{port.Potential}",
                        port.Flow is null ? null : $"{id}.{name}.{port.Flow}",
                        null
                    )
                );
            }
        }

        var height = description.HeightWith(ports.Count(p => p.Side == "left"), ports.Count(p => p.Side == "right"));
        var shown = description.Parameters.ToDictionary(
            p => p.Name,
            p =>
            {
                var variable = owned.FirstOrDefault(v => v.Name == $"{part.Name}.{p.Name}");
                var visible = p.ShownWhen is null || IsShown(p.ShownWhen, description, flags);
                return variable is null ? new ParameterView(null, p.Unit, visible, null) : Parameter(variable, visible);
            }
        );
        return new PartView(
            Face(description, part),
            description.Width,
            height,
            description.Shape ?? "plate",
            description.Symbol,
            ports,
            shown,
            Curve(description, part, owned),
            null
        );
    }

    /// <summary>A part that joins signals to a bundle or picks them: its ports are the members it shows.</summary>
    PartView Bundle(string id, PartNode part, ClassDefinition definition, Dictionary<string, SignalView> signals)
    {
        var description = catalog.Describe(part.Type);
        var joins = BundlePart.Joins(definition);
        var held = prepared.Model.Bundles.GetValueOrDefault(part.Name) ?? [];
        IReadOnlyList<string> Keys(string prefix)
        {
            var keys = new List<string>();
            foreach (
                var (name, index) in held.Where(m =>
                        m.Kind != "bundle"
                        && (prefix.Length == 0 || m.Path == prefix || m.Path.StartsWith(prefix + ".", StringComparison.Ordinal))
                    )
                    .SelectMany(m => prepared.Model.SignalsOf($"{part.Name}.{m.Path}"))
            )
            {
                var key = $"{id}.{name[(part.Name.Length + 1)..]}";
                keys.Add(key);
                var variable = prepared.Model.Variables[index];
                signals[key] = Signal(variable, document.Signals.GetValueOrDefault(key)) with
                {
                    Label = document.Signals.GetValueOrDefault(key)?.Name is { Length: > 0 } own ? own : name,
                };
            }

            return keys;
        }

        var ports = new List<PortView>();
        foreach (var name in BundlePart.Members(part, definition))
        {
            var kind = joins ? "any" : held.FirstOrDefault(m => m.Path == name)?.Kind ?? "real";
            ports.Add(
                new PortView(
                    name,
                    $"Member {name}",
                    joins,
                    joins ? "left" : "right",
                    kind,
                    null,
                    null,
                    null,
                    null,
                    kind is "vector" or "bundle" ? Keys(name) : null
                )
            );
        }

        ports.Add(
            new PortView(BundlePart.Whole, "All members", !joins, joins ? "right" : "left", "bundle", null, null, null, null, Keys(""))
        );
        var (width, height) = BundlePart.Size(part, definition);
        return new PartView(
            "",
            width,
            height,
            "bar",
            null,
            ports,
            new Dictionary<string, ParameterView>(),
            null,
            joins ? null : [.. held.Select(m => m.Path)]
        );
    }

    CurveView? Curve(PartDescription description, PartNode part, List<FlatVariable> owned)
    {
        if (description.Plot is not [var x, var y])
            return null;
        double[] Values(string name) =>
            [.. owned.Where(v => v.Role == VariableRole.Parameter && Stem(v, part) == name).Select(v => values[v.Index])];
        var (xs, ys) = (Values(x), Values(y));
        return xs.Length > 1 && xs.Length == ys.Length && xs.Concat(ys).All(double.IsFinite) ? new CurveView(xs, ys) : null;
    }

    static string Stem(FlatVariable variable, PartNode part)
    {
        var name = variable.Name[(part.Name.Length + 1)..];
        var bracket = name.IndexOf('[', StringComparison.Ordinal);
        return bracket < 0 ? name : name[..bracket];
    }

    static string? Sign(string type, string port, Dictionary<string, double> flags)
    {
        var list = type switch
        {
            "Sum" => "signs",
            "Product" => "powers",
            _ => null,
        };
        if (list is null || !port.StartsWith("u[", StringComparison.Ordinal) || !flags.TryGetValue(list + port[1..], out var factor))
            return null;
        return (type, factor) switch
        {
            ("Sum", 1) => "+",
            ("Sum", -1) => "−",
            ("Product", >= 0) => "×",
            ("Product", < 0) => "÷",
            _ => factor.ToString("G3", System.Globalization.CultureInfo.InvariantCulture),
        };
    }

    /// <summary>Conditions such as "limited" or "form == PD or form == PID" over the part's own parameters.</summary>
    static bool IsShown(string condition, PartDescription description, Dictionary<string, double> flags) =>
        condition
            .Split(" or ")
            .Any(term =>
            {
                var sides = term.Split(" == ");
                var value = flags.GetValueOrDefault(sides[0].Trim());
                if (sides.Length == 1)
                    return value != 0;
                var choices = description.Parameters.FirstOrDefault(p => p.Name == sides[0].Trim())?.Choices;
                return choices is not null && value >= 1 && value <= choices.Count && choices[(int)value - 1].Name == sides[1].Trim();
            });

    ParameterView Parameter(FlatVariable variable, bool shown)
    {
        var number = values[variable.Index];
        var unit = variable.Unit?.Symbol ?? (prepared.Dimensions[variable.Index] is { IsNone: false } d ? UnitOf(d) : null);
        string? display = null;
        if (
            variable is { DisplayUnit: { } symbol, Unit: { } own }
            && double.IsFinite(number)
            && Unit.TryParse(symbol, out var read, out _)
            && read.Fits(own)
            && read.Symbol != own.Symbol
        )
            display =
                $"{own.ConvertTo(read, number).ToString("G5", System.Globalization.CultureInfo.InvariantCulture)} {Unit.Pretty(symbol)}";
        return new ParameterView(double.IsFinite(number) ? number : null, unit, shown, display);
    }

    static string UnitOf(Dimension dimension) => UnitTable.OfDimension(dimension) is [var first, ..] ? first : dimension.ToString();

    SignalView Signal(FlatVariable variable, SignalNode? node)
    {
        var place = prepared.Compiled is { } c ? c.Plan.Representative[variable.Index] : variable.Index;
        var dimension = prepared.Dimensions[variable.Index] ?? prepared.Dimensions[place];
        var coherent = variable.Unit ?? (dimension is { IsNone: false } d && Unit.TryParse(UnitOf(d), out var found, out _) ? found : null);
        var label = node?.Name is { Length: > 0 } name ? name : variable.Name;
        if (
            variable.DisplayUnit is { } symbol
            && Unit.TryParse(symbol, out var display, out _)
            && coherent is not null
            && display.Fits(coherent)
        )
        {
            var (scale, shift) = coherent.ConversionTo(display);
            return new SignalView(variable.Name, label, Unit.Pretty(symbol), scale, shift, false);
        }

        return new SignalView(
            variable.Name,
            label,
            coherent is null ? "" : Unit.Pretty(coherent.Symbol),
            1,
            0,
            variable.Type == ScalarType.Boolean
        );
    }

    /// <summary>Letters of a value with its unit that a face has room for.</summary>
    const int LongestFace = 10;

    /// <summary>The part's face with the values typed for its parameters, or their symbols where those are long.</summary>
    static string Face(PartDescription description, PartNode part) =>
        System.Text.RegularExpressions.Regex.Replace(description.Face, "<<(.+?)>>", match =>
        {
            var parameter = description.Parameters.FirstOrDefault(p => p.Name == match.Groups[1].Value);
            if (parameter is null)
                return match.Groups[1].Value;
            var text = part.Parameters.GetValueOrDefault(parameter.Name, parameter.Default);
            if (parameter.Choices is { } choices)
                return (
                    choices.FirstOrDefault(c => c.Value == text) is { } choice
                        ? description.Name is "Compare" or "Extremum" or "Logic" && choice.Description is { } words
                            ? words
                            : choice.Name
                        : text
                ).Replace("_", " ", StringComparison.Ordinal);
            try
            {
                var expression = Parser.ParseField(text);
                if (parameter.Unit is not null && expression is NumberLiteral)
                    return EquationMath.Print(expression);
                return text.Length > (parameter.Type == "Formula" ? 24 : 8) && expression is not Quantity
                        ? EquationMath.Name(parameter.Name)
                    : expression is not Quantity q ? EquationMath.Print(expression)
                    : !double.IsNaN(Converted(q, parameter.Unit))
                        ? Converted(q, parameter.Unit).ToString("G4", System.Globalization.CultureInfo.InvariantCulture)
                    : text.Length <= LongestFace ? EquationMath.Print(expression)
                    // The unit stands in the inspector; a face is better short than cut.
                    : q.Value is NumberLiteral ? EquationMath.Print(q.Value)
                    : EquationMath.Name(parameter.Name);
            }
            catch (LanguageException)
            {
                return "?";
            }
        });

    static double Converted(Quantity q, string? unit) =>
        q.Value is NumberLiteral n && unit is not null && Unit.TryParse(unit, out var declared, out _) && declared.Fits(q.Unit)
            ? q.Unit.ConvertTo(declared, n.Value)
            : double.NaN;

    FindingView Finding(Finding finding)
    {
        var id = prepared.PartIds.GetValueOrDefault(finding.Part) ?? (document.Parts.ContainsKey(finding.Part) ? finding.Part : null);
        return new FindingView(
            finding.Severity.ToString().ToLowerInvariant(),
            finding.Code,
            finding.Message,
            id,
            id is null ? null : document.Parts[id].Name,
            finding.Item,
            finding.Suggestion,
            finding.Fix,
            FindingHelp.Of(finding.Code)
        );
    }
}
