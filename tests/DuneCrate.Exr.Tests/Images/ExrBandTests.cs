namespace DuneCrate.Exr.Tests.Images;

/// <summary>
/// Channels that are read without the others, which then are only summed over or passed over: oiiotool wrote the files, and what it unpacks
/// of them itself, without compression, is the reference.
/// </summary>
public sealed class ExrBandTests : IDisposable
{
    private readonly TempFolder _folder = new();

    public void Dispose() => _folder.Dispose();

    public static TheoryData<string, bool> Files()
    {
        var files = new TheoryData<string, bool>();
        foreach (string compression in (string[])["none", "rle", "zips", "zip", "piz", "pxr24", "b44", "b44a", "dwaa", "dwab"])
        {
            files.Add(compression, false);
            files.Add(compression, true);
        }

        return files;
    }

    [Theory]
    [MemberData(nameof(Files))]
    public void A_channel_alone_is_what_it_is_among_the_others(string compression, bool isTiled)
    {
        string[] tiles = isTiled ? ["--tile", "32", "16"] : [];
        Tool.Oiio([
            "--pattern",
            "noise:type=gaussian:mean=0.3:stddev=0.4:seed=3",
            "101x45",
            "4",
            "--chnames",
            "R,G,B,A",
            "--pattern",
            "checker:width=8:height=8",
            "101x45",
            "1",
            "--chnames",
            "depth.Z",
            "--chappend",
            "-d",
            "half",
            "-d",
            "depth.Z=float",
            "--compression",
            compression,
            .. tiles,
            "-o",
            _folder["packed.exr"],
            _folder["packed.exr"],
            "--compression",
            "none",
            "-o",
            _folder["plain.exr"],
        ]);

        // The order in which cosines of DWA are summed is each reader's own, which ExrReadingTests bounds: here all channels together are
        // the reference for it.
        ExrImage plain = Read(compression.StartsWith("dwa", StringComparison.Ordinal) ? "packed.exr" : "plain.exr", null);
        Assert.Equal(["A", "B", "G", "R", "depth.Z"], plain.Planes.Keys.Order(StringComparer.Ordinal));
        foreach ((string channel, float[] expected) in plain.Planes)
        {
            ExrImage alone = Read("packed.exr", [channel]);
            Assert.Equal([channel], alone.Planes.Keys);
            Assert.Equal(expected, alone.Planes[channel]);
        }

        ExrImage two = Read("packed.exr", ["A", "depth.Z"]);
        Assert.Equal(plain.Planes["A"], two.Planes["A"]);
        Assert.Equal(plain.Planes["depth.Z"], two.Planes["depth.Z"]);
    }

    private ExrImage Read(string name, string[]? channels)
    {
        using ExrFile file = Disk.Exr(_folder[name]);
        ExrImage image = ExrImage.Read(file, file.Parts[0], channels, out string? problem, default);
        Assert.Null(problem);
        return image;
    }
}
