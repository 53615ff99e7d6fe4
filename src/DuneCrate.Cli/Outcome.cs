using DuneCrate.Core.Crates;
using DuneCrate.Core.Images;

namespace DuneCrate.Cli;

/// <summary>Exit codes and the one line that goes with a failure.</summary>
internal static class Outcome
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
        Console.Error.WriteLine($"dune: {message.ReplaceLineEndings(" ")}");
        return Failed;
    }

    /// <summary>Runs a verb; every foreseeable trouble becomes one line and an exit code.</summary>
    public static int Of(Func<int> verb)
    {
        try
        {
            return verb();
        }
        catch (CrateRefusedException e)
        {
            Console.Error.WriteLine($"dune: {e.Message}");
            return Blocked;
        }
        catch (OperationCanceledException)
        {
            return Fail("stopped; nothing half done is left.");
        }
        catch (Exception e) when (e is IOException or UnauthorizedAccessException or FormatException or ArgumentException or ImageException)
        {
            return Fail(e.Message);
        }
    }
}
