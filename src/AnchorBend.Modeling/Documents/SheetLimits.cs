using AnchorBend.Language.Syntax;

namespace AnchorBend.Modeling.Documents;

/// <summary>What sheets may hold.</summary>
static class SheetLimits
{
    public const int MostSheets = 200,
        MostRows = 50_000,
        MostColumns = 60,
        LongestName = 200,
        LongestText = 2000;

    public static void Check(string id, SheetNode? sheet)
    {
        if (sheet is not { Name: not null, Chooser: not null, Active: not null, Columns: not null, Rows: not null })
            throw new DocumentException($"The sheet '{DocumentLimits.Short(id)}' is incomplete.");
        if (!PartPath.IsId(id))
            throw new DocumentException($"'{DocumentLimits.Short(id)}' cannot be the id of a sheet.");
        if (string.IsNullOrWhiteSpace(sheet.Name))
            throw new DocumentException("A sheet needs a name.");
        DocumentLimits.Within(sheet.Name, LongestName, "The name of a sheet");
        DocumentLimits.Within(sheet.Description, LongestText, "The description of a sheet");
        DocumentLimits.Within(sheet.Active, LongestText, "The choice of a column");
        Named(sheet.Chooser, sheet.Name);
        if (sheet.Columns.Count == 0)
            throw new DocumentException($"The sheet '{DocumentLimits.Short(sheet.Name)}' has no column.");
        DocumentLimits.AtMost($"columns in {sheet.Name}", sheet.Columns.Count, MostColumns);
        if (sheet.Columns.Any(c => !PartPath.IsId(c.Key) || string.IsNullOrWhiteSpace(c.Value?.Name)))
            throw new DocumentException($"A column of {sheet.Name} has no name.");
        if (sheet.Columns.Values.GroupBy(c => c.Name).FirstOrDefault(g => g.Count() > 1) is { } twice)
            throw new DocumentException($"Two columns of {sheet.Name} are called '{DocumentLimits.Short(twice.Key)}'.");
        foreach (var column in sheet.Columns.Values)
            DocumentLimits.Within(column.Name, LongestName, "The name of a column");
        foreach (var (rowId, row) in sheet.Rows)
            Check(sheet, rowId, row);
    }

    public static void Check(SheetNode sheet, string id, RowNode? row)
    {
        if (row is not { Name: not null, Values: not null } || row.Values.ContainsValue(null!) || !PartPath.IsId(id))
            throw new DocumentException($"The row '{DocumentLimits.Short(id)}' of {sheet.Name} is incomplete.");
        Named(row.Name, sheet.Name);
        foreach (var text in row.Texts.Append(row.Description).Append(row.Unit).Append(row.Group))
            DocumentLimits.Within(text, LongestText, $"A text of {row.Name}");
    }

    static void Named(string name, string sheet)
    {
        if (!Lexer.IsPlainIdentifier(name) || name.Length > LongestName)
            throw new DocumentException(
                $"'{DocumentLimits.Short(name)}' of {sheet} cannot be the name of a value: "
                    + "take letters, digits and underscores, a letter first."
            );
    }
}
