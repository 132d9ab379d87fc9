using AnchorBend.Workbench.Alternatives;
using AnchorBend.Workbench.Models;

namespace AnchorBend.Server.Endpoints;

/// <param name="Choices">What shall be chosen, each with the values to run.</param>
public sealed record RunSetRequest(IReadOnlyList<WantedChoice> Choices);

/// <summary>What can be chosen about a model, and runs of all combinations.</summary>
static class AlternativeEndpoints
{
    static readonly TimeSpan Patience = TimeSpan.FromSeconds(1);

    public static void Map(RouteGroupBuilder api)
    {
        api.MapGet("/models/{id}/choices", Choices).WithName("getChoices").ProducesProblem(404);
        api.MapPost("/models/{id}/runsets", Start).WithName("startRunSet").ProducesProblem(404).ProducesProblem(422);
        api.MapGet("/runsets/{id}", Get).WithName("getRunSet").ProducesProblem(404);
        api.MapDelete("/runsets/{id}", (string id, RunSets sets) =>
            {
                sets.Find(id)?.Cancel();
                return TypedResults.NoContent();
            })
            .WithName("cancelRunSet");
    }

    static IReadOnlyList<ModelChoice> Choices(string id, ModelWork models, CancellationToken wanted)
    {
        var (prepared, document, _) = models.Session(id).Prepare(wanted);
        return ModelChoices.Of(prepared, document);
    }

    static RunSetView Start(string id, RunSetRequest request, ModelWork models, RunSets sets, CancellationToken wanted)
    {
        var choices = Requests.Needed(request.Choices, "choices");
        for (var i = 0; i < choices.Count; i++)
            if (choices[i] is not { Path: not null, Names: not null } || choices[i].Names.Contains(null!))
                throw new RequestException($"choice {i + 1} at $.choices[{i}] needs 'path' and 'names'.");
        return sets.Start(models.Session(id), choices, wanted).View();
    }

    /// <summary>Waits a moment for the end where that is asked for, then answers with what there is.</summary>
    static async Task<RunSetView> Get(string id, bool? wait, RunSets sets, CancellationToken wanted)
    {
        var set = sets.Find(id) ?? throw new NotFoundException($"There is no set of runs '{id}' any more. Run the alternatives again.");
        if (wait == true)
            await Task.WhenAny(set.Finished, Task.Delay(Patience, wanted));
        return set.View();
    }
}
