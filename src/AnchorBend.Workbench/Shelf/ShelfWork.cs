using System.Globalization;
using AnchorBend.Modeling.Documents;
using AnchorBend.Workbench.Models;
using AnchorBend.Workbench.People;
using AnchorBend.Workbench.Runs;
using AnchorBend.Workbench.Studies;
using Microsoft.Extensions.Logging;

namespace AnchorBend.Workbench.Shelf;

/// <summary>Where models lie: folders, tags, the trash; and finding them.</summary>
public sealed class ShelfWork(IShelfStore shelf, ModelWork models, IRunStore runs, StudyJobs studies, ILogger<ShelfWork> logger)
{
    /// <summary>How long models are kept in the trash, days.</summary>
    public const int TrashDays = 30;

    const int LongestFolder = 200,
        LongestTag = 40,
        MostTags = 20,
        Deepest = 8;

    /// <summary>What the most people do not scroll beyond, and what is quickly told.</summary>
    const int MostShown = 1000;

    /// <param name="search">Words that all have to be found in name, description, parts, tags or folder; empty for all models.</param>
    /// <param name="inTrash">Whether those in the trash are meant.</param>
    public ShelfView View(string? search, bool inTrash)
    {
        var (rows, facts) = (shelf.Rows().Where(r => Visitor.MaySee(r.Id)).ToList(), shelf.Facts());
        var wanted = (search ?? "").ToLowerInvariant().Split((char[]?)null, StringSplitOptions.RemoveEmptyEntries);
        var shown = rows.Where(r =>
                r.Trashed is not null == inTrash && wanted.All(w => Words(r, facts).Contains(w, StringComparison.Ordinal))
            )
            .Take(MostShown);
        var there = rows.Where(r => r.Trashed is null).ToList();
        return new ShelfView(
            [.. shown.Select(r => Entry(r, facts))],
            [
                .. shelf
                    .Folders()
                    .Where(f => Visitor.OfFolder(f) >= Access.View)
                    .Concat(there.Select(r => r.Folder))
                    .SelectMany(WithAbove)
                    .Distinct()
                    .Order(StringComparer.CurrentCulture),
            ],
            [.. there.SelectMany(r => r.Tags).Distinct().Order(StringComparer.CurrentCulture)],
            rows.Count - there.Count,
            TrashDays
        );
    }

    static string Words(ShelfRow row, IReadOnlyDictionary<string, CardFacts> facts) =>
        $"{row.Name} {row.Folder} {string.Join(' ', row.Tags)}".ToLowerInvariant() + " " + facts.GetValueOrDefault(row.Id)?.Words;

    static IEnumerable<string> WithAbove(string folder)
    {
        for (var path = folder; path.Length > 0; path = Above(path))
            yield return path;
    }

    static string Above(string folder) => folder.LastIndexOf('/') is >= 0 and var slash ? folder[..slash] : "";

    ShelfEntry Entry(ShelfRow row, IReadOnlyDictionary<string, CardFacts> facts) =>
        new(
            row.Id,
            row.Name,
            row.Folder,
            row.Tags,
            row.Changed,
            row.Revision,
            row.Author,
            row.Trashed,
            facts.GetValueOrDefault(row.Id)?.Domains ?? [],
            runs.List(row.Id).Count,
            [
                .. studies
                    .OfModel(row.Id)
                    .Take(2)
                    .Select(s => new ShelfStudy(
                        studies.Find(s.Id).Study.Name,
                        s.State.ToString().ToLowerInvariant(),
                        s.Done + s.Failed,
                        s.Rows
                    )),
            ]
        );

    /// <exception cref="DocumentException">Folder or tags are none that can be kept.</exception>
    /// <exception cref="NotFoundException">There is no such model.</exception>
    public void Place(string model, string folder, IReadOnlyList<string> tags)
    {
        var path = Folder(folder);
        Visitor.Demand(model, Access.Administer);
        if (shelf.Rows().FirstOrDefault(r => r.Id == model) is { } row && row.Folder != path)
            Visitor.DemandFolder(path, Access.Edit);
        string[] kept = [.. tags.Select(t => t.Trim()).Where(t => t.Length > 0).Distinct().Order(StringComparer.Ordinal)];
        if (kept.Length > MostTags || kept.Any(t => t.Length > LongestTag || t.Any(char.IsControl)))
            throw new DocumentException($"A model has at most {MostTags} tags of at most {LongestTag} characters each.");
        if (!shelf.Place(model, path, kept))
            throw NotFoundException.Model(model);
    }

    /// <exception cref="NotFoundException">There is no such model.</exception>
    public void Trash(string model)
    {
        Visitor.Demand(model, Access.Administer);
        if (!shelf.Trash(model, DateTime.UtcNow.ToString("O", CultureInfo.InvariantCulture)))
            throw NotFoundException.Model(model);
    }

    /// <exception cref="NotFoundException">There is no such model.</exception>
    public void Restore(string model)
    {
        Visitor.Demand(model, Access.Administer);
        if (!shelf.Trash(model, null))
            throw NotFoundException.Model(model);
    }

    /// <summary>Deletes for good what lies in the trash.</summary>
    /// <param name="before">Only what was put there before; null for all.</param>
    /// <returns>How many models went.</returns>
    public int Empty(DateTime? before = null)
    {
        var gone = shelf
            .Rows()
            .Where(r =>
                r.Trashed is { } at
                && Visitor.Of(r.Id) == Access.Administer
                && (before is null || DateTime.Parse(at, null, DateTimeStyles.RoundtripKind) < before)
            )
            .ToList();
        foreach (var row in gone)
            models.Delete(row.Id);
        if (gone.Count > 0)
            logger.LogInformation("{Count} models in the trash were deleted.", gone.Count);
        return gone.Count;
    }

    /// <exception cref="DocumentException">It is no name of a folder.</exception>
    public void MakeFolder(string path)
    {
        if (Folder(path) is not { Length: > 0 } wanted)
            throw new DocumentException("A folder needs a name.");
        Visitor.DemandFolder(Above(wanted), Access.Edit);
        shelf.PutFolder(wanted);
    }

    /// <exception cref="DocumentException">It is no name of a folder, one there is already, or one within the folder itself.</exception>
    /// <exception cref="NotFoundException">There is no such folder.</exception>
    public void MoveFolder(string from, string to)
    {
        var (old, wanted) = (Folder(from), Folder(to));
        Known(old);
        Visitor.DemandFolder(old, Access.Administer);
        Visitor.DemandFolder(Above(wanted), Access.Edit);
        if (wanted.Length == 0)
            throw new DocumentException("A folder needs a name.");
        if (wanted == old)
            return;
        if (wanted.StartsWith(old + "/", StringComparison.Ordinal))
            throw new DocumentException("A folder cannot be put into itself.");
        if (Exists(wanted))
            throw new DocumentException($"There is a folder '{wanted}' already.");
        shelf.MoveFolder(old, wanted);
    }

    /// <exception cref="NotFoundException">There is no such folder.</exception>
    public void RemoveFolder(string path)
    {
        var known = Folder(path);
        Known(known);
        Visitor.DemandFolder(known, Access.Administer);
        shelf.RemoveFolder(known);
    }

    /// <summary>Whether there is a folder, whoever may see it.</summary>
    bool Exists(string folder) => shelf.Folders().Concat(shelf.Rows().Select(r => r.Folder)).SelectMany(WithAbove).Contains(folder);

    void Known(string folder)
    {
        if (Visitor.OfFolder(folder) < Access.View || !Exists(folder))
            throw new NotFoundException($"There is no folder '{DocumentLimits.Short(folder)}'.");
    }

    /// <summary>A path as it is kept: without empty names, spaces around names or control characters.</summary>
    static string Folder(string path)
    {
        string[] names = [.. path.Split('/').Select(n => n.Trim()).Where(n => n.Length > 0)];
        var kept = string.Join('/', names);
        return kept.Length > LongestFolder || names.Length > Deepest || kept.Any(char.IsControl)
            ? throw new DocumentException($"Names of folders have at most {LongestFolder} characters and {Deepest} levels.")
            : kept;
    }
}
