using AnchorBend.Workbench.Models;
using AnchorBend.Workbench.Tuning;

namespace AnchorBend.Server.Endpoints;

/// <summary>Loops, maps and designs over HTTP.</summary>
static class TuneEndpoints
{
    /// <summary>Designs that one request may ask for.</summary>
    const int MostDesigns = 12;

    /// <summary>Controllers whose gains one request may set.</summary>
    const int MostParts = 40,
        MostDrawn = 60;

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
                    {
                        Requests.Needed(Requests.Needed(ask, "asks").Name, "asks.name");
                        foreach (var point in ask.Best?.Points ?? [])
                            Requests.Needed(point, "asks.best.points");
                        if (ask.Drawn is { } drawn)
                            Requests.AtMost(MostDrawn, Requests.Needed(drawn.Points, "asks.drawn.points"), "drawn points");
                        foreach (var point in ask.Drawn?.Points ?? [])
                            Requests.Needed(point, "asks.drawn.points");
                    }

                    return tuning.Designs(models.Session(id), request, wanted);
                }
            )
            .WithName("designs")
            .ProducesProblem(422);
        api.MapPost(
                "/models/{id}/loops/points",
                (string id, PointDesignsRequest request, ModelWork models, PointDesigns designs, CancellationToken wanted) =>
                {
                    Requests.Needed(request.Part, "part");
                    Requests.AtMost(MostParts, Requests.Needed(request.Points, "points"), "points");
                    foreach (var point in request.Points)
                        Requests.Needed(point, "points");
                    return designs.Of(models.Session(id), request, wanted);
                }
            )
            .WithName("pointDesigns")
            .ProducesProblem(422);
        api.MapPost(
                "/models/{id}/loops/run",
                (string id, TrueRunRequest request, ModelWork models, LoopTuning tuning, CancellationToken wanted) =>
                {
                    Requests.Needed(request.Part, "part");
                    Check(request.Others, "others");
                    return tuning.TrueRun(models.Session(id), request, wanted);
                }
            )
            .WithName("designRun")
            .ProducesProblem(422);
        api.MapPost(
                "/models/{id}/loops/order",
                (string id, PlantOrderRequest request, ModelWork models, PlantOrders orders, CancellationToken wanted) =>
                {
                    Requests.Needed(request.Part, "part");
                    return orders.Of(models.Session(id), request, wanted);
                }
            )
            .WithName("plantOrder")
            .ProducesProblem(422);
        api.MapPost(
                "/models/{id}/loops/element",
                (string id, LoopElementRequest request, ModelWork models, LoopElements elements, CancellationToken wanted) =>
                {
                    Requests.Needed(request.Part, "part");
                    return elements.Of(models.Session(id), request, wanted);
                }
            )
            .WithName("loopElement")
            .ProducesProblem(422);
        api.MapPost(
                "/models/{id}/loops/step",
                (string id, TuneStepRequest request, ModelWork models, LoopSequence sequence, CancellationToken wanted) =>
                {
                    Requests.Needed(request.Part, "part");
                    Check(request.Before, "before");
                    return sequence.Step(models.Session(id), request, wanted);
                }
            )
            .WithName("tuneStep")
            .ProducesProblem(422);
    }

    static void Check(IReadOnlyList<TunedPart>? parts, string name)
    {
        Requests.AtMost(MostParts, parts ?? [], name);
        foreach (var part in parts ?? [])
        {
            Requests.Needed(Requests.Needed(part, name).Part, $"{name}.part");
            Requests.Needed(part.Gains, $"{name}.gains");
        }
    }
}
