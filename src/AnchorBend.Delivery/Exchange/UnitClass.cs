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
        if (unit.Flow is { } flow)
        {
            text.Append(Integrated(unit, flow, names));
            Line($"  annotation(__AnchorBend(group = \"Exchange units\", symbol = \"unit\", help = \"{Quoted(Help(unit))}\"));");
            Line($"end {name};");
            return text.ToString();
        }

        Line($"  parameter Real step(unit = \"s\", min = 1e-9) = {unit.Step ?? UsualStep:R} \"Time between two communication points\";");
        Line($"  parameter Boolean before = false \"Outputs are given before inputs are read\";");
        Line($"protected");
        Line($"  parameter Real {UnitParts.Number} = 0 \"Number of the unit\";");
        Line($"  Real set(start = 0) \"When parameters were given\";");
        Line($"  Real done(start = 0) \"When the unit has gone on\";");
        Line($"  Real given(start = 0) \"When inputs were given\";");
        for (var i = 0; i < outputs.Count; i++)
            Line($"  {Type(outputs[i].Variable)} held_{i + 1};");
        Line($"equation");
        Line($"  when sample(0, step) then");
        Line($"    set = {Put(parameters, 0, "time")};");
        Line($"    done = outsideStep({UnitParts.Number}, time, set);");
        Line($"    given = {Put(inputs, parameters.Count, "done")};");
        for (var i = 0; i < outputs.Count; i++)
        {
            var variable = outputs[i].Variable;
            var made = FormattableString.Invariant($"outsideGet({UnitParts.Number}, {i}, {(variable.IsDirect ? "given" : "done")})");
            Line($"    held_{i + 1} = {Read(variable, made)};");
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

    static string Put(List<(UnitVariable Variable, string Name)> variables, int from, string order)
    {
        for (var i = 0; i < variables.Count; i++)
        {
            var (variable, name) = variables[i];
            var value = variable.IsBoolean ? $"(if {name} then 1 else 0)" : name;
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
                ? (v.Start ?? 0).ToString("R", CultureInfo.InvariantCulture)
                : Math.Round(v.Start ?? 0).ToString("F0", CultureInfo.InvariantCulture);

    /// <summary>A unit that is not known here stands in the description alone.</summary>
    static string UnitOf(UnitVariable v) =>
        v.IsReal && v.Unit.Length > 0 && Unit.TryParse(v.Unit, out var unit, out _) && unit is { Factor: 1, Offset: 0 }
            ? $"(unit = \"{Quoted(v.Unit)}\")"
            : "";

    static string About(UnitVariable v)
    {
        var isKnown = UnitOf(v).Length > 0 || v.Unit is "" or "1";
        var about = v.Description.Length > 0 ? v.Description : v.Name;
        return Quoted(isKnown || !v.IsReal ? about : $"{about}, in {v.Unit}");
    }

    static string Quoted(string words) =>
        new string([.. words.Where(c => !char.IsControl(c)).Take(500)])
            .Replace("\\", "\\\\", StringComparison.Ordinal)
            .Replace("\"", "\\\"", StringComparison.Ordinal);

    /// <summary>What the class calls its own numbered variables.</summary>
    static readonly string[] OwnBeginnings = ["held_", "state_", "above_"];

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
