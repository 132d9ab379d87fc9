using System.Buffers.Binary;
using System.Runtime.InteropServices;
using System.Text.Json;
using AnchorBend.Modeling.Documents;
using AnchorBend.Modeling.Flat;
using AnchorBend.Server.Models;
using AnchorBend.Server.Runs;
using AnchorBend.Simulation;
using AnchorBend.Simulation.Recording;
using AnchorBend.Verification;

namespace AnchorBend.Server.Endpoints;

public sealed record StartedRun(string Id);

/// <summary>State of a run.</summary>
/// <param name="State">running or finished.</param>
/// <param name="Part">How much of the run is done, 0 to 1.</param>
public sealed record RunView(
    string Id,
    long Revision,
    string State,
    double Part,
    double End,
    double Reached,
    SimulationFailure? Failure,
    RunStatistics? Statistics,
    IReadOnlyList<RunEvent> Events,
    IReadOnlyList<Verdict> Verdicts,
    IReadOnlyList<StartEntry> Start,
    IReadOnlyList<RunNote> Notes,
    RunRecord Record
);

/// <summary>Runs: start, watch, cancel, and their traces.</summary>
static class RunEndpoints
{
    static readonly TimeSpan Patience = TimeSpan.FromSeconds(20);

    public static void Map(RouteGroupBuilder api)
    {
        api.MapPost("/models/{id}/runs", (string id, ModelSessions sessions, RunPool pool, CancellationToken wanted) =>
                sessions.Find(id) is { } session ? Results.Ok(new StartedRun(pool.Start(session, wanted).Id)) : Problems.NoModel(id)
            )
            .WithName("startRun")
            .Produces<StartedRun>()
            .ProducesProblem(422);
        api.MapGet("/runs/{id}", Get).WithName("getRun").Produces<RunView>();
        api.MapDelete("/runs/{id}", (string id, RunPool pool) =>
            {
                pool.Find(id)?.Cancel();
                return Results.NoContent();
            })
            .WithName("cancelRun");
        api.MapGet("/methods", () => Results.Ok(MethodDescription.All)).WithName("getMethods").Produces<IReadOnlyList<MethodDescription>>();
        api.MapGet("/runs/{id}/traces", Traces).WithName("getTraces").Produces<byte[]>(contentType: "application/octet-stream");
        api.MapGet("/runs/{id}/values", Values).WithName("getValues").Produces<Dictionary<string, double>>();
    }

    /// <summary>Waits for the end of the run for a while, then answers with what there is.</summary>
    static async Task<IResult> Get(string id, bool? wait, RunPool pool, CancellationToken cancellation)
    {
        if (pool.Find(id) is not { } job)
            return Problems.NoRun(id);
        if (wait == true)
            await Task.WhenAny(job.Finished, Task.Delay(Patience, cancellation));
        var result = job.Result;
        return Results.Ok(
            new RunView(
                job.Id,
                job.Revision,
                result is null ? "running" : "finished",
                result is null ? job.Reached / job.Options.End : 1,
                job.Options.End,
                result?.Failure?.Time ?? job.Reached,
                result?.Failure,
                result?.Statistics is { } s ? s with { CompileSeconds = job.Prepared.CompileSeconds } : null,
                result is null ? [] : [.. result.Events.Take(400)],
                job.Verdicts,
                result?.Start ?? [],
                result is null ? [] : RunNote.Of(result.Statistics, result.Failure),
                RunRecord.Of(job.Prepared, job.Parameters, job.Options, job.Revision)
            )
        );
    }

    /// <summary>
    /// Traces reduced to what a plot of the given width shows: a length, a JSON header with the name and number of points of each
    /// signal, then the times and values of each as little-endian doubles.
    /// </summary>
    static async Task<IResult> Traces(
        string id,
        string[] signal,
        double? from,
        double? to,
        int? width,
        RunPool pool,
        CancellationToken cancellation
    )
    {
        if (pool.Find(id) is not { } job)
            return Problems.NoRun(id);
        await Task.WhenAny(job.Finished, Task.Delay(Patience, cancellation));
        if (job.Result is not { } result)
            return Results.StatusCode(202);
        if (signal.Length > 200)
            return TypedResults.Problem("Ask for at most 200 signals at once.", statusCode: 400);
        var trace = result.Trace;
        var columns = Math.Clamp(width ?? 1000, 10, 10_000);
        var header = new List<object>();
        var body = new List<double[]>();
        foreach (var name in signal)
        {
            var place = Place(job, name);
            if (place < 0 || !trace.Has(place))
            {
                header.Add(new { signal = name, count = 0 });
                continue;
            }

            var values = trace.Column(place);
            var chosen = TraceReduction.Indices(trace.Times, values, from ?? job.Options.Start, to ?? job.Options.End, columns);
            header.Add(new { signal = name, count = chosen.Length });
            body.Add([.. chosen.Select(i => trace.Times[i])]);
            body.Add([.. chosen.Select(i => values[i])]);
        }

        return Results.Bytes(Pack(header, body), "application/octet-stream");
    }

    static byte[] Pack(List<object> header, List<double[]> body)
    {
        var json = JsonSerializer.SerializeToUtf8Bytes(header);
        // The numbers start at a multiple of eight, so that the browser can view them in place.
        var start = (4 + json.Length + 7) / 8 * 8;
        var bytes = new byte[start + body.Sum(b => b.Length) * sizeof(double)];
        BinaryPrimitives.WriteInt32LittleEndian(bytes, json.Length);
        json.CopyTo(bytes, 4);
        foreach (var numbers in body)
        {
            MemoryMarshal.AsBytes(numbers.AsSpan()).CopyTo(bytes.AsSpan(start));
            start += numbers.Length * sizeof(double);
        }

        return bytes;
    }

    /// <summary>Values of all outputs and of the potentials and flows of all physical ports at an instant, by part id and port.</summary>
    static async Task<IResult> Values(string id, double time, RunPool pool, CancellationToken cancellation)
    {
        if (pool.Find(id) is not { } job)
            return Problems.NoRun(id);
        await Task.WhenAny(job.Finished, Task.Delay(Patience, cancellation));
        if (job.Result is not { } result)
            return Results.StatusCode(202);
        var values = new Dictionary<string, double>();
        foreach (var variable in job.Prepared.Model.Variables)
        {
            var owner = variable.Owner;
            if (!job.Prepared.PartIds.TryGetValue(owner, out var part))
            {
                // A physical port's variables belong to the port, and that to the part.
                owner = owner[..Math.Max(0, owner.LastIndexOf('.'))];
                if (variable.Role != VariableRole.Continuous || !job.Prepared.PartIds.TryGetValue(owner, out part))
                    continue;
            }
            else if (variable.Causality != Language.Syntax.Causality.Output)
                continue;

            var place = job.Prepared.Compiled!.Plan.Representative[variable.Index];
            var value = result.Trace.Has(place) ? result.Trace.At(place, time) : double.NaN;
            if (double.IsFinite(value))
                values[$"{part}.{variable.Name[(owner.Length + 1)..]}"] = value;
        }

        foreach (var (path, members) in job.Prepared.Model.Bundles)
        {
            if (!job.Prepared.PartIds.TryGetValue(path, out var part))
                continue;
            foreach (var (name, index) in members.SelectMany(m => job.Prepared.Model.SignalsOf($"{path}.{m.Path}")))
            {
                var place = job.Prepared.Compiled!.Plan.Representative[index];
                var value = result.Trace.Has(place) ? result.Trace.At(place, time) : double.NaN;
                if (double.IsFinite(value))
                    values[$"{part}.{name[(path.Length + 1)..]}"] = value;
            }
        }

        return Results.Ok(values);
    }

    /// <summary>A signal by part id and port, by name or by path.</summary>
    static int Place(RunJob job, string name) =>
        job.Prepared.Find(name) is { } variable ? job.Prepared.Compiled!.Plan.Representative[variable.Index] : -1;
}
