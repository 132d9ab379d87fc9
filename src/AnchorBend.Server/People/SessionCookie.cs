namespace AnchorBend.Server.People;

/// <summary>What a signed-in browser keeps.</summary>
static class SessionCookie
{
    /// <summary>The prefix makes browsers hold it to this host and to an encrypted connection (RFC 6265bis, section 4.1.3.2).</summary>
    static string NameFor(HttpRequest request) => request.IsHttps ? "__Host-anchor-bend" : "anchor-bend";

    public static string? Of(HttpRequest request) => request.Cookies[NameFor(request)];

    public static void Put(HttpContext context, string secret) =>
        context.Response.Cookies.Append(NameFor(context.Request), secret, Options(context.Request));

    public static void Remove(HttpContext context) => context.Response.Cookies.Delete(NameFor(context.Request), Options(context.Request));

    static CookieOptions Options(HttpRequest request) =>
        new()
        {
            HttpOnly = true,
            IsEssential = true,
            Path = "/",
            SameSite = SameSiteMode.Strict,
            Secure = request.IsHttps,
        };
}
