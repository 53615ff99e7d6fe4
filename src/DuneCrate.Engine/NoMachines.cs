namespace DuneCrate.Engine;

/// <summary>Stands where there is no engine: this process reads alone.</summary>
public sealed class NoMachines : IMachines
{
    /// <summary>The only one; it has no state.</summary>
    public static NoMachines Shared { get; } = new();

    /// <inheritdoc/>
    public Task<MachinesView?> ViewAsync(CancellationToken cancel) => Task.FromResult<MachinesView?>(null);

    /// <inheritdoc/>
    public void TryAgain() { }
}
