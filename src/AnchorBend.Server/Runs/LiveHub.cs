using AnchorBend.Workbench.Cases;
using AnchorBend.Workbench.Models;
using AnchorBend.Workbench.Runs;
using AnchorBend.Workbench.Studies;
using Microsoft.AspNetCore.SignalR;

namespace AnchorBend.Server.Runs;

/// <summary>The live connection of a browser tab: it joins the model it shows and is told of changes and progress.</summary>
public sealed class LiveHub(RunPool runs) : Hub
{
    /// <summary>Signals that a window is told of.</summary>
    const int MostWatched = 200,
        MostRead = 2000;

    public Task Join(string modelId) => Groups.AddToGroupAsync(Context.ConnectionId, modelId);

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

    public Task Leave(string modelId) => Groups.RemoveFromGroupAsync(Context.ConnectionId, modelId);
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
