using AnchorBend.Simulation;
using AnchorBend.Workbench.Models;
using AnchorBend.Workbench.Runs;

namespace AnchorBend.Server.Endpoints;

public sealed record StartedRun(string Id);

/// <summary>Runs over HTTP: start, watch, cancel, and their traces.</summary>
static class RunEndpoints
{
    static readonly TimeSpan Patience = TimeSpan.FromSeconds(20);

    public static void Map(RouteGroupBuilder api)
    {
        api.MapPost("/models/{id}/runs", (string id, ModelWork models, RunPool runs, CancellationToken wanted) =>
                new StartedRun(runs.Start(models.Session(id), wanted).Id)
            )
            .WithName("startRun")
            .ProducesProblem(422);
        api.MapGet("/runs/{id}", Get).WithName("getRun");
        api.MapDelete("/runs/{id}", (string id, RunPool runs) =>
            {
                runs.Find(id)?.Cancel();
                return TypedResults.NoContent();
            })
            .WithName("cancelRun");
        api.MapGet("/methods", () => MethodDescription.All).WithName("getMethods");
        api.MapGet("/runs/{id}/traces", Traces).WithName("getTraces").Produces<byte[]>(contentType: "application/octet-stream");
        api.MapGet("/runs/{id}/table", Table).WithName("getTable").Produces<string>(contentType: "text/csv");
        api.MapGet("/runs/{id}/values", Values).WithName("getValues").Produces<Dictionary<string, double>>();
    }

    /// <summary>Waits for the end of the run for a while, then answers with what there is.</summary>
    static async Task<RunView> Get(string id, bool? wait, RunPool runs, CancellationToken wanted)
    {
        var job = runs.Find(id) ?? throw NotFoundException.Run(id);
        if (wait == true)
            await Task.WhenAny(job.Finished, Task.Delay(Patience, wanted));
        return RunView.Of(job);
    }

    static async Task<IResult> Traces(
        string id,
        string[] signal,
        double? from,
        double? to,
        int? width,
        RunPool runs,
        CancellationToken wanted
    )
    {
        if (signal.Length > RunResults.MostSignals)
            throw new RequestException($"ask for at most {RunResults.MostSignals} signals at once.");
        return await Results(id, runs, wanted) is { } results
            ? TypedResults.Bytes(results.Traces(signal, from, to, width), "application/octet-stream")
            : TypedResults.StatusCode(StatusCodes.Status202Accepted);
    }

    /// <summary>Signals of a run as a file for spreadsheets.</summary>
    static async Task<IResult> Table(string id, string[] signal, RunPool runs, CancellationToken wanted)
    {
        if (signal.Length > RunResults.MostSignals)
            throw new RequestException($"ask for at most {RunResults.MostSignals} signals at once.");
        return await Results(id, runs, wanted) is { } results
            ? TypedResults.Stream(target => results.WriteCsv(target, signal, wanted), "text/csv", "run.csv")
            : TypedResults.StatusCode(StatusCodes.Status202Accepted);
    }

    /// <summary>Values of all signals of a level at an instant.</summary>
    static async Task<IResult> Values(string id, double time, string? level, RunPool runs, CancellationToken wanted)
    {
        var path = Requests.Path(level);
        return await Results(id, runs, wanted) is { } results
            ? TypedResults.Ok(results.Values(time, path))
            : TypedResults.StatusCode(StatusCodes.Status202Accepted);
    }

    /// <summary>The results of a run; null while it goes on.</summary>
    static async Task<RunResults?> Results(string id, RunPool runs, CancellationToken wanted)
    {
        var job = runs.Find(id) ?? throw NotFoundException.Run(id);
        await Task.WhenAny(job.Finished, Task.Delay(Patience, wanted));
        return job.Result is { } result ? new RunResults(job, result) : null;
    }
}
