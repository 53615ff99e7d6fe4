namespace DuneCrate.Exr;

/// <summary>Sorts of trouble with a file.</summary>
public enum ImageProblem
{
    /// <summary>None.</summary>
    None,

    /// <summary>Not the format its name says, or a header that contradicts itself.</summary>
    Unreadable,

    /// <summary>Bytes or chunks are missing or damaged.</summary>
    Truncated,

    /// <summary>A header with a number that is none.</summary>
    Header,

    /// <summary>A legal file that uses something this product does not read.</summary>
    Unsupported,

    /// <summary>Empty or a few bytes: probably still being written.</summary>
    Tiny,

    /// <summary>Somebody wrote to it while it was read.</summary>
    Changing,

    /// <summary>It was not to be had at this moment: not to be opened, no regular file, or not read in time.</summary>
    NotRead,
}
