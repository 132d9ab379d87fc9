using AnchorBend.Design;
using AnchorBend.Exploration;
using AnchorBend.Language;
using AnchorBend.Modeling.Documents;
using AnchorBend.Server.Security;
using AnchorBend.Simulation;
using AnchorBend.Workbench.Compute;
using AnchorBend.Workbench.Models;
using AnchorBend.Workbench.Parts;
using AnchorBend.Workbench.People;
using Microsoft.AspNetCore.Diagnostics;
using Microsoft.AspNetCore.Http.HttpResults;

namespace AnchorBend.Server.Endpoints;

/// <summary>Errors as problem details (RFC 9457).</summary>
static class Problems
{
    public static IResult NotFound(string message) => TypedResults.Problem(message, statusCode: 404, title: "Not found");

    public static IResult BadRequest(string message) => TypedResults.Problem(message, statusCode: 400, title: "Bad request");

    public static IResult SignIn(string message) => TypedResults.Problem(message, statusCode: 401, title: "Not signed in");

    public static IResult TooMany(string message) => TypedResults.Problem(message, statusCode: 429, title: "Too many requests");

    public static IResult Forbidden(string message) => TypedResults.Problem(message, statusCode: 403, title: "Refused");

    /// <summary>What is wrong with a request, in words; the reader's own say more of the program than of the request.</summary>
    static string Understood(BadHttpRequestException e) =>
        e.InnerException is System.Text.Json.JsonException json
            ? $"The request cannot be understood: what stands at {json.Path ?? "$"} is missing or of another kind than is needed there."
            : "The request cannot be understood: " + e.Message;

    /// <summary>Turns what the core throws into answers; anything else stays a 500 without details.</summary>
    public static async ValueTask<bool> Handle(HttpContext context, Exception exception)
    {
        ProblemHttpResult? problem = exception switch
        {
            ConflictException c => TypedResults.Problem(
                c.Clash is { } clash
                    ? $"{clash.By} has changed the same meanwhile (\"{clash.Label}\")."
                    : "The model was changed in another place since you saw it.",
                statusCode: 409,
                title: "Conflict",
                extensions: new Dictionary<string, object?> { ["present"] = c.Present, ["clash"] = c.Clash }
            ),
            DocumentException d => TypedResults.Problem(d.Message, statusCode: 422, title: "The edit cannot be made"),
            DesignException d => TypedResults.Problem(
                d.Message,
                statusCode: 422,
                title: "This cannot be done",
                extensions: new Dictionary<string, object?> { ["code"] = d.Code, ["advice"] = d.Advice }
            ),
            Delivery.DeliveryException d => TypedResults.Problem(
                d.Message,
                statusCode: 422,
                title: "This cannot be delivered",
                extensions: new Dictionary<string, object?> { ["code"] = d.Code, ["advice"] = d.Advice }
            ),
            ExplorationException x => TypedResults.Problem(
                x.Message,
                statusCode: 422,
                title: "This makes no study",
                extensions: new Dictionary<string, object?> { ["code"] = x.Code, ["advice"] = x.Advice }
            ),
            SimulationException s => TypedResults.Problem(
                s.Message,
                statusCode: 422,
                title: "The model cannot be evaluated",
                extensions: new Dictionary<string, object?> { ["code"] = s.Failure.Code, ["advice"] = s.Failure.Advice }
            ),
            ForbiddenException f => TypedResults.Problem(f.Message, statusCode: 403, title: "Not allowed"),
            SignInException s => TypedResults.Problem(s.Message, statusCode: 401, title: "Not signed in"),
            NotFoundException n => TypedResults.Problem(n.Message, statusCode: 404, title: "Not found"),
            // What the reader throws at a choice of kinds that names none.
            NotSupportedException { Source: "System.Text.Json" } => TypedResults.Problem(
                "The request cannot be understood: 'kind' is missing.",
                statusCode: 400,
                title: "Bad request"
            ),
            RequestException r => TypedResults.Problem(r.Message, statusCode: 400, title: "Bad request"),
            RefusedException r => TypedResults.Problem(
                r.Message,
                statusCode: 422,
                title: "This cannot be done",
                extensions: new Dictionary<string, object?> { ["advice"] = r.Advice }
            ),
            ObjectDisposedException => TypedResults.Problem(
                "The traces of this run are not kept any more. Run the model again.",
                statusCode: 404,
                title: "Not found"
            ),
            BudgetException t => TypedResults.Problem(
                t.Error.Message,
                statusCode: 422,
                title: "This is too large",
                extensions: new Dictionary<string, object?> { ["code"] = t.Error.Code, ["advice"] = t.Error.Suggestion }
            ),
            TooLongException l => TypedResults.Problem(
                l.Message + " It was given up.",
                statusCode: 422,
                title: "This takes too long",
                extensions: new Dictionary<string, object?>
                {
                    ["code"] = "too-long",
                    ["advice"] = "Make the model smaller, or ask for less at once.",
                }
            ),
            OperationCanceledException when context.RequestAborted.IsCancellationRequested => TypedResults.Problem(
                "Nobody waits for the answer.",
                statusCode: 499,
                title: "Given up"
            ),
            Microsoft.Data.Sqlite.SqliteException q => TypedResults.Problem(
                $"The models cannot be reached now: {Startup.StorageProblem(q)}",
                statusCode: 503,
                title: "Storage"
            ),
            BadHttpRequestException b => TypedResults.Problem(Understood(b), statusCode: b.StatusCode, title: "Bad request"),
            ArgumentException a => TypedResults.Problem(a.Message, statusCode: 400, title: "Bad request"),
            _ => null,
        };
        if (problem is null)
            return false;
        await problem.ExecuteAsync(context);
        return true;
    }
}

sealed class ProblemHandler : IExceptionHandler
{
    public ValueTask<bool> TryHandleAsync(HttpContext httpContext, Exception exception, CancellationToken cancellationToken) =>
        Problems.Handle(httpContext, exception);
}
