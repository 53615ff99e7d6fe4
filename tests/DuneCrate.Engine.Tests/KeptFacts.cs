using System.Collections.Concurrent;
using DuneCrate.Checking.Intake;
using DuneCrate.Imaging.Listing;

namespace DuneCrate.Engine.Tests;

/// <summary>Remembers facts in memory, and counts how often it was told of each file.</summary>
internal sealed class KeptFacts : IFactsCache
{
    private readonly ConcurrentDictionary<(string, string), FileFacts> _facts = new();

    /// <summary>How often a file's facts were kept, by its path.</summary>
    public ConcurrentDictionary<string, int> Times { get; } = new();

    /// <summary>Files whose facts were kept under another size or time than the facts are of.</summary>
    public ConcurrentBag<string> Mistaken { get; } = [];

    public FileFacts? Find(IntakeFile file, FactsRequest request) => _facts.GetValueOrDefault((file.FullPath, request.Signature));

    public void Keep(IntakeFile file, FactsRequest request, FileFacts facts)
    {
        if (facts.Bytes != file.Bytes || facts.Modified != file.Modified)
        {
            Mistaken.Add(file.Path);
        }

        _facts[(file.FullPath, request.Signature)] = facts;
        Times.AddOrUpdate(file.Path, 1, (_, n) => n + 1);
    }
}
