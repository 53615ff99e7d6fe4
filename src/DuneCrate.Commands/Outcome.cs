using DuneCrate.Crates;
using DuneCrate.Exr;
using DuneCrate.Foundation.Storage;

namespace DuneCrate.Commands;

/// <summary>Exit codes and the one line that goes with a failure.</summary>
public static class Outcome
{
    /// <summary>Done, and nothing blocks.</summary>
    public const int Done = 0;

    /// <summary>Done, and blockers were found.</summary>
    public const int Blocked = 1;

    /// <summary>Could not be done.</summary>
    public const int Failed = 2;

    /// <summary>Says what went wrong in one line.</summary>
    public static int Fail(string message)
    {
        Terminal.Tell($"dune: {message}");
        return Failed;
    }

    /// <summary>What parts beside the core say of troubles of their own; null of all others.</summary>
    public static Func<Exception, string?> Foreseen { get; set; } = _ => null;

    /// <summary>Runs a verb; every trouble becomes one line and an exit code.</summary>
    public static int Run(Func<int> verb)
    {
        try
        {
            return verb();
        }
        catch (Exception e)
        {
            return Run(e);
        }
    }

    /// <summary>The same of a verb that waits for others.</summary>
    public static async Task<int> RunAsync(Func<Task<int>> verb)
    {
        try
        {
            return await verb();
        }
        catch (Exception e)
        {
            return Run(e);
        }
    }

    private static int Run(Exception failure)
    {
        Exception trouble = failure is AggregateException { InnerExceptions: [var only, ..] } ? only : failure;
        if (Foreseen(trouble) is { } said)
        {
            return Fail(said);
        }

        switch (trouble)
        {
            case CrateRefusedException e:
                Terminal.Tell($"dune: {e.Message}");
                return Blocked;
            case OperationCanceledException:
                return Fail("stopped; nothing half done is left.");
            case StorageException
            or PermissionException
            or FileNotFoundException
            or DirectoryNotFoundException
            or FormatException
            or ArgumentException
            or ImageException:
                return Fail(trouble.Message);
            case UnauthorizedAccessException:
                return Fail("a file or folder may not be opened or written; look at its permissions.");
            case IOException e:
                return Fail($"{StorageException.DiskWords(e)}; nothing half done is left.");
            case NotSupportedException e:
                return Fail(e.Message);
            case OutOfMemoryException:
                return Fail("there is not enough memory for that; check fewer files at once, or set Limits__MaxMemory.");
            case var e:
                return Fail(
                    $"that could not be done, and nobody foresaw why ({e.GetType().Name}). Please report it with the command that you gave."
                );
        }
    }
}
