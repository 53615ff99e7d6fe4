using System.Runtime.InteropServices;

namespace DuneCrate.Imaging;

/// <summary>
/// Gives memory back to the machine: garbage that the collector, on a machine with room, would not look at for a long time, and the holes
/// that the image library leaves in the native heap.
/// Source: the Linux manual page malloc_trim(3).
/// </summary>
public static partial class SpareMemory
{
    /// <summary>Gives back what nobody uses. Everything stands still meanwhile, some tens of milliseconds for each hundred megabytes in
    /// use.</summary>
    public static void GiveBack()
    {
        GC.Collect(GC.MaxGeneration, GCCollectionMode.Aggressive, blocking: true, compacting: true);
        try
        {
            _ = TrimNativeHeap(0);
        }
        catch (EntryPointNotFoundException)
        {
            // Only glibc has it.
        }
    }

    [LibraryImport("libc", EntryPoint = "malloc_trim")]
    private static partial int TrimNativeHeap(nuint kept);
}
