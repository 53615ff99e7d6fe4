namespace DuneCrate.Planning.Model;

/// <summary>How much a plan may hold: more than anybody needs, little enough that nothing takes long.</summary>
public static class PlanLimits
{
    /// <summary>Pixels that a side may have.</summary>
    public const int MaxSide = 65536;

    /// <summary>Most frames of a shot: eleven hours at 24 a second.</summary>
    public const int MaxFrames = 1_000_000;

    /// <summary>Most files of a shot: frames of all outputs together.</summary>
    public const long MaxFiles = 50_000_000;

    /// <summary>Most pixels of overscan on one side.</summary>
    public const int MaxOverscan = 8192;

    /// <summary>Digits that padding may have.</summary>
    public const int MaxPadding = 12;

    /// <summary>Render layers of a shot.</summary>
    public const int MaxLayers = 256;

    /// <summary>Outputs of all layers together.</summary>
    public const int MaxOutputs = 5_000;

    /// <summary>Passes of all layers together.</summary>
    public const int MaxPasses = 20_000;

    /// <summary>Channels of a pass.</summary>
    public const int MaxChannels = 256;

    /// <summary>Changes for a layer, render settings, masks of a pass, lines of a show's lists.</summary>
    public const int MaxEntries = 1_000;

    /// <summary>Machines that render at once.</summary>
    public const int MaxMachines = 100_000;

    /// <summary>Cells that are written at once.</summary>
    public const int MaxCells = 50_000;
}
