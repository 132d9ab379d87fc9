using AnchorBend.Workbench.Models;
using AnchorBend.Workbench.Shelf;

namespace AnchorBend.Server.Endpoints;

/// <param name="Folder">Names of folders with slashes between them; empty for none.</param>
public sealed record PlaceRequest(string Folder, IReadOnlyList<string> Tags);

public sealed record FolderRequest(string Path);

public sealed record MoveFolderRequest(string From, string To);

public sealed record RenameRequest(string Name, string? Author);

public sealed record EmptiedTrash(int Deleted);

/// <summary>Where models lie, and their cards, over HTTP.</summary>
static class ShelfEndpoints
{
    public static void Map(RouteGroupBuilder api)
    {
        api.MapGet("/shelf", (string? search, bool? trash, ShelfWork shelf) => shelf.View(search, trash ?? false)).WithName("shelf");
        api.MapGet("/examples", (string? search) => ExampleShelf.Find(search)).WithName("examples");
        api.MapGet("/models/{id}/card", (string id, CardWork cards, CancellationToken wanted) => cards.OfModel(id, wanted))
            .WithName("modelCard")
            .ProducesProblem(404);
        api.MapGet("/examples/{key}/card", (string key, CardWork cards, CancellationToken wanted) => cards.OfExample(key, wanted))
            .WithName("exampleCard")
            .ProducesProblem(404);
        api.MapPut("/models/{id}/place", (string id, PlaceRequest request, ShelfWork shelf) =>
            {
                var tags = Requests.Needed(request.Tags, "tags");
                if (tags.Any(t => t is null))
                    throw new RequestException("a tag at $.tags is missing.");
                shelf.Place(id, Requests.Needed(request.Folder, "folder"), tags);
                return TypedResults.NoContent();
            })
            .WithName("placeModel")
            .ProducesProblem(404)
            .ProducesProblem(422);
        api.MapPost("/models/{id}/name", (string id, RenameRequest request, ModelWork models, CancellationToken wanted) =>
                models.Rename(id, Requests.Needed(request.Name, "name"), request.Author, wanted)
            )
            .WithName("renameModel")
            .ProducesProblem(404)
            .ProducesProblem(422);
        api.MapPost("/models/{id}/trash", (string id, ShelfWork shelf) =>
            {
                shelf.Trash(id);
                return TypedResults.NoContent();
            })
            .WithName("trashModel")
            .ProducesProblem(404);
        api.MapDelete("/models/{id}/trash", (string id, ShelfWork shelf) =>
            {
                shelf.Restore(id);
                return TypedResults.NoContent();
            })
            .WithName("takeOutOfTrash")
            .ProducesProblem(404);
        api.MapDelete("/trash", (ShelfWork shelf) => new EmptiedTrash(shelf.Empty())).WithName("emptyTrash");
        api.MapPost("/folders", (FolderRequest request, ShelfWork shelf) =>
            {
                shelf.MakeFolder(Requests.Needed(request.Path, "path"));
                return TypedResults.NoContent();
            })
            .WithName("makeFolder")
            .ProducesProblem(422);
        api.MapPost("/folders/move", (MoveFolderRequest request, ShelfWork shelf) =>
            {
                shelf.MoveFolder(Requests.Needed(request.From, "from"), Requests.Needed(request.To, "to"));
                return TypedResults.NoContent();
            })
            .WithName("moveFolder")
            .ProducesProblem(404)
            .ProducesProblem(422);
        api.MapDelete("/folders", (string path, ShelfWork shelf) =>
            {
                shelf.RemoveFolder(path);
                return TypedResults.NoContent();
            })
            .WithName("removeFolder")
            .ProducesProblem(404);
    }
}
