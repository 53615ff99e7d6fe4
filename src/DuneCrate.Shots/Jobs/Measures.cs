using System.Diagnostics.Metrics;

namespace DuneCrate.Shots.Jobs;

/// <summary>What the application counts of its own work, for whoever collects measurements (OpenTelemetry).</summary>
public static class Measures
{
    /// <summary>Name of the meter.</summary>
    public const string Name = "DuneCrate";

    private static readonly Meter Meter = new(Name);

    private static readonly Counter<long> Checks = Meter.CreateCounter<long>("dune_crate.checks", "{check}", "checks that ended"),
        Files = Meter.CreateCounter<long>("dune_crate.checked_files", "{file}", "files of checks that ended"),
        Crates = Meter.CreateCounter<long>("dune_crate.crates", "{crate}", "crates that were sealed or not"),
        Refused = Meter.CreateCounter<long>("dune_crate.refused_requests", "{request}", "requests that somebody might not make");

    /// <summary>A check ended.</summary>
    public static void Checked(string state, int files)
    {
        Checks.Add(1, new KeyValuePair<string, object?>("state", state));
        Files.Add(files);
    }

    /// <summary>The sealing of a crate ended.</summary>
    public static void Sealed(bool isSealed) => Crates.Add(1, new KeyValuePair<string, object?>("sealed", isSealed));

    /// <summary>A request was refused.</summary>
    public static void RefusedRequest() => Refused.Add(1);
}
