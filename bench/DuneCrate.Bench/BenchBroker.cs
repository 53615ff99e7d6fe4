using System.Diagnostics;
using System.Globalization;
using System.Net;
using System.Net.Sockets;
using DuneCrate.Engine;

namespace DuneCrate.Bench;

/// <summary>A nats-server of its own on a free port, and the processor time that it takes.</summary>
internal sealed class BenchBroker : IDisposable
{
    private readonly Process _process;

    /// <summary>Its process, for signals.</summary>
    public int ProcessId => _process.Id;

    /// <summary>Starts it; it is there once it takes connections.</summary>
    /// <param name="folder">Where it keeps what it keeps.</param>
    /// <param name="port">The port that it had before; 0 for a free one.</param>
    public BenchBroker(string folder, int port = 0)
    {
        using (var free = new TcpListener(IPAddress.Loopback, 0))
        {
            free.Start();
            Port = port > 0 ? port : ((IPEndPoint)free.LocalEndpoint).Port;
        }

        string[] arguments = ["-a", "127.0.0.1", "-p", Port.ToString(CultureInfo.InvariantCulture), "-js", "-sd", folder];
        _process = Process.Start(new ProcessStartInfo("nats-server", arguments) { RedirectStandardError = true })!;
        using var ready = new ManualResetEventSlim();
        void Look(object sender, DataReceivedEventArgs said)
        {
            if (said.Data?.Contains("is ready", StringComparison.Ordinal) == true)
            {
                ready.Set();
            }
        }

        _process.ErrorDataReceived += Look;
        _process.BeginErrorReadLine();
        if (!ready.Wait(TimeSpan.FromSeconds(20)))
        {
            throw new InvalidOperationException("nats-server did not start.");
        }

        _process.ErrorDataReceived -= Look;
    }

    /// <summary>Its port.</summary>
    public int Port { get; }

    /// <summary>Its address.</summary>
    public EngineOptions Options => EngineOptions.At($"nats://127.0.0.1:{Port}");

    /// <summary>Processor time so far.</summary>
    public TimeSpan Processor => Refreshed().TotalProcessorTime;

    private Process Refreshed()
    {
        _process.Refresh();
        return _process;
    }

    public void Dispose()
    {
        _process.Kill();
        _process.WaitForExit();
        _process.Dispose();
    }
}
