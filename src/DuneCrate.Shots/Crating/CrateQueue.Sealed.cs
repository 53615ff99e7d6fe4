using System.Security.Cryptography;
using DuneCrate.Crates;
using DuneCrate.Crates.Events;
using DuneCrate.Crates.Handing;
using DuneCrate.Foundation.Documents;
using DuneCrate.Foundation.History;
using DuneCrate.Foundation.Storage;
using DuneCrate.Foundation.Time;
using DuneCrate.Shots.Jobs;
using DuneCrate.StandIns.DropBox;
using DuneCrate.Store.Rows;

namespace DuneCrate.Shots.Crating;

/// <content>What is done with crates once they are sealed: reading back and sending.</content>
public sealed partial class CrateQueue
{
    /// <summary>Folder of the data that stands in for drop boxes of outside sites.</summary>
    private const string DropBoxes = "drop-box";

    /// <summary>Asks for a crate to be read back.</summary>
    public Task VerifyAsync(CrateRow crate) =>
        AskAsync(
            $"verify {crate.Id}",
            () => Task.FromResult(crate.Id),
            $"read back crate {crate.Id}",
            (_, progress, stop) => VerifyAsync(crate, progress, stop)
        );

    /// <summary>Asks for a crate to be sent to the drop box of its receiver, which a stand-in is.</summary>
    /// <param name="crate">The crate.</param>
    /// <param name="fault">What goes wrong there.</param>
    /// <param name="by">Who sends it.</param>
    public Task SendAsync(CrateRow crate, DropBoxFault fault, string by) =>
        AskAsync(
            $"send {crate.Id}",
            () => Task.FromResult(crate.Id),
            $"send crate {crate.Id}",
            (_, progress, stop) => SendAsync(crate, fault, by, progress, stop)
        );

    /// <summary>Deletes the files of a crate that nobody needs any more; its row and the history beside it stay.</summary>
    /// <exception cref="IOException">The disk refuses.</exception>
    public async Task ForgetAsync(CrateRow crate, CancellationToken cancel)
    {
        if (folders.FolderOf(crate) is { } folder)
        {
            // Its name goes first, so that nobody meets half a crate.
            StoragePath going = folder.Parent.At($".{folder.Name}.going");
            await Task.Run(
                () =>
                {
                    going.DeleteFolder();
                    folder.MoveTo(going);
                    going.DeleteFolder();
                },
                cancel
            );
        }

        await store.ChangeCrateAsync(crate.Id, c => c.Gone = clock.UtcNow, cancel);
    }

    private async Task SendAsync(CrateRow crate, DropBoxFault fault, string by, JobProgress progress, CancellationToken stop)
    {
        progress.Changed = () => events.Tell(crate.ShotId, "progress", new { crate = crate.Id });
        progress.Doing = "sending";
        string site = crate.Receiver ?? "outside";
        (string did, string what) = (CrateEventKinds.Received, "");
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
            what =
                $"{site}'s drop box: all {Words.Count(receipt.Files, "checksum")} hold there"
                + (receipt.Again > 0 ? $", after {Words.Count(receipt.Again, "further try", "further tries")}" : "");
        }
        catch (OperationCanceledException) when (stop.IsCancellationRequested)
        {
            return;
        }
        catch (Exception e) when (e is IOException or CrateRefusedException or UnauthorizedAccessException)
        {
            (did, what) = (CrateEventKinds.Handed, $"to {site}'s drop box, and it did not arrive: {e.Message.TrimEnd('.')}");
        }

        await folders.TellAsync(crate, by, did, what);
        await NoteAsync(
            $"note that crate {crate.Id} was sent",
            async cancel =>
            {
                if (await store.ShotAsync(crate.ShotId, cancel) is { } shot)
                {
                    await history.AddAsync(
                        new AuditEvent(by, HistoryKinds.Handed, crate.Name ?? "", shot.Show.Code, shot.Code, null, $"{did}: {what}"),
                        cancel
                    );
                }

                await store.NoteAsync(
                    crate.ShotId,
                    $"{crate.Name} {(did == CrateEventKinds.Received ? "has arrived" : "did not arrive")}",
                    cancel
                );
            }
        );
    }

    /// <summary>A name as that of a folder.</summary>
    private static string PlaceOf(string site) =>
        string.Concat(site.Select(c => char.IsAsciiLetterOrDigit(c) ? char.ToLowerInvariant(c) : '_'));

    private async Task VerifyAsync(CrateRow crate, JobProgress progress, CancellationToken stop)
    {
        progress.Changed = () => events.Tell(crate.ShotId, "progress", new { crate = crate.Id });
        progress.Doing = "reading every file back";
        string problems;
        try
        {
            CrateProof? proof = roots.CrateAt(crate.Path!) is { } folder
                ? await lowPriority.DoAsync(() => Proof(crate, folder, stop))
                : null;
            problems = proof is null ? $"{crate.Path} lies in no folder of this application any more" : string.Join('\n', proof.Problems);
        }
        catch (OperationCanceledException) when (stop.IsCancellationRequested)
        {
            // What was known of the crate stays.
            return;
        }
        catch (DirectoryNotFoundException)
        {
            problems = "its folder is gone";
        }
        catch (FormatException e)
        {
            problems = e.Message.TrimEnd('.');
        }
        catch (Exception e)
        {
            _log.LogError(e, "Crate {Crate} could not be read back", crate.Id);
            problems = Failures.Words("it could not be read back", e);
        }

        await NoteAsync(
            $"note the end of reading crate {crate.Id} back",
            async cancel =>
            {
                await store.ChangeCrateAsync(crate.Id, c => (c.Verified, c.VerifyProblems) = (clock.UtcNow, problems), cancel);
                await folders.TellAsync(
                    crate,
                    "the application",
                    CrateEventKinds.Verified,
                    problems.Length == 0 ? "whole" : $"not whole: {problems.Split('\n')[0]}"
                );
                if (await store.ShotAsync(crate.ShotId, cancel) is { } shot)
                {
                    await history.AddAsync(
                        new AuditEvent(
                            "the application",
                            HistoryKinds.Verified,
                            crate.Name ?? "",
                            shot.Show.Code,
                            shot.Code,
                            null,
                            problems.Length == 0 ? "whole" : $"not whole: {problems.Split('\n')[0]}"
                        ),
                        cancel
                    );
                }

                await store.NoteAsync(
                    crate.ShotId,
                    problems.Length == 0 ? $"{crate.Name} read back: whole" : $"{crate.Name} read back: not whole",
                    cancel
                );
            }
        );
    }

    /// <summary>Crates of earlier versions are not signed; whatever is signed must be signed by this installation.</summary>
    private CrateProof Proof(CrateRow crate, StoragePath folder, CancellationToken stop)
    {
        IReadOnlyList<ECDsa> known = CrateVerifier.ManifestOf(folder)?.SignedWith is null ? [] : keys.Known();
        try
        {
            return CrateVerifier.Verify(folder, crate.SumsDigest, stop, known);
        }
        finally
        {
            foreach (ECDsa key in known)
            {
                key.Dispose();
            }
        }
    }

    /// <summary>Hands on how far a sending is.</summary>
    private sealed class Sent(JobProgress progress) : IProgress<CrateProgress>
    {
        public void Report(CrateProgress value) => progress.Set(value.Files, value.OfFiles);
    }
}
