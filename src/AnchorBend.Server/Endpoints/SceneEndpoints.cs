using AnchorBend.Interchange.Meshes;
using AnchorBend.Workbench.Models;
using AnchorBend.Workbench.Scenes;

namespace AnchorBend.Server.Endpoints;

/// <summary>What of models can be seen moving, over HTTP.</summary>
static class SceneEndpoints
{
    public static void Map(RouteGroupBuilder api)
    {
        api.MapGet("/models/{id}/scene", (string id, ModelWork models, CancellationToken wanted) => models.Scene(id, wanted))
            .WithName("getScene")
            .ProducesProblem(404);
        api.MapGet("/models/{id}/preview", (string id, string part, ModelWork models, CancellationToken wanted) =>
                models.Preview(id, Requests.Path(part), wanted) ?? throw NotFoundException.Picture(part)
            )
            .WithName("getPreview")
            .ProducesProblem(404);
        api.MapPost("/meshes", Take)
            .WithName("takeMesh")
            .Accepts<Stream>("application/octet-stream")
            .WithMetadata(new Microsoft.AspNetCore.Mvc.RequestSizeLimitAttribute(MeshFile.MostBytes + 1024))
            .ProducesProblem(422);
        api.MapGet("/meshes/{hash}", (string hash, MeshLibrary meshes) =>
                TypedResults.Bytes(meshes.Bytes(hash), "application/octet-stream")
            )
            .WithName("getMesh")
            .ProducesProblem(404);
    }

    /// <param name="name">What the file is called; its ending says what it is.</param>
    static async Task<TakenMesh> Take(string? name, HttpRequest request, MeshLibrary meshes, CancellationToken wanted)
    {
        using var file = new MemoryStream();
        await request.Body.CopyToAsync(file, wanted);
        return meshes.Take(Requests.Needed(name, "name"), file.ToArray(), wanted);
    }
}
