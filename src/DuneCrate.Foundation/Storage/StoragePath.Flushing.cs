using Microsoft.Win32.SafeHandles;

namespace DuneCrate.Foundation.Storage;

/// <content>What was written lasts through a power failure.</content>
public sealed partial class StoragePath
{
    /// <summary>Makes what was written or moved here last through a power failure.</summary>
    public void FlushFolder()
    {
        using SafeFileHandle folder = WalkTo(Relative, make: false);
        RandomAccess.FlushToDisk(folder);
    }

    /// <summary>
    /// Makes everything below the folder last through a power failure, at once: a call for each of many thousand files takes longer than
    /// writing them.
    /// </summary>
    /// <exception cref="IOException">The disk refuses.</exception>
    public void FlushAll()
    {
        using SafeFileHandle folder = WalkTo(Relative, make: false);
        Posix.FlushAll(folder, Display);
    }
}
