using AnchorBend.Interchange.Sheets;
using AnchorBend.Workbench.Cases;
using AnchorBend.Workbench.Code;
using AnchorBend.Workbench.Compute;
using AnchorBend.Workbench.Models;
using AnchorBend.Workbench.Reports;
using AnchorBend.Workbench.Runs;
using AnchorBend.Workbench.Views;

namespace AnchorBend.Server.Endpoints;

/// <param name="Cases">Ids of the cases to run; null for those of the choice.</param>
/// <param name="Choice">all, failed or stale; null for all.</param>
public sealed record CaseRunRequest(IReadOnlyList<string>? Cases, CaseChoice? Choice);

/// <param name="Signals">Of which the courses are expected, by identity.</param>
public sealed record CaptureRequest(string Name, IReadOnlyList<string> Signals);

/// <summary>A run that was begun to be looked at.</summary>
public sealed record LookedRun(string Run);

/// <summary>Test cases: their runs, their results, and what they expect as tables.</summary>
static class CaseEndpoints
{
    const int MostCases = 5000,
        LongestName = 200;

    static readonly TimeSpan MostComputing = TimeSpan.FromSeconds(20);

    public static void Map(RouteGroupBuilder api)
    {
        api.MapGet("/models/{id}/cases", (string id, ModelWork models, CaseJobs jobs) => jobs.View(models.Session(id)))
            .WithName("getCases")
            .ProducesProblem(404);
        api.MapGet("/models/{id}/cases/runs", (string id, ModelWork models, CaseJobs jobs) => jobs.Runs(models.Session(id).Id))
            .WithName("getCaseRuns")
            .ProducesProblem(404);
        api.MapPost("/models/{id}/cases/runs", Start).WithName("runCases").ProducesProblem(404).ProducesProblem(422);
        api.MapDelete("/cases/runs/{run}", (string run, CaseJobs jobs) => jobs.Stop(run)).WithName("stopCases").ProducesProblem(404);
        api.MapGet("/models/{id}/cases/{case}/result", (string id, string @case, ModelWork models, CaseJobs jobs) =>
                jobs.Detail(models.Session(id), @case)
            )
            .WithName("getCaseResult")
            .ProducesProblem(404);
        api.MapPost("/models/{id}/cases/{case}/look", Look).WithName("lookAtCase").ProducesProblem(404).ProducesProblem(422);
        api.MapGet("/models/{id}/cases/{case}/file", Export).WithName("exportCase").ProducesProblem(404);
        api.MapPost("/models/{id}/cases/{case}/table", Import).WithName("readCase").ProducesProblem(404).ProducesProblem(422);
        api.MapGet("/models/{id}/coverage", (string id, ModelWork models, CaseJobs jobs, ComputeGate gate, CancellationToken wanted) =>
                gate.Run(MostComputing, wanted, stop => jobs.Coverage(models.Session(id), stop))
            )
            .WithName("getCoverage")
            .ProducesProblem(404);
        api.MapGet("/models/{id}/report", Report).WithName("getReport").ProducesProblem(404).ProducesProblem(422);
        api.MapPost("/runs/{run}/case", Capture).WithName("captureCase").ProducesProblem(404).ProducesProblem(422);
    }

    static SuiteView Start(string id, CaseRunRequest request, ModelWork models, CaseJobs jobs, CancellationToken wanted)
    {
        if (request.Cases is { } cases)
            Requests.AtMost(MostCases, cases, "cases");
        return jobs.Start(models.Session(id), request.Cases, request.Choice ?? CaseChoice.All, wanted);
    }

    /// <param name="form">html, pdf or junit; html without one.</param>
    static IResult Report(
        string id,
        string? form,
        ModelWork models,
        CaseJobs jobs,
        DeliveryWork deliveries,
        ComputeGate gate,
        CancellationToken wanted
    )
    {
        if (form is not (null or "html" or "pdf" or "junit"))
            throw new RequestException("'form' is html, pdf or junit.");
        var checks = form == "junit" ? null : deliveries.Checks(id, wanted);
        var (name, text) = gate.Run(MostComputing, wanted, stop =>
        {
            var report = jobs.Report(models.Session(id), stop);
            if (checks is not null)
                report = report with { Checks = checks };
            return (FileName.Of(report.Document.Name), form == "junit" ? JUnitXml.Of(report) : ReportHtml.Of(report));
        });
        return form switch
        {
            "junit" => TypedResults.Text(text, "application/xml"),
            "pdf" => TypedResults.File(PdfPrinter.Print(text, wanted), "application/pdf", $"{name}.pdf"),
            _ => TypedResults.Text(text, "text/html"),
        };
    }

    static LookedRun Look(string id, string @case, ModelWork models, CaseWork work, ComputeGate gate, CancellationToken wanted) =>
        gate.Run(MostComputing, wanted, _ => new LookedRun(work.Look(models.Session(id), @case)));

    static IResult Export(string id, string @case, string? form, ModelWork models)
    {
        var isWorkbook = form switch
        {
            null or "csv" => false,
            "xlsx" => true,
            _ => throw new RequestException("'form' is csv or xlsx."),
        };
        var (name, file) = CaseWork.Table(
            models.Session(id).Present().Document,
            @case,
            isWorkbook ? SpreadsheetForm.Workbook : SpreadsheetForm.Text
        );
        name = FileName.Of(name);
        return isWorkbook
            ? TypedResults.File(file, "application/vnd.openxmlformats-officedocument.spreadsheetml.sheet", $"{name}.xlsx")
            : TypedResults.File(file, "text/csv", $"{name}.csv");
    }

    static ActionView Import(string id, string @case, TableRequest request, ModelWork models, ComputeGate gate, CancellationToken wanted) =>
        gate.Run(MostComputing, wanted, _ => CaseWork.Read(models.Session(id).Present().Document, @case, request.Bytes()));

    static ActionView Capture(
        string run,
        CaptureRequest request,
        RunPool runs,
        ModelWork models,
        CaseWork work,
        ComputeGate gate,
        CancellationToken wanted
    )
    {
        var name = Requests.Needed(request.Name, "name").Trim();
        if (name.Length is 0 or > LongestName)
            throw new RequestException($"'name' has from 1 to {LongestName} characters.");
        Requests.AtMost(CaseWork.MostSignals, Requests.Needed(request.Signals, "signals"), "signals");
        var job = runs.Find(run, wanted) ?? throw NotFoundException.Run(run);
        return gate.Run(MostComputing, wanted, _ =>
            work.Captured(job, models.Session(job.ModelId).Present().Document, name, request.Signals)
        );
    }
}
