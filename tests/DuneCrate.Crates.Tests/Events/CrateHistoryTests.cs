using System.IO.Compression;
using System.Security.Cryptography;
using System.Text;
using System.Text.Json.Nodes;
using System.Xml.Linq;
using DuneCrate.Crates.Events;
using DuneCrate.Crates.Tests.Converting;
using DuneCrate.Imaging;
using NetVips;

namespace DuneCrate.Crates.Tests.Events;

/// <summary>The history of a crate: lines within it, lines beside it, and what breaks the chain.</summary>
public class CrateHistoryTests
{
    [Fact]
    public void What_happens_to_a_crate_is_a_chain_that_goes_on_beside_it()
    {
        using var shot = new DriftShot();
        string crate = shot.Seal("""{ "receiver": "Tide Room", "files": "per-pass" }""");
        CrateHistory.Add(Disk.Folder(crate), DateTime.UtcNow, "Ebba Strand", CrateEventKinds.Verified, "whole");
        CrateHistory.Add(Disk.Folder(crate), DateTime.UtcNow, "Ebba Strand", CrateEventKinds.Handed, "all of it");
        (var events, string? problem) = CrateHistory.Of(Disk.Folder(crate));
        Assert.Null(problem);
        Assert.Equal(["checked", "made", "verified", "handed"], events.Select(e => e.Did));
        Assert.Empty(CrateVerifier.Verify(Disk.Folder(crate), null, default).Problems);
        Assert.Equal("", Tool.RunAny("sh", "-c", $"cd {crate} && sha256sum -c --quiet SHA256SUMS"));

        // Each line names the SHA-256 of the one before it, as sha256sum gives it.
        string beside = crate + ".history.jsonl";
        string[] lines = [.. File.ReadAllLines(Path.Combine(crate, "history.jsonl")), .. File.ReadAllLines(beside)];
        string before = new('0', 64);
        foreach (string line in lines)
        {
            Assert.Equal(before, (string?)JsonNode.Parse(line)!["before"]);
            before = Convert.ToHexStringLower(SHA256.HashData(Encoding.UTF8.GetBytes(line)));
        }

        File.WriteAllText(beside, File.ReadAllText(beside).Replace("\"whole\"", "\"not whole\"", StringComparison.Ordinal));
        CrateProof proof = CrateVerifier.Verify(Disk.Folder(crate), null, default);
        Assert.Equal("line 4 of its history does not follow the one before it", Assert.Single(proof.Problems));
    }

    [Fact]
    public void The_lead_frame_lies_in_the_crate_as_OpenRaster()
    {
        using var shot = new DriftShot();
        string crate = shot.Seal("""{ "files": "per-pass" }""");
        // OpenRaster specification, "File layout": the mimetype comes first, stored, without extra field.
        byte[] head = File.ReadAllBytes(Path.Combine(crate, "lead.ora"))[..64];
        Assert.Equal("mimetypeimage/openraster", Encoding.ASCII.GetString(head[30..54]));
        Assert.Equal("lead.ora", CrateVerifier.ManifestOf(Disk.Folder(crate))!.Documents!.Lead);
    }

    /// <summary>Where layers need more memory than there is, the file is smaller by a whole number and says so in its own size.</summary>
    [Fact]
    public void A_lead_frame_that_is_too_large_is_smaller()
    {
        using var shot = new DriftShot();
        CrateContents contents = shot.Contents("{}");
        (int Width, int Height, int Strips) Size(long most)
        {
            using var raster = new MemoryStream();
            SlipPictures made = SlipPictures.Make(contents, ReadLimits.Default, raster, default, most);
            Assert.NotNull(made.Composite);
            using var zip = new ZipArchive(raster);
            using Stream xml = zip.GetEntry("stack.xml")!.Open();
            XElement image = XElement.Load(xml);
            foreach (string name in image.Descendants("layer").Select(l => (string)l.Attribute("src")!).Append("mergedimage.png"))
            {
                using Stream entry = zip.GetEntry(name)!.Open();
                var bytes = new MemoryStream();
                entry.CopyTo(bytes);
                using var png = Image.NewFromBuffer(bytes.ToArray());
                Assert.Equal(((int)image.Attribute("w")!, (int)image.Attribute("h")!), (png.Width, png.Height));
            }

            return ((int)image.Attribute("w")!, (int)image.Attribute("h")!, image.Descendants("layer").Count());
        }

        (int width, int height, int strips) = Size(1 << 28);
        Assert.Equal((width / 2, height / 2, strips), Size((20 * strips + 16) * width * height / 4));
        Assert.InRange(Size(4L * width).Width, 1, width / 4);
    }

    [Fact]
    public void Layers_and_frames_can_be_chosen()
    {
        using var shot = new DriftShot();
        CrateContents contents = shot.Contents("""{ "layers": ["drift"], "frames": "47", "files": "as-they-are" }""");
        Assert.Equal(["47", "47", "46"], contents.Sequences.Select(s => s.Frames.ToString()));
        Assert.Equal(4, contents.LeftOut.Count(l => l.Why == "not among the frames that are wanted"));
        string crate = shot.Seal("""{ "frames": "47-48", "firstFrame": 1001 }""");
        Assert.Equal("1002-1003", CrateVerifier.ManifestOf(Disk.Folder(crate))!.Frames.ToString());
        Assert.Contains(
            "no such layer; its layers are drift",
            Assert.Throws<CrateRefusedException>(() => shot.Contents("""{ "layers": ["reef"] }""")).Message
        );
        Assert.Contains(
            "the shot has 46-48",
            Assert.Throws<CrateRefusedException>(() => shot.Contents("""{ "frames": "9-12" }""")).Message
        );
    }

    [Fact]
    public void Files_can_be_further_names_of_the_rendered_ones()
    {
        using var shot = new DriftShot();
        string crate = CrateBuilder
            .Seal(
                shot.Contents("""{ "drop": ["specular"] }""") with
                {
                    IsLinked = true,
                },
                shot.Checked.Report with
                {
                    Findings = [],
                },
                Disk.Folder(shot["linked"]),
                Guid.NewGuid(),
                null,
                default
            )
            .Folder.FullPath;
        string Inode(string path) => Tool.RunAny("stat", "-c", "%i", path);
        // Data go in as they are and are linked; what is converted is not.
        string data = Directory.GetFiles(crate, "drift_data.0046.exr", SearchOption.AllDirectories).Single(),
            colour = Directory.GetFiles(crate, "drift.0046.exr", SearchOption.AllDirectories).Single();
        Assert.Equal(Inode(shot.Rendered(46, "_data")), Inode(data));
        Assert.NotEqual(Inode(shot.Rendered(46)), Inode(colour));
        Assert.True(CrateVerifier.Verify(Disk.Folder(crate), null, default).IsWhole);
        File.AppendAllText(shot.Rendered(46, "_data"), "more");
        Assert.Contains("drift_data.0046.exr was changed", Assert.Single(CrateVerifier.Verify(Disk.Folder(crate), null, default).Problems));
    }
}
