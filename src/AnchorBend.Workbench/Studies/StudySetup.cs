using AnchorBend.Exploration;
using AnchorBend.Modeling.Documents;
using AnchorBend.Simulation;
using AnchorBend.Workbench.Models;

namespace AnchorBend.Workbench.Studies;

/// <summary>A study of a document, ready to run: the same on this machine and on the node of a cluster.</summary>
/// <param name="Search">What makes the rows; null where they are those of the plan.</param>
public sealed record StudySetup(StudyPlan Plan, StudyRun Run, IReadOnlyList<StudyMeasure> Measures, StudySearch? Search)
{
    /// <summary>The column of what a search makes least.</summary>
    public const string Goal = "goal";

    /// <summary>Bytes of the traces of one run, which go when it is measured.</summary>
    const long MostTrace = 256L << 20;

    /// <param name="source">Of a document.</param>
    /// <exception cref="ExplorationException">The study has no rows.</exception>
    public static StudySetup Of(ModelSource source, StudyNode study)
    {
        var document = source.Document!;
        var prepared = source.Prepare();
        var plan = StudyPlan.Of(document, study, prepared);
        if (plan.Table is not { } table)
            throw new ExplorationException("rows", plan.Problem!, plan.Advice ?? "");
        List<StudyMeasure> measures = [.. document.Measures.Select(m => new StudyMeasure(m.Value.Name, m.Value.Expression, m.Key))];
        var search = study.Search is { } wanted
            ? new StudySearch(wanted, table.Factors, document, [.. plan.Factors.Select(f => f.Present)], study.Design.Draws)
            : null;
        if (search is { HasGoal: true })
            measures.Add(new StudyMeasure("goal", study.Search!.Goal, Goal));
        var run = new StudyRun(
            source,
            new Dictionary<string, string>(),
            table,
            measures,
            of => DocumentRun.OptionsOf(of.Document!) with { TraceBudget = MostTrace },
            true
        )
        {
            Courses = StudyCourses.Of(document, study, prepared, plan.RowsAtMost(study)),
        };
        return new StudySetup(plan, run, measures, search);
    }
}
