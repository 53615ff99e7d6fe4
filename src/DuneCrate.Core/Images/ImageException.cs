namespace DuneCrate.Core.Images;

/// <summary>Why a file could not be read as an image: the only exception that readers throw about what a file contains.</summary>
public sealed class ImageException(string path, long offset, string reason, ImageProblem problem = ImageProblem.Unreadable)
    : Exception($"{reason} (byte {offset} of {System.IO.Path.GetFileName(path)})")
{
    /// <summary>The file.</summary>
    public string Path { get; } = path;

    /// <summary>Byte offset in the file where the trouble stands.</summary>
    public long Offset { get; } = offset;

    /// <summary>The reason in words, without the file.</summary>
    public string Reason { get; } = reason;

    /// <summary>What sort of trouble it is.</summary>
    public ImageProblem Problem { get; } = problem;
}

/// <summary>Sorts of trouble with a file.</summary>
public enum ImageProblem
{
    /// <summary>None.</summary>
    None,

    /// <summary>Not the format its name says, or a header that contradicts itself.</summary>
    Unreadable,

    /// <summary>Bytes or chunks are missing or damaged.</summary>
    Truncated,

    /// <summary>A legal file that uses something this product does not read.</summary>
    Unsupported,

    /// <summary>Empty or a few bytes: probably still being written.</summary>
    Tiny,

    /// <summary>Somebody wrote to it while it was read.</summary>
    Changing,

    /// <summary>It was not to be had at this moment: not to be opened, no regular file, or not read in time.</summary>
    NotRead,
}
