using AnchorBend.Workbench.Models;
using Microsoft.AspNetCore.SignalR;

namespace AnchorBend.Server.Runs;

/// <summary>The live connection of a browser tab: it joins the model it shows and is told of changes and progress.</summary>
public sealed class LiveHub : Hub
{
    public Task Join(string modelId) => Groups.AddToGroupAsync(Context.ConnectionId, modelId);

    public Task Leave(string modelId) => Groups.RemoveFromGroupAsync(Context.ConnectionId, modelId);
}

sealed class HubNotifier(IHubContext<LiveHub> hub) : INotifications
{
    public void Changed(string modelId, long revision, string? client) =>
        _ = hub
            .Clients.Group(modelId)
            .SendAsync(
                "changed",
                new
                {
                    modelId,
                    revision,
                    client,
                }
            );

    public void PartsChanged(string modelId, string part) => _ = hub.Clients.Group(modelId).SendAsync("parts", new { modelId, part });

    public void Progress(string modelId, string runId, double part) =>
        _ = hub.Clients.Group(modelId).SendAsync("progress", new { runId, part });
}
