using AnchorBend.Modeling.Documents;
using AnchorBend.Simulation.Recording;
using AnchorBend.Verification;
using AnchorBend.Verification.Measures;
using AnchorBend.Workbench.Models;
using AnchorBend.Workbench.Runs;
using AnchorBend.Workbench.Views;

namespace AnchorBend.Server.Endpoints;

/// <summary>What people say of a run.</summary>
public sealed record LabelRequest(string? Name, string? Note, bool IsPinned);

public sealed record SignalsRequest(IReadOnlyList<string>? Signals);

/// <summary>A course of a source of the catalog over a length of time, s.</summary>
public sealed record CourseRequest(string? Part, IReadOnlyDictionary<string, string>? Parameters, double End);

/// <summary>A signal, and the unit that it is wanted in; its own without one.</summary>
public sealed record WantedSignal(string Signal, string? Unit);

public sealed record ViewsRequest(IReadOnlyList<WantedSignal>? Signals);

/// <summary>How many quantities were recovered.</summary>
public sealed record Recovered(int Count);

/// <summary>A table as text: its name, and what its columns are where that is decided.</summary>
public sealed record ImportRequest(string? Name, string? Text, IReadOnlyList<ColumnMapping>? Columns);

/// <summary>What is looked at and compared: lists of runs, signals, measures, differences, files of measured data.</summary>
static class ObserveEndpoints
{
    const int MostListed = 500;

    public static void Map(RouteGroupBuilder api)
    {
        api.MapGet("/models/{id}/runs", (string id, ModelWork models, RunPool runs) => runs.List(models.Session(id).Id))
            .WithName("listRuns")
            .ProducesProblem(404);
        api.MapPut("/runs/{id}/label", (string id, LabelRequest request, RunPool runs, CancellationToken wanted) =>
                runs.Put(id, new RunLabel(request.Name ?? "", request.Note ?? "", request.IsPinned), wanted)
            )
            .WithName("labelRun")
            .ProducesProblem(404)
            .ProducesProblem(422);
        api.MapGet("/runs/{id}/difference", (string id, string with, RunComparison comparison, CancellationToken wanted) =>
                comparison.Between(with, id, wanted)
            )
            .WithName("compareRuns")
            .ProducesProblem(404);
        api.MapPost("/runs/{id}/recovery", (string id, SignalsRequest request, RunRecovery recovery, CancellationToken wanted) =>
                new Recovered(recovery.Recover(id, Listed(request.Signals), wanted))
            )
            .WithName("recoverSignals")
            .ProducesProblem(404)
            .ProducesProblem(422);
        api.MapGet("/models/{id}/signals", Signals).WithName("findSignals").ProducesProblem(404);
        api.MapPost("/models/{id}/signals", Views).WithName("getSignalViews").ProducesProblem(404);
        api.MapGet("/models/{id}/measures", (string id, string[] run, ModelWork models, RunMeasures measures, CancellationToken wanted) =>
                measures.Of(models.Session(id).Present().Document, run.Length <= MostListed ? run : run[..MostListed], wanted)
            )
            .WithName("getMeasures")
            .ProducesProblem(404);
        api.MapGet("/runs/{id}/measure", (string id, string expression, RunMeasures measures, CancellationToken wanted) =>
                measures.Try(id, expression, wanted)
            )
            .WithName("tryMeasure")
            .ProducesProblem(404);
        api.MapGet("/runs/{id}/course", (string id, string signal, RecordedCourses courses, CancellationToken wanted) =>
                courses.Of(id, signal, wanted)
            )
            .WithName("getCourse")
            .ProducesProblem(404)
            .ProducesProblem(422);
        api.MapGet("/runs/{id}/stimulus", (string id, RecordedCourses courses, CancellationToken wanted) => courses.Played(id, wanted))
            .WithName("getPlayedStimulus")
            .ProducesProblem(404)
            .ProducesProblem(422);
        api.MapPost("/courses", (CourseRequest request, StimulusCourses courses, CancellationToken wanted) =>
                courses.Of(
                    Requests.Needed(request.Part, "part"),
                    request.Parameters ?? new Dictionary<string, string>(),
                    request.End,
                    wanted
                )
            )
            .WithName("makeCourse")
            .ProducesProblem(422);
        api.MapGet("/measures", () => MeasureFunction.All).WithName("getMeasureFunctions");
        api.MapPost("/models/{id}/imports/preview", (string id, ImportRequest request, RunImport import, CancellationToken wanted) =>
                import.Preview(id, Text(request), wanted)
            )
            .WithName("previewImport")
            .ProducesProblem(404)
            .ProducesProblem(422);
        api.MapPost("/models/{id}/imports", (string id, ImportRequest request, RunImport import, CancellationToken wanted) =>
                import.Take(id, request.Name is { Length: > 0 } name ? name : "table", Text(request), request.Columns ?? [], wanted)
            )
            .WithName("importRun")
            .ProducesProblem(404)
            .ProducesProblem(422);
    }

    static MemoryStream Text(ImportRequest request) => new(System.Text.Encoding.UTF8.GetBytes(Requests.Needed(request.Text, "text")));

    static IReadOnlyList<string> Listed(IReadOnlyList<string>? signals)
    {
        var few = Requests.Needed(signals, "signals");
        Requests.AtMost(RunResults.MostSignals, few, "signals");
        return few.All(s => s is not null) ? few : throw new RequestException("$.signals holds nothing in the place of a signal.");
    }

    static FoundSignals Signals(
        string id,
        string? search,
        string? part,
        string? unit,
        string? kind,
        int? offset,
        int? limit,
        ModelWork models,
        CancellationToken wanted
    )
    {
        var (prepared, document, _) = models.Session(id).Prepare(wanted);
        return SignalCatalog
            .Of(prepared, document)
            .Find(search, Requests.Path(part), unit, kind, Math.Max(0, offset ?? 0), Math.Clamp(limit ?? 100, 1, MostListed));
    }

    /// <summary>How signals are called and in which units they are shown.</summary>
    static IReadOnlyList<SignalInfo> Views(string id, ViewsRequest request, ModelWork models, CancellationToken wanted)
    {
        var signals = Requests.Needed(request.Signals, "signals");
        Requests.AtMost(4 * RunResults.MostSignals, signals, "signals");
        if (signals.Any(s => s?.Signal is null))
            throw new RequestException("$.signals holds nothing in the place of a signal.");
        var (prepared, document, _) = models.Session(id).Prepare(wanted);
        return SignalCatalog.Of(prepared, document).Views(signals.Select(s => (s.Signal, s.Unit)));
    }
}
