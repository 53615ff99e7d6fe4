using DuneCrate.Imaging.Listing;

namespace DuneCrate.Checking.Intake;

/// <summary>What is known of files before they are opened.</summary>
public interface IKnownFacts
{
    /// <summary>The facts of all unchanged files that are known, by full path.</summary>
    /// <param name="files">The files.</param>
    /// <param name="request">The depth that is asked for.</param>
    /// <param name="each">What is asked of each file.</param>
    IReadOnlyDictionary<string, FileFacts> FindAll(
        IReadOnlyCollection<IntakeFile> files,
        FactsRequest request,
        Func<IntakeFile, FactsRequest> each
    );
}
