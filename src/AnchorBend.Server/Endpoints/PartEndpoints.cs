using AnchorBend.Language.Binding;
using AnchorBend.Language.Syntax;
using AnchorBend.Modeling.Catalog;
using AnchorBend.Modeling.Documents;
using AnchorBend.Server.Compute;
using AnchorBend.Server.Models;
using AnchorBend.Server.Runs;
using AnchorBend.Simulation;

namespace AnchorBend.Server.Endpoints;

/// <summary>A part's text and where it belongs: "catalog", "package" (the user's own) or "model".</summary>
public sealed record PartText(string Name, string Text, string Home, PartReviewView Review);

/// <summary>Words of the equation language, for highlighting and completion.</summary>
/// <param name="Types">Names of the types and connectors a declaration can begin with.</param>
public sealed record LanguageWords(IReadOnlyList<string> Reserved, IReadOnlyList<string> Functions, IReadOnlyList<string> Types);

public sealed record TextRequest(string Text);

/// <summary>What is said of a part's text beside it.</summary>
public sealed record PartReviewView(
    string? Name,
    IReadOnlyList<TextFinding> Findings,
    int Equations,
    int Unknowns,
    PartDescription? Description
)
{
    public static PartReviewView Of(PartReview review) =>
        new(
            review.Name,
            [
                .. review.Findings.Select(f => new TextFinding(
                    f.Severity.ToString().ToLowerInvariant(),
                    Math.Max(1, f.At.Line),
                    Math.Max(1, f.At.Column),
                    f.Message,
                    f.Suggestion
                )),
            ],
            review.Equations,
            review.Unknowns,
            review.Description
        );
}

public sealed record TextFinding(string Severity, int Line, int Column, string Message, string? Suggestion);

/// <summary>Texts of parts: read, check, and keep in the user's own package.</summary>
static class PartEndpoints
{
    const int LongestText = ModelDocument.LongestClass;

    /// <summary>What checking one text may take.</summary>
    static readonly TimeSpan MostReviewing = TimeSpan.FromSeconds(10);

    public static void Map(RouteGroupBuilder api)
    {
        api.MapGet("/language", Words).WithName("language");
        api.MapGet("/models/{id}/parts/{name}", Read).WithName("readPart").Produces<PartText>().ProducesProblem(404);
        api.MapPost("/models/{id}/parts/check", Check).WithName("checkPart").Produces<PartReviewView>().ProducesProblem(422);
        api.MapPut("/package/{name}", Keep).WithName("keepPart").Produces<PartReviewView>().ProducesProblem(422);
        api.MapDelete("/package/{name}", Remove).WithName("removePart").ProducesProblem(404);
    }

    static LanguageWords Words() =>
        new(
            [.. Lexer.ReservedWords.Order(StringComparer.Ordinal)],
            [.. Binder.Functions, .. PartCatalog.Standard.Names.Where(n => PartCatalog.Standard.Find(n)!.Kind == ClassKind.Function)],
            [
                "Real",
                "Integer",
                "Boolean",
                .. PartCatalog.Standard.Names.Where(n => PartCatalog.Standard.Find(n)!.Kind == ClassKind.Connector),
            ]
        );

    static IResult Read(string id, string name, ModelSessions sessions, OwnPackage package, ComputeGate compute, CancellationToken wanted)
    {
        if (sessions.Find(id) is not { } session)
            return Problems.NoModel(id);
        var catalog = session.Catalog();
        if (catalog.TextOf(name) is not { } text)
            return Problems.NotFound($"There is no part '{name}'.");
        var home =
            session.Present().Document.Classes.ContainsKey(name) ? "model"
            : package.Contains(name) ? "package"
            : "catalog";
        return Results.Ok(
            new PartText(name, text, home, PartReviewView.Of(compute.Run(MostReviewing, wanted, _ => PartReview.Of(text, catalog))))
        );
    }

    static IResult Check(string id, TextRequest request, ModelSessions sessions, ComputeGate compute, CancellationToken wanted)
    {
        if (sessions.Find(id) is not { } session)
            return Problems.NoModel(id);
        return TooLong(request)
            ?? Results.Ok(PartReviewView.Of(compute.Run(MostReviewing, wanted, _ => PartReview.Of(request.Text, session.Catalog()))));
    }

    static IResult Keep(
        string name,
        TextRequest request,
        OwnPackage package,
        ModelSessions sessions,
        IHubNotifier hub,
        ComputeGate compute,
        CancellationToken wanted
    )
    {
        if (TooLong(request) is { } refused)
            return refused;
        if (PartCatalog.Standard.Find(name) is not null)
            return Problems.Refused($"The catalog has a part '{name}' already.", "Give your part another name.");
        if (!Lexer.IsPlainIdentifier(name))
            return Problems.Refused($"'{name}' is no name for a part.", "Use letters, digits and underscores, beginning with a letter.");
        var review = compute.Run(MostReviewing, wanted, _ => PartReview.Of(request.Text, package.Catalog));
        if (review.Name != name)
            return Problems.Refused($"The text does not define '{name}'.", "Mend its errors first, and let its name agree.");
        package.Put(name, request.Text);
        Tell(name, sessions, hub);
        return Results.Ok(PartReviewView.Of(review));
    }

    static IResult Remove(string name, OwnPackage package, ModelSessions sessions, IHubNotifier hub)
    {
        if (!package.Remove(name))
            return Problems.NotFound($"The package has no part '{name}'.");
        Tell(name, sessions, hub);
        return Results.NoContent();
    }

    /// <summary>Windows that show a model with the part take the new state and run again.</summary>
    static void Tell(string name, ModelSessions sessions, IHubNotifier hub)
    {
        foreach (var session in sessions.Open)
            if (session.Present().Document.Parts.Values.Any(p => p.Type == name))
                hub.PartsChanged(session.Id, name);
    }

    static IResult? TooLong(TextRequest request) =>
        request.Text is null ? Problems.Refused("A text is needed.", "Send the part's text.")
        : request.Text.Length > LongestText ? Problems.Refused($"The text has more than {LongestText} characters.", "Split the part.")
        : null;
}
