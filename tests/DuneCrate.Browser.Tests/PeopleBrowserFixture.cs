using DuneCrate.Shots;
using DuneCrate.Web.Access;
using Microsoft.Extensions.DependencyInjection;

namespace DuneCrate.Browser.Tests;

/// <summary>The application with accounts and nobody in it, under a name: browsers keep passkeys for names alone.</summary>
public sealed class PeopleBrowserFixture : BrowserFixture
{
    public override string Address => base.Address.Replace("127.0.0.1", "localhost", StringComparison.Ordinal);

    /// <summary>The code that stands on the terminal.</summary>
    public string Code => Services.GetRequiredService<FirstCode>().Code;

    protected override ServeOptions Options(string data) => ServeOptions.ForServe(data, 0, "127.0.0.1", [$"renders={Renders}"]);
}
