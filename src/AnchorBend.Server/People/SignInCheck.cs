using AnchorBend.Server.Endpoints;
using AnchorBend.Server.Security;
using AnchorBend.Workbench.Alternatives;
using AnchorBend.Workbench.Cases;
using AnchorBend.Workbench.Models;
using AnchorBend.Workbench.People;
using AnchorBend.Workbench.Runs;
using AnchorBend.Workbench.Studies;
using Microsoft.AspNetCore.Authorization;

namespace AnchorBend.Server.People;

/// <summary>
/// Lets nobody in who is not signed in, where the server serves others, and makes who is signed in the visitor of the request. What is not
/// open to all by its endpoint needs a visitor; what is about a model needs what <see cref="AccessRules"/> says.
/// </summary>
sealed class SignInCheck(
    RequestDelegate next,
    Serving serving,
    SignInWork people,
    Identification identification,
    RunPool runs,
    RunSets sets,
    StudyJobs studies,
    CaseJobs cases
)
{
    public async Task InvokeAsync(HttpContext context)
    {
        if (!serving.NeedsSignIn)
        {
            await next(context);
            return;
        }

        // The page itself says nothing of what there is.
        var path = context.Request.Path;
        if (!path.StartsWithSegments("/api") && !path.StartsWithSegments("/hub") && !path.StartsWithSegments("/openapi"))
        {
            await next(context);
            return;
        }

        Visitor.Current = identification.Of(context.Request);
        var endpoint = context.GetEndpoint();
        if (endpoint?.Metadata.GetMetadata<IAllowAnonymous>() is not null)
        {
            await next(context);
            return;
        }

        if (Visitor.Current is not { } visitor)
        {
            await Problems.SignIn("Sign in first: this server serves only whom it knows.").ExecuteAsync(context);
            return;
        }

        var name = endpoint?.Metadata.GetMetadata<IEndpointNameMetadata>()?.EndpointName;
        var model = ModelOf(context);
        var wanted = AccessRules.Wanted(context.Request.Method, name);
        if (model is not null)
            Visitor.Demand(model, wanted);
        // The hub asks for each call by itself.
        else if (wanted > Access.View && path.StartsWithSegments("/api") && visitor is AccountVisitor { MayEdit: false })
            throw new ForbiddenException("This key only looks. Make one that may edit.");
        await next(context);
        if (AccessRules.IsNoted(context.Request.Method, name) && context.Response.StatusCode < 400)
            people.Note(visitor.Name, name!, model ?? path.Value ?? "", From(context));
    }

    public static string From(HttpContext context) => context.Connection.RemoteIpAddress?.ToString() ?? "";

    /// <summary>The model that a request is about; null where it is about none, or about something that is gone.</summary>
    string? ModelOf(HttpContext context)
    {
        var values = context.Request.RouteValues;
        var id = (values["id"] ?? values["run"]) as string;
        if (id is null)
            return null;
        var path = context.Request.Path;
        if (path.StartsWithSegments("/api/models"))
            return id;
        if (path.StartsWithSegments("/api/runs"))
            return (runs.Find(id, context.RequestAborted) ?? throw NotFoundException.Run(id)).ModelId;
        if (path.StartsWithSegments("/api/runsets"))
            return sets.Find(id)?.ModelId;
        if (path.StartsWithSegments("/api/studies"))
            return studies.Find(id).ModelId;
        if (path.StartsWithSegments("/api/cases/runs"))
            return cases.ModelOf(id);
        return null;
    }
}
