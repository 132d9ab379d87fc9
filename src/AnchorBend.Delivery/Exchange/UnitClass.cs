using System.Globalization;
using System.Text;
using AnchorBend.Language.Syntax;
using AnchorBend.Language.Units;
using AnchorBend.Modeling.Documents;

namespace AnchorBend.Delivery.Exchange;

/// <summary>The class of an exchange unit: its ports and parameters, and calls of it.</summary>
public static partial class UnitClass
{
    /// <summary>Between two communication points where the unit proposes nothing, s.</summary>
    const double UsualStep = 0.01;

    /// <summary>A part's definition that the unit computes.</summary>
    /// <param name="name">Of the class; a plain identifier.</param>
    public static TextDefinition Of(UnitArchive archive, string name) =>
        new()
        {
            Name = name,
            Description = archive.Description.Description.Length > 0 ? archive.Description.Description : null,
            Text = Text(archive.Description, name),
            Unit = archive.Hash,
        };

    internal static string Text(UnitDescription unit, string name)
    {
        var text = new StringBuilder();
        void Line(FormattableString line) => text.Append(FormattableString.Invariant(line)).Append('\n');
        var names = Names(unit);
        var (parameters, inputs, outputs) = (Of(UnitRole.Parameter), Of(UnitRole.Input), Of(UnitRole.Output));
        List<(UnitVariable Variable, string Name)> Of(UnitRole role) => [.. unit.Of(role).Select(v => (v, names[v]))];
        Line($"block {name} \"{Quoted(unit.Description.Length > 0 ? unit.Description : unit.Name)}\"");
        foreach (var (v, own) in inputs)
            Line($"  input {Type(v)} {own}{UnitOf(v)} \"{About(v)}\";");
        foreach (var (v, own) in outputs)
            Line($"  output {Type(v)} {own}{UnitOf(v)} \"{About(v)}\";");
        foreach (var (v, own) in parameters)
            Line($"  parameter {Type(v)} {own}{UnitOf(v)} = {Start(v)} \"{About(v)}\";");
        var offsets = Offsets(unit)
            .ToDictionary(o => o.Variable, o => o.Name, ReferenceEqualityComparer.Instance as IEqualityComparer<UnitVariable>);
        if (unit.Flow is { } flow)
        {
            text.Append(Integrated(unit, flow, names, offsets));
            Line($"  annotation(__AnchorBend(group = \"Exchange units\", symbol = \"unit\", help = \"{Quoted(Help(unit))}\"));");
            Line($"end {name};");
            return text.ToString();
        }

        Line($"  parameter Real step(unit = \"s\", min = 1e-9) = {unit.Step ?? UsualStep:R} \"Time between two communication points\";");
        Line($"  parameter Boolean before = false \"Outputs are given before inputs are read\";");
        Line($"protected");
        Line($"  parameter Real {UnitParts.Number} = 0 \"Number of the unit\";");
        Declare(text, offsets);
        Line($"  Real set(start = 0) \"When parameters were given\";");
        Line($"  Real done(start = 0) \"When the unit has gone on\";");
        Line($"  Real given(start = 0) \"When inputs were given\";");
        for (var i = 0; i < outputs.Count; i++)
            Line($"  {Type(outputs[i].Variable)} held_{i + 1};");
        Line($"equation");
        Line($"  when sample(0, step) then");
        Line($"    set = {Put(parameters, 0, "time", offsets)};");
        Line($"    done = outsideStep({UnitParts.Number}, time, set);");
        Line($"    given = {Put(inputs, parameters.Count, "done", offsets)};");
        for (var i = 0; i < outputs.Count; i++)
        {
            var variable = outputs[i].Variable;
            var made = FormattableString.Invariant($"outsideGet({UnitParts.Number}, {i}, {(variable.IsDirect ? "given" : "done")})");
            Line($"    held_{i + 1} = {Read(variable, made, offsets.GetValueOrDefault(variable))};");
        }

        Line($"  end when;");
        Line($"  if before then");
        for (var i = 0; i < outputs.Count; i++)
            Line($"    {outputs[i].Name} = pre(held_{i + 1});");
        Line($"  else");
        for (var i = 0; i < outputs.Count; i++)
            Line($"    {outputs[i].Name} = held_{i + 1};");
        Line($"  end if;");
        Line($"  annotation(__AnchorBend(group = \"Exchange units\", symbol = \"unit\", help = \"{Quoted(Help(unit))}\"));");
        Line($"end {name};");
        return text.ToString();
    }

    static string Help(UnitDescription unit)
    {
        var maker = unit.Tool.Length > 0 ? $", made by {unit.Tool}" : "";
        var (kind, how) = unit.Flow is null
            ? (
                "co-simulation",
                "It runs in a process of its own and steps by itself; inputs and outputs are held between communication points. "
                    + "Where its outputs lead to its inputs within one instant, let outputs be given before inputs are read."
            )
            : (
                "model exchange",
                "It computes slopes and decides in a process of its own; its states are integrated with those of the model, "
                    + "and its events are found."
            );
        var help = $"An exchange unit by the open standard FMI {(unit.IsThird ? "3.0" : "2.0")}, for {kind}{maker}. {how}";
        return unit.Left.Count == 0 ? help : $"{help} Left out, as they are no single numbers: {string.Join(", ", unit.Left.Take(20))}.";
    }

    static void Declare(StringBuilder text, Dictionary<UnitVariable, string> offsets)
    {
        foreach (var (variable, name) in offsets)
        {
            var (scale, where) = (variable.Scale!, $"Where {Quoted(variable.Unit)} begins");
            text.Append(
                FormattableString.Invariant($"  parameter Real {name}(unit = \"{Quoted(scale.Symbol)}\") = {scale.Offset:R} \"{where}\";\n")
            );
        }
    }

    static string Put(
        List<(UnitVariable Variable, string Name)> variables,
        int from,
        string order,
        Dictionary<UnitVariable, string> offsets
    )
    {
        for (var i = 0; i < variables.Count; i++)
        {
            var (variable, name) = variables[i];
            var value = Given(variable, name, offsets.GetValueOrDefault(variable));
            order = FormattableString.Invariant($"outsidePut({UnitParts.Number}, {from + i}, {value}, {order})");
        }

        return order;
    }

    static string Type(UnitVariable v) =>
        v.IsBoolean ? "Boolean"
        : v.IsReal ? "Real"
        : "Integer";

    static string Start(UnitVariable v) =>
        v.IsBoolean
            ? v.Start is > 0
                ? "true"
                : "false"
            : v.IsReal
                ? ((v.Start ?? 0) * (v.Scale?.Factor ?? 1) + (v.Scale?.Offset ?? 0)).ToString("R", CultureInfo.InvariantCulture)
                : Math.Round(v.Start ?? 0).ToString("F0", CultureInfo.InvariantCulture);

    /// <summary>A part reckons in coherent units; what it is called in the exchange unit is how it is shown.</summary>
    static string UnitOf(UnitVariable v) =>
        v.Scale is not { } scale ? ""
        : scale.IsOne || !Unit.TryParse(v.Unit, out _, out _) ? $"(unit = \"{Quoted(scale.Symbol)}\")"
        : $"(unit = \"{Quoted(scale.Symbol)}\", displayUnit = \"{Quoted(v.Unit)}\")";

    /// <summary>A unit that is not known here stands in the description alone.</summary>
    static string About(UnitVariable v)
    {
        var about = v.Description.Length > 0 ? v.Description : v.Name;
        return Quoted(!v.IsReal || v.Scale is not null || v.Unit is "" or "1" ? about : $"{about}, in {v.Unit}");
    }

    /// <summary>Offsets of units such as degrees Celsius, by which the class reckons.</summary>
    static IEnumerable<(UnitVariable Variable, string Name)> Offsets(UnitDescription unit) =>
        unit.Variables.Where(v => v.Scale is { Offset: not 0 }).Select((v, i) => (v, FormattableString.Invariant($"offset_{i + 1}")));

    /// <summary>What the unit is given for a variable of the class.</summary>
    static string Given(UnitVariable v, string name, string? offset)
    {
        if (v.IsBoolean)
            return $"(if {name} then 1 else 0)";
        var moved = offset is null ? name : $"({name} - {offset})";
        return v.Scale is { Factor: not 1 and var factor } ? FormattableString.Invariant($"{moved} / {factor:R}") : moved;
    }

    /// <summary>What the class reads of it.</summary>
    static string Read(UnitVariable v, string value, string? offset)
    {
        if (!v.IsReal)
            return v.IsBoolean ? $"{value} > 0.5" : $"integer({value} + 0.5)";
        var scaled = v.Scale is { Factor: not 1 and var factor } ? FormattableString.Invariant($"{factor:R} * {value}") : value;
        return offset is null ? scaled : $"{scaled} + {offset}";
    }

    static string Quoted(string words) =>
        new string([.. words.Where(c => !char.IsControl(c)).Take(500)])
            .Replace("\\", "\\\\", StringComparison.Ordinal)
            .Replace("\"", "\\\"", StringComparison.Ordinal);

    /// <summary>What the class calls its own numbered variables.</summary>
    static readonly string[] OwnBeginnings = ["held_", "state_", "above_", "offset_"];

    /// <summary>Names of ports and parameters: as in the unit, with plain letters for what has none.</summary>
    static Dictionary<UnitVariable, string> Names(UnitDescription unit)
    {
        HashSet<string> taken = ["step", "before", "set", "done", "given", "made", "next", "time", UnitParts.Number];
        var names = new Dictionary<UnitVariable, string>(ReferenceEqualityComparer.Instance);
        foreach (var variable in unit.Variables)
        {
            var plain = Plain(variable.Name);
            if (OwnBeginnings.Any(b => plain.StartsWith(b, StringComparison.Ordinal)))
                plain = "v_" + plain;
            var name = plain;
            for (var i = 2; !taken.Add(name); i++)
                name = FormattableString.Invariant($"{plain}_{i}_");
            names[variable] = name;
        }

        return names;
    }

    /// <summary>A plain identifier that says the same.</summary>
    public static string Plain(string name)
    {
        var text = new string([.. name.Take(100).Select(c => char.IsAsciiLetterOrDigit(c) ? c : '_')]).Trim('_');
        if (text.Length == 0 || !char.IsAsciiLetter(text[0]))
            text = "v" + text;
        return Lexer.IsPlainIdentifier(text) ? text : text + "_";
    }
}
