using DuneCrate.Checking.Intake;
using DuneCrate.Imaging.Listing;

namespace DuneCrate.Bench;

/// <summary>A cache that is asked only once the folder is listed, to be held against one that looks up beside it.</summary>
internal sealed class AfterListing(IFactsCache cache) : IFactsCache
{
    public FileFacts? Find(IntakeFile file, FactsRequest request) => cache.Find(file, request);

    public IReadOnlyDictionary<string, FileFacts> FindAll(
        IReadOnlyCollection<IntakeFile> files,
        FactsRequest request,
        Func<IntakeFile, FactsRequest> each
    ) => cache.FindAll(files, request, each);

    public void Keep(IntakeFile file, FactsRequest request, FileFacts facts) => cache.Keep(file, request, facts);
}
