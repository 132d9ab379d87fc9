namespace AnchorBend.Modeling.Documents;

/// <summary>What the names of a model's sheets mean, and which of them a model speaks of.</summary>
public sealed class SheetNames
{
    readonly Dictionary<string, (SheetNode Sheet, RowNode? Row)> meant = [];

    public SheetNames(ModelDocument document)
    {
        foreach (var sheet in document.Sheets.Values)
        {
            meant.TryAdd(sheet.Chooser, (sheet, null));
            foreach (var row in sheet.Rows.Values)
                meant.TryAdd(row.Name, (sheet, row));
        }
    }

    public bool IsEmpty => meant.Count == 0;

    public bool Contains(string name) => meant.ContainsKey(name);

    /// <summary>The sheet that a name is of, with its row; no row for the parameter that chooses the column.</summary>
    public (SheetNode Sheet, RowNode? Row) this[string name] => meant[name];

    /// <summary>The names of sheets among some, and those that their values speak of in turn; each before those that need it.</summary>
    public IReadOnlyList<string> Closure(IEnumerable<string> spoken, Func<string, bool> isDeclared)
    {
        var found = new List<string>();
        var seen = new HashSet<string>();
        var open = new Stack<string>(spoken.Order(StringComparer.Ordinal).Reverse());
        while (open.TryPop(out var name))
        {
            if (!meant.TryGetValue(name, out var place) || isDeclared(name) || !seen.Add(name))
                continue;
            found.Add(name);
            foreach (var text in place.Row?.Texts ?? [place.Sheet.Active])
            foreach (var inner in ParameterUses.Names(text))
                open.Push(inner);
            if (place.Row is not null && place.Sheet.Columns.Count > 1)
                open.Push(place.Sheet.Chooser);
        }

        return found;
    }

    /// <summary>What values a name has: Real, Boolean or String.</summary>
    public string TypeOf(string name, Func<string, string> typeOf) =>
        meant[name].Row is { } row
            ? row.Values.Values.Select(v => ParameterTypes.Of(v, typeOf)).FirstOrDefault() ?? ParameterTypes.Real
            : ParameterTypes.String;
}
