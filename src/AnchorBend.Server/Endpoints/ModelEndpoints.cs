using System.Text.Json;
using AnchorBend.Interchange;
using AnchorBend.Modeling.Catalog;
using AnchorBend.Modeling.Documents;
using AnchorBend.Server.Compute;
using AnchorBend.Server.Models;
using AnchorBend.Server.Runs;
using AnchorBend.Server.Storage;

namespace AnchorBend.Server.Endpoints;

/// <param name="Text">A model in the equation language.</param>
/// <param name="Part">Name of a catalog part whose example is wanted.</param>
public sealed record CreateRequest(string? Name, string? Example, JsonElement? Document, string? Text, string? Part);

public sealed record CreatedModel(string Id);

public sealed record EditRequest(long Basis, string Label, IReadOnlyList<PatchOperation> Operations, string? Client);

public sealed record MoveRequest(long Basis, string? Client);

/// <summary>The answer to an edit: the operations made, the new view, and the run it started where the model is live.</summary>
public sealed record EditAnswer(long Revision, IReadOnlyList<PatchOperation> Operations, ModelView View, string? Run);

public sealed record OpenedModel(string Id, long Revision, JsonElement Document, ModelView View);

public sealed record ExampleSummary(string Key, string Name, string? Description, int Parts);

/// <param name="Part">Id of the part; null for a parameter of the model.</param>
public sealed record FieldRequest(string? Part, string Parameter, string Text);

/// <summary>What a text in a parameter field would mean.</summary>
/// <param name="Value">The number in the parameter's own unit, where it is one number.</param>
public sealed record FieldAnswer(bool IsValid, double? Value, string? Unit, string? Message);

/// <summary>Models: list, open, edit, undo, exchange.</summary>
static class ModelEndpoints
{
    /// <summary>Models in one page of the list, and the most that may be asked for.</summary>
    const int PageSize = 200,
        MostInPage = 500;

    /// <summary>What checking one field may take.</summary>
    static readonly TimeSpan MostChecking = TimeSpan.FromSeconds(10);

    public static void Map(RouteGroupBuilder api)
    {
        api.MapGet("/catalog", () => PartCatalog.Standard.Parts.ToList()).WithName("catalog");
        api.MapGet("/examples", () =>
                ModelSessions
                    .Examples()
                    .Select(e => new ExampleSummary(e.Key, e.Value.Name, e.Value.Description, e.Value.Parts.Count))
                    .ToList()
            )
            .WithName("examples");
        api.MapGet("/models", (int? offset, int? limit, ModelStore store) =>
                store.List(Math.Max(0, offset ?? 0), Math.Clamp(limit ?? PageSize, 1, MostInPage))
            )
            .WithName("listModels");
        api.MapPost("/models", Create).WithName("createModel").Produces<CreatedModel>();
        api.MapGet("/models/{id}", Open).WithName("openModel").Produces<OpenedModel>().ProducesProblem(404);
        api.MapDelete("/models/{id}", Delete).WithName("deleteModel");
        api.MapGet("/models/{id}/export", (string id, ModelSessions sessions, OwnPackage package) =>
                sessions.Find(id) is { } s
                    ? Results.Text(package.Portable(s.Present().Document).ToJson(true), "application/json")
                    : Problems.NoModel(id)
            )
            .WithName("exportModel");
        api.MapGet("/models/{id}/text", (string id, ModelSessions sessions, OwnPackage package) =>
                sessions.Find(id) is { } s
                    ? Results.Text(TextExport.Write(package.Portable(s.Present().Document), s.Catalog()), "text/plain")
                    : Problems.NoModel(id)
            )
            .WithName("exportText");
        api.MapPost("/models/{id}/edits", Edit).WithName("editModel").Produces<EditAnswer>().ProducesProblem(409).ProducesProblem(422);
        api.MapPost("/models/{id}/field", Field).WithName("checkField").Produces<FieldAnswer>();
        api.MapPost(
                "/models/{id}/undo",
                (string id, MoveRequest request, ModelSessions sessions, RunPool pool, IHubNotifier hub, CancellationToken wanted) =>
                    Move(id, request, sessions, pool, hub, wanted, (s, basis) => s.Undo(basis))
            )
            .WithName("undo")
            .Produces<EditAnswer>()
            .ProducesProblem(409);
        api.MapPost(
                "/models/{id}/redo",
                (string id, MoveRequest request, ModelSessions sessions, RunPool pool, IHubNotifier hub, CancellationToken wanted) =>
                    Move(id, request, sessions, pool, hub, wanted, (s, basis) => s.Redo(basis))
            )
            .WithName("redo")
            .Produces<EditAnswer>()
            .ProducesProblem(409);
    }

    static IResult Delete(string id, ModelSessions sessions, RunPool pool)
    {
        if (!sessions.Delete(id))
            return Problems.NoModel(id);
        pool.Forget(id);
        return Results.NoContent();
    }

    static IResult Create(CreateRequest request, ModelStore store, ComputeGate compute, CancellationToken wanted)
    {
        ModelDocument document;
        if (request.Document is { ValueKind: not (JsonValueKind.Null or JsonValueKind.Undefined) } given)
            document = ModelDocument.FromJson(given.GetRawText());
        else if (request.Part is { } part)
        {
            if (PartCatalog.Standard.Find(part) is null)
                return Problems.NotFound($"The catalog has no part '{part}'.");
            document = PartExample.Of(part, PartCatalog.Standard);
        }
        else if (request.Text is { } text)
            document = ModelDocument.Checked(compute.Run(MostChecking, wanted, _ => TextImport.Read(text)));
        else if (request.Example is { } key)
        {
            if (!ModelSessions.Examples().TryGetValue(key, out var example))
                return Problems.NotFound($"There is no example '{key}'.");
            document = example;
        }
        else
            document = ModelDocument.Checked(
                new ModelDocument { Name = string.IsNullOrWhiteSpace(request.Name) ? "Untitled model" : request.Name.Trim() }
            );
        return Results.Ok(new CreatedModel(store.Create(document)));
    }

    static IResult Open(string id, ModelSessions sessions, CancellationToken wanted)
    {
        if (sessions.Find(id) is not { } session)
            return Problems.NoModel(id);
        var view = ModelView.Of(session, wanted);
        return Results.Ok(new OpenedModel(id, view.Revision, session.ToElement(), view));
    }

    static IResult Edit(string id, EditRequest request, ModelSessions sessions, RunPool pool, IHubNotifier hub, CancellationToken wanted)
    {
        if (sessions.Find(id) is not { } session)
            return Problems.NoModel(id);
        if (request.Operations is null)
            return Problems.BadRequest("The request cannot be understood: $.operations is missing.");
        for (var i = 0; i < request.Operations.Count; i++)
            if (request.Operations[i] is not { Op: not null, Path: not null })
                return Problems.BadRequest(
                    $"The request cannot be understood: operation {i + 1} at $.operations[{i}] needs 'op' and 'path'."
                );
        return Answer(session, session.Edit(request.Basis, request.Label ?? "", request.Operations), pool, hub, request.Client, wanted);
    }

    /// <summary>Checks a text while it is typed: the model with that value is elaborated, not kept.</summary>
    static IResult Field(string id, FieldRequest request, ModelSessions sessions, ComputeGate compute, CancellationToken wanted)
    {
        if (sessions.Find(id) is not { } session)
            return Problems.NoModel(id);
        if (request.Parameter is null || request.Text is null)
            return Problems.BadRequest("The request cannot be understood: $.parameter and $.text are needed.");
        var document = session.Present().Document;
        ModelDocument changed;
        string? owner = null;
        if (request.Part is { } partId)
        {
            if (!document.Parts.TryGetValue(partId, out var part))
                return Problems.NotFound("There is no such part.");
            owner = part.Name;
            var values = new Dictionary<string, string>(part.Parameters) { [request.Parameter] = request.Text };
            changed = document with
            {
                Parts = new Dictionary<string, PartNode>(document.Parts) { [partId] = part with { Parameters = values } },
            };
        }
        else
        {
            changed = document with
            {
                Parameters = new Dictionary<string, ParameterNode>(document.Parameters)
                {
                    [request.Parameter] = new ParameterNode { Value = request.Text },
                },
            };
        }

        var elaboration = compute.Run(MostChecking, wanted, _ => DocumentElaboration.Elaborate(changed, session.Catalog()));
        var finding = elaboration.Findings.FirstOrDefault(f =>
            f.Severity == Modeling.Severity.Error && f.Item == request.Parameter && (owner is null || f.Part == owner)
        );
        if (finding is not null)
            return Results.Ok(
                new FieldAnswer(false, null, null, finding.Message + (finding.Suggestion is null ? "" : " " + finding.Suggestion))
            );
        var variable = elaboration.Model.Find(owner is null ? request.Parameter : $"{owner}.{request.Parameter}");
        double? number =
            variable is { Role: Modeling.Flat.VariableRole.Parameter }
            && elaboration.Model.ParameterValues()[variable.Index] is var v
            && double.IsFinite(v)
                ? v
                : null;
        return Results.Ok(new FieldAnswer(true, number, variable?.Unit?.Symbol, null));
    }

    static IResult Move(
        string id,
        MoveRequest request,
        ModelSessions sessions,
        RunPool pool,
        IHubNotifier hub,
        CancellationToken wanted,
        Func<ModelSession, long, AcceptedEdit?> move
    )
    {
        if (sessions.Find(id) is not { } session)
            return Problems.NoModel(id);
        return Answer(session, move(session, request.Basis) ?? new AcceptedEdit(session.Revision, []), pool, hub, request.Client, wanted);
    }

    static IResult Answer(ModelSession session, AcceptedEdit edit, RunPool pool, IHubNotifier hub, string? client, CancellationToken wanted)
    {
        hub.Changed(session.Id, edit.Revision, client);
        string? run = null;
        // Who turns live on wants to see the model as it is. The run goes on while the view is made.
        if (
            (EditEffect.ChangesResults(edit.Operations) || edit.Operations.Any(o => o.Path == "/settings/live"))
            && session.Document.Settings.Live
            && session.Prepare(wanted).Prepared.CanRun
        )
        {
            try
            {
                run = pool.Start(session, wanted).Id;
            }
            catch (DocumentException)
            {
                // Settings that do not allow a run are a finding; the edit itself stands.
            }
        }

        return Results.Ok(new EditAnswer(edit.Revision, edit.Operations, ModelView.Of(session, wanted), run));
    }
}
