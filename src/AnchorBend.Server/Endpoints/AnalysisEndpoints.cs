using AnchorBend.Workbench.Models;
using AnchorBend.Workbench.Tuning;

namespace AnchorBend.Server.Endpoints;

/// <summary>Analysis of models about an operating point over HTTP.</summary>
static class AnalysisEndpoints
{
    /// <summary>Wanted values, free parameters, and points of a response, at most.</summary>
    const int MostValues = 60,
        MostPoints = 5000;

    public static void Map(RouteGroupBuilder api)
    {
        api.MapPost(
                "/models/{id}/linear",
                (string id, LinearRequest request, ModelWork models, ModelAnalysis analysis, CancellationToken wanted) =>
                {
                    Requests.Needed(request.From, "from");
                    Requests.Needed(request.To, "to");
                    Names(request.Open, "open");
                    return analysis.Linear(models.Session(id), request, wanted);
                }
            )
            .WithName("linear")
            .ProducesProblem(422);
        api.MapPost(
                "/models/{id}/linear/system",
                (string id, SystemRequest request, ModelWork models, SystemAnalysis systems, CancellationToken wanted) =>
                {
                    Names(Requests.Needed(request.From, "from"), "from");
                    Names(Requests.Needed(request.To, "to"), "to");
                    Names(request.Open, "open");
                    return systems.System(models.Session(id), request, wanted);
                }
            )
            .WithName("linearSystem")
            .ProducesProblem(422);
        api.MapPost(
                "/models/{id}/linear/feedback",
                (string id, FeedbackRequest request, ModelWork models, FeedbackAnalysis feedback, CancellationToken wanted) =>
                {
                    Requests.Needed(request.From, "from");
                    Requests.Needed(request.To, "to");
                    Names(request.Open, "open");
                    return feedback.Of(models.Session(id), request, wanted);
                }
            )
            .WithName("stateFeedback")
            .ProducesProblem(422);
        api.MapPost(
                "/models/{id}/modes",
                (string id, ModesRequest request, ModelWork models, ModelAnalysis analysis, CancellationToken wanted) =>
                    analysis.Modes(models.Session(id), request, wanted)
            )
            .WithName("modes")
            .ProducesProblem(422);
        api.MapPost(
                "/models/{id}/modes/movers",
                (string id, MoversRequest request, ModelWork models, PoleAnalysis poles, CancellationToken wanted) =>
                    poles.Movers(models.Session(id), request, wanted)
            )
            .WithName("movers")
            .ProducesProblem(422);
        api.MapPost(
                "/models/{id}/modes/locus",
                (string id, LocusRequest request, ModelWork models, PoleAnalysis poles, CancellationToken wanted) =>
                {
                    Requests.Needed(request.Parameter, "parameter");
                    return poles.Locus(models.Session(id), request, wanted);
                }
            )
            .WithName("locus")
            .ProducesProblem(422);
        api.MapPost(
                "/models/{id}/steady",
                (string id, SteadyRequest request, ModelWork models, SteadyStates steady, CancellationToken wanted) =>
                {
                    Check(request);
                    return steady.Steady(models.Session(id), request, wanted);
                }
            )
            .WithName("steady")
            .ProducesProblem(422);
        api.MapPost(
                "/models/{id}/steady/series",
                (string id, SeriesRequest request, ModelWork models, SteadyStates steady, CancellationToken wanted) =>
                {
                    Check(Requests.Needed(request.Each, "each"));
                    Requests.Needed(request.From, "from");
                    Requests.Needed(request.To, "to");
                    return steady.Series(models.Session(id), request, wanted);
                }
            )
            .WithName("steadySeries")
            .ProducesProblem(422);
        api.MapPost(
                "/models/{id}/sweep",
                (string id, SweepRequest request, ModelWork models, ModelAnalysis analysis, CancellationToken wanted) =>
                {
                    Requests.Needed(request.Signal, "signal");
                    return analysis.Sweep(models.Session(id), request, wanted);
                }
            )
            .WithName("sweep")
            .ProducesProblem(422);
        api.MapPost(
                "/models/{id}/transient",
                (string id, TransientRequest request, ModelWork models, ModelAnalysis analysis, CancellationToken wanted) =>
                {
                    Requests.Needed(request.Signal, "signal");
                    Requests.Needed(request.To, "to");
                    return analysis.Transient(models.Session(id), request, wanted);
                }
            )
            .WithName("transient")
            .ProducesProblem(422);
        api.MapPost("/fit", (FitRequest request, ModelAnalysis analysis, CancellationToken wanted) =>
            {
                Requests.AtMost(MostPoints, Requests.Needed(request.Frequencies, "frequencies"), "points");
                Requests.Needed(request.Re, "re");
                Requests.Needed(request.Im, "im");
                return analysis.Fit(request, wanted);
            })
            .WithName("fit")
            .ProducesProblem(422);
    }

    static void Names(IReadOnlyList<string>? names, string field)
    {
        Requests.AtMost(MostValues, names ?? [], field);
        foreach (var name in names ?? [])
            Requests.Needed(name, field);
    }

    static void Check(SteadyRequest request)
    {
        Requests.AtMost(MostValues, request.Fixed ?? [], "wanted values");
        Requests.AtMost(MostValues, request.Free ?? [], "free parameters");
        Requests.AtMost(MostValues, request.Moving ?? [], "moving states");
        Requests.AtMost(MostValues, request.Set ?? [], "set parameters");
        foreach (var f in request.Fixed ?? [])
            Requests.Needed(Requests.Needed(f, "fixed").Signal, "fixed.signal");
        foreach (var f in request.Free ?? [])
            Requests.Needed(Requests.Needed(f, "free").Parameter, "free.parameter");
        foreach (var m in request.Moving ?? [])
            Requests.Needed(m, "moving");
        foreach (var s in request.Set ?? [])
        {
            Requests.Needed(Requests.Needed(s, "set").Parameter, "set.parameter");
            Requests.Needed(s.Value, "set.value");
        }
    }
}
