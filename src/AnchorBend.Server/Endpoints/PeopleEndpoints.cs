using AnchorBend.Modeling.Documents;
using AnchorBend.Server.People;
using AnchorBend.Server.Security;
using AnchorBend.Workbench.Models;
using AnchorBend.Workbench.People;
using Microsoft.AspNetCore.RateLimiting;

namespace AnchorBend.Server.Endpoints;

/// <summary>Who asks, and whether they have to sign in.</summary>
/// <param name="IsNeeded">Whether this server serves only whom it knows.</param>
/// <param name="IsFirst">Whether nobody is there yet who could let others in.</param>
/// <param name="Account">Id; null where nobody is signed in.</param>
public sealed record MeView(bool IsNeeded, bool IsFirst, string? Account, string? Name, bool IsAdministrator);

public sealed record SignInRequest(string Name, string Password);

/// <param name="Code">As the server has printed it at its start.</param>
public sealed record FirstRequest(string Code, string Name, string Password);

public sealed record PasswordRequest(string Present, string Wanted);

/// <param name="Shown">As others read it; none for the name itself.</param>
public sealed record AccountRequest(string Name, string? Shown, string Password, bool IsAdministrator);

/// <summary>What is not given stays as it is.</summary>
public sealed record AccountChangeRequest(bool? IsAdministrator, bool? IsOff, string? Password);

public sealed record AccountView(string Id, string Name, string Shown, bool IsAdministrator, bool IsOff, bool IsLocked, string Made);

/// <param name="Account">Empty for everybody who is signed in.</param>
/// <param name="May">None takes back what was said.</param>
public sealed record GrantRequest(string Folder, string Account, Access? May);

public sealed record TokenRequest(string Name, bool MayEdit, int Days);

public sealed record TokenView(string Id, string Name, bool MayEdit, string Made, string Ends, string? Last);

/// <param name="Key">Shown this once.</param>
public sealed record IssuedToken(TokenView Token, string Key);

/// <summary>People who may sign in, their keys and rights, over HTTP.</summary>
static class PeopleEndpoints
{
    /// <summary>The name of the limit on tries to sign in.</summary>
    public const string Tries = "tries";

    const int MostInPage = 500;

    public static void Map(RouteGroupBuilder api)
    {
        api.MapGet("/me", Me).WithName("me").AllowAnonymous();
        api.MapPost("/sign-in", (SignInRequest request, SignInWork people, HttpContext context) =>
            {
                var (name, password) = (Requests.Needed(request.Name, "name"), Requests.Needed(request.Password, "password"));
                Begin(people.SignIn(name, password, SignInCheck.From(context)), people, context);
                return TypedResults.NoContent();
            })
            .WithName("signIn")
            .AllowAnonymous()
            .RequireRateLimiting(Tries)
            .ProducesProblem(401);
        api.MapPost("/sign-in/first", (FirstRequest request, SignInWork people, HttpContext context) =>
            {
                var code = Requests.Needed(request.Code, "code");
                var (name, password) = (Requests.Needed(request.Name, "name"), Requests.Needed(request.Password, "password"));
                Begin(people.First(code, name, password, SignInCheck.From(context)), people, context);
                return TypedResults.NoContent();
            })
            .WithName("signInFirst")
            .AllowAnonymous()
            .RequireRateLimiting(Tries)
            .ProducesProblem(401)
            .ProducesProblem(422);
        api.MapPost("/sign-out", (SignInWork people, HttpContext context) =>
            {
                if (SessionCookie.Of(context.Request) is { } secret)
                    people.End(secret);
                SessionCookie.Remove(context);
                return TypedResults.NoContent();
            })
            .WithName("signOut")
            .AllowAnonymous();
        api.MapPut("/me/password", (PasswordRequest request, SignInWork people, IPeopleStore store, HttpContext context) =>
            {
                var (present, wanted) = (Requests.Needed(request.Present, "present"), Requests.Needed(request.Wanted, "wanted"));
                people.ChangePassword(Own(), present, wanted, SignInCheck.From(context));
                Begin(store.Find(Own())!, people, context);
                return TypedResults.NoContent();
            })
            .WithName("changePassword")
            .RequireRateLimiting(Tries)
            .ProducesProblem(422);
        api.MapGet("/me/tokens", (IPeopleStore store) => store.Tokens(Own()).Select(View)).WithName("tokens");
        api.MapPost("/me/tokens", (TokenRequest request, SignInWork people, HttpContext context) =>
            {
                var name = Requests.Needed(request.Name, "name");
                var (token, secret) = people.Issue(Own(), name, request.MayEdit, request.Days, SignInCheck.From(context));
                return new IssuedToken(View(token), secret);
            })
            .WithName("makeToken")
            .ProducesProblem(422);
        api.MapDelete("/me/tokens/{token}", (string token, SignInWork people, HttpContext context) =>
            {
                people.Withdraw(Own(), token, SignInCheck.From(context));
                return TypedResults.NoContent();
            })
            .WithName("removeToken")
            .ProducesProblem(404);
        MapAdministration(api.MapGroup("/people").AddEndpointFilter(OnlyAdministrators));
    }

    static void MapAdministration(RouteGroupBuilder people)
    {
        people.MapGet("/accounts", (IPeopleStore store) => store.Accounts().Select(View)).WithName("accounts");
        people
            .MapPost("/accounts", (AccountRequest request, SignInWork work, HttpContext context) =>
                View(
                    work.Add(
                        Requests.Needed(request.Name, "name"),
                        request.Shown,
                        Requests.Needed(request.Password, "password"),
                        request.IsAdministrator,
                        SignInCheck.From(context)
                    )
                )
            )
            .WithName("makeAccount")
            .ProducesProblem(422);
        people
            .MapPut("/accounts/{account}", (string account, AccountChangeRequest request, SignInWork work, HttpContext context) =>
            {
                work.Change(account, request.IsAdministrator, request.IsOff, request.Password, SignInCheck.From(context));
                return TypedResults.NoContent();
            })
            .WithName("changeAccount")
            .ProducesProblem(404)
            .ProducesProblem(422);
        people.MapGet("/grants", (IPeopleStore store) => store.Grants()).WithName("grants");
        people.MapPut("/grants", Give).WithName("putGrant").ProducesProblem(404);
        people
            .MapGet("/audit", (long? before, int? limit, IPeopleStore store) =>
                store.Audit(before ?? long.MaxValue, Math.Clamp(limit ?? 100, 1, MostInPage))
            )
            .WithName("audit");
    }

    static ValueTask<object?> OnlyAdministrators(EndpointFilterInvocationContext context, EndpointFilterDelegate next)
    {
        Own();
        Visitor.DemandAdministrator();
        return next(context);
    }

    static Microsoft.AspNetCore.Http.HttpResults.NoContent Give(
        GrantRequest request,
        SignInWork work,
        IPeopleStore store,
        HttpContext context
    )
    {
        var (folder, account) = (Requests.Needed(request.Folder, "folder"), Requests.Needed(request.Account, "account"));
        if (account.Length > 0 && store.Find(account) is null)
            throw new NotFoundException("There is no such account.");
        if (folder.Length > 200)
            throw new DocumentException("Names of folders have at most 200 characters.");
        if (request.May is { } may)
            store.Put(new Grant(folder, account, may));
        else
            store.RemoveGrant(folder, account);
        var who = account.Length == 0 ? "everybody" : store.Find(account)!.Name;
        work.Note(
            Visitor.Current?.Name ?? "",
            "rights changed",
            $"{who} in '{folder}': {request.May?.ToString() ?? "as above"}",
            SignInCheck.From(context)
        );
        return TypedResults.NoContent();
    }

    static MeView Me(Serving serving, SignInWork people, IPeopleStore store)
    {
        var account = Visitor.Current is { } visitor ? store.Find(visitor.Account) : null;
        return new MeView(
            serving.NeedsSignIn,
            serving.NeedsSignIn && people.IsEmpty,
            account?.Id,
            account?.Shown,
            Visitor.Current?.IsAdministrator ?? false
        );
    }

    /// <exception cref="NotFoundException">This server knows nobody, as it serves this machine alone.</exception>
    static string Own() =>
        Visitor.Current?.Account ?? throw new NotFoundException("Nobody signs in here: this server serves this machine alone.");

    static void Begin(Account account, SignInWork people, HttpContext context) =>
        SessionCookie.Put(context, people.Begin(account, SignInCheck.From(context)));

    static TokenView View(Token token) => new(token.Id, token.Name, token.MayEdit, token.Made, token.Ends, token.Last);

    static AccountView View(Account account) =>
        new(
            account.Id,
            account.Name,
            account.Shown,
            account.IsAdministrator,
            account.IsOff,
            account.LockedUntil is { } until
                && DateTime.Parse(until, null, System.Globalization.DateTimeStyles.RoundtripKind) > DateTime.UtcNow,
            account.Made
        );
}
