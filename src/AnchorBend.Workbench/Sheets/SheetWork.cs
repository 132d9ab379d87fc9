using AnchorBend.Interchange.Sheets;
using AnchorBend.Modeling.Documents;
using AnchorBend.Workbench.Compute;
using AnchorBend.Workbench.Models;

namespace AnchorBend.Workbench.Sheets;

/// <summary>Where a row of a sheet is spoken of.</summary>
/// <param name="Part">The part by ids from the root down, at the first use of its level; null for a parameter of the model.</param>
/// <param name="Text">The place in words.</param>
public sealed record SheetUse(string? Part, string Text);

/// <summary>Sheets as files, compared with files, and where their rows are used.</summary>
public sealed class SheetWork(ModelWork models, ComputeGate compute)
{
    /// <summary>What reading a file may take.</summary>
    static readonly TimeSpan MostReading = TimeSpan.FromSeconds(15);

    static SheetNode Sheet(ModelDocument document, string sheet) =>
        document.Sheets.GetValueOrDefault(sheet) ?? throw new NotFoundException($"There is no sheet '{sheet}' in this model any more.");

    /// <exception cref="NotFoundException">There is no such model or sheet.</exception>
    public (string Name, byte[] File) Export(string id, string sheet, SpreadsheetForm form)
    {
        var node = Sheet(models.Session(id).Present().Document, sheet);
        return (node.Name, SpreadsheetFile.Write(SheetTable.Of(node), form));
    }

    /// <summary>What a file would change in a sheet.</summary>
    /// <exception cref="NotFoundException">There is no such model or sheet.</exception>
    /// <exception cref="DocumentException">The file is no table, or has no header that is understood.</exception>
    public SheetImportView Compare(string id, string sheet, byte[] file, CancellationToken wanted)
    {
        var node = Sheet(models.Session(id).Present().Document, sheet);
        return compute.Run(MostReading, wanted, _ => SheetImport.Compare(sheet, node, SpreadsheetFile.Read(file)));
    }

    /// <summary>What speaks of each row of a sheet, by its name; nothing for rows that are not used.</summary>
    /// <exception cref="NotFoundException">There is no such model or sheet.</exception>
    public IReadOnlyDictionary<string, IReadOnlyList<SheetUse>> Uses(string id, string sheet)
    {
        var document = models.Session(id).Present().Document;
        var names = Sheet(document, sheet).Rows.Values.Select(r => r.Name).ToHashSet();
        var above = new NamesFromAbove(document);
        var uses = new Dictionary<string, List<SheetUse>>();
        void Add(string name, SheetUse use)
        {
            if (!uses.TryGetValue(name, out var list))
                uses[name] = list = [];
            list.Add(use);
        }

        foreach (var (key, definition) in document.Definitions)
        {
            if (
                definition is not DiagramDefinition diagram
                || document.UsesOf(key).FirstOrDefault() is var at && at.IsRoot && key != document.Root
            )
                continue;
            bool IsMeant(string name) =>
                names.Contains(name) && (key == document.Root ? !diagram.Parameters.ContainsKey(name) : above.Of(key).Contains(name));
            var way = key == document.Root ? "" : $"{diagram.Name} ▸ ";
            foreach (var (own, parameter) in diagram.Parameters)
            foreach (var name in parameter.Texts.SelectMany(ParameterUses.Names).Where(IsMeant).Distinct())
                Add(name, new SheetUse(at.IsRoot ? null : at.ToString(), $"{way}{own}"));
            foreach (var (part, node) in diagram.Parts)
            foreach (var (field, text) in node.Texts)
            foreach (var name in ParameterUses.Names(text).Where(IsMeant))
                Add(name, new SheetUse(at.Then(part).ToString(), $"{way}{node.Name} ▸ {field}"));
        }

        foreach (var other in document.Sheets.Values)
        foreach (var row in other.Rows.Values)
        foreach (var name in row.Texts.SelectMany(ParameterUses.Names).Where(names.Contains).Distinct())
            Add(name, new SheetUse(null, $"{other.Name} ▸ {row.Name}"));
        return uses.ToDictionary(u => u.Key, u => (IReadOnlyList<SheetUse>)u.Value);
    }
}
