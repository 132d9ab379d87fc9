using AnchorBend.Workbench.People;

namespace AnchorBend.Server.People;

/// <summary>Who a request comes from: by the key of a script, or by the cookie of a browser.</summary>
sealed class Identification(SignInWork people, IPeopleStore store)
{
    const string Bearer = "Bearer ";

    public AccountVisitor? Of(HttpRequest request)
    {
        if (request.Headers.Authorization is [{ } header, ..] && header.StartsWith(Bearer, StringComparison.OrdinalIgnoreCase))
            return people.OfToken(header[Bearer.Length..].Trim()) is { } token
                ? new AccountVisitor(store, token.Account, token.MayEdit)
                : null;
        return SessionCookie.Of(request) is { } secret && people.OfSession(secret) is { } account
            ? new AccountVisitor(store, account)
            : null;
    }
}
