using DuneCrate.Exr;
using DuneCrate.Foundation.Passes;
using DuneCrate.Foundation.Storage;
using NetVips;

namespace DuneCrate.Imaging.Rasters;

/// <summary>
/// Pixels of PNG, TIFF and JPEG through libvips, from the top. The library divides associated colour by alpha as it loads; it is given the
/// file with that one byte changed, so that samples come as they are stored. It reads the open file itself and no path, and remembers
/// nothing.
/// </summary>
internal sealed class VipsReader : RasterReader
{
    private readonly StorageFile _file;
    private FileStream? _stream;
    private PatchedStream? _patched;
    private Image? _image;
    private Region? _region;

    static VipsReader()
    {
        Cache.Max = 0;
        VipsWarnings.Listen();
    }

    /// <summary>Opens the pixels of a picture whose header was read.</summary>
    public VipsReader(StorageFile file, RasterHeader header)
        : base(header, file.Path.Display) => _file = file;

    /// <inheritdoc/>
    protected override void Fill(int y, int lines, Span<byte> planar, CancellationToken cancel)
    {
        try
        {
            Region region = _region ??= Open();
            Image image = _image!;
            using CancellationTokenRegistration stop = cancel.Register(() => image.SetKill(true));
            RasterFile.Split(region.Fetch(0, y, Header.Width, lines), Header.Width, lines, Header.Channels.Length, Header.Type, planar);
        }
        catch (VipsException)
        {
            cancel.ThrowIfCancellationRequested();
            throw new ImageException(Path, 0, "its pixels cannot be decoded: the data is damaged or cut short", ImageProblem.Truncated);
        }
    }

    private Region Open()
    {
        if (Header.AssociatedAt is { } at)
        {
            _stream = _file.ToStream();
            _patched = new PatchedStream(_stream, at, 0);
        }

        _image = _patched is null
            ? Image.NewFromFile(_file.ProcPath, access: Enums.Access.Sequential, failOn: Enums.FailOn.Error)
            : Image.NewFromStream(_patched, access: Enums.Access.Sequential, failOn: Enums.FailOn.Error);
        return
            _image.Width == Header.Width
            && _image.Height == Header.Height
            && _image.Bands == Header.Channels.Length
            && TypeOf(_image.Format) == Header.Type
            ? Region.New(_image)
            : throw new ImageException(
                Path,
                0,
                $"the header says {Header.Width} × {Header.Height} with {Header.Channels.Length} channels of {Header.Type.Name()}, "
                    + $"the picture is {_image.Width} × {_image.Height} with {_image.Bands} of {_image.Format}"
            );
    }

    /// <inheritdoc/>
    public override void Dispose()
    {
        _region?.Dispose();
        _image?.Dispose();
        _patched?.Dispose();
        _stream?.Dispose();
    }

    private static ChannelType? TypeOf(Enums.BandFormat format) =>
        format switch
        {
            Enums.BandFormat.Uchar => ChannelType.UInt8,
            Enums.BandFormat.Ushort => ChannelType.UInt16,
            Enums.BandFormat.Uint => ChannelType.UInt,
            Enums.BandFormat.Float => ChannelType.Float,
            _ => null,
        };
}
