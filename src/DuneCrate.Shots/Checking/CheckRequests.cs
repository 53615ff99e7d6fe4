using DuneCrate.Checking;
using DuneCrate.Checking.Intake;
using DuneCrate.Checking.Intake.Gathering;
using DuneCrate.Foundation.Storage;
using DuneCrate.Imaging;
using DuneCrate.Planning.Model;

namespace DuneCrate.Shots.Checking;

/// <summary>Asks for checks as this application makes them: with its facts, its bounds, its machines and its clock.</summary>
public sealed class CheckRequests(IFactsCache facts, IFactsGatherer gatherer, ReadLimits limits, TimeProvider clock)
{
    /// <summary>What is asked of a check of a folder.</summary>
    /// <param name="folder">The folder.</param>
    /// <param name="plan">What it is held against, or null.</param>
    /// <param name="depth">How much of each file is read.</param>
    public CheckRequest Of(StoragePath folder, Plan? plan, FactsDepth depth) =>
        new()
        {
            Folder = folder,
            Plan = plan,
            Depth = depth,
            Cache = facts,
            Limits = limits,
            Gatherer = gatherer,
            Clock = clock,
        };
}
