using DuneCrate.Imaging.Listing;

namespace DuneCrate.Checking.Intake;

/// <summary>Remembers nothing: for one-off runs.</summary>
public sealed class NoFactsCache : IFactsCache
{
    /// <inheritdoc/>
    public FileFacts? Find(IntakeFile file, FactsRequest request) => null;

    /// <inheritdoc/>
    public void Keep(IntakeFile file, FactsRequest request, FileFacts facts) { }
}
