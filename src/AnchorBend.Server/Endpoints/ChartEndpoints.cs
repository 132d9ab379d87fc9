using AnchorBend.Interchange;
using AnchorBend.Modeling.Charts;
using AnchorBend.Modeling.Documents;
using AnchorBend.Workbench.Compute;
using AnchorBend.Workbench.Models;
using AnchorBend.Workbench.Runs;

namespace AnchorBend.Server.Endpoints;

/// <summary>A document of state chart XML.</summary>
public sealed record ChartXmlRequest(string? Text);

/// <summary>State charts as files, and what runs say of them.</summary>
static class ChartEndpoints
{
    static readonly TimeSpan MostReading = TimeSpan.FromSeconds(10);

    public static void Map(RouteGroupBuilder api)
    {
        api.MapGet("/models/{id}/charts/{definition}/xml", Xml).WithName("exportChart").Produces<string>(contentType: "text/xml");
        api.MapPost("/charts", (ChartXmlRequest request, ComputeGate gate, CancellationToken wanted) =>
                gate.Run(MostReading, wanted, _ => (Definition)ChartXml.Read(Requests.Needed(request.Text, "text")))
            )
            .WithName("readChart")
            .ProducesProblem(422);
        api.MapGet("/runs/{id}/taken", (string id, string level, double? until, RunPool runs, ComputeGate gate, CancellationToken wanted) =>
                Asked(id, level, runs, gate, wanted, c => c.Taken(until ?? double.PositiveInfinity), new TakenTransitions(0, []))
            )
            .WithName("getTaken")
            .ProducesProblem(404);
        api.MapGet(
                "/runs/{id}/approach",
                (string id, string level, string state, double time, RunPool runs, ComputeGate gate, CancellationToken wanted) =>
                    Asked(id, level, runs, gate, wanted, c => c.To(state, Finite(time)), new Approach(false, [], []))
            )
            .WithName("getApproach")
            .ProducesProblem(404);
    }

    static IResult Xml(string id, string definition, ModelWork models)
    {
        if (models.Session(id).Present().Document.Definitions.GetValueOrDefault(definition) is not ChartDefinition chart)
            throw new NotFoundException("There is no such chart in the model any more.");
        return TypedResults.Text(ChartXml.Write(chart), "text/xml");
    }

    static double Finite(double time) => double.IsFinite(time) ? time : throw new RequestException("'time' is no time.");

    /// <summary>What a run says of a chart, within a budget; the given answer where there is nothing of it yet.</summary>
    static async Task<T> Asked<T>(
        string id,
        string level,
        RunPool runs,
        ComputeGate gate,
        CancellationToken wanted,
        Func<ChartCourse, T> what,
        T nothing
    )
    {
        PartPath path = Requests.Path(level);
        if (await RunEndpoints.Results(id, runs, wanted) is null)
            return nothing;
        var job = runs.Find(id, wanted) ?? throw NotFoundException.Run(id);
        return gate.Run(MostReading, wanted, _ => what(new ChartCourse(job, path)));
    }
}
