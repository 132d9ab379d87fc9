using System.Globalization;
using System.Text.Json;
using System.Text.Json.Nodes;
using AnchorBend.Language;
using AnchorBend.Language.Syntax;
using AnchorBend.Language.Units;
using AnchorBend.Modeling.Documents;

namespace AnchorBend.Interchange.Sheets;

/// <summary>One cell that would change.</summary>
/// <param name="Column">Its header.</param>
public sealed record SheetCellChange(string Column, string? Before, string? After);

/// <summary>What a table says of one row of a sheet.</summary>
/// <param name="State">same, changed, added, missing (in the sheet, not in the table) or wrong.</param>
/// <param name="Problem">Why it cannot be taken, or what to think of; null where nothing is to be said.</param>
/// <param name="Operations">What taking it would do; nothing where it cannot be taken.</param>
public sealed record SheetRowChange(
    string Name,
    string State,
    string? Problem,
    IReadOnlyList<SheetCellChange> Cells,
    IReadOnlyList<PatchOperation> Operations
);

/// <summary>What a table would change in a sheet.</summary>
/// <param name="Unknown">Headers that are taken for nothing.</param>
/// <param name="NewColumns">Columns of values that the sheet does not have; taking any row adds them.</param>
/// <param name="Columns">Operations that add the new columns, to be made before those of rows.</param>
public sealed record SheetImportView(
    IReadOnlyList<string> Unknown,
    IReadOnlyList<string> NewColumns,
    IReadOnlyList<PatchOperation> Columns,
    IReadOnlyList<SheetRowChange> Rows
);

/// <summary>Compares a table from a spreadsheet with a sheet, row by row; nothing is changed by that.</summary>
public sealed class SheetImport
{
    static readonly JsonSerializerOptions Json = DocumentJson.Options(false);

    readonly string id;
    readonly SheetNode sheet;
    readonly Dictionary<string, int> fixedAt = new(StringComparer.OrdinalIgnoreCase);

    /// <summary>Places of value columns in the table, by the id of the column.</summary>
    readonly Dictionary<string, int> valuesAt = [];

    readonly Dictionary<string, string> newColumns = [];
    readonly List<string> unknown = [];

    SheetImport(string id, SheetNode sheet) => (this.id, this.sheet) = (id, sheet);

    /// <param name="id">Id of the sheet.</param>
    /// <param name="rows">The table with its header.</param>
    /// <exception cref="DocumentException">The table has no header that is understood.</exception>
    public static SheetImportView Compare(string id, SheetNode sheet, IReadOnlyList<IReadOnlyList<object?>> rows)
    {
        var import = new SheetImport(id, sheet);
        var first = 0;
        while (first < rows.Count && rows[first].All(c => c is null))
            first++;
        if (first == rows.Count)
            throw new DocumentException("The table is empty.");
        import.ReadHeader(rows[first]);
        var byName = sheet.Rows.GroupBy(r => r.Value.Name).ToDictionary(g => g.Key, g => g.First());
        var result = new List<SheetRowChange>();
        var seen = new HashSet<string>();
        var ids = new HashSet<string>(sheet.Rows.Keys);
        foreach (var cells in rows.Skip(first + 1).Where(r => r.Any(c => c is not null)))
        {
            WorkBudget.Current.Check();
            var name = import.Fixed(cells, SheetTable.Name) ?? "";
            if (!seen.Add(name))
                result.Add(new SheetRowChange(name, "wrong", "It stands twice in the table; the first is taken.", [], []));
            else if (!Lexer.IsPlainIdentifier(name))
                result.Add(new SheetRowChange(name, "wrong", "This cannot be a name: take letters, digits and underscores.", [], []));
            else
                result.Add(
                    byName.TryGetValue(name, out var known) ? import.Changed(known.Key, known.Value, cells) : import.Added(name, cells, ids)
                );
        }

        foreach (var (rowId, row) in sheet.Rows)
            if (!seen.Contains(row.Name))
                result.Add(
                    new SheetRowChange(
                        row.Name,
                        "missing",
                        "It is not in the table; taking this removes it.",
                        [],
                        [new PatchOperation("remove", DocumentPath.Of("sheets", id, "rows", rowId))]
                    )
                );
        return new SheetImportView(
            import.unknown,
            [.. import.newColumns.Values],
            [
                .. import.newColumns.Select(c => new PatchOperation(
                    "add",
                    DocumentPath.Of("sheets", id, "columns", c.Key),
                    JsonSerializer.SerializeToNode(new ColumnNode { Name = c.Value }, Json)
                )),
            ],
            result
        );
    }

    void ReadHeader(IReadOnlyList<object?> header)
    {
        var columns = sheet.Columns.ToDictionary(c => c.Value.Name, c => c.Key, StringComparer.OrdinalIgnoreCase);
        var taken = sheet.Columns.Keys.ToHashSet();
        for (var i = 0; i < header.Count; i++)
        {
            if (Text(header[i]) is not { } head)
                continue;
            if (SheetTable.Fixed.Contains(head, StringComparer.OrdinalIgnoreCase))
            {
                if (!fixedAt.TryAdd(head, i))
                    unknown.Add($"{head} (again)");
            }
            else if (columns.TryGetValue(head, out var known))
            {
                if (!valuesAt.TryAdd(known, i))
                    unknown.Add($"{head} (again)");
            }
            else
            {
                var column = "c" + (taken.Count + 1);
                for (var n = 2; !taken.Add(column); n++)
                    column = $"c{taken.Count + n}";
                (newColumns[column], valuesAt[column]) = (head, i);
                columns[head] = column;
            }
        }

        if (!fixedAt.ContainsKey(SheetTable.Name))
            throw new DocumentException(
                $"The first row must say what the columns are, with '{SheetTable.Name}' among them: export the sheet to see how."
            );
    }

    static string? Text(object? cell) =>
        cell switch
        {
            null => null,
            double number => Written(number),
            _ => (string)cell is { Length: > 0 } text ? text : null,
        };

    static string Written(double number) => number.ToString("R", CultureInfo.InvariantCulture);

    string? Fixed(IReadOnlyList<object?> cells, string head) =>
        fixedAt.TryGetValue(head, out var at) && at < cells.Count ? Text(cells[at]) : null;

    SheetRowChange Added(string name, IReadOnlyList<object?> cells, HashSet<string> ids)
    {
        var row = new RowNode
        {
            Name = name,
            Group = Fixed(cells, SheetTable.Group),
            Description = Fixed(cells, SheetTable.Description),
            Unit = Fixed(cells, SheetTable.Unit),
            Minimum = Fixed(cells, SheetTable.Minimum),
            Maximum = Fixed(cells, SheetTable.Maximum),
            Values = Values(cells).Where(v => v.Text is not null).ToDictionary(v => v.Column, v => v.Text!),
        };
        if (Problem(row, row.Values.Values) is { } problem)
            return new SheetRowChange(name, "wrong", problem, [], []);
        var rowId = "r" + (ids.Count + 1);
        for (var n = 2; !ids.Add(rowId); n++)
            rowId = $"r{ids.Count + n}";
        return new SheetRowChange(
            name,
            "added",
            null,
            [.. row.Values.Select(v => new SheetCellChange(ColumnName(v.Key), null, v.Value))],
            [new PatchOperation("add", DocumentPath.Of("sheets", id, "rows", rowId), JsonSerializer.SerializeToNode(row, Json))]
        );
    }

    string ColumnName(string column) => sheet.Columns.TryGetValue(column, out var known) ? known.Name : newColumns[column];

    IEnumerable<(string Column, string? Text)> Values(IReadOnlyList<object?> cells) =>
        valuesAt.Select(v => (v.Key, v.Value < cells.Count ? Text(cells[v.Value]) : null));

    SheetRowChange Changed(string rowId, RowNode row, IReadOnlyList<object?> cells)
    {
        var changes = new List<SheetCellChange>();
        var operations = new List<PatchOperation>();
        void Change(string head, string? before, string? after, params string[] place)
        {
            changes.Add(new SheetCellChange(head, before, after));
            var path = DocumentPath.Of([.. (string[])["sheets", id, "rows", rowId], .. place]);
            operations.Add(after is null ? new PatchOperation("remove", path) : new PatchOperation("add", path, JsonValue.Create(after)));
        }

        var unit = fixedAt.ContainsKey(SheetTable.Unit) ? Fixed(cells, SheetTable.Unit) : row.Unit;
        foreach (
            var (head, before, field) in ((string, string?, string)[])
                [
                    (SheetTable.Group, row.Group, "group"),
                    (SheetTable.Description, row.Description, "description"),
                    (SheetTable.Unit, row.Unit, "unit"),
                ]
        )
            if (fixedAt.ContainsKey(head) && Fixed(cells, head) is var now && (now ?? "") != (before ?? ""))
                Change(head, before, now, field);
        foreach (
            var (head, before, field) in ((string, string?, string)[])
                [(SheetTable.Minimum, row.Minimum, "minimum"), (SheetTable.Maximum, row.Maximum, "maximum")]
        )
            if (fixedAt.ContainsKey(head) && !Same(before, Fixed(cells, head), row.Unit, unit))
                Change(head, before, Fixed(cells, head), field);
        foreach (var (column, text) in Values(cells))
            if (!Same(row.Values.GetValueOrDefault(column), text, row.Unit, unit))
                Change(
                    ColumnName(column),
                    row.Values.GetValueOrDefault(column),
                    Kept(row.Values.GetValueOrDefault(column), text, unit),
                    "values",
                    column
                );
        if (changes.Count == 0)
            return new SheetRowChange(row.Name, "same", null, [], []);
        var told = Problem(row with { Unit = unit }, Values(cells).Select(v => v.Text).OfType<string>());
        if (told is null && unit != row.Unit && !FitsUnit(row.Unit, unit))
            told = $"The unit {unit} is none of the kind of {row.Unit}.";
        return told is null
            ? new SheetRowChange(row.Name, "changed", null, changes, operations)
            : new SheetRowChange(row.Name, "wrong", told, changes, []);
    }

    /// <summary>A bare number in the place of one that was typed with the row's unit has that unit again.</summary>
    static string? Kept(string? before, string? text, string? unit) =>
        text is not null
        && unit is { Length: > 0 }
        && before is not null
        && IsQuantity(before)
        && double.TryParse(text, NumberStyles.Float, CultureInfo.InvariantCulture, out _)
            ? $"{text} {unit}"
            : text;

    static bool IsQuantity(string text)
    {
        try
        {
            return Parser.ParseField(text) is Quantity;
        }
        catch (LanguageException)
        {
            return false;
        }
    }

    static bool FitsUnit(string? before, string? now) =>
        before is not { Length: > 0 }
        || now is { Length: > 0 } && Unit.TryParse(before, out var a, out _) && Unit.TryParse(now, out var b, out _) && a.Fits(b);

    /// <summary>Whether two texts say the same value: equal, or equal numbers in the units that they are of.</summary>
    static bool Same(string? before, string? after, string? unitBefore, string? unitAfter)
    {
        if ((before ?? "") == (after ?? "") && ((unitBefore ?? "") == (unitAfter ?? "") || before is null or ""))
            return true;
        return before is not null
            && after is not null
            && (unitBefore ?? "") == (unitAfter ?? "")
            && SheetTable.Number(before, unitBefore) is { } a
            && SheetTable.Number(after, unitAfter) is { } b
            && Math.Abs(a - b) <= 1e-14 * Math.Abs(a);
    }

    /// <summary>Why a row cannot be taken; null where it can.</summary>
    static string? Problem(RowNode row, IEnumerable<string> values)
    {
        Unit? unit = null;
        if (row.Unit is { Length: > 0 } symbol && !Unit.TryParse(symbol, out unit, out var wrong))
            return wrong;
        foreach (var text in values.Concat(((string?[])[row.Minimum, row.Maximum]).OfType<string>()))
        {
            try
            {
                if (Parser.ParseField(text) is Quantity quantity && unit is not null && !quantity.Unit.Fits(unit))
                    return $"'{text}' is not in a unit of the kind of {row.Unit}.";
            }
            catch (LanguageException e)
            {
                return $"'{DocumentLimits.Short(text)}': {e.Error.Message}";
            }
        }

        return null;
    }
}
