using System.Text.Json;
using AnchorBend.Modeling.Catalog;
using AnchorBend.Modeling.Documents;
using AnchorBend.Modeling.Restructuring;
using AnchorBend.Workbench.Models;
using AnchorBend.Workbench.Views;

namespace AnchorBend.Server.Endpoints;

/// <param name="Text">A model in the equation language.</param>
/// <param name="Part">Name of a catalog part whose example is wanted.</param>
public sealed record CreateRequest(string? Name, string? Example, JsonElement? Document, string? Text, string? Part);

public sealed record CreatedModel(string Id);

/// <param name="Level">The level that the window shows, by part ids from the root down; none for the root.</param>
public sealed record EditRequest(
    long Basis,
    string Label,
    IReadOnlyList<PatchOperation> Operations,
    string? Client,
    string? Level,
    string? Author
);

/// <param name="Level">The level that the window shows, by part ids from the root down; none for the root.</param>
public sealed record MoveRequest(long Basis, string? Client, string? Level, string? Author);

/// <param name="Change">What is to be done, and on which level.</param>
/// <param name="Level">The level that the window shows; that of the change where none is given.</param>
public sealed record RestructureRequest(long Basis, Restructuring Change, string? Client, string? Level, string? Author);

/// <param name="Part">Path of the part, or of the level whose own parameter it is.</param>
/// <param name="OfLevel">Whether it is a named parameter of the level.</param>
public sealed record FieldRequest(string? Part, bool OfLevel, string Parameter, string Text);

/// <summary>Models over HTTP.</summary>
static class ModelEndpoints
{
    /// <summary>Models in one page of the list, and the most that may be asked for.</summary>
    const int PageSize = 200,
        MostInPage = 500;

    public static void Map(RouteGroupBuilder api)
    {
        api.MapGet("/catalog", () => CatalogPart.Shipped).WithName("catalog");
        api.MapGet("/models", (int? offset, int? limit, ModelWork models) =>
                models.List(Math.Max(0, offset ?? 0), Math.Clamp(limit ?? PageSize, 1, MostInPage))
            )
            .WithName("listModels");
        api.MapPost("/models", Create).WithName("createModel").ProducesProblem(422);
        api.MapGet("/models/{id}", (string id, string? level, ModelWork models, CancellationToken wanted) =>
                models.Open(id, Requests.Path(level), wanted)
            )
            .WithName("openModel")
            .ProducesProblem(404);
        api.MapGet("/models/{id}/balance", (string id, string? level, ModelWork models, CancellationToken wanted) =>
                models.Balance(id, Requests.Path(level), wanted)
            )
            .WithName("balance")
            .ProducesProblem(404);
        api.MapDelete("/models/{id}", (string id, ModelWork models) =>
            {
                models.Delete(id);
                return TypedResults.NoContent();
            })
            .WithName("deleteModel");
        api.MapGet("/models/{id}/export", (string id, ModelWork models) => TypedResults.Text(models.Export(id), "application/json"))
            .WithName("exportModel");
        api.MapGet("/models/{id}/text", (string id, ModelWork models) => TypedResults.Text(models.ExportText(id), "text/plain"))
            .WithName("exportText");
        api.MapPost("/models/{id}/edits", Edit).WithName("editModel").ProducesProblem(409).ProducesProblem(422);
        api.MapPost("/models/{id}/structure", Restructure).WithName("restructure").ProducesProblem(409).ProducesProblem(422);
        api.MapPost("/models/{id}/field", Field).WithName("checkField");
        api.MapPost("/models/{id}/undo", (string id, MoveRequest request, ModelWork models, CancellationToken wanted) =>
                models.Undo(id, Origin(request), wanted)
            )
            .WithName("undo")
            .ProducesProblem(409);
        api.MapPost("/models/{id}/redo", (string id, MoveRequest request, ModelWork models, CancellationToken wanted) =>
                models.Redo(id, Origin(request), wanted)
            )
            .WithName("redo")
            .ProducesProblem(409);
    }

    static CreatedModel Create(CreateRequest request, ModelWork models, CancellationToken wanted)
    {
        var document = request.Document is { ValueKind: not (JsonValueKind.Null or JsonValueKind.Undefined) } given
            ? given.GetRawText()
            : null;
        return new CreatedModel(models.Create(new NewModel(request.Name, request.Example, document, request.Text, request.Part), wanted));
    }

    static EditOrigin Origin(MoveRequest request) => new(request.Basis, Requests.Path(request.Level), request.Client, request.Author);

    static EditAnswer Edit(string id, EditRequest request, ModelWork models, CancellationToken wanted)
    {
        var operations = Requests.Needed(request.Operations, "operations");
        for (var i = 0; i < operations.Count; i++)
            if (operations[i] is not { Op: not null, Path: not null })
                throw new RequestException($"operation {i + 1} at $.operations[{i}] needs 'op' and 'path'.");
        var origin = new EditOrigin(request.Basis, Requests.Path(request.Level), request.Client, request.Author);
        return models.Edit(id, origin, request.Label ?? "", operations, wanted);
    }

    static RestructureAnswer Restructure(string id, RestructureRequest request, ModelWork models, CancellationToken wanted)
    {
        var change = Requests.Needed(request.Change, "change");
        return models.Restructure(
            id,
            new EditOrigin(request.Basis, Requests.Path(request.Level ?? change.Level), request.Client, request.Author),
            change,
            wanted
        );
    }

    static FieldAnswer Field(string id, FieldRequest request, ModelWork models, FieldCheck check, CancellationToken wanted)
    {
        var (parameter, text) = (Requests.Needed(request.Parameter, "parameter"), Requests.Needed(request.Text, "text"));
        return check.Answer(models.Session(id), Requests.Path(request.Part), request.OfLevel, parameter, text, wanted);
    }
}
