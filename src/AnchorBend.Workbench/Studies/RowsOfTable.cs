using System.Globalization;
using System.Text.Json;
using AnchorBend.Modeling.Documents;
using AnchorBend.Workbench.Views;

namespace AnchorBend.Workbench.Studies;

/// <summary>Rows of a spreadsheet or a text file as rows of a study that are made by hand.</summary>
static class RowsOfTable
{
    static readonly JsonSerializerOptions Json = new(JsonSerializerDefaults.Web);

    /// <param name="cells">By row. A first row that names factors says which column is whose; without one, columns stand in the order of
    /// the factors.</param>
    /// <exception cref="DocumentException">There is nothing to be taken.</exception>
    public static ActionView Of(
        string study,
        StudyNode node,
        IReadOnlyList<FactorView> factors,
        IReadOnlyList<IReadOnlyList<object?>> cells
    )
    {
        if (factors.Count == 0)
            throw new DocumentException("The study has no factors yet, so nothing says what columns stand for. Add factors first.");
        var texts = cells.Select(r => r.Select(Text).ToList()).Where(r => r.Exists(c => c.Length > 0)).ToList();
        var named = texts.Count > 0 ? texts[0].ConvertAll(c => factors.FirstOrDefault(f => IsNamed(f, c))) : [];
        var hasHeader = named.Exists(f => f is not null);
        List<FactorView?> columns = hasHeader ? named : [.. factors];
        var rows = texts
            .Skip(hasHeader ? 1 : 0)
            .Select(r => new StudyRowNode
            {
                Values = r.Zip(columns)
                    .Where(c => c.Second is not null && c.First.Length > 0)
                    .DistinctBy(c => c.Second!.Id)
                    .ToDictionary(c => c.Second!.Id, c => c.First),
            })
            .Where(r => r.Values.Count > 0)
            .ToList();
        if (rows.Count == 0)
            throw new DocumentException(
                "The table has no row with a value. Its columns stand for "
                    + $"{string.Join(", ", factors.Select(f => f.Label))}, in this order or under these names."
            );
        return new ActionView(
            rows.Count == 1 ? "Add a row" : $"Add {rows.Count} rows",
            [
                new PatchOperation(
                    "add",
                    DocumentPath.Of("studies", study, "rows"),
                    JsonSerializer.SerializeToNode((StudyRowNode[])[.. node.Rows, .. rows], Json)
                ),
            ]
        );
    }

    static string Text(object? cell) => Convert.ToString(cell, CultureInfo.InvariantCulture)?.Trim() ?? "";

    /// <summary>Whether a heading means a factor: by its name, with a unit behind it or not.</summary>
    static bool IsNamed(FactorView factor, string heading)
    {
        var name = heading.Split(", ")[0];
        return ((string[])[heading, name]).Any(h =>
            string.Equals(h, factor.Label, StringComparison.OrdinalIgnoreCase) || string.Equals(h, factor.Target, StringComparison.Ordinal)
        );
    }
}
