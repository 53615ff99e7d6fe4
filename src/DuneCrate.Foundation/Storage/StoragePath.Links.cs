using Microsoft.Win32.SafeHandles;

namespace DuneCrate.Foundation.Storage;

/// <content>Further names of files.</content>
public sealed partial class StoragePath
{
    /// <summary>Makes this a further name of an open file: one content under two names.</summary>
    /// <returns>Whether the file system does so; it does not across disks, nor where the name is taken.</returns>
    /// <exception cref="IOException">A step is a link, or the disk refuses.</exception>
    public bool TryLinkTo(StorageFile file)
    {
        using SafeFileHandle folder = WalkTo(Parent.Relative, make: true);
        return Posix.TryLink(file.Handle, folder, Name);
    }
}
