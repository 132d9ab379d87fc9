using AnchorBend.Language;
using AnchorBend.Language.Syntax;
using AnchorBend.Language.Units;

namespace AnchorBend.Modeling.Documents;

/// <summary>
/// The rows of sheets as parameters of the root's class: a row of several columns has the value of the one that the sheet's chooser names.
/// </summary>
public sealed class SheetParameters(SheetNames sheets, NamesFromAbove above, string root, List<Finding> findings)
{
    readonly ParameterUnits units = new(above);

    /// <summary>The parameters that the model speaks of.</summary>
    public IEnumerable<ComponentDeclaration> All => above.FromSheets.Select(Declaration).OfType<ComponentDeclaration>();

    ComponentDeclaration? Declaration(string name)
    {
        var (sheet, row) = sheets[name];
        return row is null ? Chooser(sheet) : Row(sheet, row);
    }

    ComponentDeclaration? Chooser(SheetNode sheet)
    {
        if (Parsed(sheet, sheet.Chooser, sheet.Active) is not { } active)
            return null;
        var choices = sheet.Columns.Values.Select(c => new ChoiceNode(c.Name, Slots.Words(c.Name))).ToList();
        return new ComponentDeclaration(ParameterTypes.String, sheet.Chooser, default)
        {
            Variability = Variability.Parameter,
            Description = $"Column of {sheet.Name}",
            Modification = Modification.Of(active),
            Annotation = DiagramAnnotations.OfSheet(choices),
        };
    }

    ComponentDeclaration? Row(SheetNode sheet, RowNode row)
    {
        var type = above.TypeOf(root, row.Name);
        var unit =
            type != ParameterTypes.Real ? null
            : row.Unit is { Length: > 0 } given ? given
            : FirstUnit(row);
        var values = new List<(string Column, Expression Value)>();
        foreach (var (id, column) in sheet.Columns)
            if (row.Values.TryGetValue(id, out var text) && text.Length > 0 && Parsed(sheet, row.Name, text) is { } value)
                values.Add((column.Name, value));
        if (values.Count == 0)
        {
            Find(sheet, row.Name, "sheet-value", "It has no value in any column.", "Type one into the sheet.");
            return null;
        }

        var attributes = new List<ModificationArgument>();
        if (unit is not null)
            attributes.Add(new ModificationArgument("unit", Modification.Of(new StringLiteral(unit, default)), false, false, default));
        foreach (var (attribute, text) in ((string, string?)[])[("min", row.Minimum), ("max", row.Maximum)])
            if (type == ParameterTypes.Real && text is { Length: > 0 } && Parsed(sheet, row.Name, text) is { } limit)
                attributes.Add(
                    new ModificationArgument(attribute, Modification.Of(InUnit(sheet, row.Name, limit, unit)), false, false, default)
                );
        return new ComponentDeclaration(type, row.Name, default)
        {
            Variability = Variability.Parameter,
            Description = row.Description,
            Modification = new Modification(attributes, Chosen(sheet, row, values, unit)),
            Annotation = DiagramAnnotations.OfSheet(null),
        };
    }

    Expression Chosen(SheetNode sheet, RowNode row, List<(string Column, Expression Value)> values, string? unit)
    {
        // A plain value of the only column is set again as it is typed.
        if (sheet.Columns.Count == 1)
            return values[0].Value is Quantity alone ? alone : units.Meant(root, values[0].Value, unit);
        var branches = values
            .Skip(1)
            .Select(v =>
                (
                    (Expression)new Binary(BinaryKind.Equal, new Reference(sheet.Chooser), new StringLiteral(v.Column, default), default),
                    InUnit(sheet, row.Name, v.Value, unit)
                )
            )
            .ToList();
        var first = InUnit(sheet, row.Name, values[0].Value, unit);
        return branches.Count == 0 ? first : new Conditional(branches, first, default);
    }

    /// <summary>The unit of a row: its own, else the coherent one of the first value that is typed with one.</summary>
    public static string? UnitOf(RowNode row) => row.Unit is { Length: > 0 } given ? given : FirstUnit(row);

    /// <summary>The coherent unit of the first value that is typed with one; null where none is.</summary>
    static string? FirstUnit(RowNode row)
    {
        foreach (var text in row.Values.Values)
            try
            {
                if (Parser.ParseField(text) is Quantity quantity)
                    return quantity.Unit.Coherent().Symbol;
            }
            catch (LanguageException)
            {
                // It is told where the value is read.
            }

        return null;
    }

    /// <summary>A value typed with a unit, as a plain number in the row's.</summary>
    Expression InUnit(SheetNode sheet, string name, Expression value, string? unit)
    {
        if (value is not Quantity quantity)
            return units.Meant(root, value, unit);
        if (unit is null || !Unit.TryParse(unit, out var own, out _))
            return quantity.Value;
        if (!own.Fits(quantity.Unit))
        {
            Find(
                sheet,
                name,
                "unit",
                $"A value is given in {Unit.Pretty(quantity.Unit.Symbol)}, which is no unit of this quantity.",
                $"A value in {Unit.Pretty(own.Symbol)} or another unit of its kind is needed."
            );
            return quantity.Value;
        }

        var (scale, shift) = quantity.Unit.ConversionTo(own);
        var scaled = scale == 1 ? quantity.Value : new Binary(BinaryKind.Multiply, quantity.Value, ParameterUnits.Number(scale), value.At);
        return shift == 0 ? scaled : new Binary(BinaryKind.Add, scaled, ParameterUnits.Number(shift), value.At);
    }

    Expression? Parsed(SheetNode sheet, string name, string text)
    {
        try
        {
            return Parser.ParseField(text);
        }
        catch (LanguageException e)
        {
            Find(sheet, name, e.Error.Code, e.Error.Message, e.Error.Suggestion);
            return null;
        }
    }

    void Find(SheetNode sheet, string name, string code, string message, string? suggestion) =>
        findings.Add(new Finding(Severity.Error, code, $"{sheet.Name} ▸ {name}: {message}", "", name, Suggestion: suggestion));

    /// <summary>Names that stand twice in sheets, of which the first is meant, and choosers without a column of that name.</summary>
    public static IEnumerable<Finding> Problems(ModelDocument document)
    {
        var known = new Dictionary<string, string>();
        foreach (var sheet in document.Sheets.Values)
        {
            foreach (var name in sheet.Rows.Values.Select(r => r.Name).Prepend(sheet.Chooser))
                if (!known.TryAdd(name, sheet.Name))
                    yield return new Finding(
                        Severity.Warning,
                        "duplicate-name",
                        $"'{name}' stands in {(known[name] == sheet.Name ? $"{sheet.Name} twice" : $"{known[name]} and in {sheet.Name}")}; "
                            + "the first is meant.",
                        "",
                        name,
                        Suggestion: "Rename one of them."
                    );
            if (Slots.NameIn(sheet.Active) is { } active && sheet.Columns.Values.All(c => c.Name != active))
                yield return new Finding(
                    Severity.Error,
                    "no-column",
                    $"'{sheet.Name}' has no column '{DocumentLimits.Short(active)}'.",
                    "",
                    sheet.Chooser,
                    Suggestion: Nearest.Of(active, sheet.Columns.Values.Select(c => c.Name)) is { } near
                        ? $"Did you mean {near}?"
                        : "Choose one of its columns."
                );
        }
    }
}
