using AnchorBend.Language;
using AnchorBend.Language.Syntax;
using AnchorBend.Modeling.Catalog;
using AnchorBend.Modeling.Documents;
using AnchorBend.Modeling.Written;

namespace AnchorBend.Modeling.Restructuring;

/// <summary>
/// Moves values of parts and parameters of the model to a sheet: each gets a row with a proposed name, and the field that name.
/// </summary>
public sealed record MoveToSheet : Restructuring
{
    /// <summary>Id of the sheet; null for a new one.</summary>
    public string? Sheet { get; init; }

    /// <summary>The name of a new sheet.</summary>
    public string? Name { get; init; }

    /// <summary>Ids of parts of the level.</summary>
    public IReadOnlyList<string> Parts { get; init; } = [];

    /// <summary>The parameter of each of the parts; null for all that have a plain value.</summary>
    public string? Parameter { get; init; }

    /// <summary>Named parameters of the model itself.</summary>
    public IReadOnlyList<string> Parameters { get; init; } = [];

    internal override Restructured On(LevelAt level)
    {
        var document = level.Document;
        var id = Sheet ?? NewIds.In(document.Sheets, "s");
        var taken = SheetRenaming.Taken(document);
        var sheet = Sheet is null ? Fresh(document, taken) : document.Sheets.GetValueOrDefault(Sheet) ?? throw Missing(Sheet);
        var rows = new Dictionary<string, RowNode>(sheet.Rows);
        var column = sheet.Columns.Keys.First();
        var (diagram, count) = (level.Diagram, rows.Count);
        foreach (var (part, name, described, text) in Chosen(level))
        {
            var own = SheetRenaming.Free($"{diagram.Parts[part].Name}_{name}", taken);
            rows[NewIds.In(rows, "r")] = new RowNode
            {
                Name = own,
                Description = described.Description is { Length: > 0 } about
                    ? $"{about} of {diagram.Parts[part].Name}"
                    : diagram.Parts[part].Name,
                Unit = described.Unit,
                Minimum = described.Minimum is { } least && IsLiteral(least) ? least : null,
                Maximum = described.Maximum is { } most && IsLiteral(most) ? most : null,
                Values = { [column] = text },
            };
            var node = diagram.Parts[part];
            diagram = diagram with
            {
                Parts = new Dictionary<string, PartNode>(diagram.Parts)
                {
                    [part] = node with { Parameters = new Dictionary<string, string>(node.Parameters) { [name] = own } },
                },
            };
        }

        foreach (var name in Parameters)
        {
            if (level.Id != document.Root)
                throw new DocumentException("Only parameters of the model itself can move to a sheet; a face is asked of each use.");
            if (!diagram.Parameters.TryGetValue(name, out var parameter))
                throw new DocumentException($"There is no parameter '{DocumentLimits.Short(name)}' on this level.");
            rows[NewIds.In(rows, "r")] = new RowNode
            {
                Name = name,
                Description = parameter.Description,
                Unit = parameter.Unit,
                Minimum = parameter.Minimum,
                Maximum = parameter.Maximum,
                Group = parameter.Group,
                Values = { [column] = parameter.Value },
            };
            diagram = diagram with { Parameters = diagram.Parameters.Where(p => p.Key != name).ToDictionary() };
        }

        if (rows.Count == count)
            throw new DocumentException("There is no plain value to move: the fields are expressions or defaults.");
        document = level.With(diagram) with
        {
            Sheets = new Dictionary<string, SheetNode>(document.Sheets) { [id] = sheet with { Rows = rows } },
        };
        var moved = rows.Count - count;
        return new Restructured($"Move {(moved == 1 ? "a value" : $"{moved} values")} to {sheet.Name}", document, [.. Parts]);
    }

    internal static DocumentException Missing(string sheet) => new($"There is no sheet '{DocumentLimits.Short(sheet)}' in this model.");

    SheetNode Fresh(ModelDocument document, HashSet<string> taken)
    {
        var name = NewIds.Name(
            string.IsNullOrWhiteSpace(Name) ? "Parameters" : Name.Trim(),
            document.Sheets.Values.Select(s => s.Name).ToHashSet()
        );
        return new SheetNode
        {
            Name = name,
            Chooser = SheetRenaming.Free($"{name}_column", taken),
            Active = Slots.Words("Values"),
            Columns = { ["c1"] = new ColumnNode { Name = "Values" } },
        };
    }

    IEnumerable<(string Part, string Name, ParameterDescription Described, string Text)> Chosen(LevelAt level)
    {
        foreach (var id in Parts)
        {
            var part = level.Part(id);
            if (level.Catalog.Find(part.Type) is not { } type || BundlePart.Is(type) || level.IsPort(part))
                continue;
            foreach (var described in level.Catalog.Describe(part.Type).Parameters)
            {
                if (described is not { Type: "Real", IsArray: false, Choices: null })
                    continue;
                var given = part.Parameters.GetValueOrDefault(described.Name);
                if (Parameter is null ? given is not null && IsLiteral(given) : described.Name == Parameter)
                    yield return (id, described.Name, described, given ?? described.Default);
            }
        }
    }

    /// <summary>Whether a text is a number, perhaps with a sign and a unit.</summary>
    static bool IsLiteral(string text)
    {
        try
        {
            var value = Parser.ParseField(text);
            value = value is Quantity quantity ? quantity.Value : value;
            return value is NumberLiteral or Unary { Operand: NumberLiteral };
        }
        catch (LanguageException)
        {
            return false;
        }
    }
}

/// <summary>Gives a row of a sheet another name, in all that speaks of it.</summary>
public sealed record RenameSheetRow : Restructuring
{
    public required string Sheet { get; init; }

    public required string Row { get; init; }

    public required string To { get; init; }

    internal override Restructured On(LevelAt level)
    {
        var document = level.Document;
        var sheet = document.Sheets.GetValueOrDefault(Sheet) ?? throw MoveToSheet.Missing(Sheet);
        var row = sheet.Rows.GetValueOrDefault(Row)
            ?? throw new DocumentException($"{sheet.Name} has no row '{DocumentLimits.Short(Row)}'.");
        var to = To.Trim();
        if (!Lexer.IsPlainIdentifier(to))
            throw new DocumentException(
                $"'{DocumentLimits.Short(to)}' cannot be the name of a value: take letters, digits and underscores, a letter first."
            );
        if (SheetRenaming.Taken(document).Contains(to))
            throw new DocumentException($"The name '{DocumentLimits.Short(to)}' means something in this model already.");
        document = SheetRenaming.Renamed(document, row.Name, to);
        var rows = new Dictionary<string, RowNode>(document.Sheets[Sheet].Rows);
        rows[Row] = rows[Row] with { Name = to };
        document = document with
        {
            Sheets = new Dictionary<string, SheetNode>(document.Sheets) { [Sheet] = document.Sheets[Sheet] with { Rows = rows } },
        };
        return new Restructured($"Rename {row.Name}", document, []);
    }
}

/// <summary>Names of sheets in the fields of a model.</summary>
static class SheetRenaming
{
    /// <summary>All names that mean something on some level, or are spoken of.</summary>
    public static HashSet<string> Taken(ModelDocument document)
    {
        var taken = new HashSet<string>();
        foreach (var diagram in document.Definitions.Values.OfType<DiagramDefinition>())
        {
            taken.UnionWith(diagram.Parameters.Keys);
            taken.UnionWith(diagram.Parts.Values.Select(p => p.Name));
            taken.UnionWith(ParameterUses.In(diagram));
        }

        foreach (var sheet in document.Sheets.Values)
            taken.UnionWith(sheet.Rows.Values.Select(r => r.Name).Append(sheet.Chooser));
        return taken;
    }

    /// <summary>A name made of words that nothing has yet; it is taken then.</summary>
    public static string Free(string words, HashSet<string> taken)
    {
        var stem = string.Join(
            '_',
            words.Split([.. words.Where(c => !char.IsAsciiLetterOrDigit(c)).Distinct()], StringSplitOptions.RemoveEmptyEntries)
        );
        if (!Lexer.IsPlainIdentifier(stem))
            stem = "p_" + stem;
        var name = stem;
        for (var n = 2; !taken.Add(name); n++)
            name = $"{stem}_{n}";
        return name;
    }

    /// <summary>The document with a name of a sheet exchanged wherever it means that.</summary>
    public static ModelDocument Renamed(ModelDocument document, string from, string to)
    {
        var above = new NamesFromAbove(document);
        string? Now(Reference r) => r.Parts.Count == 1 && r.Parts[0].Name == from ? ExpressionText.Name(to) : null;
        foreach (var (id, definition) in document.Definitions.ToList())
            if (
                definition is DiagramDefinition diagram
                && (id == document.Root ? !diagram.Parameters.ContainsKey(from) : above.Of(id).Contains(from))
            )
                document = document.With(id, DiagramTexts.Renamed(diagram, Now));
        string Text(string text) => FieldText.Rewritten(text, Now);
        return document with
        {
            Sheets = document.Sheets.ToDictionary(
                s => s.Key,
                s =>
                    s.Value with
                    {
                        Active = Text(s.Value.Active),
                        Rows = s.Value.Rows.ToDictionary(
                            r => r.Key,
                            r =>
                                r.Value.Texts.Any(t => Text(t) != t)
                                    ? r.Value with
                                    {
                                        Values = r.Value.Values.ToDictionary(v => v.Key, v => Text(v.Value)),
                                        Minimum = r.Value.Minimum is { } least ? Text(least) : null,
                                        Maximum = r.Value.Maximum is { } most ? Text(most) : null,
                                    }
                                    : r.Value
                        ),
                    }
            ),
        };
    }
}
