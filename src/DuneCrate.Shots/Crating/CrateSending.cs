using DuneCrate.Crates;
using DuneCrate.Crates.Events;
using DuneCrate.Crates.Handing;
using DuneCrate.Foundation.Documents;
using DuneCrate.Foundation.Storage;
using DuneCrate.Shots.Jobs;
using DuneCrate.StandIns.DropBox;
using DuneCrate.Store.Keeping;
using DuneCrate.Store.Rows;

namespace DuneCrate.Shots.Crating;

/// <summary>Sends crates to the drop boxes of their receivers, which stand-ins are.</summary>
public sealed class CrateSending(SealedFolders folders, DataFolder data, LowPriorityScheduler lowPriority, TimeProvider clock)
{
    /// <summary>Folder of the data that stands in for drop boxes of outside sites.</summary>
    private const string DropBoxes = "drop-box";

    /// <summary>Sends one.</summary>
    /// <returns>What came of it, one of <see cref="CrateEventKinds"/>, and in words.</returns>
    /// <exception cref="OperationCanceledException">It was stopped.</exception>
    public async Task<(string Did, string What)> SendAsync(
        CrateRow crate,
        DropBoxFault fault,
        string by,
        JobProgress progress,
        CancellationToken stop
    )
    {
        string site = crate.Receiver ?? "outside";
        try
        {
            StoragePath folder = folders.FolderOf(crate) ?? throw new IOException("the crate is gone");
            string box = Path.Combine(data.Private(DropBoxes).FullName, PlaceOf(site));
            Directory.CreateDirectory(box);
            CrateReceipt receipt = await lowPriority.DoAsync(() =>
                CrateSender.Send(
                    folder,
                    new DropBoxStandIn(StorageRoot.At(box).Top, $"{site}'s drop box", fault),
                    by,
                    clock,
                    new Sent(progress),
                    stop
                )
            );
            string what =
                $"{site}'s drop box: all {Words.Count(receipt.Files, "checksum")} hold there"
                + (receipt.Again > 0 ? $", after {Words.Count(receipt.Again, "further try", "further tries")}" : "");
            return (CrateEventKinds.Received, what);
        }
        catch (Exception e) when (e is IOException or CrateRefusedException or UnauthorizedAccessException)
        {
            return (CrateEventKinds.Handed, $"to {site}'s drop box, and it did not arrive: {e.Message.TrimEnd('.')}");
        }
    }

    /// <summary>A name as that of a folder.</summary>
    private static string PlaceOf(string site) =>
        string.Concat(site.Select(c => char.IsAsciiLetterOrDigit(c) ? char.ToLowerInvariant(c) : '_'));

    /// <summary>Hands on how far a sending is.</summary>
    private sealed class Sent(JobProgress progress) : IProgress<CrateProgress>
    {
        public void Report(CrateProgress value) => progress.Set(value.Files, value.OfFiles);
    }
}
