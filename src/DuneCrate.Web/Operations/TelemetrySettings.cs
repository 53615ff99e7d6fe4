using System.ComponentModel.DataAnnotations;

namespace DuneCrate.Web.Operations;

/// <summary>Where measurements go: the section Telemetry of the configuration.</summary>
internal sealed class TelemetrySettings
{
    /// <summary>Name of the section.</summary>
    public const string Section = "Telemetry";

    /// <summary>Address of a collector that takes OTLP, or null for none.</summary>
    [Url(ErrorMessage = "is no address: write http://host:4317")]
    public string? Endpoint { get; set; }
}
