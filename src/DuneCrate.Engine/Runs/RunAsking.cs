namespace DuneCrate.Engine.Runs;

/// <summary>What is remembered of a run between two steps.</summary>
internal sealed class RunAsking
{
    /// <summary>Whether the engine knows of it.</summary>
    public bool IsBegun { get; set; }

    /// <summary>When a machine that has the root was last heard of; at first, when the run began.</summary>
    public DateTime Heard { get; set; } = DateTime.UtcNow;

    /// <summary>When everything that is out was last asked for.</summary>
    public DateTime Asked { get; set; } = DateTime.UtcNow;

    /// <summary>Since when the engine answers nothing that it is given; null while it answers.</summary>
    public DateTime? Silent { get; set; }

    /// <summary>Whether the rest is read here.</summary>
    public bool IsHere { get; set; }
}
