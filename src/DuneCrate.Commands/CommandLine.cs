using System.CommandLine;
using System.CommandLine.Parsing;
using System.Runtime.CompilerServices;
using System.Runtime.InteropServices;

namespace DuneCrate.Commands;

/// <summary>Runs the verb that a command line names.</summary>
public static class CommandLine
{
    /// <summary>What our own readers of values said: everything else is said by the library, and put into other words.</summary>
    private static readonly ConditionalWeakTable<SymbolResult, string> Own = [];

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
                    : $"{Problem(parsed)} See ./dune {name}--help."
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

    /// <summary>Says of a value, while it is read, what is wrong with it.</summary>
    public static void Refuse(ArgumentResult result, string words)
    {
        Own.AddOrUpdate(result.Parent as OptionResult ?? (SymbolResult)result, words);
        result.AddError(words);
    }

    /// <summary>What is wrong with a command line, in words of our own.</summary>
    private static string Problem(ParseResult parsed)
    {
        SymbolResult? at = parsed.Errors[0].SymbolResult;
        if (
            parsed
                .Errors.Select(e => Own.TryGetValue(e.SymbolResult!, out string? said) ? said : null)
                .FirstOrDefault(s => s is not null) is
            { } own
        )
        {
            return own;
        }

        string value = string.Join(' ', at?.Tokens.Select(t => t.Value) ?? []);
        return parsed.UnmatchedTokens is [var unknown, ..] ? $"'{unknown}' is neither an option nor an argument here."
            : at is OptionResult { Tokens: [] } option && !option.Implicit ? $"{option.Option.Name} needs a value."
            : at is OptionResult wrong && value.Length > 0 ? $"'{value}' is not a value for {wrong.Option.Name}."
            : at is ArgumentResult argument && value.Length > 0 ? $"'{value}' is not a value for {argument.Argument.Name}."
            : at is ArgumentResult missing ? $"{missing.Argument.Name} is missing."
            : parsed.CommandResult.Command.Options.FirstOrDefault(o => o.Required && parsed.GetResult(o) is null or { Implicit: true })
                is { } required
                ? $"{required.Name} is missing."
            : parsed.CommandResult.Command.Arguments.FirstOrDefault(a =>
                a.Arity.MinimumNumberOfValues > 0 && parsed.GetResult(a) is null or { Tokens: [] }
            )
                is { } named
                ? $"{named.Name} is missing."
            : parsed.CommandResult.Command.Subcommands.Count > 0 ? "A verb is missing."
            : "That cannot be read.";
    }
}
