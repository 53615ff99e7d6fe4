using System.CommandLine;
using System.Runtime.InteropServices;

namespace DuneCrate.Cli;

/// <summary>Runs the verb that a command line names.</summary>
internal static class CommandLine
{
    /// <summary>Runs it, until it ends or a signal stops it; returns the exit code.</summary>
    /// <param name="root">All verbs.</param>
    /// <param name="args">The command line.</param>
    /// <param name="isPatient">Whether a verb may take as long as it likes after a signal.</param>
    public static async Task<int> RunAsync(RootCommand root, string[] args, Func<string, bool> isPatient)
    {
        ParseResult parsed = root.Parse(args);
        if (parsed.Errors.Count > 0)
        {
            bool isNoVerb = parsed.CommandResult.Command == root && parsed.UnmatchedTokens.Count > 0;
            string name = parsed.CommandResult.Command == root ? "" : parsed.CommandResult.Command.Name + " ";
            return Outcome.Fail(
                isNoVerb
                    ? $"'{parsed.UnmatchedTokens[0]}' is not a verb. See ./dune --help."
                    : $"{parsed.Errors[0].Message} See ./dune {name}--help."
            );
        }

        using var stop = new CancellationTokenSource();
        void Stop(PosixSignalContext signal)
        {
            signal.Cancel = true;
            stop.Cancel();
        }

        using var interrupted = PosixSignalRegistration.Create(PosixSignal.SIGINT, Stop);
        using var terminated = PosixSignalRegistration.Create(PosixSignal.SIGTERM, Stop);
        var how = new InvocationConfiguration { EnableDefaultExceptionHandler = false };
        if (isPatient(parsed.CommandResult.Command.Name))
        {
            how.ProcessTerminationTimeout = null;
        }

        return await parsed.InvokeAsync(how, stop.Token);
    }
}
