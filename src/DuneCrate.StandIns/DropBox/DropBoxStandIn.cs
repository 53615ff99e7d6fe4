using System.Security.Cryptography;
using DuneCrate.Crates.Handing;
using DuneCrate.Foundation.Storage;

namespace DuneCrate.StandIns.DropBox;

/// <summary>
/// Stands in for an outside site that takes crates: a folder, with failures on demand. Receipts lie beside the crates that have arrived,
/// as <c>NAME.receipt.json</c>.
/// </summary>
/// <param name="folder">The folder; made when it is not there.</param>
/// <param name="name">What the site is called.</param>
/// <param name="fault">What goes wrong there.</param>
public sealed class DropBoxStandIn(StoragePath folder, string name, DropBoxFault fault = DropBoxFault.None) : IDropBox
{
    private const int FaultEvery = 5,
        BufferBytes = 1 << 20;

    private int _taken;

    /// <inheritdoc/>
    public string Name => name;

    /// <inheritdoc/>
    public string? SumOf(string crate, string path, CancellationToken cancel)
    {
        Answer();
        StoragePath at = folder.At($"{crate}/{path}");
        if (!at.IsFile)
        {
            return null;
        }

        cancel.ThrowIfCancellationRequested();
        using StorageFile file = at.OpenItself();
        using FileStream content = file.ToStream();
        return Convert.ToHexStringLower(SHA256.HashData(content));
    }

    /// <inheritdoc/>
    public void Take(string crate, string path, Stream content, CancellationToken cancel)
    {
        Answer();
        StoragePath at = folder.At($"{crate}/{path}");
        bool isFaulty = ++_taken % FaultEvery == 0;
        if (at.IsThere)
        {
            at.Delete();
        }

        using FileStream output = at.CreateNew();
        byte[] buffer = new byte[BufferBytes];
        for (int read; (read = content.Read(buffer)) > 0; )
        {
            cancel.ThrowIfCancellationRequested();
            if (isFaulty && fault == DropBoxFault.BreaksOff)
            {
                output.Write(buffer, 0, read / 2);
                throw new IOException("the connection broke off");
            }

            if (isFaulty && fault == DropBoxFault.Damages)
            {
                buffer[read / 2] ^= 1;
                isFaulty = false;
            }

            output.Write(buffer, 0, read);
        }
    }

    /// <inheritdoc/>
    public void Sign(string crate, CrateReceipt receipt)
    {
        Answer();
        folder.At($"{crate}.receipt.json").ReplaceText(receipt.Write());
    }

    private void Answer()
    {
        if (fault == DropBoxFault.Silent)
        {
            throw new IOException($"{name} does not answer");
        }
    }
}
