using AnchorBend.Server.Security;
using AnchorBend.Server.Storage;
using AnchorBend.Workbench.Models;
using AnchorBend.Workbench.People;
using AnchorBend.Workbench.Runs;
using Dapper;

namespace AnchorBend.Server.Endpoints;

/// <summary>How the server is.</summary>
/// <param name="Status">ok, or storage where the database does not answer.</param>
/// <param name="OpenModels">Models in memory; this and what follows is told only to who may ask for models.</param>
/// <param name="Runs">Runs that go on or are kept.</param>
/// <param name="TraceBytes">What their traces take.</param>
public sealed record Health(string Status, string Version, int? OpenModels, int? Runs, long? TraceBytes);

/// <summary>Health, for whoever watches the server: 200 while it can serve, 503 while it cannot.</summary>
static class HealthEndpoints
{
    public static void Map(RouteGroupBuilder api) =>
        api.MapGet("/health", Check)
            .WithName("health")
            .AllowAnonymous()
            .Produces<Health>()
            .Produces<Health>(StatusCodes.Status503ServiceUnavailable);

    static IResult Check(Database database, OpenModels open, RunPool runs, Serving serving, ILogger<Health> logger)
    {
        var (count, bytes) = runs.Kept();
        var version = typeof(Health).Assembly.GetName().Version?.ToString(3) ?? "";
        var health =
            serving.NeedsSignIn && Visitor.Current is null
                ? new Health("ok", "", null, null, null)
                : new Health("ok", version, open.Open.Count(), count, bytes);
        try
        {
            using var connection = database.Open();
            connection.ExecuteScalar<int>("select count(*) from models");
            return TypedResults.Ok(health);
        }
        catch (Microsoft.Data.Sqlite.SqliteException e)
        {
            logger.LogError(e, "The database does not answer.");
            return TypedResults.Json(health with { Status = "storage" }, statusCode: StatusCodes.Status503ServiceUnavailable);
        }
    }
}
