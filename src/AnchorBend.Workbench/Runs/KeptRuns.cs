using AnchorBend.Compiler.Preparation;
using AnchorBend.Modeling.Catalog;
using AnchorBend.Modeling.Flat;
using AnchorBend.Simulation;
using AnchorBend.Simulation.Recording;
using AnchorBend.Workbench.Compute;
using AnchorBend.Workbench.Models;

namespace AnchorBend.Workbench.Runs;

/// <summary>Runs that are kept for good: written when somebody pins them, read when somebody asks for them.</summary>
public sealed class KeptRuns(IRunStore store, OwnPackage package, ComputeGate gate)
{
    /// <summary>What putting the model of a kept run together may take.</summary>
    static readonly TimeSpan MostPreparation = TimeSpan.FromSeconds(30);

    public IReadOnlyList<RunSummary> List(string model) => store.List(model);

    public int LastNumber(string model) => store.LastNumber(model);

    /// <summary>Reads a kept run; null where it is none.</summary>
    /// <exception cref="NotFoundException">Its file or its model cannot be read any more.</exception>
    public RunJob? Load(string id, CancellationToken wanted)
    {
        if (store.Find(id) is not { } stored)
            return null;
        var (summary, report) = (stored.Summary, stored.Report);
        var prepared = gate.Run(MostPreparation, wanted, _ =>
            DocumentPreparation.Prepare(stored.Document, PartCatalog.Of(stored.Document, package.Catalog))
        );
        if (!prepared.CanRun)
            throw new NotFoundException("The model of this run cannot be put together by this version. Run the model again.");
        Trace trace;
        try
        {
            trace = TraceFile.Open(store.FileOf(id), name => Place(prepared, name));
        }
        catch (Exception e) when (e is IOException or InvalidDataException or UnauthorizedAccessException)
        {
            throw new NotFoundException($"The traces of this run cannot be read: {e.Message}");
        }

        trace.Constants = RunConstants.Of(prepared, report.Provenance.Script, trace);
        var job = new RunJob(stored.ModelId, summary.Revision, prepared, stored.Document, report.Provenance.ToOptions())
        {
            Id = id,
            Number = summary.Number,
            Label = new RunLabel(summary.Name, summary.Note, true),
            Made = DateTime.Parse(
                summary.Made,
                System.Globalization.CultureInfo.InvariantCulture,
                System.Globalization.DateTimeStyles.RoundtripKind
            ),
            Source = summary.Source,
            BranchOf = summary.BranchOf,
            Parameters = report.Values is { } values ? With(prepared.Model, values) : new ParameterSet(prepared.Model),
        };
        job.Restore(
            new RunResult(trace, report.Statistics, report.Events, report.Failure)
            {
                Start = report.Start,
                Script = report.Provenance.Script,
            },
            report.Verdicts
        );
        return job;
    }

    static ParameterSet With(FlatModel model, IReadOnlyDictionary<string, double> values)
    {
        var all = new ParameterSet(model).Values;
        foreach (var (name, value) in values)
            if (model.Find(name) is { Role: VariableRole.Parameter } parameter)
                all[parameter.Index] = value;
        return ParameterSet.Of(model, all);
    }

    static int Place(PreparedModel prepared, string name) =>
        prepared.Model.Find(name) is { } variable
            ? prepared.Compiled!.Plan.Representative[variable.Index]
            : prepared.Compiled!.Plan.RepresentativeOf(name);

    /// <summary>Writes what is said of a run: a pinned one is kept, one that is not any more is removed.</summary>
    /// <exception cref="IOException">Its file cannot be written.</exception>
    public void Put(RunJob job, bool wasPinned)
    {
        if (!job.Label.IsPinned)
        {
            if (wasPinned)
                store.Remove(job.Id);
            return;
        }

        if (wasPinned)
        {
            store.Put(job.Id, RunSummary.Of(job));
            return;
        }

        var result = job.Result!;
        var model = job.Prepared.Compiled!.Plan.Model;
        // The file first: a row without one would be half a run, a file without a row is swept at the next start.
        TraceFile.Write(result.Trace, [.. result.Trace.Variables.Select(v => v < 0 ? "" : model.NameOf(v))], store.FileOf(job.Id));
        store.Put(
            new StoredRun(
                job.ModelId,
                RunSummary.Of(job),
                new RunReport(
                    RunProvenance.Of(job.Prepared, job.Parameters, job.Options with { Script = result.Script }, job.Revision),
                    result.Statistics,
                    result.Events,
                    result.Failure,
                    result.Start,
                    job.Verdicts
                )
                {
                    Values = job.BranchOf is null
                        ? null
                        : job
                            .Prepared.Model.Variables.Where(v => v.Role == VariableRole.Parameter)
                            .ToDictionary(v => v.Name, v => job.Parameters.Values[v.Index]),
                },
                job.Document
            )
        );
    }

    public void Remove(string id) => store.Remove(id);

    public void Forget(string model) => store.RemoveAll(model);
}
