namespace AnchorBend.Server.Security;

/// <summary>
/// Refuses what a page of another site asks for: a browser says where a request comes from, for anything but plain reading and for the
/// live connection. Also says to browsers what the product's own pages may load and that no other page may frame them.
/// </summary>
sealed class OriginCheck(RequestDelegate next)
{
    /// <summary>Scripts, styles and fonts are the product's own; the component library writes styles at run time.</summary>
    const string ContentPolicy =
        "default-src 'self'; script-src 'self'; style-src 'self' 'unsafe-inline'; img-src 'self' data: blob:; font-src 'self' data:; "
        + "connect-src 'self' ws: wss:; worker-src 'self' blob:; object-src 'none'; base-uri 'none'; form-action 'self'; "
        + "frame-ancestors 'none'";

    public Task InvokeAsync(HttpContext context)
    {
        var headers = context.Response.Headers;
        headers.ContentSecurityPolicy = ContentPolicy;
        headers.XFrameOptions = "DENY";
        headers.XContentTypeOptions = "nosniff";
        headers["Referrer-Policy"] = "no-referrer";
        headers["Cross-Origin-Resource-Policy"] = "same-origin";
        if (context.Request.IsHttps)
            headers.StrictTransportSecurity = "max-age=31536000";
        // What one may see by signing in is not kept where the next person on this machine finds it.
        if (context.Request.Path.StartsWithSegments("/api"))
            headers.CacheControl = "no-store";
        return IsForeign(context.Request)
            ? Endpoints.Problems.Forbidden("A page of another site asked for this. Only this server's own pages may.").ExecuteAsync(context)
            : next(context);
    }

    static bool IsForeign(HttpRequest request)
    {
        var isPlainReading =
            (HttpMethods.IsGet(request.Method) || HttpMethods.IsHead(request.Method)) && !request.Path.StartsWithSegments("/hub");
        if (isPlainReading)
            return false;
        if (request.Headers.Origin is [{ Length: > 0 } origin, ..])
            return !Uri.TryCreate(origin, UriKind.Absolute, out var from)
                || !from.Authority.Equals(request.Host.Value, StringComparison.OrdinalIgnoreCase);
        return request.Headers["Sec-Fetch-Site"] is [{ } site, ..] && site is not ("same-origin" or "none");
    }
}
