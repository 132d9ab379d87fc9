using AnchorBend.Workbench.Models;
using AnchorBend.Workbench.Parts;

namespace AnchorBend.Server.Endpoints;

public sealed record TextRequest(string Text);

/// <summary>Texts of parts over HTTP.</summary>
static class PartEndpoints
{
    public static void Map(RouteGroupBuilder api)
    {
        api.MapGet("/language", () => PartTexts.Words()).WithName("language");
        api.MapGet("/models/{id}/parts/{type}", (string id, string type, ModelWork models, PartTexts parts, CancellationToken wanted) =>
                parts.Read(models.Session(id), type, wanted)
            )
            .WithName("readPart")
            .ProducesProblem(404);
        api.MapPost(
                "/models/{id}/parts/check",
                (string id, TextRequest request, ModelWork models, PartTexts parts, CancellationToken wanted) =>
                    parts.ReviewOf(models.Session(id), Needed(request), wanted)
            )
            .WithName("checkPart")
            .ProducesProblem(422);
        api.MapPut("/package/{name}", (string name, TextRequest request, PartTexts parts, CancellationToken wanted) =>
                parts.Keep(name, Needed(request), wanted)
            )
            .WithName("keepPart")
            .ProducesProblem(422);
        api.MapDelete("/package/{name}", (string name, PartTexts parts) =>
            {
                parts.Remove(name);
                return TypedResults.NoContent();
            })
            .WithName("removePart")
            .ProducesProblem(404);
    }

    /// <exception cref="RefusedException">There is no text.</exception>
    static string Needed(TextRequest request) => request.Text ?? throw new RefusedException("A text is needed.", "Send the part's text.");
}
