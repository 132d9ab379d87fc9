using AnchorBend.Workbench.People;
using Microsoft.AspNetCore.SignalR;

namespace AnchorBend.Server.People;

/// <summary>Each call of a live connection is done for who is signed in at that moment: what they may do can have changed.</summary>
sealed class VisitorOfHub(IServiceProvider services) : IHubFilter
{
    public async ValueTask<object?> InvokeMethodAsync(
        HubInvocationContext invocationContext,
        Func<HubInvocationContext, ValueTask<object?>> next
    )
    {
        if (services.GetRequiredService<Security.Serving>().NeedsSignIn && invocationContext.Context.GetHttpContext() is { } http)
            Visitor.Current = services.GetRequiredService<Identification>().Of(http.Request) ?? throw new HubException("Sign in first.");
        return await next(invocationContext);
    }
}
