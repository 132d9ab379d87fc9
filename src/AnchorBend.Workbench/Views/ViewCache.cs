using AnchorBend.Modeling.Documents;
using AnchorBend.Workbench.Models;

namespace AnchorBend.Workbench.Views;

/// <summary>
/// Views of a model as they were last shown, a few levels of it, from which the next ones are made: what an edit does not touch is
/// neither made nor sent again.
/// </summary>
sealed class ViewCache(ModelSession session)
{
    const int MostLevels = 8;

    readonly Lock gate = new();
    readonly List<ModelViewBuilder> last = [];

    /// <summary>The view of a level now.</summary>
    /// <exception cref="NotFoundException">The path leads to no level.</exception>
    public ModelView Now(PartPath level, CancellationToken wanted) => Built(level, wanted).Now;

    /// <summary>What has become different for a window that shows the level as it was at a revision.</summary>
    public ViewChange Since(long revision, PartPath level, CancellationToken wanted)
    {
        var (before, now) = Built(level, wanted);
        return ViewChange.Between(before?.Revision == revision ? before : null, now);
    }

    (ModelView? Before, ModelView Now) Built(PartPath level, CancellationToken wanted)
    {
        var (prepared, document, revision) = session.Prepare(wanted);
        lock (gate)
        {
            var before = last.Find(b => b.Level == level);
            if (before?.View is { } shown && shown.Revision == revision && ReferenceEquals(before.Prepared, prepared))
                return (before.Before, shown);
            var builder = new ModelViewBuilder(prepared, document, session.CatalogOf(document), level, before);
            var view = builder.Build(revision, session.ResultsRevision, session.CanUndo, session.CanRedo);
            last.Remove(before!);
            last.Add(builder);
            if (last.Count > MostLevels)
                last.RemoveAt(0);
            return (before?.View, view);
        }
    }
}
