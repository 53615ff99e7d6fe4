using System.Diagnostics;
using System.Globalization;
using System.Text.Json.Nodes;
using DuneCrate.Engine;

namespace DuneCrate.Testing;

/// <summary>A nats-server of its own, on free ports of this machine.</summary>
public sealed class Broker : IDisposable
{
    private static readonly TimeSpan Patience = TimeSpan.FromSeconds(60);

    private readonly string _folder = Directory.CreateTempSubdirectory("dune-crate-nats-").FullName;
    private readonly string[] _more;
    private Process? _process;
    private int _port;

    /// <summary>Starts it.</summary>
    /// <param name="more">Further arguments.</param>
    public Broker(params string[] more)
    {
        _more = more;
        Start();
    }

    /// <summary>How servers and workers of a test reach it: less patient than people.</summary>
    public EngineOptions Options =>
        EngineOptions.At(Address) with
        {
            AckWait = TimeSpan.FromSeconds(2),
            Reconcile = TimeSpan.FromSeconds(1),
            Lonely = TimeSpan.FromSeconds(60),
        };

    /// <summary>Its address.</summary>
    public string Address => string.Create(CultureInfo.InvariantCulture, $"nats://127.0.0.1:{_port}");

    /// <summary>Starts it, on the port that it had.</summary>
    public void Start()
    {
        string ports = Directory.CreateDirectory(Path.Combine(_folder, "ports")).FullName;
        foreach (string old in Directory.GetFiles(ports))
        {
            File.Delete(old);
        }

        var start = new ProcessStartInfo("nats-server") { RedirectStandardError = true, RedirectStandardOutput = true };
        string port = _port == 0 ? "-1" : _port.ToString(CultureInfo.InvariantCulture);
        string[] arguments =
        [
            "-a",
            "127.0.0.1",
            "-p",
            port,
            "-m",
            "-1",
            "-js",
            "-sd",
            Path.Combine(_folder, "js"),
            "--ports_file_dir",
            ports,
        ];
        foreach (string argument in arguments.Concat(_more))
        {
            start.ArgumentList.Add(argument);
        }

        _process = Process.Start(start)!;
        _process.OutputDataReceived += (_, _) => { };
        _process.BeginOutputReadLine();
        _process.ErrorDataReceived += (_, _) => { };
        _process.BeginErrorReadLine();
        string text = Until(() => Directory.GetFiles(ports).Select(File.ReadAllText).FirstOrDefault(t => t.TrimEnd().EndsWith('}')));
        JsonNode told = JsonNode.Parse(text)!;
        _port = new Uri((string)told["nats"]![0]!).Port;
        Monitor = (string)told["monitoring"]![0]!;
    }

    /// <summary>Address of its own monitoring.</summary>
    public string Monitor { get; private set; } = "";

    /// <summary>Kills it.</summary>
    public void Kill()
    {
        _process!.Kill();
        _process.WaitForExit();
    }

    /// <summary>Sends it a signal, such as STOP.</summary>
    public void Signal(string name) => Tool.Run("kill", $"-{name}", _process!.Id.ToString(CultureInfo.InvariantCulture));

    /// <summary>Deletes everything that it kept.</summary>
    public void Forget() => Directory.Delete(Path.Combine(_folder, "js"), recursive: true);

    /// <summary>Waits until something is there; the test fails when it never is.</summary>
    public static T Until<T>(Func<T?> look)
        where T : class
    {
        long begun = Stopwatch.GetTimestamp();
        while (true)
        {
            if (look() is { } found)
            {
                return found;
            }

            Assert.True(Stopwatch.GetElapsedTime(begun) < Patience, "What was waited for did not come.");
            Thread.Sleep(10);
        }
    }

    public void Dispose()
    {
        if (_process is { HasExited: false })
        {
            Kill();
        }

        _process?.Dispose();
        Directory.Delete(_folder, recursive: true);
    }
}
