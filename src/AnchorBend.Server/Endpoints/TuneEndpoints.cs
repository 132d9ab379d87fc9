using AnchorBend.Workbench.Models;
using AnchorBend.Workbench.Tuning;

namespace AnchorBend.Server.Endpoints;

/// <summary>Tuning of one loop over HTTP.</summary>
static class TuneEndpoints
{
    public static void Map(RouteGroupBuilder api) =>
        api.MapPost("/models/{id}/tune", (string id, TuneRequest request, ModelWork models, LoopTuning tuning, CancellationToken wanted) =>
            {
                Requests.Needed(request.Part, "part");
                return tuning.Propose(models.Session(id), request, wanted);
            })
            .WithName("tune")
            .ProducesProblem(422);
}
