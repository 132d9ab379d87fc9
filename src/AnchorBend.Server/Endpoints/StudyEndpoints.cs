using AnchorBend.Interchange.Sheets;
using AnchorBend.Modeling.Documents;
using AnchorBend.Workbench.Cases;
using AnchorBend.Workbench.Compute;
using AnchorBend.Workbench.FaultTrees;
using AnchorBend.Workbench.Models;
using AnchorBend.Workbench.Runs;
using AnchorBend.Workbench.Studies;
using AnchorBend.Workbench.Views;
using Microsoft.AspNetCore.Http.HttpResults;

namespace AnchorBend.Server.Endpoints;

/// <param name="State">running, paused or stopped; null leaves it.</param>
/// <param name="Priority">From −5 to 5, the larger the sooner; null leaves it.</param>
/// <param name="Again">Whether failed rows are run again.</param>
/// <param name="Here">Whether it goes on on this machine where a cluster ran it.</param>
public sealed record StudyChangeRequest(StudyState? State, int? Priority, bool? Again, bool? Here);

/// <summary>Where studies can be run.</summary>
public sealed record StudyEnginesView(bool HasCluster);

/// <param name="Chart">What is drawn.</param>
/// <param name="Without">Rows that are left out.</param>
public sealed record StudyChartRequest(StudyChartNode Chart, IReadOnlyList<int>? Without);

/// <param name="Signals">By identity.</param>
public sealed record StudyBandsRequest(IReadOnlyList<int> Rows, IReadOnlyList<string> Signals);

public sealed record StudyRowsRequest(IReadOnlyList<int> Rows);

/// <summary>Studies: their design tables, their runs, and what these show.</summary>
static class StudyEndpoints
{
    const int MostLeftOut = 100_000;

    static readonly TimeSpan MostComputing = TimeSpan.FromSeconds(10);

    public static void Map(RouteGroupBuilder api)
    {
        api.MapGet("/engines", (StudyJobs jobs) => new StudyEnginesView(jobs.HasCluster)).WithName("getStudyEngines");
        api.MapGet("/models/{id}/studies", (string id, ModelWork models, StudyJobs jobs) => jobs.OfModel(models.Session(id).Id))
            .WithName("getStudies")
            .ProducesProblem(404);
        api.MapGet("/models/{id}/tolerances", (string id, ModelWork models, CancellationToken wanted) =>
                StudyWork.Tolerances(models.Session(id), wanted)
            )
            .WithName("getTolerances")
            .ProducesProblem(404);
        api.MapGet("/models/{id}/factors", (string id, string? search, ModelWork models, CancellationToken wanted) =>
            {
                var (prepared, document, _) = models.Session(id).Prepare(wanted);
                return FactorCandidates.Of(document, prepared, search);
            })
            .WithName("findFactors")
            .ProducesProblem(404);
        api.MapGet("/models/{id}/studies/{study}/design", Design).WithName("getDesign").ProducesProblem(404).ProducesProblem(422);
        api.MapPost(
                "/models/{id}/studies/{study}/runs",
                (string id, string study, bool? onCluster, ModelWork models, StudyJobs jobs, CancellationToken wanted) =>
                    jobs.Start(models.Session(id), study, wanted, onCluster == true)
            )
            .WithName("startStudy")
            .ProducesProblem(404)
            .ProducesProblem(422);
        api.MapPost("/models/{id}/studies/{study}/rows", AddRows).WithName("readStudyRows").ProducesProblem(404).ProducesProblem(422);
        api.MapGet("/studies/{id}", (string id, long? after, StudyJobs jobs) => jobs.Find(id).ResultsSince(after ?? 0))
            .WithName("getStudyResults")
            .ProducesProblem(404);
        api.MapPut("/studies/{id}", Put).WithName("putStudy").ProducesProblem(404);
        api.MapDelete("/studies/{id}", (string id, StudyJobs jobs) =>
            {
                jobs.Remove(id);
                return TypedResults.NoContent();
            })
            .WithName("removeStudyRun");
        api.MapPost(
                "/studies/{id}/summary",
                (string id, StudyRowsRequest without, StudyJobs jobs, ComputeGate gate, CancellationToken wanted) =>
                    gate.Run(MostComputing, wanted, _ => new StudyAnalysis(jobs.Find(id), Rows(without.Rows)).Summary())
            )
            .WithName("getStudySummary")
            .ProducesProblem(404);
        api.MapPost("/studies/{id}/chart", Chart).WithName("getStudyChart").ProducesProblem(404).ProducesProblem(422);
        api.MapPost(
                "/studies/{id}/overlay",
                (string id, StudyRowsRequest request, StudyJobs jobs, StudyWork work, ComputeGate gate, CancellationToken wanted) =>
                    gate.Run(MostComputing, wanted, _ => work.Overlay(jobs.Find(id), [.. Rows(request.Rows).Order()]))
            )
            .WithName("overlayStudyRows")
            .ProducesProblem(404)
            .ProducesProblem(422);
        api.MapPost("/studies/{id}/bands", Bands).WithName("getStudyBands").ProducesProblem(404).ProducesProblem(422);
        api.MapGet("/studies/{id}/tree", (string id, StudyJobs jobs, ModelWork models) =>
                FoundTree.Of(jobs.Find(id), models.Session(jobs.Find(id).ModelId).Document)
            )
            .WithName("getStudyTree")
            .ProducesProblem(404)
            .ProducesProblem(422);
        api.MapGet("/studies/{id}/rows/{row}/case", Case).WithName("getStudyCase").ProducesProblem(404).ProducesProblem(422);
        api.MapGet("/studies/{id}/rows/{row}/values", Values).WithName("getRowValues").ProducesProblem(404).ProducesProblem(422);
        api.MapGet("/studies/{id}/table", Table).WithName("getStudyTable").Produces(200, contentType: "text/csv").ProducesProblem(404);
    }

    static StudyDesignView Design(
        string id,
        string study,
        int? offset,
        int? limit,
        ModelWork models,
        StudyWork work,
        ComputeGate gate,
        CancellationToken wanted
    )
    {
        if (offset is < 0 || limit is < 0 or > StudyWork.MostRows)
            throw new RequestException($"'limit' is at most {StudyWork.MostRows} rows.");
        return gate.Run(MostComputing, wanted, stop => work.Design(models.Session(id), study, offset ?? 0, limit ?? 200, stop));
    }

    static StudyJobView Put(string id, StudyChangeRequest request, StudyJobs jobs)
    {
        if (request.Again == true)
            return jobs.Again(id);
        if (request.Priority is { } priority)
            jobs.Put(id, priority);
        return request.State switch
        {
            null => jobs.Find(id).View(),
            StudyState.Finished => throw new RequestException("a study is told to be running, paused or stopped."),
            { } state => jobs.Put(id, state, request.Here == true),
        };
    }

    static StudyChart Chart(string id, StudyChartRequest request, StudyJobs jobs, ComputeGate gate, CancellationToken wanted)
    {
        var chart = Requests.Needed(request.Chart, "chart");
        if (chart is not { Kind: not null, X: not null, Y: not null, Fit: not null })
            throw new RequestException("$.chart needs 'kind', 'x', 'y' and 'fit'.");
        return gate.Run(MostComputing, wanted, _ => new StudyAnalysis(jobs.Find(id), Rows(request.Without ?? [])).Chart(chart));
    }

    static ActionView AddRows(
        string id,
        string study,
        TableRequest request,
        ModelWork models,
        ComputeGate gate,
        CancellationToken wanted
    ) => gate.Run(MostComputing, wanted, stop => StudyWork.RowsOf(models.Session(id), study, request.Bytes(), stop));

    static StudyBands Bands(
        string id,
        StudyBandsRequest request,
        StudyJobs jobs,
        StudyWork work,
        ComputeGate gate,
        CancellationToken wanted
    )
    {
        Requests.AtMost(RunResults.MostSignals, Requests.Needed(request.Signals, "signals"), "signals");
        return gate.Run(MostComputing, wanted, _ => work.Bands(jobs.Find(id), [.. Rows(request.Rows)], request.Signals));
    }

    static HashSet<int> Rows(IReadOnlyList<int>? rows)
    {
        Requests.AtMost(MostLeftOut, Requests.Needed(rows, "rows"), "rows");
        return [.. rows!];
    }

    /// <summary>A row as a test case, as an edit.</summary>
    static ActionView Case(string id, int row, StudyJobs jobs, ModelWork models)
    {
        var job = jobs.Find(id);
        if (row < 0 || row >= job.View().Rows)
            throw new NotFoundException("The study has no such row.");
        var cells = job.Row(row);
        return FoundCase.Of(
            models.Session(job.ModelId).Document,
            $"{job.Study.Name}, run {row + 1}",
            [.. job.Run.Table.Factors.Select((f, i) => (f.Target, cells[i].Text))],
            job.Study.Search?.Worst is { Length: > 0 } worst ? worst : null
        );
    }

    /// <summary>The values of a row as an edit that the model can take.</summary>
    static ActionView Values(string id, int row, StudyJobs jobs, ModelWork models)
    {
        var job = jobs.Find(id);
        if (row < 0 || row >= job.View().Rows)
            throw new NotFoundException("The study has no such row.");
        return new ActionView(
            $"Take the values of run {row + 1} of {job.Study.Name}",
            StudyWork.Applied(job, row, models.Session(job.ModelId).Document)
        );
    }

    static async Task<IResult> Table(string id, string? form, StudyJobs jobs, CancellationToken wanted)
    {
        var job = jobs.Find(id);
        var (columns, rows) = StudyWork.Table(job);
        var name = FileName.Of(job.Study.Name);
        switch (form ?? "csv")
        {
            case "csv":
                return TypedResults.File(ResultColumns.Spreadsheet(columns, rows, SpreadsheetForm.Text), "text/csv", $"{name}.csv");
            case "xlsx":
                return TypedResults.File(
                    ResultColumns.Spreadsheet(columns, rows, SpreadsheetForm.Workbook),
                    "application/vnd.openxmlformats-officedocument.spreadsheetml.sheet",
                    $"{name}.xlsx"
                );
            case "parquet":
                var stream = new MemoryStream();
                await ResultColumns.WriteParquet(columns, stream, wanted);
                return TypedResults.File(stream.ToArray(), "application/vnd.apache.parquet", $"{name}.parquet");
            default:
                throw new RequestException("'form' is csv, xlsx or parquet.");
        }
    }
}
