namespace DuneCrate.Checking.Tests.Outside;

/// <summary>The faults that are planted into the files of <see cref="OutsideShot"/>, each by oiiotool or as a disk does it.</summary>
public static class OutsideFaults
{
    private static readonly string[] HalfAgain =
    [
        "--chnames",
        "R,G,B,A",
        "--attrib",
        "FramesPerSecond",
        "24/1",
        "-d",
        "half",
        "--compression",
        "zip",
    ];

    /// <summary>Fault by name.</summary>
    public static readonly IReadOnlyDictionary<string, Action<OutsideShot>> All = new Dictionary<string, Action<OutsideShot>>
    {
        // The root of what is below 0 is no number: green and blue of 4 × 4 pixels.
        ["nan"] = s =>
            s.Paste(
                "beauty",
                1004,
                "+40+20",
                "--create",
                "4x4",
                "4",
                "--chnames",
                "R,G,B,A",
                "--addc",
                "0.4,-1,-1,1",
                "--powc",
                "1,0.5,0.5,1"
            ),
        ["inf"] = s => s.Paste("beauty", 1004, "+40+20", "--create", "2x2", "4", "--chnames", "R,G,B,A", "--addc", "1e6,0.4,0.4,1"),
        ["firefly"] = s => s.Paste("beauty", 1006, "+40+20", "--create", "1x1", "4", "--chnames", "R,G,B,A", "--addc", "400,400,400,1"),
        ["negative"] = s => s.Paste("beauty", 1005, "+40+20", "--create", "8x8", "4", "--chnames", "R,G,B,A", "--addc", "-0.5,0.4,0.4,1"),
        ["no alpha"] = s => s.Rewrite("beauty", 1005, "--ch", "R,G,B"),
        ["no blue"] = s => s.Rewrite("beauty", 1005, "--ch", "R,G,A"),
        ["half depth"] = s => s.Rewrite("z", 1003, "-d", "half"),
        ["packed"] = s => s.Rewrite("z", 1007, "--compression", "piz"),
        ["rate"] = s => s.Rewrite("beauty", 1009, "--attrib", "FramesPerSecond", "25/1"),
        ["size"] = s => s.Rewrite("beauty", 1002, "--resize", "48x27"),
        ["scene"] = s => s.RewriteEach("beauty", "1004-1005", "--attrib", "sceneFile", "haze_v002.scene"),
        ["aspect"] = s => s.Rewrite("beauty", 1005, "--attrib", "PixelAspectRatio", "2"),
        ["window"] = s => s.Rewrite("z", 1005, "--crop", "60x30+10+10"),
        ["primaries"] = s =>
            s.Rewrite("beauty", 1005, "--attrib:type=float[8]", "chromaticities", "0.713,0.293,0.165,0.83,0.128,0.044,0.32168,0.33767"),
        ["black"] = s => s.Rewrite("beauty", 1007, "--mulc", "0,0,0,1"),
        ["brighter"] = s => s.Rewrite("beauty", 1006, "--mulc", "1.3,1.3,1.3,1"),
        ["glow outside"] = s => s.RewriteEach("beauty", OutsideShot.Range, "--addc", "0.2,0.2,0.2,0"),
        ["alpha above 1"] = s => s.Rewrite("beauty", 1008, "--mulc", "1,1,1,1.5"),
        ["alpha of 1"] = s => s.RewriteEach("beauty", OutsideShot.Range, "--mulc", "1,1,1,0", "--addc", "0,0,0,1"),
        ["long normals"] = s => s.RewriteEach("normal", OutsideShot.Range, "--mulc", "1.6"),
        ["eight bit"] = s =>
            s.RewriteEach("beauty", OutsideShot.Range, ["-d", "uint8", "-o", s["eight.tif"], s["eight.tif"], .. HalfAgain]),
        ["lower-case"] = s => s.RewriteEach("beauty", OutsideShot.Range, "--chnames", "r,g,b,a"),
        ["extra channel"] = s => s.Rewrite("beauty", 1005, "--ch", "R,G,B,A,mask=R"),
        ["blurred depth"] = s => s.RewriteEach("z", OutsideShot.Range, "--blur:kernel=box", "3x1"),
        ["flat depth"] = s => s.RewriteEach("z", OutsideShot.Range, "--mulc", "0", "--addc", "30"),
        ["copy"] = s => File.Copy(s.File("beauty", 1003), s.File("beauty", 1008), overwrite: true),
        ["repeated picture"] = s =>
            Tool.Oiio([s.File("beauty", 1003), "--attrib", "ImageDescription", "again", "-o", s.File("beauty", 1004)]),
        ["later"] = s => File.SetLastWriteTimeUtc(s.File("z", 1006), DateTime.UtcNow.AddHours(3)),
        ["missing"] = s => File.Delete(s.File("beauty", 1006)),
        ["missing at the end"] = s => File.Delete(s.File("ao", 1012)),
        ["cut short"] = s => Cut(s.File("beauty", 1006), 0.6),
        ["cut short tiff"] = s => Cut(s.File("matte_hull", 1006), 0.5),
        ["cut short png"] = s => Cut(s.File("ao", 1006), 0.5),
        ["empty"] = s => Write(s.File("z", 1004), ""),
        ["not a picture"] = s => Write(s.File("z", 1004), "disk quota exceeded\n"),
        ["one too many"] = s => File.Copy(s.File("beauty", 1012), s["haze/haze_beauty.1013.exr"]),
        ["padding"] = s => File.Move(s.File("beauty", 1005), s["haze/haze_beauty.01005.exr"]),
        ["twice"] = s => File.Copy(s.File("beauty", 1005), s["haze/haze_beauty.01005.exr"]),
        ["output missing"] = s => FrameSet.Parse(OutsideShot.Range).ToList().ForEach(f => File.Delete(s.File("ao", f))),
        ["not planned"] = s =>
            FrameSet.Parse(OutsideShot.Range).ToList().ForEach(f => File.Copy(s.File("z", f), s[$"haze/haze_uv.{f}.exr"])),
    };

    private static void Write(string file, string text)
    {
        DateTime written = File.GetLastWriteTimeUtc(file);
        File.WriteAllText(file, text);
        File.SetLastWriteTimeUtc(file, written.AddMinutes(-10));
    }

    private static void Cut(string file, double share)
    {
        byte[] bytes = File.ReadAllBytes(file);
        File.WriteAllBytes(file, bytes[..(int)(bytes.Length * share)]);
    }
}
