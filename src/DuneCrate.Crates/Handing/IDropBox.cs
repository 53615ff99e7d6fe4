namespace DuneCrate.Crates.Handing;

/// <summary>
/// A place at an outside site that takes crates, file by file. It says for itself what has arrived: nothing that it says of a file is what
/// the sender says.
/// </summary>
public interface IDropBox
{
    /// <summary>What it is called, for people.</summary>
    string Name { get; }

    /// <summary>SHA-256 of a file as it lies there, read again; null when it is not there.</summary>
    /// <exception cref="IOException">The site does not answer.</exception>
    string? SumOf(string crate, string path, CancellationToken cancel);

    /// <summary>Takes a file, in place of one that is there.</summary>
    /// <exception cref="IOException">The transfer broke off.</exception>
    void Take(string crate, string path, Stream content, CancellationToken cancel);

    /// <summary>Keeps the receipt of a crate that has arrived whole.</summary>
    /// <exception cref="IOException">The site does not answer.</exception>
    void Sign(string crate, CrateReceipt receipt);
}
