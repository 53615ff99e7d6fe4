using System.Text;

namespace DuneCrate.Exr.Tests.Images;

/// <summary>
/// Channels that say they are perceptually linear: B44 stores their logarithms. oiiotool writes no such channel, so the mark is set in a
/// file that it wrote; what the pixels then are, the reference library says. Source: <em>OpenEXR File Layout</em>, chlist (pLinear).
/// </summary>
public sealed class PerceptuallyLinearTests : IDisposable
{
    private readonly TempFolder _folder = new();

    [Theory]
    [InlineData("b44")]
    [InlineData("b44a")]
    public void B44_is_read_as_the_reference_library_reads_it(string compression)
    {
        string file = _folder["a.exr"],
            plain = _folder["plain.exr"];
        Tool.Oiio(
            "--pattern",
            "noise:type=gaussian:mean=0.4:stddev=0.1:seed=5",
            "37x22",
            "1",
            "--chnames",
            "Y",
            "-d",
            "half",
            "--compression",
            compression,
            "-o",
            file
        );
        byte[] bytes = File.ReadAllBytes(file);
        int list = bytes.AsSpan().IndexOf(Encoding.ASCII.GetBytes("channels\0chlist\0")) + "channels\0chlist\0".Length + 4,
            mark = list + "Y\0".Length + 4;
        Assert.Equal(((byte)'Y', (byte)0), (bytes[list], bytes[mark]));
        bytes[mark] = 1;
        File.WriteAllBytes(file, bytes);
        Tool.Oiio(file, "-d", "half", "--compression", "none", "-o", plain);
        float[] read = Read(file),
            expected = Read(plain);
        Assert.True(expected.Min() < -1, "The reference library took no logarithm.");
        Assert.Equal(expected, read);
    }

    private static float[] Read(string path)
    {
        using ExrFile file = Disk.Exr(path);
        return ExrImage.Read(file, file.Parts[0], null, out _, default).Planes["Y"];
    }

    public void Dispose() => _folder.Dispose();
}
