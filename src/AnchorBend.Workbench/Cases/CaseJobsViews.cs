using AnchorBend.Modeling.Documents;
using AnchorBend.Workbench.Alternatives;
using AnchorBend.Workbench.Coverage;
using AnchorBend.Workbench.Models;
using AnchorBend.Workbench.Reports;
using AnchorBend.Workbench.Requirements;
using AnchorBend.Workbench.Studies;

namespace AnchorBend.Workbench.Cases;

/// <content>What the newest results tell of the model as it is now.</content>
public sealed partial class CaseJobs
{
    /// <summary>Whether a result says nothing of the model as it is now.</summary>
    public static bool IsStale(ModelDocument document, CaseNode node, CaseResult result) =>
        result.RunKey != CaseKey.OfRun(document, node)
        || result.CheckKey != CaseKey.OfChecks(document, node)
        || result.Requirements.Any(r => IsStale(document, r));

    /// <summary>Whether a requirement asks for something else than it did, or is gone.</summary>
    static bool IsStale(ModelDocument document, CaseVerdict verdict) =>
        !document.Requirements.TryGetValue(verdict.Verdict.Id, out var now) || CaseKey.OfRequirement(document, now) != verdict.Key;

    public CasesView View(ModelSession session)
    {
        var (present, revision) = session.Present();
        var document = package.Portable(present);
        var known = Newest(session.Id);
        var suite = Of(session.Id).Select(j => j.Job.View()).OrderByDescending(v => v.Made).FirstOrDefault();
        return new CasesView(
            revision,
            [.. CaseOrder.Of(document).Select(c => Row(document, c.Id, c.Node, known.GetValueOrDefault(c.Id)))],
            suite,
            Labels(document)
        );
    }

    /// <summary>How the runs of a model's cases came out, the newest first.</summary>
    public IReadOnlyList<SuiteSummary> Runs(string model) => store.Summaries(model);

    static Dictionary<string, string> Labels(ModelDocument document) =>
        document
            .Cases.Values.SelectMany(c => c.Values.Values.Select(v => v.Target).Concat(c.Expected.Values.Select(e => e.Signal)))
            .Concat(document.CaseGroups.Values.SelectMany(g => g.Values.Values.Select(v => v.Target)))
            .Distinct()
            .ToDictionary(t => t, t => SignalName(document, t) ?? StudyPlan.LabelOf(document, document.NameOf(t) ?? t));

    /// <summary>What a signal is called on its level; null where nobody gave it a name.</summary>
    static string? SignalName(ModelDocument document, string identity) =>
        SignalReference.TryParse(identity, out var signal)
        && document.Level(signal.Part.Above)?.Diagram.Signals.GetValueOrDefault($"{signal.Part.Id}.{signal.Port}")?.Name
            is { Length: > 0 } name
            ? name
            : null;

    static CaseRow Row(ModelDocument document, string id, CaseNode node, CaseResult? result)
    {
        if (result is null)
            return new CaseRow(id, null, true, null, null, null, null, [], [], []);
        var hasChanged = result.RunKey != CaseKey.OfRun(document, node);
        return new CaseRow(
            id,
            result.Outcome,
            IsStale(document, node, result),
            result.Problem,
            result.Seconds,
            result.Provenance.Revision,
            result.Provenance.Made,
            [
                .. result
                    .Requirements.Where(r => r.Applies)
                    .Select(r => new CaseCell(
                        r.Verdict.Id,
                        r.Verdict.Kind,
                        r.Verdict.Margin,
                        r.Verdict.Unit,
                        r.IsNarrow,
                        hasChanged || IsStale(document, r)
                    )),
            ],
            [.. result.Courses.Select(c => new MeasureVerdict(c.Id, c.Label, c.Kind, null, c.Margin, c.Unit, c.Explanation))],
            result.Measures
        );
    }

    /// <summary>The newest result of a case, whole.</summary>
    /// <exception cref="NotFoundException">There is no such case.</exception>
    public CaseDetail Detail(ModelSession session, string id)
    {
        var (present, _) = session.Present();
        var document = package.Portable(present);
        if (!document.Cases.TryGetValue(id, out var node))
            throw new NotFoundException("There is no such case any more.");
        var result = store.Newest(session.Id, id);
        var passed = result is null ? null : store.Newest(session.Id, id, true);
        return new CaseDetail(
            result is null ? null : result with { Tally = null, Items = null, Chosen = null },
            result is null || IsStale(document, node, result),
            passed?.Provenance.Revision,
            passed?.Provenance.Made
        );
    }

    /// <summary>A report of the newest results of all cases.</summary>
    public CaseReport Report(ModelSession session, CancellationToken wanted)
    {
        var coverage = Coverage(session, wanted);
        var (present, revision) = session.Present();
        var document = package.Portable(present);
        var newest = store.Newest(session.Id).ToDictionary(r => r.Case);
        return new CaseReport(
            document,
            revision,
            [
                .. CaseOrder
                    .Of(document)
                    .Select(c => (c.Id, c.Node, Result: newest.GetValueOrDefault(c.Id)))
                    .Select(c => (c.Id, c.Node, c.Result, c.Result is null || IsStale(document, c.Node, c.Result))),
            ],
            coverage,
            CaseReport.Program,
            DateTime.UtcNow
        )
        {
            Parts = RequirementParts.All(document, session.Prepare(wanted).Prepared),
        };
    }

    /// <summary>What the cases came by, in runs of the model as it is now.</summary>
    public CoverageView Coverage(ModelSession session, CancellationToken wanted)
    {
        var (prepared, document, revision) = session.Prepare(wanted);
        var portable = package.Portable(document);
        List<CaseResult> fresh =
        [
            .. store
                .Newest(session.Id)
                // Results of programs that counted otherwise tell nothing of what is counted now.
                .Where(r =>
                    r.Tally is not null && portable.Cases.TryGetValue(r.Case, out var node) && r.RunKey == CaseKey.OfRun(portable, node)
                ),
        ];
        return CoverageOf.View(document, session.CatalogOf(document), fresh, prepared, document.Cases.Count - fresh.Count, revision);
    }

    Dictionary<string, CaseResult> Newest(string model)
    {
        lock (own)
        {
            if (!newest.TryGetValue(model, out var found))
                newest[model] = found = store.Newest(model).ToDictionary(r => r.Case, Bare);
            return new Dictionary<string, CaseResult>(found);
        }
    }

    static CaseResult Bare(CaseResult result) =>
        result with
        {
            Tally = null,
            Items = null,
            Chosen = null,
            Requirements = [.. result.Requirements.Select(r => r with { Courses = [] })],
            Courses =
            [
                .. result.Courses.Select(c => c with { Actual = Line.None, Lower = Line.None, Upper = Line.None, Expected = Line.None }),
            ],
        };
}
