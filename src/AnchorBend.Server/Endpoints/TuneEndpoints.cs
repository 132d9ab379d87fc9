using AnchorBend.Workbench.Models;
using AnchorBend.Workbench.Tuning;

namespace AnchorBend.Server.Endpoints;

/// <summary>Loops, maps and designs over HTTP.</summary>
static class TuneEndpoints
{
    /// <summary>Designs that one request may ask for.</summary>
    const int MostDesigns = 12;

    public static void Map(RouteGroupBuilder api)
    {
        api.MapPost(
                "/models/{id}/loops",
                (string id, LoopsRequest request, ModelWork models, LoopTuning tuning, CancellationToken wanted) =>
                    tuning.Loops(models.Session(id), request, wanted)
            )
            .WithName("loops")
            .ProducesProblem(422);
        api.MapPost(
                "/models/{id}/loops/map",
                (string id, MapRequest request, ModelWork models, LoopTuning tuning, CancellationToken wanted) =>
                {
                    Requests.Needed(request.Part, "part");
                    return tuning.Map(models.Session(id), request, wanted);
                }
            )
            .WithName("designMap")
            .ProducesProblem(422);
        api.MapPost(
                "/models/{id}/loops/designs",
                (string id, DesignsRequest request, ModelWork models, LoopTuning tuning, CancellationToken wanted) =>
                {
                    Requests.Needed(request.Part, "part");
                    Requests.AtMost(MostDesigns, Requests.Needed(request.Asks, "asks"), "designs");
                    foreach (var ask in request.Asks)
                        Requests.Needed(Requests.Needed(ask, "asks").Name, "asks.name");
                    return tuning.Designs(models.Session(id), request, wanted);
                }
            )
            .WithName("designs")
            .ProducesProblem(422);
        api.MapPost(
                "/models/{id}/loops/run",
                (string id, TrueRunRequest request, ModelWork models, LoopTuning tuning, CancellationToken wanted) =>
                {
                    Requests.Needed(request.Part, "part");
                    return tuning.TrueRun(models.Session(id), request, wanted);
                }
            )
            .WithName("designRun")
            .ProducesProblem(422);
    }
}
