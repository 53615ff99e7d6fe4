using DuneCrate.Checking.Intake;
using DuneCrate.Checking.Intake.Gathering;
using DuneCrate.Foundation.Storage;
using DuneCrate.Imaging;
using DuneCrate.Planning.Model;

namespace DuneCrate.Checking;

/// <summary>What one check of a folder is asked: the same for a page, a sealing and the command line.</summary>
public sealed record CheckRequest
{
    /// <summary>The folder with the files.</summary>
    public required StoragePath Folder { get; init; }

    /// <summary>What the files are held against; null for what can be judged without a plan.</summary>
    public required Plan? Plan { get; init; }

    /// <summary>How much of each file is read.</summary>
    public required FactsDepth Depth { get; init; }

    /// <summary>Remembers facts, so that a file that did not change is not read twice.</summary>
    public required IFactsCache Cache { get; init; }

    /// <summary>Bounds on files.</summary>
    public required ReadLimits Limits { get; init; }

    /// <summary>Whether files are told apart by their content, which reads every byte, instead of by size and time.</summary>
    public bool ByContent { get; init; }

    /// <summary>Who opens the files; this process does unless told otherwise.</summary>
    public IFactsGatherer Gatherer { get; init; } = GatheringHere.Shared;

    /// <summary>The clock by which files are young and a check takes its time.</summary>
    public TimeProvider Clock { get; init; } = TimeProvider.System;

    /// <summary>Hears how far it is, or null.</summary>
    public IProgress<IntakeProgress>? Progress { get; init; }
}
