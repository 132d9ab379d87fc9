using System.Diagnostics;
using AnchorBend.Compiler.Preparation;
using AnchorBend.Language;
using AnchorBend.Language.Syntax;
using AnchorBend.Language.Units;
using AnchorBend.Modeling;
using AnchorBend.Modeling.Catalog;
using AnchorBend.Modeling.Documents;
using AnchorBend.Modeling.Flat;
using AnchorBend.Simulation;
using AnchorBend.Simulation.Recording;
using AnchorBend.Verification;
using AnchorBend.Verification.Comparing;
using AnchorBend.Verification.Measures;
using AnchorBend.Workbench.Alternatives;
using AnchorBend.Workbench.Coverage;
using Trace = AnchorBend.Simulation.Recording.Trace;

namespace AnchorBend.Workbench.Cases;

/// <summary>Runs cases of a document, each by itself, and judges what comes out. Cases of one shape share what was compiled.</summary>
/// <param name="revision">Of the document, for the results.</param>
public sealed class CaseRun(ModelDocument document, Func<ModelDocument, PartCatalog> catalog, long revision)
{
    /// <summary>Bytes of the traces of one run, which go when it is judged.</summary>
    const long MostTrace = 256L << 20;

    /// <summary>Met with less than this share of its limit left is met narrowly.</summary>
    const double Narrow = 0.05;

    readonly Lock own = new();
    readonly Dictionary<string, PreparedModel> prepared = [];

    public ModelDocument Document => document;

    /// <summary>Runs a case; what goes wrong in it is its problem and no other's.</summary>
    /// <param name="progress">Told the simulated time now and then.</param>
    /// <param name="recorded">Told the finished run before its traces go.</param>
    /// <exception cref="OperationCanceledException">The result is not wanted any more.</exception>
    public CaseResult Of(
        string id,
        CancellationToken cancellation,
        Action<double>? progress = null,
        Action<CaseSetup, RunSession>? recorded = null
    )
    {
        var watch = Stopwatch.StartNew();
        var node = document.Cases[id];
        var (runKey, checkKey) = (CaseKey.OfRun(document, node), CaseKey.OfChecks(document, node));
        var provenance = new CaseProvenance(revision, "", "", 0, "", DateTime.UtcNow);
        CaseResult Broken(string why) =>
            new(id, node.Name, CaseOutcome.Broken, why, [], [], [], watch.Elapsed.TotalSeconds, runKey, checkKey, provenance);
        try
        {
            var setup = CaseSetup.Of(document, node);
            var ready = Prepared(setup);
            if (!ready.CanRun)
                return Broken(Told(ready.Findings.First(f => f.Severity == Severity.Error)));
            var parameters = new ParameterSet(ready.Model);
            var options = setup.Options with { TraceBudget = MostTrace };
            using var session = new RunSession(ready, parameters, options);
            session.Advance(new PauseAt(), cancellation, progress);
            var run = session.Result();
            using var trace = run.Trace;
            cancellation.ThrowIfCancellationRequested();
            var made = RunProvenance.Of(ready, parameters, options, revision);
            provenance = provenance with
            {
                Version = made.Version,
                Method = made.Method,
                RelativeTolerance = made.RelativeTolerance,
                Fingerprint = made.Fingerprint,
            };
            var requirements = Requirements(setup, ready, parameters, trace, options);
            List<CourseVerdict> courses =
            [
                .. setup.Node.Expected.Select(e => Course(e.Key, e.Value, ready, parameters, trace, run.Failure is not null)),
            ];
            var measures = Measures(setup, ready, parameters, trace, options);
            recorded?.Invoke(setup, session);
            return new CaseResult(
                id,
                node.Name,
                run.Failure is not null ? CaseOutcome.Broken : OutcomeOf(requirements, courses, measures),
                run.Failure is { } failure ? $"{failure.Message} (at {failure.Time:G6} s)" : null,
                requirements,
                courses,
                measures,
                watch.Elapsed.TotalSeconds,
                runKey,
                checkKey,
                provenance
            )
            {
                Tally = RunCounts.Of(session.Tally(), OutsideOf(node)),
                Items = node.Subject is null ? ItemCount.Of(setup.Document, ready, trace) : null,
                Chosen = node.Subject is null ? ChoicesOf(ready, setup) : null,
            };
        }
        catch (Exception e) when (e is SimulationException or DocumentException or LanguageException or BudgetException)
        {
            return Broken(e.Message);
        }
    }

    /// <summary>What a case has chosen: what it sets itself, else what its model has.</summary>
    static Dictionary<string, string> ChoicesOf(PreparedModel ready, CaseSetup setup) =>
        ModelChoices
            .Of(ready, setup.Document)
            .ToDictionary(
                c => c.Path,
                c => c.Values.FirstOrDefault(v => v.Text == setup.Set.GetValueOrDefault(c.Path)?.Trim())?.Name ?? c.Present
            );

    /// <summary>What stands before the names of a frame in those of the whole model.</summary>
    string OutsideOf(CaseNode node) =>
        node.Subject is { Length: > 0 } subject
        && PartPath.TryParse(subject, out var path)
        && document.NamePath(path.Above) is { Length: > 0 } name
            ? name + "."
            : "";

    /// <summary>The model as a case runs it, with code that counts.</summary>
    public PreparedModel Prepared(CaseSetup setup)
    {
        PreparedModel? earlier;
        lock (own)
            earlier = prepared.GetValueOrDefault(setup.Shape);
        var ready = setup.Prepare(catalog, earlier).Counting();
        if (ready.CanRun)
            lock (own)
                prepared.TryAdd(setup.Shape, ready);
        return ready;
    }

    static CaseOutcome OutcomeOf(
        IReadOnlyList<CaseVerdict> requirements,
        IReadOnlyList<CourseVerdict> courses,
        IReadOnlyList<MeasureVerdict> measures
    )
    {
        List<VerdictKind> all =
        [
            .. requirements.Where(r => r.Applies).Select(r => r.Verdict.Kind),
            .. courses.Select(c => c.Kind),
            .. measures.Select(m => m.Kind),
        ];
        return all.Contains(VerdictKind.Missed) ? CaseOutcome.Failed
            : all.Count == 0 || all.Contains(VerdictKind.Open) ? CaseOutcome.Open
            : CaseOutcome.Passed;
    }

    List<CaseVerdict> Requirements(CaseSetup setup, PreparedModel ready, ParameterSet parameters, Trace trace, RunOptions options)
    {
        var check = new RequirementCheck(ready, parameters, trace, options.Start, options.End, setup.Document.Measures);
        var wanted = setup.Node.Requirements;
        var all = new List<CaseVerdict>();
        // One that the case asks for and that cannot be judged must not be passed over.
        foreach (var gone in (wanted ?? []).Where(w => !setup.Document.Requirements.ContainsKey(w)).Distinct())
        {
            var there = document.Requirements.GetValueOrDefault(gone);
            var why = there is null
                ? "The requirement is not in the model any more: take it out of the case."
                : "It does not speak of the part that is run alone.";
            var verdict = new Verdict(gone, there?.Name ?? gone, VerdictKind.Open, null, null, null, "", null, why);
            all.Add(new CaseVerdict(verdict, true, false, there is null ? "" : CaseKey.OfRequirement(document, there)));
        }

        foreach (var (id, requirement) in setup.Document.Requirements)
        {
            if (wanted?.Contains(id) == false)
                continue;
            var verdict = RequirementCourses.InShownUnit(Finite(check.Check(id, requirement)), requirement, ready);
            all.Add(
                new CaseVerdict(
                    verdict,
                    wanted is not null || verdict.Kind != VerdictKind.Open,
                    verdict is { Kind: VerdictKind.Met, Margin: { } margin, Limit: { } limit } && margin < Narrow * Math.Abs(limit),
                    CaseKey.OfRequirement(document, document.Requirements[id])
                )
                {
                    Courses = verdict.Kind == VerdictKind.Open ? [] : RequirementCourses.Of(requirement, ready, parameters, trace),
                }
            );
        }

        return all;
    }

    /// <summary>What can be stored and sent: an endless margin is none.</summary>
    static Verdict Finite(Verdict verdict)
    {
        static double? Number(double? value) => value is { } v && double.IsFinite(v) ? v : null;
        return verdict with
        {
            Margin = Number(verdict.Margin),
            Actual = Number(verdict.Actual),
            Limit = Number(verdict.Limit),
            Decides = Number(verdict.Decides),
            Lines = [.. verdict.Lines.Where(l => double.IsFinite(l.From + l.To + l.Value))],
            Occasions = [.. verdict.Occasions.Select(Finite)],
        };
    }

    static CourseVerdict Course(string id, ExpectedNode expected, PreparedModel ready, ParameterSet parameters, Trace trace, bool isBroken)
    {
        CourseVerdict Open(string label, string why) => new(id, label, expected.Unit ?? "", VerdictKind.Open, null, null, null, why);
        if (ready.Find(expected.Signal) is not { } variable)
            return Open(expected.Signal, "The signal is not in the model any more.");
        var label = RequirementCourses.LabelOf(ready, variable);
        if (expected.Times.Count == 0)
            return Open(label, "Nothing is expected yet.");
        var coherent = variable.Unit ?? Unit.One;
        if (expected.Unit is not { Length: > 0 } symbol)
            symbol = coherent.Symbol == "1" ? "" : coherent.Symbol;
        var unit = Unit.One;
        if (symbol.Length > 0 && !Unit.TryParse(symbol, out unit, out _))
            return Open(label, $"'{DocumentLimits.Short(symbol)}' is no unit.");
        if (symbol.Length > 0 && !unit.Fits(coherent))
            return Open(label, $"It is expected in {Unit.Pretty(symbol)}, but the signal is in {Unit.Pretty(coherent.Symbol)}.");
        if (symbol.Length == 0)
            unit = coherent;
        if (!RecordedSignal.Has(ready, trace, variable))
            return Open(label, "The run did not keep this signal.");
        var tube = ExpectedTube.Of(expected, v => unit.ConvertTo(coherent, v), d => d * unit.Factor / coherent.Factor);
        var curve = new Curve(trace.Times, RecordedSignal.Values(ready, parameters.Values, trace, variable));
        double Shown(double value) => coherent.ConvertTo(unit, value);
        Line Drawn(IReadOnlyList<double> times, IReadOnlyList<double> values) => DrawnLine.Of(times, [.. values.Select(Shown)]);
        var (lower, upper) = tube.Limits;
        var verdict = new CourseVerdict(id, label, symbol, VerdictKind.Open, null, null, null, "")
        {
            Actual = Drawn(curve.Times, curve.Values),
            Lower = Drawn(lower.Times, lower.Values),
            Upper = Drawn(upper.Times, upper.Values),
            Expected = DrawnLine.Of(expected.Times, expected.Values, expected.IsHeld),
        };
        if (tube.Of(curve) is not { } outcome)
            return verdict with { Explanation = "The run and what is expected have no instant in common, or values are missing." };
        var margin = outcome.Margin * coherent.Factor / unit.Factor;
        verdict = verdict with { Margin = margin, MarginAt = outcome.MarginAt };
        if (outcome.Exit is { } exit)
            return verdict with
            {
                Kind = VerdictKind.Missed,
                Exit = new CourseExit(exit.At, Shown(exit.Actual), Shown(exit.Lower), Shown(exit.Upper)),
                Explanation = $"first out of tolerance at {exit.At:G6} s",
            };
        // What a run does not show is not held.
        var near = 1e-9 * Math.Max(1, Math.Abs(tube.End));
        if (isBroken || trace.Times[^1] < tube.End - near)
            return verdict with { Explanation = "The run ends before what is expected does." };
        if (trace.Times[0] > tube.Start + near)
            return verdict with { Explanation = "The run begins after what is expected does." };
        return verdict with { Kind = VerdictKind.Met, Explanation = $"least margin at {outcome.MarginAt:G6} s" };
    }

    static List<MeasureVerdict> Measures(CaseSetup setup, PreparedModel ready, ParameterSet parameters, Trace trace, RunOptions options)
    {
        var check = new RequirementCheck(ready, parameters, trace, options.Start, options.End, setup.Document.Measures);
        var all = new List<MeasureVerdict>();
        foreach (var (id, held) in setup.Node.Measures)
        {
            var name = setup.Document.Measures.GetValueOrDefault(held.Measure)?.Name ?? "a measure that is gone";
            Verdict? worst = null;
            foreach (
                var (kind, limit) in ((RequirementKind, string?)[])
                    [(RequirementKind.LowerLimit, held.AtLeast), (RequirementKind.UpperLimit, held.AtMost)]
            )
            {
                if (limit is not { Length: > 0 })
                    continue;
                var verdict = Finite(
                    check.Check(
                        id,
                        new RequirementNode
                        {
                            Name = name,
                            Signal = "",
                            Measure = held.Measure,
                            Kind = kind,
                            Limit = limit,
                        }
                    )
                );
                if (worst is null || (verdict.Margin ?? double.NegativeInfinity) < (worst.Margin ?? double.NegativeInfinity))
                    worst = verdict;
            }

            all.Add(
                worst is null
                    ? new MeasureVerdict(id, name, VerdictKind.Open, null, null, "", "It has no limits yet.")
                    : new MeasureVerdict(id, name, worst.Kind, worst.Actual, worst.Margin, worst.Unit, worst.Explanation)
            );
        }

        return all;
    }

    static string Told(Finding finding) => finding.Part.Length > 0 ? $"{finding.Part}: {finding.Message}" : finding.Message;
}
