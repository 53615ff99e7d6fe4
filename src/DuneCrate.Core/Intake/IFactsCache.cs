namespace DuneCrate.Core.Intake;

/// <summary>
/// Remembers facts by path, size, time and what was asked, so that an unchanged file is never read twice. Implementations are
/// safe to call from several threads.
/// </summary>
public interface IFactsCache
{
    /// <summary>The facts of an unchanged file, or null. Pixel facts answer a header request too.</summary>
    FileFacts? Find(IntakeFile file, FactsRequest request);

    /// <summary>Remembers the facts of a file.</summary>
    void Keep(IntakeFile file, FactsRequest request, FileFacts facts);
}

/// <summary>Remembers nothing: for one-off runs.</summary>
public sealed class NoFactsCache : IFactsCache
{
    /// <inheritdoc/>
    public FileFacts? Find(IntakeFile file, FactsRequest request) => null;

    /// <inheritdoc/>
    public void Keep(IntakeFile file, FactsRequest request, FileFacts facts)
    {
    }
}
