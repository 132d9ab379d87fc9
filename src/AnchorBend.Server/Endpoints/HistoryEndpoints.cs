using System.Text.Json;
using AnchorBend.Modeling.Comparison;
using AnchorBend.Modeling.Restructuring;
using AnchorBend.Workbench.History;
using AnchorBend.Workbench.Models;

namespace AnchorBend.Server.Endpoints;

/// <param name="Revision">None for the present one.</param>
public sealed record CheckpointRequest(long? Revision, string Name, string? Note, string? Author);

/// <param name="Revision">None for the present one.</param>
/// <param name="Name">None for one made of the model's.</param>
public sealed record CopyRequest(long? Revision, string? Name);

/// <param name="Level">The level that the window shows.</param>
public sealed record RestoreRequest(long Basis, long Revision, string? Client, string? Level, string? Author);

/// <summary>A revision of a model, or a document.</summary>
/// <param name="Revision">None for the present one.</param>
public sealed record StateRequest(string? Model, long? Revision, JsonElement? Document)
{
    internal StateReference Reference =>
        new(
            Model,
            Revision,
            Document is { ValueKind: not (JsonValueKind.Null or JsonValueKind.Undefined) } given ? given.GetRawText() : null
        );
}

/// <param name="Change">What would be done, and on which level.</param>
public sealed record PreviewRequest(Restructuring Change);

public sealed record ComparisonRequest(StateRequest Left, StateRequest Right);

public sealed record ShownStateRequest(StateRequest State, string? Level);

/// <summary>What models were, over HTTP.</summary>
static class HistoryEndpoints
{
    const int PageSize = 200,
        MostInPage = 1000;

    public static void Map(RouteGroupBuilder api)
    {
        api.MapGet("/models/{id}/history", (string id, long? before, int? limit, ModelHistory history) =>
                history.Read(id, before, Math.Clamp(limit ?? PageSize, 1, MostInPage))
            )
            .WithName("getHistory")
            .ProducesProblem(404);
        api.MapPost("/models/{id}/checkpoints", Keep).WithName("keepCheckpoint").ProducesProblem(404).ProducesProblem(422);
        api.MapDelete("/models/{id}/checkpoints/{revision:long}", (string id, long revision, ModelHistory history) =>
            {
                history.Drop(id, revision);
                return TypedResults.NoContent();
            })
            .WithName("dropCheckpoint")
            .ProducesProblem(404);
        api.MapPost("/models/{id}/copies", (string id, CopyRequest request, ModelHistory history, CancellationToken wanted) =>
                new CreatedModel(history.Copy(id, request.Revision, request.Name, wanted))
            )
            .WithName("copyModel")
            .ProducesProblem(404)
            .ProducesProblem(422);
        api.MapPost("/models/{id}/restore", Restore)
            .WithName("restoreModel")
            .ProducesProblem(404)
            .ProducesProblem(409)
            .ProducesProblem(422);
        api.MapPost("/models/{id}/structure/preview", Preview).WithName("previewRestructuring").ProducesProblem(404).ProducesProblem(422);
        api.MapPost("/differences", Compare).WithName("compareStates").ProducesProblem(404).ProducesProblem(422);
        api.MapPost("/states", Show).WithName("showState").ProducesProblem(404).ProducesProblem(422);
    }

    static Checkpoint Keep(string id, CheckpointRequest request, ModelHistory history, ModelWork models) =>
        history.Keep(
            id,
            request.Revision ?? models.Session(id).Present().Revision,
            Requests.Needed(request.Name, "name"),
            request.Note ?? "",
            request.Author
        );

    static EditAnswer Restore(string id, RestoreRequest request, ModelHistory history, CancellationToken wanted) =>
        history.Restore(
            id,
            new EditOrigin(request.Basis, Requests.Path(request.Level), request.Client, request.Author),
            request.Revision,
            wanted
        );

    static IReadOnlyList<LevelDifference> Preview(string id, PreviewRequest request, ModelHistory history, CancellationToken wanted) =>
        history.Preview(id, Requests.Needed(request.Change, "change"), wanted);

    static IReadOnlyList<LevelDifference> Compare(ComparisonRequest request, ModelHistory history, CancellationToken wanted) =>
        history.Compare(Requests.Needed(request.Left, "left").Reference, Requests.Needed(request.Right, "right").Reference, wanted);

    static StateView Show(ShownStateRequest request, ModelHistory history, CancellationToken wanted) =>
        history.Show(Requests.Needed(request.State, "state").Reference, Requests.Path(request.Level), wanted);
}
