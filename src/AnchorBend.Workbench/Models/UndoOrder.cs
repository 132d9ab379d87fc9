using AnchorBend.Modeling.Documents;

namespace AnchorBend.Workbench.Models;

/// <summary>
/// What can be taken back and made again, and whose it is. One person alone goes through all edits, the last one first; several who have
/// signed in go each through their own.
/// </summary>
sealed class UndoOrder
{
    /// <param name="Revision">Of the edit itself.</param>
    /// <param name="At">The revision at which it was made, made again or taken back last.</param>
    public sealed record Step(long Revision, string Author, string Label, long At);

    readonly List<Step> done = [];
    readonly List<Step> undone = [];

    /// <param name="log">Edits, undoes and redoes in their order.</param>
    public UndoOrder(IEnumerable<EditEntry> log)
    {
        foreach (var entry in log)
            if (entry.Kind == "edit")
                Edited(entry, true);
            else
                Moved(entry.Kind, entry.Target!.Value, entry.Revision);
    }

    public bool CanUndo => done.Count > 0;

    public bool CanRedo => undone.Count > 0;

    /// <summary>What is taken back or made again next; null where there is nothing.</summary>
    /// <param name="author">Whose it has to be; null for anybody's.</param>
    public Step? Next(string kind, string? author) => From(kind).FindLast(s => author is null || s.Author == author);

    public bool HasAny(string kind) => From(kind).Count > 0;

    /// <summary>What others than <paramref name="author"/> did after a revision, the last of it first; what they also took back since is
    /// as if it had never been.</summary>
    public IEnumerable<Step> OfOthersSince(long revision, string author) =>
        done.Concat(undone.Where(s => s.Revision <= revision))
            .Where(s => s.At > revision && s.Author != author)
            .OrderByDescending(s => s.At);

    /// <summary>Notes an edit: what its author had taken back is not made again any more.</summary>
    /// <param name="ownOnly">Others may still make again what they took back.</param>
    public void Edited(EditEntry entry, bool ownOnly)
    {
        undone.RemoveAll(s => !ownOnly || s.Author == entry.Author || s.Author.Length == 0);
        done.Add(new Step(entry.Revision, entry.Author, entry.Label, entry.Revision));
    }

    public void Moved(string kind, long target, long at)
    {
        var from = From(kind);
        var index = from.FindLastIndex(s => s.Revision == target);
        (kind == "undo" ? undone : done).Add(from[index] with { At = at });
        from.RemoveAt(index);
    }

    List<Step> From(string kind) => kind == "undo" ? done : undone;
}
