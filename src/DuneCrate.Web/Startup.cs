using System.Net;
using DuneCrate.Shots;
using DuneCrate.Web.Access;
using DuneCrate.Web.Demo;

namespace DuneCrate.Web;

/// <summary>What the terminal says when the application has started.</summary>
public static class Startup
{
    /// <summary>Says the code that the first account is made with.</summary>
    public static void SayCode(FirstCode code) => Console.WriteLine($"No account yet. The code for the first one is {code.Code}");

    /// <summary>Says where the application is, and how people get in.</summary>
    public static async Task SayAsync(WebApplication app, ServeOptions options)
    {
        if (!options.HasAccounts)
        {
            Console.WriteLine(
                "Without accounts: whoever uses this machine may do everything, under any name. Only this machine reaches the application."
            );
        }
        else if (options.IsDemo)
        {
            await app.Services.GetRequiredService<DemoBuilder>().MakeShowAsync();
            await DemoPeople.SayAsync(app.Services);
        }
        else if (await app.Services.GetRequiredService<People>().IsEmptyAsync(default))
        {
            SayCode(app.Services.GetRequiredService<FirstCode>());
        }

        if (!IPAddress.IsLoopback(options.Bind) && app.Configuration["AllowedHosts"] is null or "" or "*")
        {
            Console.WriteLine(
                "Any host name is answered. Set AllowedHosts to the names that people use, and put TLS in front: "
                    + "docs/operations.md says how."
            );
        }
    }
}
