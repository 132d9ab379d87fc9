using System.Net.ServerSentEvents;
using System.Text.Json;
using AnchorBend.Server.Runs;
using AnchorBend.Workbench.Models;
using Microsoft.AspNetCore.Http.Json;
using Microsoft.Extensions.Options;

namespace AnchorBend.Server.Endpoints;

/// <summary>What happens to a model as server-sent events (WHATWG HTML, section 9.2), for scripts that wait for something.</summary>
static class EventEndpoints
{
    public static void Map(RouteGroupBuilder api) =>
        api.MapGet(
                "/models/{id}/events",
                (
                    string id,
                    ModelWork models,
                    EventStream events,
                    IHostApplicationLifetime server,
                    IOptions<JsonOptions> json,
                    CancellationToken wanted
                ) =>
                {
                    models.Session(id);
                    return TypedResults.ServerSentEvents(
                        Told(events.Of(id, server.ApplicationStopping, wanted), json.Value.SerializerOptions)
                    );
                }
            )
            .WithName("followModel")
            .ProducesProblem(404);

    static async IAsyncEnumerable<SseItem<string>> Told(IAsyncEnumerable<ModelEvent> events, JsonSerializerOptions options)
    {
        await foreach (var e in events)
            yield return new SseItem<string>(JsonSerializer.Serialize(e.Data, e.Data.GetType(), options), e.Kind);
    }
}
