using System.Diagnostics;

namespace DuneCrate.Commands;

/// <summary>Writes progress to standard error, at most a few times a second and only when a person looks at it.</summary>
public sealed class ProgressLine<T>(Func<T, string> describe) : IProgress<T>
{
    private readonly Lock _gate = new();
    private long _last;

    public void Report(T value)
    {
        if (Console.IsErrorRedirected)
        {
            return;
        }

        lock (_gate)
        {
            if (Stopwatch.GetElapsedTime(_last).TotalMilliseconds >= 200)
            {
                _last = Stopwatch.GetTimestamp();
                Console.Error.Write($"\r{describe(value), -78}\r");
            }
        }
    }
}
