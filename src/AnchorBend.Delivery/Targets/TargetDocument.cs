using System.Globalization;
using System.Text;
using AnchorBend.Compiler.Preparation;
using AnchorBend.Language.Binding;
using AnchorBend.Language.Syntax;
using AnchorBend.Modeling.Catalog;
using AnchorBend.Modeling.Documents;

namespace AnchorBend.Delivery.Targets;

/// <param name="ReadsBefore">Whether the code's inputs are read before its outputs are given, as these lead to those within one
/// instant.</param>
public sealed record JoinedModel(ModelDocument Document, PreparedModel Prepared, bool ReadsBefore);

/// <summary>A model in which a part's code on a target stands for the part: sampled at the code's steps, held in between.</summary>
public static class TargetDocument
{
    /// <summary>What the class is called that stands for the part.</summary>
    const string Class = "CodeOnTarget";

    /// <summary>By which equations call the target of a run; no unit that is offered to all runs has it.</summary>
    public const long Number = 1;

    /// <summary>Whether code has a part's place in a model.</summary>
    public static bool IsJoined(ModelDocument document) => document.Definitions.Values.Any(d => d is TextDefinition { Name: Class });

    /// <summary>Parameter of the part by which another unit gets the plant: its number, from 1.</summary>
    public const string Active = "target_unit";

    /// <param name="part">By ids from the root.</param>
    /// <exception cref="DeliveryException">The part's ports have no simple names, or it is there more than once.</exception>
    public static JoinedModel Of(
        PreparedModel whole,
        ModelDocument document,
        Func<ModelDocument, PartCatalog> catalog,
        string part,
        Target target
    )
    {
        var joined = Joined(whole, document, part, target, false);
        var prepared = DocumentPreparation.Prepare(joined, catalog(joined));
        // Where an output leads to an input within one instant, the input is read before the output is given.
        var readsBefore = prepared.Findings.Any(f => f.Code == "discrete-loop");
        if (readsBefore)
        {
            joined = Joined(whole, document, part, target, true);
            prepared = DocumentPreparation.Prepare(joined, catalog(joined));
        }

        if (prepared.CanRun)
            return new JoinedModel(joined, prepared, readsBefore);
        var wrong = prepared.Findings.First(f => f.Severity == Modeling.Severity.Error);
        throw new DeliveryException(
            "joined",
            $"The model does not run with the code in it: {wrong.Message}",
            "Mend what is found in the model, or deliver another part."
        );
    }

    static ModelDocument Joined(PreparedModel whole, ModelDocument document, string part, Target target, bool readsBefore)
    {
        var place = whole.Map.Find(part) ?? whole.Map.Parts.First(p => p.Path.ToString() == part);
        var alike = whole.Map.Parts.Count(p => p.Definition == place.Definition && p.Path.Id == place.Path.Id);
        if (alike > 1)
            throw new DeliveryException(
                "linked",
                $"'{place.Node.Name}' is in the model {alike} times, as its level is used so often.",
                "Make the level that it is in independent where it runs on the target."
            );
        var (definition, diagram) = document.Level(place.Path.Above)!.Value;
        var key = "target";
        while (document.Definitions.ContainsKey(key))
            key += "t";
        var parameters = new Dictionary<string, string>
        {
            ["target_number"] = Number.ToString(CultureInfo.InvariantCulture),
            [Active] = "1",
        };
        foreach (var name in target.Parameters)
            if (place.Node.Parameters.TryGetValue(name, out var value))
                parameters[name] = value;
            else if (IsKnownAbove(document, place.Path, name))
                parameters[name] = ExpressionText.Name(name);
        var node = place.Node with { Type = DefinitionReference.OfOwn(key), Parameters = parameters };
        return document with
        {
            Definitions = new(document.Definitions)
            {
                [key] = new TextDefinition { Name = Class, Text = Text(target, readsBefore) },
                [definition] = diagram with { Parts = new(diagram.Parts) { [place.Path.Id] = node } },
            },
        };
    }

    /// <summary>Whether a level around a part, or a sheet, declares a name: the code's parameter follows it.</summary>
    static bool IsKnownAbove(ModelDocument document, PartPath part, string name)
    {
        for (var level = part.Above; ; level = level.Above)
        {
            if (document.Level(level)?.Diagram.Parameters.ContainsKey(name) == true)
                return true;
            if (level.IsRoot)
                return document.Sheets.Values.Any(s => s.Rows.Values.Any(r => r.Name == name));
        }
    }

    static string Text(Target target, bool readsBefore)
    {
        var text = new StringBuilder($"block {Class} \"Code on the target\"\n");
        var unit = target.Units[0];
        Ports(text, "input", unit.Inputs);
        Ports(text, "output", unit.Outputs);
        void Line(FormattableString line) => text.Append(FormattableString.Invariant(line)).Append('\n');
        Line($"  parameter Real target_number = 0 \"Number of the target\";");
        Line($"  parameter Real {Active} = 1 \"Number of the unit that has the plant\";");
        foreach (var name in target.Parameters)
        {
            var first = target.Units.First(u => u.Tunable.Any(t => t.Name == name));
            var variable = first.Tunable.First(t => t.Name == name).Variable;
            var value = first.Parameters.Values[variable.Index];
            Line($"  parameter Real {name}{UnitOf(variable)} = {value:R} \"{Quoted(variable.Description)}\";");
        }

        Line($"protected");
        Line($"  Real target_given(start = 0) \"What all inputs have led to\";");
        Line($"  Real target_done(start = 0) \"When the code has stepped\";");
        for (var i = 0; readsBefore && i < unit.Outputs.Count; i++)
            Line($"  {TypeOf(unit.Outputs[i])} target_held_{i + 1};");
        text.Append("equation\n");
        Line($"  when sample(0, {unit.Request.Step:R}) then");
        var order = $"outsidePut(target_number, 0, {Active}, time)";
        var at = 1;
        foreach (var input in unit.Inputs)
        {
            var value = input.Variable.Type == ScalarType.Boolean ? $"if {input.Name} then 1 else 0" : input.Name;
            order = FormattableString.Invariant($"outsidePut(target_number, {at++}, {value}, {order})");
        }

        foreach (var name in target.Parameters)
            order = FormattableString.Invariant($"outsidePut(target_number, {at++}, {name}, {order})");
        Line($"    target_given = {order};");
        Line($"    target_done = outsideStep(target_number, time, target_given);");
        var handed = new StringBuilder();
        for (var i = 0; i < unit.Outputs.Count; i++)
        {
            var made = FormattableString.Invariant($"outsideGet(target_number, {i}, target_done)");
            var held = FormattableString.Invariant($"target_held_{i + 1}");
            Line(
                $"    {(readsBefore ? held : unit.Outputs[i].Name)} = {unit.Outputs[i].Variable.Type switch
                {
                    ScalarType.Boolean => $"{made} > 0.5",
                    ScalarType.Real => made,
                    _ => $"integer({made} + 0.5)",
                }};"
            );
            if (readsBefore)
                handed.Append(CultureInfo.InvariantCulture, $"  {unit.Outputs[i].Name} = pre({held});\n");
        }

        text.Append("  end when;\n").Append(handed);
        text.Append($"end {Class};\n");
        return text.ToString();
    }

    static string TypeOf(CodePort port) =>
        port.Variable.Type switch
        {
            ScalarType.Boolean => "Boolean",
            ScalarType.Real => "Real",
            _ => "Integer",
        };

    static string Quoted(string? words) =>
        (words ?? "").Replace("\\", "\\\\", StringComparison.Ordinal).Replace("\"", "\\\"", StringComparison.Ordinal);

    static string UnitOf(Modeling.Flat.FlatVariable variable, string each = "") =>
        variable.Unit is { Symbol: { Length: > 0 } symbol } && symbol != "1" ? $"({each}unit = \"{symbol}\")" : "";

    /// <summary>Elements of a vector or matrix are told together.</summary>
    static void Ports(StringBuilder text, string causality, IReadOnlyList<CodePort> ports)
    {
        foreach (var group in ports.GroupBy(p => p.Name.Split('[')[0]))
        {
            if (!Lexer.IsPlainIdentifier(group.Key))
                throw new DeliveryException(
                    "ports",
                    $"'{group.Key}' cannot be joined to a target.",
                    "Deliver a part whose inputs and outputs are signals and vectors of signals."
                );
            var first = group.First();
            var type = TypeOf(first);
            var size = "";
            if (group.Last().Name is var last && last.IndexOf('[') is >= 0 and var from)
                size = last[from..];
            text.Append("  ").Append(causality).Append(' ').Append(type).Append(' ').Append(group.Key).Append(size);
            if (type == "Real")
                text.Append(UnitOf(first.Variable, size.Length > 0 ? "each " : ""));
            text.Append($" \"{Quoted(first.Variable.Description)}\";\n");
        }
    }
}
