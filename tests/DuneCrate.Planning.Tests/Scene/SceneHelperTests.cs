using System.Numerics;
using System.Text;
using DuneCrate.Planning.Scene;
using DuneCrate.Planning.Scene.Helpers;

namespace DuneCrate.Planning.Tests.Scene;

/// <summary>Cameras, lights, locators and planes: read, checked, written, sent back, projected.</summary>
public class SceneHelperTests
{
    private static readonly HelperShot Shot = new("KP070", 1001, 1004, new FrameRate(24, 1), 1920, 1080, 1, "cam_main");

    private const string Table = """
        frame,name,kind,x,y,z,qx,qy,qz,qw,sx,sy,sz,vfov,aspect,light,r,g,b,intensity,unit
        1001,cam_main,camera,0,0,10,,,,,,,,45,1.7777778,,,,,,m
        1004,cam_main,camera,3,0,10,,,,,,,,45,1.7777778,,,,,,m
        ,bow,locator,1,2,0,,,,,,,,,,,,,,,m
        ,card,plane,0,1,-2,0,0.70710677,0,0.70710677,2,3,1,,,,,,,,m
        ,lamp,light,0,5,0,,,,,,,,,,point,1,0.5,0.25,120,m
        """;

    private static HelperSet Read(string table) => HelperTable.Read(table, Shot);

    /// <summary>Common practice: what the scene's roster names is handed over; the rest only when somebody asks.</summary>
    [Fact]
    public void What_the_roster_names_is_chosen_with_the_render_camera_and_what_lacks_is_told()
    {
        HelperSet set = Read(Table);
        SceneItem Item(string name, ItemKind kind) => new() { Name = name, Kind = kind };
        var roster = new SceneRoster
        {
            Items = [Item("Card", ItemKind.Plane), Item("stern", ItemKind.Locator), Item("kelp", ItemKind.Object)],
        };
        Assert.Equal(["cam_main", "card"], set.ChosenBy(roster, "cam_main").Order());
        Assert.Equal(["stern"], set.Lacking(roster).Select(i => i.Name));
        Assert.Equal(set.Helpers.Length, set.ChosenBy(null, "cam_main").Length);
        Assert.Equal(set.Helpers.Length, set.ChosenBy(new SceneRoster { Items = [Item("bow", ItemKind.Light)] }, "cam_main").Length);
        Assert.Empty(set.Lacking(null));
    }

    [Fact]
    public void What_is_written_is_valid_glTF_and_reads_back_the_same()
    {
        using var folder = new TempFolder();
        HelperSet set = Read(Table);
        byte[] glb = HelperGltf.Write(set.Helpers, Shot);
        File.WriteAllBytes(folder["helpers.glb"], glb);
        // Khronos glTF validator: no errors, no warnings.
        Tool.Run("node", Repository.File("tests/DuneCrate.Planning.Tests/Scene/validate-gltf.cjs"), folder["helpers.glb"]);
        HelperSet back = HelperGltf.Read(new MemoryStream(glb), Shot);
        Assert.Empty(back.Problems(Shot));
        Assert.Equal(set.Helpers.Select(h => (h.Name, h.Kind, h.Moves)), back.Helpers.Select(h => (h.Name, h.Kind, h.Moves)));
        foreach ((SceneHelper a, SceneHelper b) in set.Helpers.Zip(back.Helpers))
        {
            for (int frame = 0; frame < Shot.Count; frame++)
            {
                Assert.True(b.At(frame).From(a.At(frame)).IsNothing, $"{a.Name} at {frame}: {a.At(frame)} and {b.At(frame)}");
            }
        }

        Assert.Equal(45, back.Helpers[0].Lens!.VerticalFov * 180 / Math.PI, 4);
        Assert.Equal(("point", 120.0), (back.Helpers.Last().Light!.Type, back.Helpers.Last().Light!.Intensity));
        // Between keys along the line: 1002 is a third of the way.
        Assert.Equal(1f, back.Helpers[0].At(1).Place.X, 5);
        Assert.Equal(
            Table.Split('\n').Length - 1 + 2,
            HelperTable.Write(set.Helpers, 1001).Split('\n', StringSplitOptions.RemoveEmptyEntries).Length - 1
        );
        Assert.Equal(HelperTable.Write(set.Helpers, 1001), HelperTable.Write(Read(HelperTable.Write(set.Helpers, 1001)).Helpers, 1001));
    }

    [Theory]
    [InlineData("1001,cam_main,camera,0,0,10,,,,,,,,45,1.7777778,,,,,,m", "bow,locator", "")]
    [InlineData("1004,cam_main,camera,3,0,10", "1003,cam_main,camera,3,0,10", "its keys go from 1001 to 1003, the shot from 1001 to 1004")]
    [InlineData("cam_main", "cam_witness", "The render camera cam_main is not among them")]
    [InlineData("45,1.7777778", "45,1.5", "its film back is 1.5 wide for 1, the picture 1.778")]
    [InlineData(
        ",bow,locator,1,2,0,,,,,,,,,,,,,,,m",
        ",bow,locator,100,200,0,,,,,,,,,,,,,,,cm",
        "Places were given in cm and are handed over"
    )]
    public void What_is_not_as_the_shot_has_it_is_told(string was, string becomes, string says)
    {
        string table = says.Length == 0 ? Table : Table.Replace(was, becomes, StringComparison.Ordinal);
        string told = string.Join(
            ' ',
            Read(table).Problems(Shot).Where(p => !p.Contains("filled along the line", StringComparison.Ordinal))
        );
        Assert.Contains(says, told, StringComparison.Ordinal);
        Assert.Equal(says.Length == 0, told.Length == 0);
    }

    [Theory]
    [InlineData("camera,0,0,10", "camera,0,deep,10", "Line 2: y is 'deep', which is no number")]
    [InlineData("bow,locator", "bow,reef", "kind is 'reef'; use camera, light, locator or plane")]
    [InlineData(",m\n", ",fathom\n", "unit is 'fathom'")]
    [InlineData("frame,name", "frame,nom", "needs a line of heads")]
    [InlineData("45,1.7777778", ",1.7777778", "vertical field of view")]
    public void A_table_that_cannot_be_read_says_where(string was, string becomes, string says) =>
        Assert.Contains(
            says,
            Assert.Throws<FormatException>(() => Read(Table.Replace(was, becomes, StringComparison.Ordinal))).Message,
            StringComparison.Ordinal
        );

    [Fact]
    public void Keys_at_another_rate_are_told()
    {
        HelperSet set = Read(Table);
        byte[] at25 = HelperGltf.Write(set.Helpers, Shot with { Rate = new FrameRate(25, 1) });
        Assert.Contains(
            "Keys lie on the frames of 25 a second, the shot runs at 24",
            string.Join(' ', HelperGltf.Read(new MemoryStream(at25), Shot).Problems(Shot)),
            StringComparison.Ordinal
        );
        Assert.Contains(
            "no glTF 2.0 file that can be read",
            Assert.Throws<FormatException>(() => HelperGltf.Read(new MemoryStream(Encoding.UTF8.GetBytes("sand")), Shot)).Message,
            StringComparison.Ordinal
        );
    }

    [Fact]
    public void What_comes_back_is_laid_over_the_original_and_coming_back_again_replaces_it()
    {
        HelperSet original = Read(Table);
        HelperSet moved = Read(Table.Replace("card,plane,0,1,-2", "card,plane,0,1.5,-2", StringComparison.Ordinal));
        (HelperOffsets offsets, var unknown) = HelperOffsets.None.Taking(original, moved);
        Assert.Empty(unknown);
        Assert.Equal(new Vector3(0, 0.5f, 0), Assert.Single(offsets.Offsets["card"]).Place);
        Assert.Single(offsets.Offsets);
        Assert.Equal(("moved by up to 0.5 m", ""), (offsets.Words("card"), offsets.Words("bow")));
        (offsets, _) = offsets.Taking(original, moved);
        Assert.Equal(1.5f, original.With(offsets).Helpers.Single(h => h.Name == "card").At(0).Place.Y);
        Assert.Equal(1f, original.Helpers.Single(h => h.Name == "card").At(0).Place.Y);
        (offsets, unknown) = offsets.Taking(original, Read(Table.Replace("bow", "stern", StringComparison.Ordinal)));
        Assert.Equal("stern", Assert.Single(unknown));
        Assert.Empty(offsets.Offsets);
    }

    /// <summary>
    /// A worked pinhole example: a camera 10 m before the origin with a vertical field of view of 90°, so that tan = 1 and 10 m up is the
    /// upper edge; 16:9, so that 17.78 m to the right is the right edge.
    /// </summary>
    [Theory]
    [InlineData(0, 0, 0, 960, 540)]
    [InlineData(0, 10, 0, 960, 0)]
    [InlineData(17.7777778, 0, 0, 1920, 540)]
    [InlineData(4.4444444, -2.5, 5, 1440, 810)]
    public void A_point_is_seen_where_the_pinhole_camera_sees_it(double x, double y, double z, double left, double top)
    {
        var camera = new HelperPose(new Vector3(0, 0, 10), Quaternion.Identity, Vector3.One);
        (double X, double Y)? seen = HelperProjection.Project(
            camera,
            new HelperLens(Math.PI / 2, null),
            new Vector3((float)x, (float)y, (float)z),
            Shot
        );
        Assert.Equal(left, seen!.Value.X, 2);
        Assert.Equal(top, seen.Value.Y, 2);
        Assert.Null(HelperProjection.Project(camera, new HelperLens(1, null), new Vector3(0, 0, 11), Shot));
    }
}
