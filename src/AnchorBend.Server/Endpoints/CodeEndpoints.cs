using AnchorBend.Delivery.Exchange;
using AnchorBend.Delivery.Targets;
using AnchorBend.Workbench.Code;
using AnchorBend.Workbench.Models;
using AnchorBend.Workbench.Runs;

namespace AnchorBend.Server.Endpoints;

/// <summary>Which deliveries a run has on a target.</summary>
/// <param name="Deliveries">By ids; the first one has the plant at the start, the others can take over.</param>
/// <param name="Kind">A process of this machine without it, or a simulated board.</param>
public sealed record TargetOrder(IReadOnlyList<string>? Deliveries, TargetKind Kind = TargetKind.Process);

/// <summary>Parts as C code over HTTP.</summary>
static class CodeEndpoints
{
    public static void Map(RouteGroupBuilder api)
    {
        api.MapPost("/models/{id}/code", (string id, CodeOrder order, CodeWork code, CancellationToken wanted) =>
                code.Write(id, Whole(order), wanted)
            )
            .WithName("writeCode")
            .ProducesProblem(404)
            .ProducesProblem(422);
        api.MapPost("/models/{id}/code/check", (string id, CodeCheckOrder order, CodeWork code, CancellationToken wanted) =>
            {
                Whole(Requests.Needed(order.Code, "code"));
                return code.Check(id, order, wanted);
            })
            .WithName("checkCode")
            .ProducesProblem(404)
            .ProducesProblem(422);
        api.MapGet("/models/{id}/deliveries", (string id, DeliveryWork work, CancellationToken wanted) => work.List(id, wanted))
            .WithName("getDeliveries")
            .ProducesProblem(404);
        api.MapGet("/models/{id}/deliverable", (string id, DeliveryWork work, CancellationToken wanted) => work.Candidates(id, wanted))
            .WithName("getDeliverable")
            .ProducesProblem(404);
        api.MapGet("/models/{id}/deliveries/{delivery}", (string id, string delivery, DeliveryWork work, CancellationToken wanted) =>
                work.Written(id, delivery, wanted)
            )
            .WithName("getDelivery")
            .ProducesProblem(404)
            .ProducesProblem(422);
        api.MapPost("/models/{id}/deliveries/{delivery}/check", (string id, string delivery, DeliveryWork work, CancellationToken wanted) =>
                work.Check(id, delivery, wanted)
            )
            .WithName("checkDelivery")
            .ProducesProblem(404)
            .ProducesProblem(422);
        api.MapGet(
                "/models/{id}/deliveries/{delivery}/archive",
                (string id, string delivery, DeliveryWork work, CancellationToken wanted) =>
                {
                    var (name, bytes) = work.Archive(id, delivery, wanted);
                    return TypedResults.File(bytes, "application/zip", name);
                }
            )
            .WithName("getDeliveryArchive")
            .Produces(200, contentType: "application/zip")
            .ProducesProblem(404)
            .ProducesProblem(422);
        api.MapPost(
                "/models/{id}/targets",
                (string id, TargetOrder order, string? client, ModelWork models, RunPool runs, CancellationToken wanted) =>
                {
                    var deliveries = Requests.Needed(order.Deliveries, "deliveries");
                    Requests.AtMost(100, deliveries, "deliveries");
                    foreach (var delivery in deliveries)
                        Requests.Needed(delivery, "deliveries");
                    return new StartedRun(runs.PlayOnTarget(models.Session(id), deliveries, order.Kind, client, wanted).Id);
                }
            )
            .WithName("playOnTarget")
            .ProducesProblem(404)
            .ProducesProblem(422);
        api.MapPost("/units", Take)
            .WithName("takeUnit")
            .Accepts<Stream>("application/octet-stream")
            .WithMetadata(new Microsoft.AspNetCore.Mvc.RequestSizeLimitAttribute(UnitArchive.MostPacked + 1024))
            .ProducesProblem(422);
        api.MapGet("/runs/{id}/target", (string id, RunPool runs, CancellationToken wanted) =>
                (runs.Find(id, wanted) ?? throw NotFoundException.Run(id)).Target?.View()
                ?? throw new NotFoundException("This run has no target.")
            )
            .WithName("getTarget")
            .ProducesProblem(404);
    }

    /// <summary>An exchange unit of somebody else: it is tried and kept; the answer has the class of a part that it computes.</summary>
    static async Task<TakenUnit> Take(HttpRequest request, UnitWork units, CancellationToken wanted)
    {
        using var file = new MemoryStream();
        await request.Body.CopyToAsync(file, wanted);
        return units.Take(file.ToArray(), wanted);
    }

    static CodeOrder Whole(CodeOrder order)
    {
        Requests.Needed(order.Part, "part");
        Requests.Needed(order.Step, "step");
        if (order.Tunable is { } tunable)
        {
            Requests.AtMost(1000, tunable, "parameters");
            foreach (var name in tunable)
                Requests.Needed(name, "tunable");
        }

        return order;
    }
}
