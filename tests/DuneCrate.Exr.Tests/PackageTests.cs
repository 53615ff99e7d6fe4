using System.Diagnostics;
using System.Text.RegularExpressions;

namespace DuneCrate.Exr.Tests;

/// <summary>The package as somebody else would use it: made by <c>dotnet pack</c>, consumed by the programs of its README.</summary>
public sealed partial class PackageTests : IDisposable
{
    private readonly string _folder = Directory.CreateTempSubdirectory("dune-crate-package-").FullName;

    [Fact]
    public void Programs_of_the_README_write_and_read_files_with_the_package()
    {
        string version = $"0.0.{Environment.ProcessId}";
        Dotnet(
            "pack",
            Repository.File("src/DuneCrate.Exr"),
            "-c",
            AppContext.BaseDirectory.Contains("/Release/", StringComparison.Ordinal) ? "Release" : "Debug",
            "--no-build",
            $"-p:Version={version}",
            "-o",
            Path.Combine(_folder, "feed")
        );
        string[] programs =
        [
            .. Programs().Matches(File.ReadAllText(Repository.File("src/DuneCrate.Exr/README.md"))).Select(m => m.Groups[1].Value),
        ];
        Assert.Equal(2, programs.Length);
        (string reader, string writer) = (Make("Reader", programs[0], version), Make("Writer", programs[1], version));
        string file = Path.Combine(_folder, "a.exr");
        Dotnet(writer, file);
        Assert.Equal(
            $"0 Y Half 64 x 36: {Enumerable.Range(0, 64 * 36).Average(i => (float)(Half)(i / 2304f)):0.0000}\nwhole\n",
            Dotnet(reader, file)
        );
    }

    /// <summary>A program that knows the package and nothing of this repository.</summary>
    /// <returns>Its assembly.</returns>
    private string Make(string name, string program, string version)
    {
        string folder = Directory.CreateDirectory(Path.Combine(_folder, name)).FullName,
            known =
                Environment.GetEnvironmentVariable("NUGET_PACKAGES")
                ?? Path.Combine(Environment.GetFolderPath(Environment.SpecialFolder.UserProfile), ".nuget", "packages");
        File.WriteAllText(Path.Combine(folder, "Program.cs"), program);
        File.WriteAllText(
            Path.Combine(folder, "nuget.config"),
            $"""
            <configuration>
              <packageSources><clear /><add key="feed" value="{Path.Combine(_folder, "feed")}" /></packageSources>
            </configuration>
            """
        );
        File.WriteAllText(
            Path.Combine(folder, $"{name}.csproj"),
            $"""
            <Project Sdk="Microsoft.NET.Sdk">
              <PropertyGroup>
                <OutputType>Exe</OutputType>
                <TargetFramework>net10.0</TargetFramework>
                <Nullable>enable</Nullable>
                <ImplicitUsings>enable</ImplicitUsings>
                <RestorePackagesPath>{Path.Combine(_folder, "packages")}</RestorePackagesPath>
                <RestoreFallbackFolders>{known}</RestoreFallbackFolders>
              </PropertyGroup>
              <ItemGroup>
                <PackageReference Include="DuneCrate.Exr" Version="{version}" />
              </ItemGroup>
            </Project>
            """
        );
        Dotnet("build", folder, "-c", "Release", "-v", "quiet");
        return Path.Combine(folder, "bin", "Release", "net10.0", $"{name}.dll");
    }

    private static string Dotnet(params string[] arguments)
    {
        var start = new ProcessStartInfo("dotnet", arguments)
        {
            RedirectStandardOutput = true,
            RedirectStandardError = true,
            WorkingDirectory = Path.GetTempPath(),
        };
        start.Environment["DOTNET_CLI_TELEMETRY_OPTOUT"] = "1";
        start.Environment["MSBUILDDISABLENODEREUSE"] = "1";
        using Process process = Process.Start(start)!;
        Task<string> errors = process.StandardError.ReadToEndAsync();
        string said = process.StandardOutput.ReadToEnd();
        process.WaitForExit();
        Assert.True(process.ExitCode == 0, $"dotnet {string.Join(' ', arguments)}: {said} {errors.Result}");
        return said;
    }

    [GeneratedRegex("```csharp\n(.*?)```", RegexOptions.Singleline)]
    private static partial Regex Programs();

    public void Dispose() => Directory.Delete(_folder, recursive: true);
}
