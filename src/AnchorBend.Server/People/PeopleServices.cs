using System.Threading.RateLimiting;
using AnchorBend.Server.Endpoints;
using AnchorBend.Server.Security;
using AnchorBend.Server.Storage;
using AnchorBend.Workbench.People;
using Microsoft.AspNetCore.HttpOverrides;
using Microsoft.AspNetCore.RateLimiting;

namespace AnchorBend.Server.People;

/// <summary>What knows people and holds them to what they may ask for.</summary>
static class PeopleServices
{
    /// <summary>Tries to sign in from one address within a minute.</summary>
    const int TriesInMinute = 20;

    /// <summary>Requests that one visitor has at once, and how many come back in a second. A bench that is worked on asks for some ten a
    /// second.</summary>
    const int Burst = 600,
        InSecond = 150;

    public static void AddPeople(this IServiceCollection services, Serving serving)
    {
        services.AddSingleton(serving);
        services.AddSingleton(TimeProvider.System);
        services.AddSingleton<IPeopleStore, PeopleStore>();
        services.AddSingleton<IPasswordHash, PasswordHash>();
        services.AddSingleton<SignInWork>();
        services.AddSingleton<Identification>();
        services.AddSingleton<VisitorOfHub>();
        // Only a proxy on this machine is believed in what it says of who asks.
        services.Configure<ForwardedHeadersOptions>(o =>
            o.ForwardedHeaders = ForwardedHeaders.XForwardedFor | ForwardedHeaders.XForwardedProto | ForwardedHeaders.XForwardedHost
        );
        services.AddRateLimiter(o => Limit(o, serving));
    }

    static void Limit(RateLimiterOptions options, Serving serving)
    {
        options.OnRejected = (context, _) =>
            new(Problems.TooMany("These are too many requests at once. Wait a moment.").ExecuteAsync(context.HttpContext));
        options.AddPolicy(PeopleEndpoints.Tries, context =>
            RateLimitPartition.GetFixedWindowLimiter(SignInCheck.From(context), _ => new FixedWindowRateLimiterOptions
            {
                PermitLimit = TriesInMinute,
                Window = TimeSpan.FromMinutes(1),
            })
        );
        if (!serving.NeedsSignIn)
            return;
        options.GlobalLimiter = PartitionedRateLimiter.Create<HttpContext, string>(context =>
            RateLimitPartition.GetTokenBucketLimiter(
                Visitor.Current?.Account ?? SignInCheck.From(context),
                _ => new TokenBucketRateLimiterOptions
                {
                    TokenLimit = Burst,
                    TokensPerPeriod = InSecond,
                    ReplenishmentPeriod = TimeSpan.FromSeconds(1),
                }
            )
        );
    }
}
