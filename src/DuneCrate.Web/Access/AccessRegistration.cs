using System.Globalization;
using System.Threading.RateLimiting;
using DuneCrate.Store;
using DuneCrate.Store.Keeping;
using DuneCrate.Store.Rows;
using DuneCrate.Web.Stations.People;
using Microsoft.AspNetCore.Authorization;
using Microsoft.AspNetCore.Identity;

namespace DuneCrate.Web.Access;

/// <summary>Puts accounts, cookies and limits into the application.</summary>
internal static class AccessRegistration
{
    /// <summary>Rounds of PBKDF2 with HMAC-SHA-512. Source: OWASP Password Storage Cheat Sheet.</summary>
    public const int HashRounds = 210_000;

    /// <summary>Cookie that goes with the token of forms.</summary>
    public const string FormCookie = "dune-form";

    private const int SignInsAMinute = 100,
        Burst = 4_000,
        PerSecond = 800;

    private static readonly TimeSpan LinkLife = TimeSpan.FromDays(1);

    /// <summary>Adds what <see cref="AccessHandler"/> and the pages of people need.</summary>
    public static void AddAccess(this IServiceCollection services)
    {
        services.AddSingleton<People>().AddSingleton<ScriptTokens>().AddSingleton<FirstCode>().AddScoped<PeopleDesk>();
        services.AddScoped(s => (PeopleStore)s.GetRequiredService<IUserStore<PersonRow>>());
        services.AddSingleton<Sessions>().AddSingleton<VisitorReader>();
        services.AddSingleton<GuessPatience>().AddSingleton<KnownDevices>().AddSingleton<PasswordTurns>();
        services
            .AddSingleton<RunningHandler>()
            .AddSingleton<AccessHandler>()
            .AddSingleton<IAuthorizationHandler>(s => s.GetRequiredService<AccessHandler>())
            .AddSingleton<IAuthorizationMiddlewareResultHandler, AccessRefusals>()
            .AddAuthorizationBuilder()
            .SetFallbackPolicy(AccessHandler.Fallback);
        services
            .AddAuthentication(IdentityConstants.ApplicationScheme)
            .AddIdentityCookies(c =>
                c.ApplicationCookie!.Configure(o =>
                {
                    o.Cookie.Name = "dune-account";
                    o.Cookie.HttpOnly = true;
                    o.Cookie.SameSite = SameSiteMode.Strict;
                    o.Cookie.SecurePolicy = CookieSecurePolicy.SameAsRequest;
                    o.ExpireTimeSpan = Sessions.Idle;
                    o.SlidingExpiration = true;

                    // Every request holds the stamp against what is known of the person: see VisitorReader.
                    o.Events.OnValidatePrincipal = _ => Task.CompletedTask;
                })
            );
        services
            .AddIdentityCore<PersonRow>(o =>
            {
                o.Password.RequiredLength = PasswordRules.Least;
                o.Password.RequireDigit = false;
                o.Password.RequireLowercase = false;
                o.Password.RequireUppercase = false;
                o.Password.RequireNonAlphanumeric = false;
                o.Password.RequiredUniqueChars = 1;
            })
            .AddEntityFrameworkStores<DuneCrateContext>()
            .AddUserStore<PeopleStore>()
            .AddSignInManager()
            .AddDefaultTokenProviders()
            .AddPasswordValidator<PasswordRules>();
        services.Configure<PasswordHasherOptions>(o => o.IterationCount = HashRounds);
        services.Configure<DataProtectionTokenProviderOptions>(o => o.TokenLifespan = LinkLife);
        services.AddRateLimiter(o =>
        {
            o.RejectionStatusCode = StatusCodes.Status429TooManyRequests;
            o.OnRejected = (context, _) =>
            {
                context.HttpContext.Response.Headers.RetryAfter = "60";
                return ValueTask.CompletedTask;
            };
            o.GlobalLimiter = PartitionedRateLimiter.CreateChained(
                PartitionedRateLimiter.Create<HttpContext, string>(SignIns),
                PartitionedRateLimiter.Create<HttpContext, string>(Everything)
            );
        });
    }

    /// <summary>
    /// Secrets can be tried so often from one browser at one address, whatever the handler is called by; tries of one browser do not count
    /// against its neighbours.
    /// </summary>
    private static RateLimitPartition<string> SignIns(HttpContext http) =>
        http.RequestServices.GetRequiredService<RunningHandler>().Of(http)?.MethodInfo.IsDefined(typeof(TriesSecretAttribute), false)
        == true
            ? RateLimitPartition.GetFixedWindowLimiter(
                $"sign-in {http.Connection.RemoteIpAddress} {BrowserOf(http)}",
                _ => new FixedWindowRateLimiterOptions { PermitLimit = SignInsAMinute, Window = TimeSpan.FromMinutes(1) }
            )
            : RateLimitPartition.GetNoLimiter("");

    /// <summary>What tells a browser from another: a hash of the cookie without which its forms are refused.</summary>
    private static string BrowserOf(HttpContext http) =>
        http.Request.Cookies[FormCookie] is { Length: > 0 } cookie ? SecretWords.HashOf(cookie) : "";

    /// <summary>Everything else, for each person, token or address.</summary>
    private static RateLimitPartition<string> Everything(HttpContext http) =>
        RateLimitPartition.GetTokenBucketLimiter(
            http.Visitor() switch
            {
                { PersonId: { } id } => id.ToString(CultureInfo.InvariantCulture),
                { TokenShow: { } show, Name: var name } => $"{show} {name}",
                _ => $"{http.Connection.RemoteIpAddress}",
            },
            _ => new TokenBucketRateLimiterOptions
            {
                TokenLimit = Burst,
                TokensPerPeriod = PerSecond,
                ReplenishmentPeriod = TimeSpan.FromSeconds(1),
            }
        );
}
