using AnchorBend.Modeling.Documents;
using AnchorBend.Workbench.Models;
using AnchorBend.Workbench.Parts;

namespace AnchorBend.Server.Endpoints;

public sealed record TextRequest(string Text);

/// <param name="Definition">Id of the diagram in the model.</param>
/// <param name="Name">Name of the part in the package; none for the diagram's own.</param>
public sealed record KeepRequest(string Definition, string? Name, bool Replaces);

public sealed record KeptPart(string Name);

/// <param name="Figures">Figures of a data sheet as they are typed, by name.</param>
public sealed record FiguresRequest(IReadOnlyDictionary<string, string?> Figures);

/// <param name="Data">The file in base 64.</param>
public sealed record PictureRequest(string Data);

/// <param name="Picture">A data URL.</param>
public sealed record TakenPicture(string Picture);

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
        api.MapGet("/data-sheets/{kind}", (string kind) => DataSheets.Of(kind)).WithName("getDataSheet").ProducesProblem(404);
        api.MapPost("/data-sheets/{kind}", (string kind, FiguresRequest request) =>
                DataSheets.Answer(kind, Requests.Needed(request.Figures, "figures"))
            )
            .WithName("readDataSheet")
            .ProducesProblem(404);
        api.MapPost("/pulse-tests", (PulseTestOrder order, PulseTests tests, CancellationToken wanted) =>
            {
                Requests.Needed(order.Text, "text");
                return tests.Fit(order, wanted);
            })
            .WithName("fitPulseTest")
            .ProducesProblem(422);
        api.MapPost("/models/{id}/sizing", (string id, SizingRequest request, ExchangerSizing sizing, CancellationToken wanted) =>
            {
                Requests.Needed(request.Run, "run");
                Requests.Needed(request.Part, "part");
                Requests.Needed(request.Parameter, "parameter");
                return sizing.Of(id, request, wanted);
            })
            .WithName("sizeExchanger")
            .ProducesProblem(404)
            .ProducesProblem(422);
        api.MapPost("/models/{id}/twin", (string id, TwinRequest request, TwinFitting twins, CancellationToken wanted) =>
            {
                Requests.Needed(request.Part, "part");
                Requests.Needed(request.Drop, "drop");
                return twins.Of(id, request, wanted);
            })
            .WithName("fitValveTwin")
            .ProducesProblem(422);
        api.MapPut("/package/{name}", (string name, TextRequest request, PartTexts parts, CancellationToken wanted) =>
                parts.Keep(name, Needed(request), wanted)
            )
            .WithName("keepPart")
            .ProducesProblem(422);
        api.MapPost("/models/{id}/package", (string id, KeepRequest request, ModelWork models, PartTexts parts, CancellationToken wanted) =>
            {
                var definition = Requests.Needed(request.Definition, "definition");
                return new KeptPart(parts.KeepDiagram(models.Session(id), definition, request.Name, request.Replaces, wanted));
            })
            .WithName("keepDiagram")
            .ProducesProblem(422);
        api.MapGet("/package/{name}/diagram", (string name, PartTexts parts, CancellationToken wanted) => parts.Diagram(name, wanted))
            .WithName("packagedDiagram")
            .ProducesProblem(404)
            .ProducesProblem(422);
        api.MapPost("/pictures", Picture).WithName("takePicture").ProducesProblem(422);
        api.MapDelete("/package/{name}", (string name, PartTexts parts) =>
            {
                parts.Remove(name);
                return TypedResults.NoContent();
            })
            .WithName("removePart")
            .ProducesProblem(404);
    }

    static TakenPicture Picture(PictureRequest request)
    {
        var data = Requests.Needed(request.Data, "data");
        var bytes = new byte[data.Length];
        return Convert.TryFromBase64String(data, bytes, out var count)
            ? new TakenPicture(FacePicture.Imported(bytes[..count]))
            : throw new RequestException("'data' is not in base 64.");
    }

    /// <exception cref="RefusedException">There is no text.</exception>
    static string Needed(TextRequest request) => request.Text ?? throw new RefusedException("A text is needed.", "Send the part's text.");
}
