using DuneCrate.Exr;
using DuneCrate.Foundation.Storage;

namespace DuneCrate.Imaging;

/// <summary>OpenEXR files under storage roots.</summary>
public static class ExrStorage
{
    extension(ExrFile)
    {
        /// <summary>Opens a file.</summary>
        /// <exception cref="ImageException">The file is not OpenEXR, contradicts itself, ends inside its header, or exceeds the
        /// limits.</exception>
        /// <exception cref="IOException">The file cannot be opened or read, is no regular file, or lies outside the roots.</exception>
        /// <exception cref="UnauthorizedAccessException">The file may not be read.</exception>
        public static ExrFile Open(StoragePath path, ExrLimits limits)
        {
            StorageFile file = path.Open();
            try
            {
                return Read(file, limits, null);
            }
            catch
            {
                file.Dispose();
                throw;
            }
        }

        /// <summary>Reads the headers and chunk tables of an open file, which is closed with the answer.</summary>
        /// <param name="file">The file.</param>
        /// <param name="limits">Bounds on what it may claim.</param>
        /// <param name="content">Gets every byte that is read; null when nobody asks for the hash.</param>
        /// <exception cref="ImageException">The file is not OpenEXR, contradicts itself, ends inside its header, or exceeds the
        /// limits.</exception>
        public static ExrFile Read(StorageFile file, ExrLimits limits, ContentHash? content) =>
            ExrFile.Read(file.Handle, file.Path.Display, limits, content is null ? null : content.Add);
    }

    extension(ExrWriter)
    {
        /// <summary>
        /// Writes a file under a name of its own and then gives it its name; an existing one is replaced only by a whole one.
        /// </summary>
        /// <exception cref="NotSupportedException">A part is tiled, deep, or uses a compression that is not written; nothing has
        /// changed then.</exception>
        /// <exception cref="IOException">The disk refuses; what was there before is there still.</exception>
        public static void Write(StoragePath path, params IReadOnlyList<ExrImage> images)
        {
            ExrWriter.Check(images);
            path.Replace(stream => ExrWriter.Write(stream, images), isLasting: false);
        }
    }
}
