using System.Collections.Immutable;
using DuneCrate.Checking.Intake;
using DuneCrate.Engine.Messages;
using DuneCrate.Exr;
using DuneCrate.Foundation.Passes;
using DuneCrate.Foundation.Storage;
using DuneCrate.Imaging;
using DuneCrate.Imaging.Listing;

namespace DuneCrate.Engine.Workers;

/// <summary>
/// Reads what a message asks for, below the roots that are mounted here and nowhere else. A path that leads out, a root that is not there
/// or not this one is refused in words: it says nothing about the file.
/// </summary>
internal sealed class WorkReader
{
    private readonly Dictionary<string, StorageRoot> _roots;
    private readonly ReadLimits _limits;

    /// <summary>Opens the roots; links in one may lead to another.</summary>
    /// <exception cref="DirectoryNotFoundException">One of them is not there.</exception>
    public WorkReader(IReadOnlyDictionary<string, string> roots, ReadLimits limits) =>
        (_roots, _limits) = (StorageRoot.Together(roots).ToDictionary(r => r.Name, StringComparer.OrdinalIgnoreCase), limits);

    /// <summary>Names of the roots.</summary>
    public ImmutableArray<string> Roots => [.. _roots.Keys.Order(StringComparer.Ordinal)];

    /// <summary>Reads.</summary>
    /// <param name="work">What is asked for.</param>
    /// <param name="worker">Who reads.</param>
    /// <param name="reading">Told what is read now.</param>
    /// <param name="cancel">Stops between chunks of a file.</param>
    /// <exception cref="OperationCanceledException">It was stopped.</exception>
    public FactsMessage Read(WorkMessage work, string worker, Action<string> reading, CancellationToken cancel)
    {
        FactsMessage Refused(string why) => FactsMessage.Refusing(work, worker, why);
        if (!_roots.TryGetValue(work.Root, out StorageRoot? root))
        {
            return Refused($"there is no root {work.Root} here");
        }

        try
        {
            if (work.Folder.Contains('\\') || work.Files.Any(f => f.Path.Contains('\\')))
            {
                return Refused("a path has a backslash in it");
            }

            StoragePath folder = root.Top.At(work.Folder);
            if (!folder.IsFolder)
            {
                return Refused($"there is no folder {work.Folder} in {work.Root} here; is the storage mounted?");
            }

            PassCatalogue catalogue = work.Catalogue is { } passes ? new PassCatalogue(passes) : PassCatalogue.Shipped;
            if (work.Files.Any(f => f.Request < 0 || f.Request >= work.Requests.Length))
            {
                return Refused("a file asks for what the message does not say");
            }

            FactsRequest[] requests = [.. work.Requests.Select(r => r.In(work.Depth, catalogue))];
            var files = ImmutableArray.CreateBuilder<FileFound>();
            foreach (WorkFile file in work.Files)
            {
                cancel.ThrowIfCancellationRequested();
                reading($"{work.Root}: {work.Folder}/{file.Path}");
                files.Add(FileFound.Of(Facts(folder, file, requests[file.Request], cancel)));
            }

            var sums = ImmutableArray.CreateBuilder<SumFound>();
            foreach (SumMessage sum in work.Sums)
            {
                reading($"{work.Root}: {work.Folder}, sum of {sum.Layer} at {sum.Frame}");
                sums.Add(new SumFound(sum.In(folder, catalogue).Measure(folder, _limits, cancel)));
            }

            return new FactsMessage(work.Run, work.Piece, work.Token, worker, null, files.ToImmutable(), sums.ToImmutable());
        }
        catch (StorageException e)
        {
            return Refused(e.Message);
        }
        catch (Exception e) when (e is FormatException or ArgumentException or OverflowException)
        {
            return Refused("the message asks for something that cannot be");
        }
    }

    private FileFacts Facts(StoragePath folder, WorkFile file, FactsRequest request, CancellationToken cancel)
    {
        StoragePath place = folder.At(file.Path);
        return FolderListing.OfFile(place, file.Path) is { } listed
            ? FactsReader.Read(listed, request, _limits, cancel)
            : new FileFacts
            {
                Path = file.Path,
                Format = IntakeFile.FormatOf(file.Path),
                Problem = "the file is not there",
                Trouble = ImageProblem.NotRead,
            };
    }
}
