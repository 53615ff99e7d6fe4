using System.Collections.Immutable;
using System.IO.Hashing;
using System.Security.Cryptography;
using DuneCrate.Exr;
using DuneCrate.Foundation.Storage;
using DuneCrate.Imaging;

namespace DuneCrate.Crates.Converting;

/// <summary>
/// Makes files of a crate out of rendered ones, line by line: several out of one, or one out of several. Each is read back when it is
/// written and must unpack to exactly the lines that were meant.
/// </summary>
public static class FileMaker
{
    private const int BufferBytes = 1 << 18;

    /// <summary>Makes files that have their sources in common.</summary>
    /// <param name="folder">The folder of the sources.</param>
    /// <param name="crate">The folder that the files are made in.</param>
    /// <param name="files">The files.</param>
    /// <param name="limits">Bounds on what is read.</param>
    /// <param name="cancel">Stops; what was made so far is left.</param>
    /// <returns>One for each file, in their order.</returns>
    /// <exception cref="CrateRefusedException">A source is not what was checked or cannot be converted, or a file does not read
    /// back.</exception>
    /// <exception cref="IOException">The disk refuses.</exception>
    public static ImmutableArray<MadeFile> Make(
        StoragePath folder,
        StoragePath crate,
        IReadOnlyList<CrateFile> files,
        ReadLimits limits,
        CancellationToken cancel
    )
    {
        CrateSource[] wanted = [.. files.SelectMany(f => f.Sources).DistinctBy(s => s.Path)];
        var sources = new List<SourceFile>();
        var open = new List<OpenFile>();
        try
        {
            sources.AddRange(wanted.Select(s => new SourceFile(folder, s, limits)));
            using IDisposable held = limits.Memory.Take(sources.Sum(s => s.ReadingBytes), cancel);
            foreach (CrateFile file in files)
            {
                open.Add(
                    new OpenFile(
                        crate.At(file.To),
                        file,
                        [.. file.Sources.Select(s => sources[Array.FindIndex(wanted, w => w.Path == s.Path)])],
                        cancel
                    )
                );
            }

            Write(open, cancel);
            foreach (SourceFile source in sources)
            {
                source.Finish(cancel);
            }

            return [.. open.Select(o => o.Prove(limits, cancel))];
        }
        finally
        {
            open.ForEach(o => o.Dispose());
            sources.ForEach(s => s.Dispose());
        }
    }

    /// <summary>All files at once, line by line from the top, so that every band of a source is unpacked once.</summary>
    private static void Write(List<OpenFile> files, CancellationToken cancel)
    {
        (OpenFile File, PartMaker Part)[] parts = [.. files.SelectMany(f => f.Parts.Select(p => (f, p)))];
        int first = parts.Min(p => p.Part.Part.DataWindow.MinY),
            last = parts.Max(p => p.Part.Part.DataWindow.MaxY);
        for (int y = first; y <= last; y++)
        {
            cancel.ThrowIfCancellationRequested();
            foreach ((OpenFile file, PartMaker part) in parts)
            {
                if (y >= part.Part.DataWindow.MinY && y <= part.Part.DataWindow.MaxY)
                {
                    part.Make(y, file.Writer);
                }
            }
        }

        files.ForEach(f => f.Finish());
    }

    private sealed class OpenFile : IDisposable
    {
        private readonly StoragePath _path;
        private readonly FileStream _file;
        private readonly BufferedStream _stream;

        public OpenFile(StoragePath path, CrateFile file, IReadOnlyList<SourceFile> sources, CancellationToken cancel)
        {
            FileConversion conversion = file.Conversion!;
            _path = path;
            Parts = [.. conversion.Parts.Select((p, i) => new PartMaker(p, conversion, sources, i, cancel))];
            _file = path.CreateNew();
            _stream = new BufferedStream(_file, BufferBytes);
            Writer = new ExrChunkWriter(_stream, [.. Parts.Select(p => p.Part)]);
        }

        public ImmutableArray<PartMaker> Parts { get; }

        public ExrChunkWriter Writer { get; }

        public void Finish()
        {
            Writer.Finish();
            _stream.Flush();
            File.SetUnixFileMode(_file.SafeFileHandle, CrateText.ReadOnly);
        }

        /// <summary>Reads the file back: its bytes for their sum, its lines against those that were meant.</summary>
        public MadeFile Prove(ReadLimits limits, CancellationToken cancel)
        {
            using StorageFile written = _path.OpenItself();
            string sum;
            using (FileStream bytes = written.ToStream())
            {
                sum = Convert.ToHexStringLower(SHA256.HashData(bytes));
            }

            try
            {
                using var file = ExrFile.Read(written, limits.Exr, null);
                foreach (PartMaker part in Parts)
                {
                    if (!Lines(file, file.Parts[part.Part.Index], cancel).SequenceEqual(part.Written.AsSpan()))
                    {
                        throw NotBack("other lines than were written");
                    }
                }

                return new MadeFile(sum, file.Length, Loss());
            }
            catch (ImageException e)
            {
                throw NotBack(e.Reason);
            }
        }

        private HalfLoss? Loss() =>
            Parts.Any(p => p.HasHalved) ? Parts.Where(p => p.HasHalved).Aggregate(default(HalfLoss), (loss, p) => loss.With(p.Loss)) : null;

        private CrateRefusedException NotBack(string how) =>
            new($"What was written does not read back: {_path.Name}, {how}. Nothing was sealed; look at the disk.");

        private static byte[] Lines(ExrFile file, ExrPart part, CancellationToken cancel)
        {
            var hash = new XxHash128();
            byte[] lines = new byte[file.LargestBand(part)];
            for (int band = 0; band < part.Chunks.BandCount; band++)
            {
                cancel.ThrowIfCancellationRequested();
                hash.Append(file.ReadBand(part, band, lines));
            }

            return hash.GetCurrentHash();
        }

        public void Dispose()
        {
            Writer.Dispose();
            _stream.Dispose();
            _file.Dispose();
            foreach (PartMaker part in Parts)
            {
                part.Dispose();
            }
        }
    }
}
