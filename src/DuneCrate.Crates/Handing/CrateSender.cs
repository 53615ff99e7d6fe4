using DuneCrate.Foundation.Storage;
using DuneCrate.Foundation.Time;

namespace DuneCrate.Crates.Handing;

/// <summary>
/// Sends sealed crates to outside sites: what has arrived whole is not sent again, what breaks off or arrives damaged is tried again, and
/// there is a receipt only when the sum of every file was taken there and is the one that was sealed.
/// </summary>
public static class CrateSender
{
    /// <summary>Times that a file is tried before the sending is given up.</summary>
    public const int MostTries = 4;

    /// <summary>Sends a crate.</summary>
    /// <param name="crate">Its folder.</param>
    /// <param name="box">Where to.</param>
    /// <param name="by">Who sends it.</param>
    /// <param name="clock">The clock that the receipt is dated by.</param>
    /// <param name="progress">Told after every file.</param>
    /// <param name="cancel">Stops; what has arrived stays there, and the next sending goes on.</param>
    /// <exception cref="CrateRefusedException">The crate is not what was sealed.</exception>
    /// <exception cref="IOException">A file could not be sent; the message says how many have arrived.</exception>
    public static CrateReceipt Send(
        StoragePath crate,
        IDropBox box,
        string by,
        TimeProvider clock,
        IProgress<CrateProgress>? progress,
        CancellationToken cancel
    )
    {
        string name = Path.GetFileName(crate.FullPath),
            list = crate.At(ChecksumList.FileName).ReadText(ChecksumList.MostBytes);
        (string Path, string Sum)[] files =
        [
            .. ChecksumList.Read(list).Sums.Select(s => (s.Key, s.Value)).OrderBy(s => s.Key, StringComparer.Ordinal),
            (ChecksumList.FileName, ChecksumList.Digest(list)),
        ];
        (int sent, int again) = (0, 0);
        for (int i = 0; i < files.Length; i++)
        {
            cancel.ThrowIfCancellationRequested();
            (string path, string sum) = files[i];
            try
            {
                int tries = Send(crate, box, name, path, sum, cancel);
                sent += Math.Min(tries, 1);
                again += Math.Max(0, tries - 1);
            }
            catch (IOException e)
            {
                throw new IOException(
                    $"{path} did not arrive at {box.Name} in {MostTries} tries: {e.Message.TrimEnd('.')}. {i} of {files.Length} files are "
                        + "there; send it again to go on.",
                    e
                );
            }

            progress?.Report(new CrateProgress("sending", i + 1, files.Length, 0, 0));
        }

        var receipt = new CrateReceipt(name, box.Name, clock.UtcNow, by, ChecksumList.Digest(list), files.Length, sent, again);
        box.Sign(name, receipt);
        return receipt;
    }

    /// <summary>Sends a file until it is there as it was sealed.</summary>
    /// <returns>Tries that it took; 0 when it was there already.</returns>
    private static int Send(StoragePath crate, IDropBox box, string name, string path, string sum, CancellationToken cancel)
    {
        for (int tries = 0; ; tries++)
        {
            try
            {
                if (box.SumOf(name, path, cancel) == sum)
                {
                    return tries;
                }

                if (tries == MostTries)
                {
                    throw new IOException("what arrives is not what was sent");
                }

                using StorageFile file = crate.At(path).OpenItself();
                using FileStream content = file.ToStream();
                box.Take(name, path, content, cancel);
            }
            catch (FileNotFoundException)
            {
                throw new CrateRefusedException($"{name} is not whole: {path} is missing. Verify it, and seal a new one.");
            }
            catch (IOException) when (tries < MostTries - 1)
            {
                // It is tried again.
            }
        }
    }
}
