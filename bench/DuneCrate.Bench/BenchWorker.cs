using System.Diagnostics;

namespace DuneCrate.Bench;

/// <summary>A machine of one thread that reads for others, in a process of its own.</summary>
internal sealed class BenchWorker : IDisposable
{
    private readonly Process _process;
    private int _read;

    /// <summary>Starts it.</summary>
    /// <param name="broker">The engine.</param>
    /// <param name="renders">What it has as the root called renders.</param>
    public BenchWorker(BenchBroker broker, string renders)
    {
        string[] arguments = ["worker", "--engine", broker.Options.Shown, "--root", $"renders={renders}", "--threads", "1"];
        _process = Process.Start(new ProcessStartInfo(PixelBench.Command, arguments) { RedirectStandardError = true })!;
        _process.ErrorDataReceived += (_, said) =>
        {
            if (said.Data?.Contains("reading ", StringComparison.Ordinal) == true)
            {
                Interlocked.Increment(ref _read);
            }
        };
        _process.BeginErrorReadLine();
    }

    /// <summary>How many files it has read or begun to read.</summary>
    public int Files => Volatile.Read(ref _read);

    /// <summary>Whether it is there.</summary>
    public bool IsRunning => !_process.HasExited;

    /// <summary>Processor time so far.</summary>
    public TimeSpan Processor
    {
        get
        {
            _process.Refresh();
            return _process.TotalProcessorTime;
        }
    }

    public void Dispose()
    {
        _process.Kill();
        _process.WaitForExit();
        _process.Dispose();
    }
}
