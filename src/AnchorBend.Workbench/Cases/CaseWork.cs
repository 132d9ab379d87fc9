using System.Globalization;
using System.Text.Json;
using AnchorBend.Interchange.Sheets;
using AnchorBend.Modeling.Catalog;
using AnchorBend.Modeling.Documents;
using AnchorBend.Modeling.Flat;
using AnchorBend.Simulation.Recording;
using AnchorBend.Workbench.Models;
using AnchorBend.Workbench.Parts;
using AnchorBend.Workbench.Runs;
using AnchorBend.Workbench.Views;

namespace AnchorBend.Workbench.Cases;

/// <summary>What is done with cases beside running them: one is looked at, made of a run, read from and written to a table.</summary>
public sealed class CaseWork(RunPool runs, OwnPackage package)
{
    /// <summary>Signals that are expected of a case that is made of a run.</summary>
    public const int MostSignals = 100;

    /// <summary>What may differ from the run that a case is made of, as a share of the range of each signal.</summary>
    const double UsualTolerance = 0.01;

    static readonly JsonSerializerOptions Json = new(JsonSerializerDefaults.Web);

    /// <summary>Makes the run of a case, with all that is recorded, to be looked at; that of the last time goes.</summary>
    /// <returns>The id of the run.</returns>
    /// <exception cref="NotFoundException">There is no such case.</exception>
    /// <exception cref="DocumentException">It cannot be run.</exception>
    public string Look(ModelSession session, string id)
    {
        var (document, revision) = session.Present();
        var node = Case(document, id);
        var setup = CaseSetup.Of(document, node);
        var prepared = setup.Prepare(d => PartCatalog.Of(d, package.Catalog));
        if (!prepared.CanRun)
            throw new DocumentException(
                $"The case cannot run: {prepared.Findings.First(f => f.Severity == Modeling.Severity.Error).Message}"
            );
        var options = RunPool.OptionsOf(setup.Document);
        var set = $"case {session.Id}";
        runs.ForgetSet(set);
        var job = new RunJob(
            session.Id,
            revision,
            prepared,
            setup.Document,
            options with
            {
                Keep = KeptVariables.Of(prepared, setup.Document, options),
            }
        )
        {
            Set = set,
            Number = runs.NextNumber(session.Id),
            Label = new RunLabel(node.Name, "", false),
        };
        runs.Begin(job);
        return job.Id;
    }

    /// <summary>A run as a case, as an edit: what drove it, where it began and ended, and courses of signals as what is expected.</summary>
    /// <param name="signals">By identity.</param>
    /// <exception cref="RefusedException">The run is not over, or has none of the signals.</exception>
    public ActionView Captured(RunJob run, ModelDocument present, string name, IReadOnlyList<string> signals)
    {
        if (run.Result is not { Failure: null })
            throw new RefusedException("A case is made of a run that has come to its end.", "Run the model to its end first.");
        if (run.Source is not null)
            throw new RefusedException(
                "A run that was read from a file says nothing of how the model was run.",
                "Choose a run of the model."
            );
        var settings = run.Document.Settings;
        if (run.Options.Script is null && run.Result.Script is { Values.Count: > 0 })
            throw new RefusedException(
                "Values were set by hand in this run, which a case would not do again.",
                "Make a stimulus of the run in Observe, run the model with it, and make a case of that run."
            );
        if (settings.Stimulus.Length > 0 && !present.Stimuli.ContainsKey(settings.Stimulus))
            throw new RefusedException("The stimulus that drove this run is not in the model any more.", "Run the model anew.");
        if (settings.Point.Length > 0 && !present.OperatingPoints.ContainsKey(settings.Point))
            throw new RefusedException("The operating point that this run began at is not in the model any more.", "Run the model anew.");
        var expected = new Dictionary<string, ExpectedNode>();
        foreach (var signal in signals.Distinct())
            if (Expected(run, signal) is { } course)
                expected[$"e{expected.Count + 1}"] = course;
        if (signals.Count > 0 && expected.Count == 0)
            throw new RefusedException("The run has none of these signals.", "Choose signals that the run has recorded.");
        var node = new CaseNode
        {
            Name = name,
            Order = present.Cases.Values.Select(c => c.Order).DefaultIfEmpty().Max() + 1,
            Stimulus = settings.Stimulus,
            Point = settings.Point,
            End = settings.End,
            Method = settings.Method == present.Settings.Method ? null : settings.Method,
            Step = settings.Step == present.Settings.Step ? null : settings.Step,
            Expected = expected,
        };
        var id = FreeId(present, "c");
        return Edit($"Make a case of {(run.Label.Name.Length > 0 ? run.Label.Name : $"run {run.Number}")}", id, node);
    }

    static string FreeId(ModelDocument document, string prefix)
    {
        var n = document.Cases.Count + 1;
        while (document.Cases.ContainsKey(prefix + n))
            n++;
        return prefix + n;
    }

    static ActionView Edit(string label, string id, CaseNode node) =>
        new(label, [new PatchOperation("add", DocumentPath.Of("cases", id), JsonSerializer.SerializeToNode(node, Json))]);

    static ExpectedNode? Expected(RunJob run, string signal)
    {
        if (run.Prepared.Find(signal) is not { } variable || run.Trace is not { Rows: > 0 } trace)
            return null;
        if (variable.Role == VariableRole.Parameter || !RecordedSignal.Has(run.Prepared, trace, variable))
            return null;
        var (coherent, unit) = RequirementCourses.Units(variable);
        double[] values =
        [
            .. RecordedSignal.Values(run.Prepared, run.Parameters.Values, trace, variable).Select(v => coherent.ConvertTo(unit, v)),
        ];
        if (!values.All(double.IsFinite))
            return null;
        var course = new Course([.. trace.Times], values).Straightened();
        if (course.Times.Length > ExpectedNode.MostPoints)
            return null;
        var range = course.Values.Max() - course.Values.Min();
        return new ExpectedNode
        {
            Signal = signal,
            Unit = unit.Symbol == "1" ? null : unit.Symbol,
            Times = course.Times,
            Values = course.Values,
            Absolute = Round(UsualTolerance * (range > 0 ? range : Math.Max(Math.Abs(course.Values[0]), 1e-6))),
        };
    }

    /// <summary>One digit, as people would give it.</summary>
    static double Round(double value)
    {
        var power = Math.Pow(10, Math.Floor(Math.Log10(value)));
        return Math.Round(value / power) * power;
    }

    static CaseNode Case(ModelDocument document, string id) =>
        document.Cases.GetValueOrDefault(id) ?? throw new NotFoundException("There is no such case any more.");

    /// <summary>What a case expects as a table: a row for each instant, with the value and the limits of each signal.</summary>
    /// <exception cref="NotFoundException">There is no such case.</exception>
    public static (string Name, byte[] File) Table(ModelDocument document, string id, SpreadsheetForm form)
    {
        var node = Case(document, id);
        return (node.Name, SpreadsheetFile.Write(ExpectedTable.Rows(document, node), form));
    }

    /// <summary>A table as what a case expects, as an edit.</summary>
    /// <exception cref="NotFoundException">There is no such case.</exception>
    /// <exception cref="DocumentException">It is no such table.</exception>
    public static ActionView Read(ModelDocument document, string id, byte[] table)
    {
        var node = Case(document, id);
        var expected = ExpectedTable.Read(document, node, SpreadsheetFile.Read(table));
        return Edit($"Read what {node.Name} expects", id, node with { Expected = expected });
    }
}
