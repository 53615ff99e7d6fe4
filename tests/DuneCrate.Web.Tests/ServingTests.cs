using System.Diagnostics;

namespace DuneCrate.Web.Tests;

/// <summary>What whoever starts the application reads: where it is, and nothing that they can do nothing about.</summary>
public sealed class ServingTests : IDisposable
{
    private readonly string _data = Directory.CreateTempSubdirectory("dune-crate-serve-").FullName;

    public void Dispose() => Directory.Delete(_data, recursive: true);

    [Fact]
    public async Task A_start_says_where_it_is_before_anything_else()
    {
        var start = new ProcessStartInfo("dotnet") { RedirectStandardOutput = true, RedirectStandardError = true };
        foreach (
            string argument in (string[])
                [typeof(DuneCrateApp).Assembly.Location, "serve", "--data", _data, "--port", "0", "--without-accounts"]
        )
        {
            start.ArgumentList.Add(argument);
        }

        using Process process = Process.Start(start)!;
        try
        {
            string? line = await process.StandardOutput.ReadLineAsync().WaitAsync(TimeSpan.FromMinutes(1));
            Assert.StartsWith("Dune Crate is at http://127.0.0.1:", line, StringComparison.Ordinal);
        }
        finally
        {
            process.Kill(entireProcessTree: true);
            await process.WaitForExitAsync();
        }
    }
}
