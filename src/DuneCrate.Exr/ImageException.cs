namespace DuneCrate.Exr;

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
