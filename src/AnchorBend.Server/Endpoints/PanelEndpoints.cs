using AnchorBend.Language;
using AnchorBend.Workbench.Compute;
using AnchorBend.Workbench.Models;
using AnchorBend.Workbench.Panels;
using AnchorBend.Workbench.Runs;

namespace AnchorBend.Server.Endpoints;

/// <summary>Panels and alerts over HTTP.</summary>
static class PanelEndpoints
{
    static readonly TimeSpan MostComputing = TimeSpan.FromSeconds(20);

    const int MostSignals = 200,
        MostOffered = 40;

    public static void Map(RouteGroupBuilder api)
    {
        api.MapGet("/models/{id}/panels/{panel}", (string id, string panel, ModelWork models, CancellationToken wanted) =>
            {
                var (prepared, document, _) = models.Session(id).Prepare(wanted);
                var node = document.Panels.GetValueOrDefault(panel) ?? throw new NotFoundException("There is no such panel any more.");
                return new PanelViews(prepared, document).Of(node);
            })
            .WithName("getPanel")
            .ProducesProblem(404);
        api.MapGet("/models/{id}/settable", (string id, string? search, ModelWork models, CancellationToken wanted) =>
            {
                var (prepared, document, _) = models.Session(id).Prepare(wanted);
                return new PanelViews(prepared, document).Settable(search, MostOffered);
            })
            .WithName("findSettable")
            .ProducesProblem(404);
        api.MapGet("/runs/{id}/readings", Readings).WithName("getReadings").Produces<Dictionary<string, double>>();
        api.MapGet("/runs/{id}/alerts", Alerts).WithName("getAlerts").ProducesProblem(404);
    }

    /// <summary>The alerts that a run has raised so far.</summary>
    static async Task<IReadOnlyList<RaisedAlert>> Alerts(string id, RunPool runs, ComputeGate gate, CancellationToken wanted)
    {
        if (await RunEndpoints.Results(id, runs, wanted) is null)
            return [];
        var job = runs.Find(id, wanted) ?? throw NotFoundException.Run(id);
        return gate.Run(MostComputing, wanted, _ => new AlertWatch(job).Now(WorkBudget.Current.Check));
    }

    /// <summary>Values of signals at an instant.</summary>
    static async Task<IResult> Readings(string id, double time, string[] signal, RunPool runs, CancellationToken wanted)
    {
        Requests.AtMost(MostSignals, signal, "signals");
        if (!double.IsFinite(time))
            throw new RequestException("'time' is no time.");
        return await RunEndpoints.Results(id, runs, wanted) is { } results
            ? TypedResults.Ok(results.Readings(signal, time))
            : TypedResults.StatusCode(StatusCodes.Status202Accepted);
    }
}
