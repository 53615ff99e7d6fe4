using System.Collections.Concurrent;
using System.Diagnostics;

namespace DuneCrate.Testing;

/// <summary>A worker as a process of its own, and what it says.</summary>
public sealed class WorkerProcess : IDisposable
{
    private readonly ConcurrentQueue<string> _lines = new();
    private readonly Process _process;
    private readonly Thread _reading;

    /// <summary>Starts one.</summary>
    /// <param name="broker">The engine.</param>
    /// <param name="folder">What it has as the root called renders.</param>
    /// <param name="said">Told each line.</param>
    /// <param name="more">Further arguments.</param>
    public WorkerProcess(Broker broker, string folder, Action<WorkerProcess, string>? said = null, params string[] more)
    {
        var start = new ProcessStartInfo("dotnet") { RedirectStandardError = true, RedirectStandardOutput = true };
        string[] arguments =
        [
            Path.Combine(AppContext.BaseDirectory, "DuneCrate.Cli.dll"),
            "worker",
            "--engine",
            broker.Address,
            "--root",
            $"renders={folder}",
            "--threads",
            "1",
            .. more,
        ];
        foreach (string argument in arguments)
        {
            start.ArgumentList.Add(argument);
        }

        _process = Process.Start(start)!;
        // On a thread of its own: what a test does at a line must not wait until the pool has one to spare.
        _reading = new Thread(() =>
        {
            while (_process.StandardError.ReadLine() is { } line)
            {
                _lines.Enqueue(line);
                said?.Invoke(this, line);
            }
        })
        {
            IsBackground = true,
        };
        _reading.Start();
    }

    /// <summary>What it has said.</summary>
    public string[] Lines => [.. _lines];

    /// <summary>Waits for a line with some words.</summary>
    public string WaitFor(string words) => Broker.Until(() => Lines.FirstOrDefault(l => l.Contains(words, StringComparison.Ordinal)));

    /// <summary>Kills it at once.</summary>
    public void Kill() => _process.Kill();

    /// <summary>Sends a signal: STOP, CONT, TERM.</summary>
    public void Signal(string name) => Tool.RunAny("kill", $"-{name}", $"{_process.Id}");

    /// <summary>Waits for its end.</summary>
    /// <returns>Its exit code.</returns>
    public int WaitForEnd()
    {
        Assert.True(_process.WaitForExit(TimeSpan.FromSeconds(60)), "The worker did not end.");
        return _process.ExitCode;
    }

    public void Dispose()
    {
        if (!_process.HasExited)
        {
            _process.Kill();
            _process.WaitForExit();
        }

        _reading.Join();
        _process.Dispose();
    }
}
