using AnchorBend.Design;
using AnchorBend.Modeling.Documents;
using AnchorBend.Server.Models;
using AnchorBend.Simulation;
using Microsoft.AspNetCore.Diagnostics;
using Microsoft.AspNetCore.Http.HttpResults;

namespace AnchorBend.Server.Endpoints;

/// <summary>Errors as problem details (RFC 9457).</summary>
static class Problems
{
    public static IResult NotFound(string message) => TypedResults.Problem(message, statusCode: 404, title: "Not found");

    public static IResult NoModel(string id) => NotFound($"There is no model '{id}'. It may have been deleted.");

    public static IResult Refused(string message, string advice) => TypedResults.Problem(message, statusCode: 422, title: "This cannot be done",
        extensions: new Dictionary<string, object?> { ["advice"] = advice });

    public static IResult NoRun(string id) => NotFound($"There is no run '{id}' any more. Run the model again.");

    /// <summary>Turns what the core throws into answers; anything else stays a 500 without details.</summary>
    public static async ValueTask<bool> Handle(HttpContext context, Exception exception)
    {
        ProblemHttpResult? problem = exception switch
        {
            ConflictException c => TypedResults.Problem("The model was changed in another place since you saw it.", statusCode: 409, title: "Conflict",
                extensions: new Dictionary<string, object?> { ["present"] = c.Present }),
            DocumentException d => TypedResults.Problem(d.Message, statusCode: 422, title: "The edit cannot be made"),
            DesignException d => TypedResults.Problem(d.Message, statusCode: 422, title: "This cannot be done", extensions: new Dictionary<string, object?> { ["code"] = d.Code, ["advice"] = d.Advice }),
            SimulationException s => TypedResults.Problem(s.Message, statusCode: 422, title: "The model cannot be evaluated", extensions: new Dictionary<string, object?> { ["code"] = s.Failure.Code, ["advice"] = s.Failure.Advice }),
            BadHttpRequestException b => TypedResults.Problem("The request cannot be understood: " + b.Message, statusCode: b.StatusCode, title: "Bad request"),
            ArgumentException a => TypedResults.Problem(a.Message, statusCode: 400, title: "Bad request"),
            _ => null,
        };
        if (problem is null) return false;
        await problem.ExecuteAsync(context);
        return true;
    }
}

sealed class ProblemHandler : IExceptionHandler
{
    public ValueTask<bool> TryHandleAsync(HttpContext httpContext, Exception exception, CancellationToken cancellationToken) => Problems.Handle(httpContext, exception);
}
