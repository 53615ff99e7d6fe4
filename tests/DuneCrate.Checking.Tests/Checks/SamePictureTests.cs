using System.Collections.Immutable;
using DuneCrate.Checking.Intake;
using DuneCrate.Checking.Matching;
using DuneCrate.Checking.Rebuild;
using DuneCrate.Checking.Reports;
using DuneCrate.Exr;
using DuneCrate.Foundation.Naming;
using DuneCrate.Imaging;

namespace DuneCrate.Checking.Tests.Checks;

/// <summary>
/// Frames that are the same picture: which of them are slips, which are holds. A letter is a picture, a dot a flat one, a blank a missing
/// frame.
/// </summary>
public class SamePictureTests
{
    private static readonly Lazy<FileFacts> File = new(() =>
    {
        using var folder = new TempFolder();
        PixelBox window = PixelBox.OfSize(4, 2);
        var part = new ExrPart(
            [new ExrChannel("B", ExrPixelType.Half), new ExrChannel("G", ExrPixelType.Half), new ExrChannel("R", ExrPixelType.Half)],
            window,
            window,
            ExrCompression.Zip,
            []
        );
        ExrWriter.Write(
            Disk.File(folder["a.0001.exr"]),
            new ExrImage(part, new[] { "R", "G", "B" }.ToImmutableDictionary(c => c, c => new float[] { 1, 2, 3, 4, 5, 6, 7, c[0] }))
        );
        return Disk.Facts(folder["a.0001.exr"], new FactsRequest(FactsDepth.Pixels));
    });

    [Theory]
    [InlineData("ABCDEFGHIJ", "", "")]
    [InlineData("ABCDDEFGHI", "5", "")] // One frame once more.
    [InlineData("ABCDDDEFGHI", "5-6", "")]
    [InlineData("ABCDEFGHHHHH", "", "")] // Five in a row are a hold.
    [InlineData("AAAAAAAAAA", "", "")] // Nothing moves.
    [InlineData("AABBCCDDEEFF", "", "")] // On twos: as many pairs alike as not.
    [InlineData("ABCAEFGHIJ", "", "4")] // Another frame's file.
    [InlineData("ABCDEFABIJ", "", "7-8")]
    [InlineData("ABCDEFGAAJ", "9", "8")] // A copy, and that one repeated.
    [InlineData("ABABABAB", "", "")] // More alike than not: a cycle.
    [InlineData("ABC..FGH", "", "")] // Flat pictures are alike by nature.
    [InlineData("ABCD DEFGH", "6", "")] // The frame before is the one that is there.
    [InlineData("A", "", "")]
    public void Slips_are_told_from_holds(string pictures, string repeats, string copies)
    {
        CheckReport report = FolderCheck.Judge(new CheckContext(null, Intake(pictures)));
        Assert.Equal((repeats, copies), (Frames(report, "pixels.repeat"), Frames(report, "files.copy")));
    }

    [Fact]
    public void A_long_hold_is_judged_at_once()
    {
        // Five thousand frames of one picture behind five thousand others.
        CheckReport report = FolderCheck.Judge(
            new CheckContext(null, Intake(string.Concat(Enumerable.Range(0, 5000).Select(i => (char)(0x4E00 + i))) + new string('Z', 5000)))
        );
        Assert.Equal(("", ""), (Frames(report, "pixels.repeat"), Frames(report, "files.copy")));
    }

    private static string Frames(CheckReport report, string rule) =>
        report.Findings.FirstOrDefault(f => f.Rule == rule)?.Frames.ToString() ?? "";

    private static IntakeResult Intake(string pictures)
    {
        ImmutableDictionary<string, FileFacts> facts = pictures
            .Select((letter, i) => (letter, Frame: i + 1))
            .Where(f => f.letter != ' ')
            .Select(f => Facts(f.Frame, f.letter))
            .ToImmutableDictionary(f => f.Path);
        return new(
            Disk.Folder(Path.GetTempPath()),
            FactsDepth.Pixels,
            DateTime.UtcNow,
            SequenceFinder.Find(facts.Keys),
            facts,
            ImmutableDictionary<(string, int), RebuildFacts>.Empty
        );
    }

    private static FileFacts Facts(int frame, char picture)
    {
        FileFacts file = File.Value;
        PartFacts part = file.Parts[0];
        return file with
        {
            Path = $"sub/a.{frame:00000}.exr",
            Parts =
            [
                part with
                {
                    Channels =
                    [
                        .. part.Channels.Select(c =>
                            c with
                            {
                                Samples = c.Samples! with { Hash = picture + c.Name, Max = picture == '.' ? c.Samples.Min : c.Samples.Max },
                            }
                        ),
                    ],
                },
            ],
        };
    }
}
