using System.Globalization;
using System.Text;
using System.Text.Json;
using AnchorBend.Language.Syntax;
using AnchorBend.Language.Units;
using AnchorBend.Modeling.Catalog;
using AnchorBend.Modeling.Documents;

namespace AnchorBend.Interchange;

/// <summary>
/// Writes a diagram as a model of the equation language with placements and connections (Modelica Language Specification 3.6, chapters 9
/// and 18), one thing a line, so that texts can be compared. What the standard has no place for (ids, values as typed with their units,
/// signals, requirements, run settings) stands in our vendor annotation, so that the text reads back to the same model.
/// </summary>
public static class TextExport
{
    /// <exception cref="DocumentException">Two parts have one name, which a text cannot say.</exception>
    public static string Write(ModelDocument document, PartCatalog catalog)
    {
        if (document.Parts.Values.GroupBy(p => p.Name).FirstOrDefault(g => g.Count() > 1) is { } twice)
            throw new DocumentException($"Two parts are called '{twice.Key}'. Rename one of them; names tell parts apart in a text.");
        var sizes = new PartSizes(document, catalog);
        var text = new StringBuilder("within ;\n");
        foreach (var part in document.Classes.Values)
            text.Append(part.Text.TrimEnd()).Append("\n\n");
        text.Append("model ").Append(ExpressionText.Name(document.Name)).Append(Described(document.Description)).Append('\n');
        foreach (var (name, parameter) in document.Parameters)
            text.Append("  ").Append(Parameter(name, parameter)).Append(";\n");
        foreach (var (id, part) in document.Parts)
            text.Append("  ").Append(Component(id, part, sizes, catalog)).Append(";\n");
        text.Append("equation\n");
        var loose = new List<string>();
        foreach (var (id, wire) in document.Wires)
        {
            if (Connection(id, wire, document, sizes, catalog) is { } connection)
                text.Append("  ").Append(connection).Append(";\n");
            else
                loose.Add(Entry(id, wire));
        }

        text.Append("  annotation(__AnchorBend(\n    format = ").Append(Quoted(document.Format));
        AppendList(text, "signals", document.Signals.Select(s => Entry(s.Key, s.Value)));
        AppendList(text, "requirements", document.Requirements.Select(r => Entry(r.Key, r.Value)));
        AppendList(text, "areas", document.Areas.Select(a => Entry(a.Key, a.Value)));
        AppendList(text, "classes", document.Classes.Keys);
        AppendList(text, "looseWires", loose);
        AppendList(text, "settings", [JsonSerializer.Serialize(document.Settings, Json)]);
        text.Append("));\nend ").Append(ExpressionText.Name(document.Name)).Append(";\n");
        return text.ToString();
    }

    internal static readonly JsonSerializerOptions Json = ModelDocument.Options(false);

    static string Entry<T>(string key, T value) => $"{key}: {JsonSerializer.Serialize(value, Json)}";

    static void AppendList(StringBuilder text, string name, IEnumerable<string> entries)
    {
        var list = entries.ToList();
        if (list.Count > 0)
            text.Append(",\n    ").Append(name).Append(" = {\n      ").AppendJoin(",\n      ", list.Select(Quoted)).Append('}');
    }

    static string Described(string? description) => string.IsNullOrEmpty(description) ? "" : " " + Quoted(description);

    static string Quoted(string text) =>
        "\"" + text.Replace("\\", "\\\\", StringComparison.Ordinal).Replace("\"", "\\\"", StringComparison.Ordinal) + "\"";

    static string Parameter(string name, ParameterNode parameter)
    {
        var (value, unit) = Standard(parameter.Value, null);
        var own = ExpressionText.Name(name);
        var text =
            $"parameter Real {own}{(unit is null ? "" : $"(unit = {Quoted(unit)})")}{(value is null ? "" : $" = {value}")}{Described(parameter.Description)}";
        return value == parameter.Value && unit is null ? text : $"{text} annotation(__AnchorBend(typed = {Quoted(parameter.Value)}))";
    }

    static string Component(string id, PartNode part, PartSizes sizes, PartCatalog catalog)
    {
        var description = catalog.Find(part.Type) is null ? null : catalog.Describe(part.Type);
        var modifications = new List<string>();
        var typed = new List<string>();
        foreach (var (name, text) in part.Parameters)
        {
            var parameter = description?.Parameters.FirstOrDefault(p => p.Name == name);
            var (value, _) = Standard(text, parameter?.Unit);
            // A field names a choice by its own type; a text says whose type that is.
            if (parameter?.Choices?.Any(c => c.Value == value) == true && parameter.Type == "Choice")
                value = $"{TypeName(part.Type)}.{value}";
            // Which members of a bundle are shown is no part of the standard's text.
            if (parameter?.Type == "Names")
                value = null;
            if (value is not null && IsName(name))
                modifications.Add($"{name} = {value}");
            if (value != text || !IsName(name))
                typed.Add($"{name}={text}");
        }

        var (width, height) = sizes.Of(id);
        var (left, right) = part.Flip ? (part.X + width, part.X) : (part.X, part.X + width);
        var ours = $"id = {Quoted(id)}" + (typed.Count == 0 ? "" : $", typed = {{{string.Join(", ", typed.Select(Quoted))}}}");
        return $"{TypeName(part.Type)} {ExpressionText.Name(part.Name)}{(modifications.Count == 0 ? "" : $"({string.Join(", ", modifications)})")}"
            + $" annotation(Placement(transformation(extent = {{{{{Number(left)}, {Number(-part.Y - height)}}}, {{{Number(right)}, {Number(-part.Y)}}}}})), __AnchorBend({ours}))";
    }

    static string TypeName(string type) => string.Join('.', type.Split('.').Select(ExpressionText.Name));

    static bool IsName(string name) => name.Split('.').All(Lexer.IsPlainIdentifier);

    static string? Connection(string id, WireNode wire, ModelDocument document, PartSizes sizes, PartCatalog catalog)
    {
        if (End(wire.From, document, catalog) is not { } from || End(wire.To, document, catalog) is not { } to)
            return null;
        var points = wire
            .Bends.Select(b => (b.X, b.Y))
            .Prepend(Middle(wire.From, document, sizes))
            .Append(Middle(wire.To, document, sizes));
        return $"connect({from}, {to}) annotation(Line(points = {{{string.Join(", ", points.Select(p => $"{{{Number(p.Item1)}, {Number(-p.Item2)}}}"))}}}), __AnchorBend(id = {Quoted(id)}))";
    }

    static string? End(PortReference port, ModelDocument document, PartCatalog catalog)
    {
        if (DocumentElaboration.End(document, catalog, port) is not { } end)
            return null;
        var inner = end with { Parts = [.. end.Parts.Skip(1)] };
        // A port written otherwise than the language does would not read back the same.
        if (inner.Parts.Count > 0 && ExpressionText.Print(inner) != port.Port)
            return null;
        return ExpressionText.Print(end);
    }

    static (double, double) Middle(PortReference port, ModelDocument document, PartSizes sizes)
    {
        var part = document.Parts[port.Part];
        var (width, height) = sizes.Of(port.Part);
        return (part.X + width / 2, part.Y + height / 2);
    }

    static string Number(double value) => (value == 0 ? 0 : value).ToString("R", CultureInfo.InvariantCulture);

    /// <summary>A value as the standard writes it, in the unit declared (or the coherent one, which is given back); null where it cannot
    /// be read.</summary>
    static (string? Value, string? Unit) Standard(string text, string? declared)
    {
        try
        {
            var expression = Parser.ParseField(text);
            if (expression is not Quantity quantity)
                return (ExpressionText.Print(expression), null);
            var unit =
                declared is not null && Unit.TryParse(declared, out var own, out _) && own.Fits(quantity.Unit)
                    ? own
                    : quantity.Unit.Coherent();
            var (scale, shift) = quantity.Unit.ConversionTo(unit);
            var symbol = declared is null ? unit.Symbol : null;
            if (Literal(quantity.Value) is { } number)
                return (Number(number * scale + shift), symbol);
            var value = ExpressionText.Print(quantity.Value);
            if (scale != 1)
                value = $"({value}) * {Number(scale)}";
            if (shift != 0)
                value += $" .+ {Number(shift)}";
            return (value, symbol);
        }
        catch (LanguageException)
        {
            return (null, null);
        }
    }

    static double? Literal(Expression expression) =>
        expression switch
        {
            NumberLiteral n => n.Value,
            Unary { Kind: UnaryKind.Minus, Operand: NumberLiteral n } => -n.Value,
            _ => null,
        };
}
