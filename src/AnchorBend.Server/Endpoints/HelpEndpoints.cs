using AnchorBend.Workbench.Help;

namespace AnchorBend.Server.Endpoints;

/// <summary>The help over HTTP.</summary>
static class HelpEndpoints
{
    public static void Map(RouteGroupBuilder api)
    {
        api.MapGet("/help", (string? search) => HelpCentre.Find(search)).WithName("help");
        api.MapGet("/help/book", HelpCentre.Book).WithName("helpBook");
        api.MapGet("/help/topic", (string id) => HelpCentre.Topic(id)).WithName("helpTopic").ProducesProblem(404);
    }
}
