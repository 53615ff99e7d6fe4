using System.Globalization;
using System.Text;
using DuneCrate.Crates.Events;
using DuneCrate.Foundation.Documents;
using DuneCrate.Foundation.Storage;
using DuneCrate.Foundation.Time;

namespace DuneCrate.Crates;

/// <summary>
/// Puts crates into a folder: made in a hidden folder beside its place, read back against its checksums, flushed to the disk and then
/// renamed. At no moment is there half a crate under a crate's name.
/// </summary>
internal sealed class CratePublishing
{
    /// <summary>What the name of a hidden folder ends in.</summary>
    public const string Partial = ".partial";

    private readonly StoragePath _destination;
    private readonly StoragePath? _left;
    private readonly TimeProvider _clock;

    /// <summary>
    /// Makes the folder when it is not there, and takes away what killed sealings left in it; the newest that is of the same shot is gone
    /// on with.
    /// </summary>
    /// <param name="destination">The folder.</param>
    /// <param name="clock">The clock by which what another machine left is old.</param>
    /// <param name="shot">The shot whose left work is gone on with; null for none.</param>
    /// <param name="id">The word of the crate that is made: what was left under it was left by whoever asks.</param>
    /// <exception cref="IOException">The disk refuses.</exception>
    public CratePublishing(StoragePath destination, TimeProvider clock, string? shot = null, Guid id = default)
    {
        (_destination, _clock) = (destination, clock);
        destination.CreateFolder();
        CrateHistory.Sweep(destination);
        (string Name, FileStamp Stamp)[] abandoned = [.. Abandoned(id)];
        if (
            shot is not null
            && abandoned
                .Where(a => a.Name.StartsWith($".{shot}_crate_v", StringComparison.Ordinal))
                .OrderByDescending(a => a.Stamp.Modified)
                .FirstOrDefault()
                .Name
                is { } left
        )
        {
            _left = destination.Below(left);
        }

        foreach ((string name, _) in abandoned.Where(a => a.Name != _left?.Name))
        {
            destination.Below(name).DeleteFolder();
        }
    }

    /// <summary>Makes a crate.</summary>
    /// <param name="name">Name of its folder.</param>
    /// <param name="id">A word of its own, by which whoever asks knows the crate again.</param>
    /// <param name="bytes">About how many bytes will be written; 0 when nobody knows.</param>
    /// <param name="fill">Writes everything into a folder and gives the checksums of what it wrote, and of some files XXH3 (128 bit) of
    /// what was written, which proves them faster.</param>
    /// <param name="progress">Told after every file that is read back.</param>
    /// <param name="cancel">Stops; nothing is left.</param>
    /// <exception cref="CrateRefusedException">There is no room, or what was written does not read back.</exception>
    /// <exception cref="IOException">The disk refuses, or the name is taken; the message says when something is left.</exception>
    public SealedCrate Publish(
        string name,
        Guid id,
        long bytes,
        Func<StoragePath, (ChecksumList Sums, IReadOnlyDictionary<string, byte[]> Contents)> fill,
        IProgress<CrateProgress>? progress,
        CancellationToken cancel
    )
    {
        // What a killed sealing left takes up room already.
        long free = new DriveInfo(_destination.FullPath).AvailableFreeSpace;
        if (_left is null && bytes > free)
        {
            throw new CrateRefusedException(
                $"The crate takes about {ByteSize.Text(bytes)}, and {_destination} has room for {ByteSize.Text(free)}. Make room, or name "
                    + "another folder; nothing was written."
            );
        }

        StoragePath work = _destination.At($".{name}.{Machine}.{Environment.ProcessId}.{id:N}{Partial}"),
            final = _destination.At(name),
            stands = work;
        try
        {
            if (_left is not null && _left != work)
            {
                _left.MoveTo(work);
            }

            work.CreateFolder();
            (ChecksumList list, IReadOnlyDictionary<string, byte[]> contents) = fill(work);
            string sums = list.Write(),
                digest = ChecksumList.Digest(sums);
            CrateProof proof = CrateVerifier.Verify(
                work,
                name,
                digest,
                [],
                contents,
                (done, of) => progress?.Report(new CrateProgress("proving", done, of, 0, 0)),
                cancel
            );
            if (!proof.IsWhole)
            {
                throw new CrateRefusedException(
                    $"What was written does not read back: {proof.Problems[0]}. Nothing was sealed; look at the disk."
                );
            }

            work.FlushAll();
            work.MoveTo(final);
            stands = final;
            _destination.FlushFolder();
            return new SealedCrate(final, name, proof.Files + 1, proof.Bytes + Encoding.UTF8.GetByteCount(sums), digest);
        }
        catch (SealingPausedException)
        {
            throw;
        }
        catch (Exception e)
        {
            try
            {
                stands.DeleteFolder();
            }
            catch (Exception left) when (left is IOException or UnauthorizedAccessException)
            {
                throw new CrateLeftBehindException(e, stands);
            }

            throw;
        }
    }

    private static string Machine => string.Concat(Environment.MachineName.Where(c => char.IsAsciiLetterOrDigit(c) || c == '-'));

    /// <summary>
    /// What killed sealings left: hidden folders of ours whose process on this machine is gone. Those of other machines on a shared store
    /// count after a day.
    /// </summary>
    private IEnumerable<(string Name, FileStamp Stamp)> Abandoned(Guid id)
    {
        foreach ((string name, FileStamp stamp) in _destination.Entries())
        {
            string[] pieces = name.Split('.');
            if (
                stamp.Kind != FileKind.Folder
                || !name.StartsWith('.')
                || !name.EndsWith(Partial, StringComparison.Ordinal)
                || !name.Contains("_crate_v", StringComparison.Ordinal)
                || pieces.Length < 6
            )
            {
                continue;
            }

            bool isOurs = pieces[^4] == Machine && int.TryParse(pieces[^3], NumberStyles.None, CultureInfo.InvariantCulture, out _);
            bool isOver = isOurs ? !IsRunning(pieces[^3], stamp) : _clock.UtcNow - stamp.Modified > TimeSpan.FromDays(1);
            if (isOver || pieces[^2] == id.ToString("N"))
            {
                yield return (name, stamp);
            }
        }
    }

    /// <summary>
    /// Whether the process that made a folder still runs; a process that began after the folder was last changed only has its number.
    /// </summary>
    private static bool IsRunning(string process, FileStamp folder) =>
        Directory.Exists($"/proc/{process}") && Directory.GetLastWriteTimeUtc($"/proc/{process}") <= folder.Modified.AddSeconds(1);
}
