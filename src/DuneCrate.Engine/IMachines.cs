namespace DuneCrate.Engine;

/// <summary>The machines that read files for this server. Safe to ask from any thread.</summary>
public interface IMachines
{
    /// <summary>What there is to see of them; null where this process reads alone.</summary>
    Task<MachinesView?> ViewAsync(CancellationToken cancel);

    /// <summary>What was set aside is given out again when it is asked for next.</summary>
    void TryAgain();
}
