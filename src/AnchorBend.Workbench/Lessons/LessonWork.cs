using AnchorBend.Modeling.Documents;
using AnchorBend.Workbench.Compute;
using AnchorBend.Workbench.Models;
using AnchorBend.Workbench.People;

namespace AnchorBend.Workbench.Lessons;

/// <summary>Which models are made in a lesson, and what of it is passed over.</summary>
public interface ILessonStore
{
    /// <summary>The lesson of a model and the steps that are passed over; null for other models.</summary>
    (string Lesson, IReadOnlyList<string> Skipped)? Of(string model);

    void Put(string model, string lesson, IReadOnlyList<string> skipped);

    /// <summary>The model goes on without a lesson.</summary>
    void Remove(string model);

    /// <summary>Models that are made in lessons, lately changed ones first, without those in the trash.</summary>
    IReadOnlyList<(string Lesson, string Model)> Models();
}

/// <param name="IsDone">Whether the model shows that it was done.</param>
public sealed record LessonStepView(string Key, string Title, int Minutes, string Text, bool IsDone, bool IsSkipped);

/// <param name="Model">Where it is learnt; null where nobody has begun.</param>
/// <param name="Now">The step that comes next; null where all are done or passed over.</param>
public sealed record LessonView(string Key, string Title, string About, string? Model, IReadOnlyList<LessonStepView> Steps, string? Now);

/// <summary>Lessons: begun as a model of one's own, and followed by what is done in it.</summary>
public sealed class LessonWork(ILessonStore store, IModelStore models, ModelWork work, OwnPackage package, ComputeGate compute)
{
    /// <summary>All lessons, with how far whoever asks has come.</summary>
    public IReadOnlyList<LessonView> All(CancellationToken wanted)
    {
        var begun = store.Models().Where(m => Visitor.Owns(m.Model)).ToList();
        return
        [
            .. Lesson.All.Select(lesson =>
                begun.Find(b => b.Lesson == lesson.Key).Model is { } model ? Of(model, wanted) ?? Fresh(lesson) : Fresh(lesson)
            ),
        ];
    }

    static LessonView Fresh(Lesson lesson) =>
        new(
            lesson.Key,
            lesson.Title,
            lesson.About,
            null,
            [.. lesson.Steps.Select(s => new LessonStepView(s.Key, s.Title, s.Minutes, s.Text, false, false))],
            lesson.Steps[0].Key
        );

    static Lesson Find(string key) =>
        Lesson.All.FirstOrDefault(l => l.Key == key) ?? throw new NotFoundException($"There is no lesson '{DocumentLimits.Short(key)}'.");

    /// <summary>Begins a lesson on a new model.</summary>
    /// <returns>The model's id.</returns>
    /// <exception cref="NotFoundException">There is no such lesson.</exception>
    public string Begin(string key)
    {
        var lesson = Find(key);
        var empty = new DiagramDefinition { Name = lesson.Model }.AsModel();
        var id = models.Create(empty with { Settings = empty.Settings with { End = lesson.End } });
        store.Put(id, key, []);
        return id;
    }

    /// <summary>How far somebody has come in the lesson that a model is made in; null where it is made in none.</summary>
    /// <exception cref="NotFoundException">There is no such model.</exception>
    public LessonView? Of(string model, CancellationToken wanted)
    {
        var (document, _) = work.Session(model).Present();
        if (store.Of(model) is not { } kept || Lesson.All.FirstOrDefault(l => l.Key == kept.Lesson) is not { } lesson)
            return null;
        var facts = new LessonFacts(
            document,
            Modeling.Catalog.PartCatalog.Of(document, package.Catalog),
            models.Checkpoints(model),
            compute,
            wanted
        );
        // What comes later is looked at too: people do things in their own order.
        LessonStepView[] steps =
        [
            .. lesson.Steps.Select(s => new LessonStepView(
                s.Key,
                s.Title,
                s.Minutes,
                s.Text,
                s.IsDone(facts),
                kept.Skipped.Contains(s.Key)
            )),
        ];
        return new LessonView(
            lesson.Key,
            lesson.Title,
            lesson.About,
            model,
            steps,
            steps.FirstOrDefault(s => s is { IsDone: false, IsSkipped: false })?.Key
        );
    }

    /// <summary>Passes a step over, or takes that back.</summary>
    /// <exception cref="NotFoundException">The model is made in no lesson, or that has no such step.</exception>
    public void Skip(string model, string step, bool skips)
    {
        work.Session(model);
        if (store.Of(model) is not { } kept || Find(kept.Lesson).Steps.All(s => s.Key != step))
            throw new NotFoundException("There is no such step in the lesson of this model.");
        store.Put(model, kept.Lesson, skips ? [.. kept.Skipped.Append(step).Distinct()] : [.. kept.Skipped.Where(s => s != step)]);
    }

    /// <summary>The model goes on without its lesson.</summary>
    /// <exception cref="NotFoundException">There is no such model.</exception>
    public void End(string model)
    {
        work.Session(model);
        store.Remove(model);
    }
}
