using AnchorBend.Workbench.Cases;
using AnchorBend.Workbench.Models;
using AnchorBend.Workbench.People;
using AnchorBend.Workbench.Runs;
using AnchorBend.Workbench.Studies;
using Microsoft.AspNetCore.SignalR;

namespace AnchorBend.Server.Runs;

/// <summary>The live connection of a browser tab: it joins the model it shows and is told of changes and progress.</summary>
public sealed class LiveHub(RunPool runs, Presence presence) : Hub
{
    /// <summary>Signals that a window is told of.</summary>
    const int MostWatched = 200,
        MostRead = 2000;

    public Task Join(string modelId)
    {
        if (!Visitor.MaySee(modelId))
            throw new HubException("There is no such model.");
        return Groups.AddToGroupAsync(Context.ConnectionId, modelId);
    }

    /// <summary>Tells this window of a run that is played: frames with what is new.</summary>
    public void Watch(string runId, RunWatchRequest request)
    {
        if (
            request?.Signals is null
            || request.Level is null
            || request.Signals.Count > MostWatched
            || request.Readings is { Count: > MostRead }
            || !double.IsFinite(request.After)
        )
            throw new HubException($"Name a level and at most {MostWatched} signals.");
        runs.Player(runId)?.Watch(Context.ConnectionId, request);
    }

    public void Unwatch(string runId) => runs.Player(runId)?.Watch(Context.ConnectionId, null);

    public async Task Leave(string modelId)
    {
        await Groups.RemoveFromGroupAsync(Context.ConnectionId, modelId);
        await TellWhoIsThere(presence.Remove(Context.ConnectionId));
    }

    /// <summary>Tells the other windows of a model where this one is.</summary>
    public async Task Where(string modelId, WhereRequest request)
    {
        if (!Visitor.MaySee(modelId))
            throw new HubException("There is no such model.");
        presence.Put(Context.ConnectionId, modelId, Visitor.Current?.Name, request);
        await TellWhoIsThere(modelId);
    }

    public override async Task OnDisconnectedAsync(Exception? exception)
    {
        await TellWhoIsThere(presence.Remove(Context.ConnectionId));
        await base.OnDisconnectedAsync(exception);
    }

    Task TellWhoIsThere(string? model) =>
        model is null ? Task.CompletedTask : Clients.Group(model).SendAsync("present", presence.Of(model));
}

sealed class HubNotifier(IHubContext<LiveHub> hub, EventStream events) : INotifications
{
    public void Changed(string modelId, long revision, string? client) =>
        Tell(
            modelId,
            "changed",
            new
            {
                modelId,
                revision,
                client,
            }
        );

    public void PartsChanged(string modelId, string part) => Tell(modelId, "parts", new { modelId, part });

    public void RunChanged(string modelId, RunSummary run) => Tell(modelId, "run", run);

    public void StudyChanged(string modelId, StudyJobView study) => Tell(modelId, "study", study);

    public void CasesChanged(string modelId, SuiteView suite) => Tell(modelId, "cases", suite);

    public void Frame(string watcher, RunFrame frame) => _ = hub.Clients.Client(watcher).SendAsync("frame", frame);

    public void Progress(string modelId, string runId, double part) => Tell(modelId, "progress", new { runId, part });

    void Tell(string modelId, string kind, object data)
    {
        _ = hub.Clients.Group(modelId).SendAsync(kind, data);
        events.Tell(modelId, kind, data);
    }
}
