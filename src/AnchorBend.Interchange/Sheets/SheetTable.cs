using System.Globalization;
using AnchorBend.Language;
using AnchorBend.Language.Syntax;
using AnchorBend.Language.Units;
using AnchorBend.Modeling.Documents;

namespace AnchorBend.Interchange.Sheets;

/// <summary>A sheet as a table of cells: a header, then a row for each of its rows.</summary>
public static class SheetTable
{
    public const string Name = "Name",
        Group = "Group",
        Description = "Description",
        Unit = "Unit",
        Minimum = "At least",
        Maximum = "At most";

    /// <summary>Headers that are no columns of values.</summary>
    public static readonly IReadOnlyList<string> Fixed = [Name, Group, Description, Unit, Minimum, Maximum];

    public static IReadOnlyList<IReadOnlyList<object?>> Of(SheetNode sheet)
    {
        var rows = new List<IReadOnlyList<object?>> { (object?[])[.. Fixed, .. sheet.Columns.Values.Select(c => c.Name)] };
        foreach (var row in sheet.Rows.Values)
            rows.Add([
                row.Name,
                row.Group,
                row.Description,
                row.Unit,
                Cell(row.Minimum, row.Unit),
                Cell(row.Maximum, row.Unit),
                .. sheet.Columns.Keys.Select(c => Cell(row.Values.GetValueOrDefault(c), row.Unit)),
            ]);
        return rows;
    }

    /// <summary>A plain value in the row's unit as a number; everything else as it was typed.</summary>
    static object? Cell(string? text, string? unit) =>
        text is null or "" ? null
        : Number(text, unit) is { } number ? number
        : text;

    /// <summary>The number that a text is in a unit; null for an expression and for a value that has no place in it.</summary>
    internal static double? Number(string text, string? unit)
    {
        try
        {
            var value = Parser.ParseField(text);
            if (value is not Quantity quantity)
                return Literal(value);
            if (unit is not { Length: > 0 } || !Language.Units.Unit.TryParse(unit, out var own, out _) || !own.Fits(quantity.Unit))
                return null;
            var (scale, shift) = quantity.Unit.ConversionTo(own);
            // What a conversion adds in the last digit is none of the user's.
            return Literal(quantity.Value) is { } number
                ? scale == 1 && shift == 0
                    ? number
                    : double.Parse((number * scale + shift).ToString("G15", CultureInfo.InvariantCulture), CultureInfo.InvariantCulture)
                : null;
        }
        catch (LanguageException)
        {
            return null;
        }
    }

    static double? Literal(Expression value) =>
        value switch
        {
            NumberLiteral n => n.Value,
            Unary { Kind: UnaryKind.Minus, Operand: NumberLiteral n } => -n.Value,
            Unary { Kind: UnaryKind.Plus, Operand: NumberLiteral n } => n.Value,
            _ => null,
        };
}
