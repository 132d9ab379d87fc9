using System.Text;
using System.Text.Json;
using AnchorBend.Language.Syntax;
using AnchorBend.Modeling.Catalog;
using AnchorBend.Modeling.Documents;

namespace AnchorBend.Interchange;

/// <summary>Writes diagrams as classes: parameters, ports and parts with their placements, wires as connections.</summary>
sealed class DiagramWriter(
    StringBuilder text,
    ModelDocument document,
    PartCatalog catalog,
    IReadOnlyDictionary<string, string> classNames,
    bool isPart
)
{
    readonly NamesFromAbove above = new(document);
    readonly ParameterUnits units = new(new NamesFromAbove(document));

    /// <summary>The definition that is being written.</summary>
    string level = "";

    /// <summary>A field of the level as the standard writes it; null where it cannot be read.</summary>
    (string? Value, string? Unit) Standard(string text, string? declared)
    {
        var (value, unit) = TextExport.Standard(text, declared);
        return value is null || ParameterUses.Names(text).Count == 0 || Parser.ParseField(text) is var field && field is Quantity
            ? (value, unit)
            : (ExpressionText.Print(units.Meant(level, field, declared)), null);
    }

    /// <param name="indent">What stands before every line.</param>
    /// <param name="nested">Definitions that are written inside this one.</param>
    public void Write(string id, string indent, IEnumerable<string> nested)
    {
        var diagram = (DiagramDefinition)document.Definitions[id];
        level = id;
        if (diagram.Parts.Values.GroupBy(p => p.Name).FirstOrDefault(g => g.Count() > 1) is { } twice)
            throw new DocumentException($"Two parts are called '{twice.Key}'. Rename one of them; names tell parts apart in a text.");
        var sizes = new PartSizes(diagram, catalog);
        var name = ExpressionText.Name(classNames[id]);
        text.Append(indent).Append("model ").Append(name).Append(TextExport.Described(diagram.Description)).Append('\n');
        var isRoot = indent.Length == 0;
        foreach (var inner in nested)
            Write(inner, indent + "  ", []);
        level = id;
        foreach (var (parameterName, parameter) in diagram.Parameters)
            text.Append(indent).Append("  ").Append(Parameter(above.TypeOf(id, parameterName), parameterName, parameter)).Append(";\n");
        foreach (var handed in above.Of(id).Order(StringComparer.Ordinal))
            text.Append(indent)
                .Append($"  parameter {above.TypeOf(id, handed)} {ExpressionText.Name(handed)} ")
                .Append($"annotation(__AnchorBend({DiagramClass.FromAbove} = true));\n");
        if (id == document.Root)
            foreach (var row in new SheetParameters(new SheetNames(document), above, id, []).All)
                text.Append(indent).Append("  ").Append(OfSheet(row)).Append(";\n");
        var middle = DiagramClass.Middle(diagram);
        // The ports of a part stand on its edge in the order of their declarations.
        foreach (var (partId, part) in isPart && isRoot ? DiagramClass.InPortOrder(diagram, catalog) : diagram.Parts)
            text.Append(indent).Append("  ").Append(Component(partId, part, sizes, id, middle)).Append(";\n");
        if (isPart && isRoot)
            Conditions(diagram);
        var standIns = new StandIns(diagram, catalog).All.Where(s => TextExport.Standard(s.Value, s.Unit).Value is not null).ToList();
        if (standIns.Count > 0)
            text.Append(indent).Append("protected\n");
        foreach (var standIn in standIns)
            text.Append(indent).Append("  ").Append(Component(standIn)).Append(";\n");
        text.Append(indent).Append("equation\n");
        foreach (var connection in standIns.SelectMany(s => s.Connections(diagram, catalog)))
            text.Append(indent)
                .Append($"  connect({ExpressionText.Print(connection.First)}, {ExpressionText.Print(connection.Second)}) ")
                .Append($"annotation(__AnchorBend({DiagramAnnotations.StandIn} = true));\n");
        var loose = new List<string>();
        foreach (var (wireId, wire) in diagram.Wires)
        {
            if (Connection(wireId, wire, diagram, sizes) is { } connection)
                text.Append(indent).Append("  ").Append(connection).Append(";\n");
            else
                loose.Add(TextExport.Entry(wireId, wire));
        }

        text.Append(indent).Append("  annotation(__AnchorBend(\n").Append(indent).Append("    ");
        text.Append(isRoot ? $"format = {TextExport.Quoted(document.Format)}, " : "").Append("id = ").Append(TextExport.Quoted(id));
        if (classNames[id] != diagram.Name)
            text.Append(", name = ").Append(TextExport.Quoted(diagram.Name)).Append(", title = ").Append(TextExport.Quoted(diagram.Name));
        foreach (var look in DiagramAnnotations.Look(catalog.Find(DefinitionReference.OfOwn(id))))
            text.Append(", ").Append(look);
        void List(string list, IEnumerable<string> entries) => TextExport.AppendList(text, indent, list, entries);
        List("signals", diagram.Signals.Select(s => TextExport.Entry(s.Key, s.Value)));
        List("areas", diagram.Areas.Select(a => TextExport.Entry(a.Key, a.Value)));
        List("notes", diagram.Notes.Select(n => TextExport.Entry(n.Key, n.Value)));
        List("looseWires", loose);
        if (diagram.Slot is { } chooser)
            text.Append($", {DiagramAnnotations.Slot} = {TextExport.Quoted(chooser)}");
        if (diagram.Face is { } face)
            List("face", [JsonSerializer.Serialize(face, TextExport.Json)]);
        if (isRoot)
        {
            List("sheets", document.Sheets.Select(s => TextExport.Entry(s.Key, s.Value with { Rows = [] })));
            foreach (var (sheet, node) in document.Sheets)
                List($"rowsOf_{sheet}", node.Rows.Select(r => TextExport.Entry(r.Key, r.Value)));
            List("requirements", document.Requirements.Select(r => TextExport.Entry(r.Key, r.Value)));
            List("measures", document.Measures.Select(m => TextExport.Entry(m.Key, m.Value)));
            List("plotSheets", document.PlotSheets.Select(s => TextExport.Entry(s.Key, s.Value)));
            List("stimuli", document.Stimuli.Select(s => TextExport.Entry(s.Key, s.Value)));
            List("operatingPoints", document.OperatingPoints.Select(p => TextExport.Entry(p.Key, p.Value)));
            List("studies", document.Studies.Select(s => TextExport.Entry(s.Key, s.Value)));
            List("tolerances", document.Tolerances.Select(t => TextExport.Entry(t.Key, t.Value)));
            List("toleranceGroups", document.ToleranceGroups.Select(g => TextExport.Entry(g.Key, g.Value)));
            List("cases", document.Cases.Select(c => TextExport.Entry(c.Key, c.Value)));
            List("caseGroups", document.CaseGroups.Select(g => TextExport.Entry(g.Key, g.Value)));
            List("justifications", document.Justifications.Select(j => TextExport.Entry(j.Key, j.Value)));
            List("faultTrees", document.FaultTrees.Select(t => TextExport.Entry(t.Key, t.Value)));
            List("panels", document.Panels.Select(p => TextExport.Entry(p.Key, p.Value)));
            List("alerts", document.Alerts.Select(a => TextExport.Entry(a.Key, a.Value)));
            List("faults", document.Faults.Select(f => TextExport.Entry(f.Key, f.Value)));
            List("deliveries", document.Deliveries.Select(d => TextExport.Entry(d.Key, d.Value)));
            List("texts", document.Definitions.Where(d => d.Value is not DiagramDefinition).Select(d => $"{d.Key}: {classNames[d.Key]}"));
            List("settings", [JsonSerializer.Serialize(document.Settings, TextExport.Json)]);
        }

        text.Append("));\n").Append(indent).Append("end ").Append(name).Append(";\n");
    }

    /// <summary>When parameters are asked for, as hidden parameters that the model computes for each use.</summary>
    void Conditions(DiagramDefinition diagram)
    {
        var asked = diagram.Parameters.Where(p => TextExport.Standard(p.Value.ShownWhen ?? "", null).Value is { Length: > 0 }).ToList();
        if (asked.Count == 0)
            return;
        text.Append("protected\n");
        foreach (var (name, parameter) in asked)
            text.Append(
                $"  final parameter Boolean {ExpressionText.Name(DiagramAnnotations.Asked(name))} = "
                    + $"{TextExport.Standard(parameter.ShownWhen!, null).Value} "
                    + $"annotation(__AnchorBend({DiagramAnnotations.Condition} = true));\n"
            );
    }

    /// <summary>A parameter that follows from a sheet, which the text holds whole in its annotation.</summary>
    static string OfSheet(ComponentDeclaration row)
    {
        var attributes = row.Modification!.Arguments.Select(a => $"{a.Name} = {Plain(a.Value.Binding!)}").ToList();
        return $"parameter {row.TypeName} {ExpressionText.Name(row.Name)}"
            + (attributes.Count == 0 ? "" : $"({string.Join(", ", attributes)})")
            + $" = {Plain(row.Modification.Binding!)}"
            + TextExport.Described(row.Description)
            + $" annotation(__AnchorBend({DiagramAnnotations.Sheet} = true))";
    }

    static string Plain(Expression value) => TextExport.Standard(ExpressionText.Print(value), null).Value ?? "0";

    string Parameter(string type, string name, ParameterNode parameter)
    {
        var isNumber = type == ParameterTypes.Real;
        var (value, unit) = Standard(parameter.Value, type == ParameterTypes.Real ? parameter.Unit : null);
        unit ??= parameter.Unit;
        var attributes = new List<string>();
        if (isNumber && unit is { Length: > 0 })
            attributes.Add($"unit = {TextExport.Quoted(unit)}");
        foreach (var (attribute, limit) in ((string, string?)[])[("min", parameter.Minimum), ("max", parameter.Maximum)])
            if (isNumber && limit is { Length: > 0 } && Standard(limit, parameter.Unit).Value is { } number)
                attributes.Add($"{attribute} = {number}");
        var own = ExpressionText.Name(name);
        var written =
            $"{(parameter.IsDerived ? "final " : "")}parameter {type} {own}"
            + (attributes.Count == 0 ? "" : $"({string.Join(", ", attributes)})")
            + (value is null ? "" : $" = {value}")
            + TextExport.Described(parameter.Description);
        if (parameter is { Unit: null, Minimum: null, Maximum: null, Group: null, IsDerived: false, Choices: null, ShownWhen: null })
            return value == parameter.Value && unit is null
                ? written
                : $"{written} annotation(__AnchorBend(typed = {TextExport.Quoted(parameter.Value)}))";
        return $"{written} annotation(__AnchorBend(given = {TextExport.Quoted(JsonSerializer.Serialize(parameter, TextExport.Json))}))";
    }

    string Component(string id, PartNode part, PartSizes sizes, string level, double middle)
    {
        var type = catalog.Find(part.Type);
        var (declared, modifications, typed) = PortPart.KindOf(type) is { } kind
            ? Port(part, kind, BundlePart.Is(type) ? BundlePart.ClassOf(part, catalog) : null)
            : Part(part);
        modifications.AddRange(Handed(part, level).Select(n => $"{n} = {n}"));
        var (width, height) = sizes.Of(id);
        var (left, right) = part.Flip ? (part.X + width, part.X) : (part.X, part.X + width);
        var ours =
            $"id = {TextExport.Quoted(id)}"
            + (declared == TypeName(part.Type) || !BundlePart.Is(type) ? "" : $", bundle = {TextExport.Quoted(part.Type)}")
            + (PortPart.KindOf(type) is { } bound ? $", {Edge(part, bound, middle)}" : "")
            + (typed.Count == 0 ? "" : $", typed = {{{string.Join(", ", typed.Select(TextExport.Quoted))}}}")
            + Option(part)
            + (
                part.Shapes is { } shapes
                    ? $", shapes = {{{string.Join(", ", shapes.Select(s => TextExport.Quoted(TextExport.Entry(s.Key, s.Value))))}}}"
                    : ""
            );
        var (top, bottom) = (TextExport.Number(-part.Y), TextExport.Number(-part.Y - height));
        var extent = $"{{{{{TextExport.Number(left)}, {bottom}}}, {{{TextExport.Number(right)}, {top}}}}}";
        var size = PortPart.KindOf(type) is { } port ? PortPart.Declaration(part, port, part.X).Dimensions : [];
        var array = size is [var length] ? $"[{ExpressionText.Print(length)}]" : "";
        var modified = modifications.Count == 0 ? "" : $"({string.Join(", ", modifications)})";
        var condition = Condition(part) is { } written ? $" if {written}" : "";
        return $"{declared} {ExpressionText.Name(part.Name)}{array}{modified}{condition}"
            + $" annotation(Placement(transformation(extent = {extent}{Rotation(part)})), __AnchorBend({ours}))";
    }

    /// <summary>The condition of an option as the language writes it; null for a part that is always there.</summary>
    string? Condition(PartNode part) =>
        part.OnlyWhen is { Length: > 0 } typed && Standard(typed, null).Value is { } condition ? condition : null;

    /// <summary>What is said of an option that its declaration cannot say.</summary>
    string Option(PartNode part) =>
        (part.OnlyWhen is { } typed && typed != Condition(part) ? $", onlyWhen = {TextExport.Quoted(typed)}" : "")
        + (
            part.Otherwise is { } stated
                ? $", otherwise = {{{string.Join(", ", stated.Select(s => TextExport.Quoted($"{s.Key}={s.Value}")))}}}"
                : ""
        );

    /// <summary>What is in the place of an option's output while the option is left out.</summary>
    string Component(StandIns.StandIn standIn)
    {
        var (value, unit) = Standard(standIn.Value, standIn.Unit);
        var declaration = standIn.Declaration(
            Parser.ParseField(standIn.Value),
            standIn.Options.Select(o => Parser.ParseField(o.OnlyWhen!))
        );
        var measured =
            (unit ?? standIn.Unit) is { Length: > 0 } symbol && declaration.TypeName == "StandIn" ? TextExport.Quoted(symbol) : null;
        return $"{declaration.TypeName} {ExpressionText.Name(declaration.Name)}("
            + (measured is null ? $"value = {value}" : $"value(unit = {measured}) = {value}, y(unit = {measured})")
            + $") if {ExpressionText.Print(declaration.Condition!)} annotation(__AnchorBend({DiagramAnnotations.StandIn} = true))";
    }

    /// <summary>Where a port stands on the part that its level is.</summary>
    static string Edge(PartNode part, PortKind kind, double middle) =>
        string.Join(
            ", ",
            PortPart
                .Declaration(part, kind, middle)
                .Annotation!.Argument("__AnchorBend")!
                .Value.Arguments.Select(a => $"{a.Name} = {ExpressionText.Print(a.Value.Binding!)}")
        );

    /// <summary>Degrees counter-clockwise, as the language's annotation of places has them.</summary>
    static string Rotation(PartNode part) => part.Turn == 0 ? "" : $", rotation = {-90 * part.Turn}";

    /// <summary>The names that a part is handed from its level, as a text writes them.</summary>
    IEnumerable<string> Handed(PartNode part, string level) =>
        DefinitionReference.Parse(part.Type) is { IsOwn: true, Key: var inner }
            ? above
                .Of(inner)
                .Where(n => above.Knows(level, n) && !part.Parameters.ContainsKey(n))
                .Order(StringComparer.Ordinal)
                .Select(ExpressionText.Name)
            : [];

    static (string Declared, List<string> Modifications, List<string> Typed) Port(PartNode part, PortKind kind, string? bundle)
    {
        var declaration = PortPart.Declaration(part, kind, part.X, bundle);
        var causality = kind switch
        {
            PortKind.Input => "input ",
            PortKind.Output => "output ",
            _ => "",
        };
        List<string> modifications = part.Parameters.GetValueOrDefault("unit") is { Length: > 0 } unit
            ? [$"unit = {TextExport.Quoted(unit)}"]
            : [];
        return (causality + declaration.TypeName, modifications, [.. part.Parameters.Select(p => $"{p.Key}={p.Value}")]);
    }

    (string Declared, List<string> Modifications, List<string> Typed) Part(PartNode part)
    {
        var description = catalog.Find(part.Type) is null ? null : catalog.Describe(part.Type);
        var (modifications, typed) = (new List<string>(), new List<string>());
        foreach (var (name, written) in part.Parameters)
        {
            var parameter = description?.Parameters.FirstOrDefault(p => p.Name == name);
            var (value, _) = Standard(written, parameter?.Unit);
            // A field names a choice by its own type; a text says whose type that is.
            if (parameter?.Choices?.Any(c => c.Value == value) == true && parameter.Type == "Choice")
                value = $"{TypeName(part.Type)}.{value}";
            // Which members of a bundle are shown is no part of the standard's text.
            if (parameter?.Type is "Names" or "BundleType")
                value = null;
            if (value is not null && IsName(name))
                modifications.Add($"{name} = {value}");
            if (value != written || !IsName(name))
                typed.Add($"{name}={written}");
        }

        return (TypeName(BundlePart.Is(catalog.Find(part.Type)) ? BundlePart.ClassOf(part, catalog) : part.Type), modifications, typed);
    }

    string TypeName(string type) =>
        DefinitionReference.Parse(type) is { IsOwn: true, Key: var id }
            ? ExpressionText.Name(classNames.GetValueOrDefault(id, type))
            : string.Join('.', type.Split('.').Select(ExpressionText.Name));

    static bool IsName(string name) => name.Split('.').All(Lexer.IsPlainIdentifier);

    string? Connection(string id, WireNode wire, DiagramDefinition diagram, PartSizes sizes)
    {
        if (End(wire.From, diagram) is not { } from || End(wire.To, diagram) is not { } to)
            return null;
        var points = wire
            .Bends.Select(b => (b.X, b.Y))
            .Prepend(Middle(wire.From, diagram, sizes))
            .Append(Middle(wire.To, diagram, sizes))
            .Select(p => $"{{{TextExport.Number(p.Item1)}, {TextExport.Number(-p.Item2)}}}");
        var line = $"Line(points = {{{string.Join(", ", points)}}})";
        var byName = wire.ByName == true ? ", byName = true" : "";
        return $"connect({from}, {to}) annotation({line}, __AnchorBend(id = {TextExport.Quoted(id)}{byName}))";
    }

    string? End(PortReference port, DiagramDefinition diagram)
    {
        if (DiagramClass.End(diagram, catalog, port) is not { } end)
            return null;
        var inner = end with { Parts = [.. end.Parts.Skip(1)] };
        // A port written otherwise than the language does would not read back the same.
        if (inner.Parts is not ([] or [{ Subscripts.Count: 0 }]) && ExpressionText.Print(inner) != port.Port)
            return null;
        return ExpressionText.Print(end);
    }

    static (double, double) Middle(PortReference port, DiagramDefinition diagram, PartSizes sizes)
    {
        var part = diagram.Parts[port.Part];
        var (width, height) = sizes.Of(port.Part);
        return (part.X + width / 2, part.Y + height / 2);
    }
}
