using AnchorBend.Interchange.Traces;
using AnchorBend.Simulation;
using AnchorBend.Workbench.Compute;
using AnchorBend.Workbench.Models;
using AnchorBend.Workbench.Runs;

namespace AnchorBend.Server.Endpoints;

public sealed record StartedRun(string Id);

/// <summary>Runs over HTTP: start, watch, cancel, and their traces.</summary>
static class RunEndpoints
{
    static readonly TimeSpan Patience = TimeSpan.FromSeconds(20),
        MostTable = TimeSpan.FromSeconds(60);

    public static void Map(RouteGroupBuilder api)
    {
        api.MapPost("/models/{id}/runs", (string id, string? client, ModelWork models, RunPool runs, CancellationToken wanted) =>
                new StartedRun(runs.Start(models.Session(id), wanted, client).Id)
            )
            .WithName("startRun")
            .ProducesProblem(422);
        api.MapGet("/runs/{id}", Get).WithName("getRun");
        api.MapDelete("/runs/{id}", (string id, bool? remove, RunPool runs) =>
            {
                if (remove == true)
                    runs.Remove(id);
                else if (runs.Player(id) is { } player)
                    player.Dispose();
                else
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
        var job = runs.Find(id, wanted) ?? throw NotFoundException.Run(id);
        var player = runs.Player(id);
        if (wait == true && player is null)
            await Task.WhenAny(job.Finished, Task.Delay(Patience, wanted));
        return RunView.Of(job, player, wanted);
    }

    static async Task<IResult> Traces(
        string id,
        string[] signal,
        double? from,
        double? to,
        int? width,
        string? minus,
        RunPool runs,
        RunComparison comparison,
        CancellationToken wanted
    )
    {
        Requests.AtMost(RunResults.MostSignals, signal, "signals");
        if (minus is not null)
            return TypedResults.Bytes(comparison.Curves(id, minus, signal, from, to, width, wanted), "application/octet-stream");
        return await Results(id, runs, wanted) is { } results
            ? TypedResults.Bytes(results.Traces(signal, from, to, width), "application/octet-stream")
            : TypedResults.StatusCode(StatusCodes.Status202Accepted);
    }

    /// <summary>Signals of a run as a file.</summary>
    /// <param name="form">csv, parquet or arrow.</param>
    /// <param name="every">Distance of the points of a grid, s; none for the recorded ones.</param>
    static async Task<IResult> Table(
        string id,
        string[] signal,
        string? form,
        double? every,
        RunPool runs,
        ComputeGate gate,
        CancellationToken wanted
    )
    {
        Requests.AtMost(RunResults.MostSignals, signal, "signals");
        if (form is not (null or "csv" or "tabs" or "parquet" or "arrow"))
            throw new RequestException("'form' is csv, tabs, parquet or arrow.");
        if (await Results(id, runs, wanted) is not { } results)
            return TypedResults.StatusCode(StatusCodes.Status202Accepted);
        var table = gate.Run(MostTable, wanted, _ => results.Table(signal, every));
        if (form is null or "csv" or "tabs")
            return TypedResults.Stream(t => CsvRunTable.Write(table, t, wanted, form == "tabs" ? '\t' : ','), "text/csv", "run.csv");
        // The writers of column files write as they like, which a response does not allow.
        var file = new MemoryStream();
        await (form == "parquet" ? ColumnFiles.WriteParquet(table, file, wanted) : ColumnFiles.WriteArrow(table, file, wanted));
        return TypedResults.Bytes(file.ToArray(), "application/octet-stream", $"run.{form}");
    }

    /// <summary>Values of all signals of a level at an instant.</summary>
    static async Task<IResult> Values(string id, double time, string? level, RunPool runs, CancellationToken wanted)
    {
        var path = Requests.Path(level);
        return await Results(id, runs, wanted) is { } results
            ? TypedResults.Ok(results.Values(time, path))
            : TypedResults.StatusCode(StatusCodes.Status202Accepted);
    }

    /// <summary>The results of a run, of a played one as far as it is; null while it goes on.</summary>
    internal static async Task<RunResults?> Results(string id, RunPool runs, CancellationToken wanted)
    {
        var job = runs.Find(id, wanted) ?? throw NotFoundException.Run(id);
        if (runs.Player(id) is null)
            await Task.WhenAny(job.Finished, Task.Delay(Patience, wanted));
        return job.Result is not null || runs.Player(id) is not null && job.Trace is not null ? new RunResults(job) : null;
    }
}
