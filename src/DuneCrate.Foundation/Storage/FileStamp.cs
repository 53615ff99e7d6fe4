namespace DuneCrate.Foundation.Storage;

/// <summary>
/// What the file system says of a file at a moment. Two equal stamps of one open file mean that nobody wrote to it in between.
/// </summary>
/// <param name="Kind">What it is.</param>
/// <param name="Length">Size in bytes.</param>
/// <param name="ModifiedTicks">Time of the last change of its content, in ticks of 100 ns, UTC.</param>
/// <param name="ChangedTicks">Time of the last change of whatever belongs to it, which programs cannot set, in ticks, UTC.</param>
/// <param name="Inode">Its number on the disk.</param>
/// <param name="Device">The disk.</param>
public readonly record struct FileStamp(FileKind Kind, long Length, long ModifiedTicks, long ChangedTicks, long Inode, long Device)
{
    /// <summary>Time of the last change of its content, UTC.</summary>
    public DateTime Modified => new(ModifiedTicks, DateTimeKind.Utc);
}
