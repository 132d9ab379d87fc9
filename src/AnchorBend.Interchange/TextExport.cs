using System.Globalization;
using System.Text;
using System.Text.Json;
using AnchorBend.Language.Syntax;
using AnchorBend.Language.Units;
using AnchorBend.Modeling.Catalog;
using AnchorBend.Modeling.Documents;
using AnchorBend.Modeling.Written;

namespace AnchorBend.Interchange;

/// <summary>
/// Writes a model in the equation language: its diagrams as models with placements and connections, those that it defines nested in the
/// root's (Modelica Language Specification 3.6, chapters 5, 9 and 18), one thing a line, so that texts can be compared. What the standard
/// has no place for (ids, values as typed with their units, signals, requirements, run settings) stands in our vendor annotation, so that
/// the text reads back to the same model.
/// </summary>
public static class TextExport
{
    /// <param name="catalog">The catalog of this document.</param>
    /// <exception cref="DocumentException">Two parts of a diagram have one name, or a unit computes one.</exception>
    public static string Write(ModelDocument document, PartCatalog catalog)
    {
        RefuseUnits(document);
        var text = new StringBuilder("within ;\n");
        var names = ClassNames(document, catalog);
        foreach (var part in document.Definitions.Values.OfType<TextDefinition>())
            text.Append(part.Text.TrimEnd()).Append("\n\n");
        Written(text, document, catalog.For(document), names);
        var writer = new DiagramWriter(text, document, catalog, names, false);
        var nested = document.Definitions.Where(d => d.Key != document.Root && d.Value is DiagramDefinition).Select(d => d.Key);
        writer.Write(document.Root, "", nested);
        return text.ToString();
    }

    static void RefuseUnits(ModelDocument document)
    {
        if (document.Definitions.Values.OfType<TextDefinition>().FirstOrDefault(d => d.Unit is not null) is { } computed)
            throw new DocumentException(
                $"'{computed.Name}' is computed by an exchange unit, which a text cannot carry. Keep the model as a file instead."
            );
    }

    /// <summary>Writes one diagram definition as a part that stands by itself, with those that it needs nested in it.</summary>
    /// <param name="name">The name of its class.</param>
    /// <exception cref="DocumentException">It needs what only a level above has, or two of its parts have one name.</exception>
    public static string WritePart(ModelDocument document, string definition, string name, PartCatalog catalog)
    {
        if (document.Definitions.GetValueOrDefault(definition) is not DiagramDefinition diagram)
            throw new DocumentException("There is no such diagram in the model.");
        if (new NamesFromAbove(document).Of(definition).Order(StringComparer.Ordinal).ToList() is { Count: > 0 } handed)
            throw new DocumentException(
                $"'{diagram.Name}' speaks of {string.Join(", ", handed.Select(h => $"'{h}'"))}, which a level above declares. "
                    + "Put it on the face first, so that the part is complete in itself."
            );
        var needed = document.NeededBy(definition);
        var alone = new ModelDocument
        {
            Root = definition,
            Definitions = document.Definitions.Where(d => needed.Contains(d.Key)).ToDictionary(),
        };
        RefuseUnits(alone);
        var names = ClassNames(alone, catalog);
        names[definition] = name;
        var text = new StringBuilder();
        foreach (var part in alone.Definitions.Values.OfType<TextDefinition>())
            text.Append(part.Text.TrimEnd()).Append("\n\n");
        Written(text, alone, catalog.For(alone), names);
        var nested = alone.Definitions.Where(d => d.Key != definition && d.Value is DiagramDefinition).Select(d => d.Key);
        new DiagramWriter(text, alone, catalog.For(alone), names, true).Write(definition, "", nested);
        return text.ToString();
    }

    /// <summary>Charts and tables as the classes that they come to, each with its form in our annotation.</summary>
    /// <exception cref="DocumentException">One comes to no class.</exception>
    static void Written(StringBuilder text, ModelDocument document, PartCatalog catalog, Dictionary<string, string> names)
    {
        foreach (var (id, definition) in document.Definitions)
        {
            if (definition is not WrittenDefinition form)
                continue;
            var written = catalog.TextOf(DefinitionReference.OfOwn(id))
                ?? throw new DocumentException($"'{form.Name}' cannot be written as text: mend its findings first.");
            var (own, name) = (ExpressionText.Name(form.Name), ExpressionText.Name(names[id]));
            var body = written.TrimEnd();
            text.Append("block ").Append(name).Append(body.AsSpan($"block {own}".Length, body.Length - $"block {own}end {own};".Length));
            text.Append("annotation(__AnchorBend(form = ").Append(Quoted(JsonSerializer.Serialize<Definition>(form, Json)));
            text.Append("));\nend ").Append(name).Append(";\n\n");
        }
    }

    /// <summary>
    /// The class that each definition is in the text: its name where that means nothing else there, else with a number. The root's class is
    /// named for the model whatever else is called so.
    /// </summary>
    static Dictionary<string, string> ClassNames(ModelDocument document, PartCatalog catalog)
    {
        var names = new Dictionary<string, string> { [document.Root] = document.Name };
        foreach (var (id, definition) in document.Definitions)
            if (definition is TextDefinition)
                names[id] = definition.Name;
        var taken = names.Values.ToHashSet();
        foreach (var (id, definition) in document.Definitions)
        {
            if (names.ContainsKey(id))
                continue;
            var name = definition.Name;
            for (var n = 2; catalog.Find(name) is not null || !taken.Add(name); n++)
                name = $"{definition.Name} {n.ToString(CultureInfo.InvariantCulture)}";
            names[id] = name;
        }

        return names;
    }

    internal static readonly JsonSerializerOptions Json = DocumentJson.Options(false);

    internal static string Entry<T>(string key, T value) => $"{key}: {JsonSerializer.Serialize(value, Json)}";

    internal static void AppendList(StringBuilder text, string indent, string name, IEnumerable<string> entries)
    {
        var list = entries.ToList();
        if (list.Count > 0)
            text.Append($",\n{indent}    {name} = {{\n{indent}      ").AppendJoin($",\n{indent}      ", list.Select(Quoted)).Append('}');
    }

    internal static string Described(string? description) => string.IsNullOrEmpty(description) ? "" : " " + Quoted(description);

    internal static string Quoted(string text) =>
        "\"" + text.Replace("\\", "\\\\", StringComparison.Ordinal).Replace("\"", "\\\"", StringComparison.Ordinal) + "\"";

    internal static string Number(double value) => (value == 0 ? 0 : value).ToString("R", CultureInfo.InvariantCulture);

    /// <summary>A value as the standard writes it, in the unit declared (or the coherent one, which is given back); null where it cannot
    /// be read.</summary>
    internal static (string? Value, string? Unit) Standard(string text, string? declared)
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
