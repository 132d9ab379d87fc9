using AnchorBend.Compiler.Preparation;
using AnchorBend.Language.Syntax;
using AnchorBend.Modeling.Catalog;
using AnchorBend.Modeling.Documents;
using AnchorBend.Modeling.Flat;

namespace AnchorBend.Workbench.Views;

/// <summary>Makes the view of one placed part: its ports as the wires and parameters ask for them, its face, its parameters'
/// values.</summary>
/// <param name="name">The part's path in the flat model.</param>
sealed class PartViewBuilder(
    PreparedModel prepared,
    PartCatalog catalog,
    VariableViews variables,
    double[] values,
    string definition,
    string id,
    PartNode part,
    string name
)
{
    readonly List<FlatVariable> owned = [.. prepared.OwnedBy(name)];

    /// <summary>Of an array whose size is only typed.</summary>
    const int MostPorts = 200;

    /// <param name="wired">Ports of this part that wires end at.</param>
    public PartView Part(IReadOnlySet<string> wired)
    {
        var description = PortPart.Placed(catalog.Describe(part.Type), part);
        var own = owned.ToDictionary(v => v.Name[(name.Length + 1)..]);
        var flags = own.Where(v => v.Value.Role == VariableRole.Parameter).ToDictionary(v => v.Key, v => values[v.Value.Index]);
        var ports = description.Ports.SelectMany(p => Ports(p, description, flags, wired)).ToList();
        var height = description.HeightWith(ports.Count(p => p.Side == "left"), ports.Count(p => p.Side == "right"));
        var size = part.Turned((description.Width, height));
        var shown = description.Parameters.ToDictionary(
            p => p.Name,
            p =>
            {
                var visible = p.ShownWhen is null || IsShown(p.ShownWhen, description, flags);
                return own.TryGetValue(p.Name, out var variable)
                    ? variables.Parameter(variable, visible)
                    : new ParameterView(null, p.UnitText, visible, null);
            }
        );
        return new PartView(
            FaceText.Of(description, part),
            size.Width,
            size.Height,
            description.Shape ?? "plate",
            description.Symbol,
            FaceText.Drawing(description, part),
            null,
            ports,
            shown,
            Curve(description),
            null,
            Terms(description) is { } terms ? [new ActionView("Add an input", Set(terms.Name, terms.List.WithOneMore()))] : []
        )
        {
            Derived = [.. description.Traits.Derived.Select(Derived).OfType<DerivedView>()],
            Results =
            [
                .. description
                    .Traits.Results.Select(result => Named(result, VariableRole.Continuous, VariableRole.Discrete))
                    .Where(made => made.Count > 0)
                    .Select(made => new ResultView(
                        Stem(made[0]),
                        Short(made[0]),
                        [.. made.Select(v => $"{id}.{v.Name[(name.Length + 1)..]}")]
                    )),
            ],
        };
    }

    /// <summary>What a variable is called where there is little room: its description up to a colon.</summary>
    string Short(FlatVariable variable) => variable.Description?.Split(':')[0] ?? Stem(variable);

    List<FlatVariable> Named(string stem, params VariableRole[] roles) => [.. owned.Where(v => roles.Contains(v.Role) && Stem(v) == stem)];

    DerivedView? Derived(string parameter)
    {
        if (Named(parameter, VariableRole.Parameter) is not [var first, ..] made)
            return null;
        var shown = variables.Signal(first, first.Name, null);
        return new DerivedView(
            parameter,
            Short(first),
            shown.Unit == "1" ? "" : shown.Unit,
            [.. made.Select(v => values[v.Index] * shown.Scale + shown.Shift).Select(x => double.IsFinite(x) ? x : (double?)null)]
        );
    }

    IEnumerable<PortView> Ports(
        PortDescription port,
        PartDescription description,
        Dictionary<string, double> flags,
        IReadOnlySet<string> wired
    )
    {
        List<FlatVariable> made = port.Domain is null ? [.. owned.Where(v => v.Causality == port.Causality && Stem(v) == port.Name)] : [];
        var view = PortKinds.View(port);
        // A part that is left out of the run has no values, but what was typed.
        bool IsShown(string each) =>
            port.Optional is not { } flag
            || wired.Contains(each)
            || (
                flags.TryGetValue(flag, out var value)
                    ? value != 0
                    : (part.Parameters.GetValueOrDefault(flag) ?? description.Default(flag)) == "true"
            );
        if (port.IsVector)
        {
            if (!IsShown(port.Name))
                yield break;
            var cells = port.Potential is null
                ? []
                : Enumerable.Range(1, Math.Min(MostPorts, PortCount.Of(port, Text))).Select(i => $"{port.Name}[{i}]").ToList();
            yield return view with
            {
                Elements = port.Potential is null
                    ? [.. made.Select(v => $"{id}.{v.Name[(name.Length + 1)..]}")]
                    : [.. cells.Select(cell => $"{id}.{cell}.{port.Potential}")],
            };
            // A wire may also lead to one cell alone.
            foreach (var cell in cells.Where(wired.Contains))
                yield return Single(cell);
            yield break;
        }

        string Text(string parameter) => part.Parameters.GetValueOrDefault(parameter) ?? description.Default(parameter);
        PortView Single(string each) =>
            view with
            {
                Name = each,
                Sign = Sign(description.Traits, each, flags),
                Action = TurnSign(description, each),
                Potential = port.Potential is null ? null : $"{id}.{each}.{port.Potential}",
                Flow = port.Flow is null ? null : $"{id}.{each}.{port.Flow}",
                Kind = port.Potential is null ? view.Kind : "real",
            };

        IEnumerable<string> names =
            made.Count > 0 ? made.Select(v => v.Name[(name.Length + 1)..])
            // A part that is left out of the run has its ports as well.
            : port.IsArray ? Enumerable.Range(1, Math.Min(MostPorts, PortCount.Of(port, Text))).Select(i => $"{port.Name}[{i}]")
            : [port.Name];
        foreach (var each in names)
        {
            if (IsShown(each))
                yield return Single(each);
        }
    }

    /// <summary>The list with an entry for each input, where the part has one and it is a plain list.</summary>
    (string Name, TermList List)? Terms(PartDescription description) =>
        description.Traits.Terms is { } list
        && description.Parameters.FirstOrDefault(p => p.Name == list) is { } parameter
        && TermList.Parse(part.Parameters.GetValueOrDefault(list, parameter.Default)) is { } terms
            ? (list, terms)
            : null;

    ActionView? TurnSign(PartDescription description, string port)
    {
        if (Terms(description) is not { } terms || Index(port) is not { } entry || entry >= terms.List.Count)
            return null;
        return new ActionView("Turn the sign", Set(terms.Name, terms.List.Turned(entry)));
    }

    /// <summary>The number of an input among the elements of its array, from zero.</summary>
    static int? Index(string port)
    {
        var bracket = port.IndexOf('[', StringComparison.Ordinal);
        return bracket > 0 && int.TryParse(port.AsSpan(bracket + 1, port.Length - bracket - 2), out var number) ? number - 1 : null;
    }

    List<PatchOperation> Set(string parameter, string text) =>
        [new PatchOperation("add", DocumentPath.Of("definitions", definition, "parts", id, "parameters", parameter), text)];

    CurveView? Curve(PartDescription description)
    {
        if (description.Plot is not [var x, var y])
            return null;
        double[] Values(string array) =>
            [.. owned.Where(v => v.Role == VariableRole.Parameter && Stem(v) == array).Select(v => values[v.Index])];
        var (xs, ys) = (Values(x), Values(y));
        return xs.Length > 1 && xs.Length == ys.Length && xs.Concat(ys).All(double.IsFinite) ? new CurveView(xs, ys) : null;
    }

    string Stem(FlatVariable variable)
    {
        var local = variable.Name[(name.Length + 1)..];
        var bracket = local.IndexOf('[', StringComparison.Ordinal);
        return bracket < 0 ? local : local[..bracket];
    }

    /// <summary>The sign or factor that an input of a sum or product has, from the list that its part declares.</summary>
    static string? Sign(PartTraits traits, string port, Dictionary<string, double> flags)
    {
        var bracket = port.IndexOf('[', StringComparison.Ordinal);
        if (traits.Terms is not { } list || bracket < 0 || !flags.TryGetValue(list + port[bracket..], out var factor))
            return null;
        return (traits.TermStyle, factor) switch
        {
            ("sign", 1) => "+",
            ("sign", -1) => "−",
            ("factor", >= 0) => "×",
            ("factor", < 0) => "÷",
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
}
