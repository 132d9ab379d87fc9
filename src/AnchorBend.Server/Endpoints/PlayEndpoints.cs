using AnchorBend.Modeling.Documents;
using AnchorBend.Simulation;
using AnchorBend.Workbench.Models;
using AnchorBend.Workbench.Runs;

namespace AnchorBend.Server.Endpoints;

/// <summary>Where a played run is to go on to; nothing goes on to the end.</summary>
/// <param name="Pace">Simulated over real time, 0.01 to 100; null for as fast as it goes.</param>
/// <param name="Time">Pause at this time, s.</param>
/// <param name="Step">event or sample: pause behind the next one.</param>
/// <param name="Clock">The part whose sample time is meant; null for the next tick of any.</param>
/// <param name="Condition">Pause when this comes to hold.</param>
/// <param name="Stops">States and transitions of charts that pause it.</param>
public sealed record GoRequest(double? Pace, double? Time, string? Step, string? Clock, string? Condition, IReadOnlyList<ChartStop>? Stops);

/// <summary>Another value for a parameter, from this instant on.</summary>
/// <param name="Part">The part by ids; empty for the model itself.</param>
/// <param name="Fault">The fault that is switched instead, by its id; the value is true or false.</param>
public sealed record SetRequest(string? Part, string? Parameter, string? Value, string? Fault = null);

public sealed record SaveRequest(string? Name);

public sealed record PaceRequest(double? Pace);

public sealed record BranchRequest(string? State, string? Client);

/// <summary>Runs that are played by hand, over HTTP; what they do is told by the hub.</summary>
static class PlayEndpoints
{
    const double Slowest = 0.01,
        Fastest = 100;

    public static void Map(RouteGroupBuilder api)
    {
        api.MapPost("/models/{id}/plays", (string id, string? client, ModelWork models, RunPool runs, CancellationToken wanted) =>
                new StartedRun(runs.Play(models.Session(id), client, wanted).Id)
            )
            .WithName("playRun")
            .ProducesProblem(422);
        api.MapPost("/runs/{id}/go", Go).WithName("goOn").ProducesProblem(404).ProducesProblem(422);
        api.MapPost("/runs/{id}/pause", (string id, RunPool runs, CancellationToken wanted) => Done(id, runs, wanted, p => p.Pause(wanted)))
            .WithName("pauseRun");
        api.MapPost("/runs/{id}/stop", (string id, RunPool runs, CancellationToken wanted) => Done(id, runs, wanted, p => p.Stop(wanted)))
            .WithName("stopRun");
        api.MapPost("/runs/{id}/pace", (string id, PaceRequest request, RunPool runs, CancellationToken wanted) =>
                Done(id, runs, wanted, p => p.SetPace(Pace(request.Pace), wanted))
            )
            .WithName("setPace");
        api.MapPost("/runs/{id}/set", Set).WithName("setValue").ProducesProblem(404).ProducesProblem(422);
        api.MapPost("/runs/{id}/states", (string id, SaveRequest request, RunPool runs, CancellationToken wanted) =>
                Player(id, runs, wanted).Save(Short(request.Name), wanted)
            )
            .WithName("saveState");
        api.MapPost("/runs/{id}/branches", (string id, BranchRequest request, RunPool runs, CancellationToken wanted) =>
                new StartedRun(runs.Branch(id, Requests.Needed(request.State, "state"), request.Client, wanted).Id)
            )
            .WithName("branchRun")
            .ProducesProblem(404)
            .ProducesProblem(422);
    }

    static RunPlayer Player(string id, RunPool runs, CancellationToken wanted)
    {
        var job = runs.Find(id, wanted) ?? throw NotFoundException.Run(id);
        return runs.Player(id) ?? throw new DocumentException($"The run {job.Number} is not played by hand. Play the model first.");
    }

    static RunView Done(string id, RunPool runs, CancellationToken wanted, Action<RunPlayer> what)
    {
        var player = Player(id, runs, wanted);
        what(player);
        return RunView.Of(runs.Find(id, wanted) ?? throw NotFoundException.Run(id), player, wanted);
    }

    static RunView Go(string id, GoRequest request, RunPool runs, CancellationToken wanted) => Done(id, runs, wanted, player =>
        {
            if (request.Step is not (null or "event" or "sample"))
                throw new RequestException("'step' is event or sample.");
            if (request.Time is { } time && !double.IsFinite(time))
                throw new RequestException("'time' is no time.");
            player.Go(
                new PauseAt
                {
                    Time = request.Time ?? double.PositiveInfinity,
                    Event = request.Step == "event",
                    Clock = request.Step == "sample" ? player.Clock(request.Clock) : null,
                    Stops = StopsOf(request, player),
                },
                Pace(request.Pace),
                wanted
            );
        });

    const int MostStops = 200;

    static List<Stop> StopsOf(GoRequest request, RunPlayer player)
    {
        if (request.Stops is { Count: > MostStops })
            throw new RequestException($"A run pauses at no more than {MostStops} places.");
        var stops = new List<Stop>();
        if (!string.IsNullOrWhiteSpace(request.Condition))
            stops.Add(new Stop(player.Condition(request.Condition), "condition"));
        foreach (var stop in request.Stops ?? [])
            stops.Add(player.StopAt(stop ?? throw new RequestException("'stops' has an empty entry.")));
        return stops;
    }

    static double? Pace(double? pace) =>
        pace is null or (>= Slowest and <= Fastest)
            ? pace
            : throw new RequestException($"'pace' lies between {Slowest} and {Fastest}, or is left out.");

    static RunView Set(string id, SetRequest request, RunPool runs, CancellationToken wanted) => Done(id, runs, wanted, player =>
        {
            if (request.Fault is { } fault)
            {
                var document = runs.Find(id, wanted)!.Document;
                var switching = FaultyParts.SwitchName(document, fault) ?? throw new NotFoundException("The run has no such fault.");
                player.Set($"{switching}.k", Requests.Needed(request.Value, "value"), wanted);
                return;
            }

            var part = Requests.Path(request.Part);
            var parameter = Requests.Needed(request.Parameter, "parameter");
            var job = runs.Find(id, wanted)!;
            var name = job.Prepared.Map.NameOf(part) ?? throw new NotFoundException("The part is not in the model of this run.");
            player.Set(name.Length == 0 ? parameter : $"{name}.{parameter}", Requests.Needed(request.Value, "value"), wanted);
        });

    static string? Short(string? name) => name is { Length: > 200 } ? name[..200] : name;
}
