using System.Diagnostics;

namespace DuneCrate.Testing;

/// <summary>The command line as a process; the project that calls it must refer to it, so that it lies beside the tests.</summary>
public static class CommandLine
{
    /// <summary>Runs it to its end.</summary>
    public static (int Code, string Output, string Error) Dune(params string[] arguments) => DuneWith(null, arguments);

    /// <summary>The same with a variable of the environment, <c>NAME=VALUE</c>.</summary>
    public static (int Code, string Output, string Error) DuneWith(string? setting, string[] arguments)
    {
        var start = new ProcessStartInfo("dotnet")
        {
            RedirectStandardOutput = true,
            RedirectStandardError = true,
            RedirectStandardInput = true,
        };
        if (setting is not null)
        {
            start.Environment[setting.Split('=')[0]] = setting.Split('=')[1];
        }

        foreach (string argument in arguments.Prepend(Path.Combine(AppContext.BaseDirectory, "DuneCrate.Cli.dll")))
        {
            start.ArgumentList.Add(argument);
        }

        using Process process = Process.Start(start)!;
        Task<string> error = process.StandardError.ReadToEndAsync();
        string output = process.StandardOutput.ReadToEnd();
        process.WaitForExit();
        return (process.ExitCode, output, error.Result);
    }
}
