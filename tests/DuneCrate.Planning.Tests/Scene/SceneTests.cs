using System.Text;
using DuneCrate.Imaging.Colour;
using DuneCrate.Planning.Scene;
using DuneCrate.StandIns.Demo;
using DuneCrate.StandIns.Renderer;

namespace DuneCrate.Planning.Tests.Scene;

public class SceneTests
{
    private static SceneItem[] Read(string json) => [.. GltfRoster.Read(new MemoryStream(Encoding.UTF8.GetBytes(json)))];

    private static string Traits(SceneItem item) => string.Join(' ', item.Traits);

    /// <summary>The stand-in's scene passes the Khronos glTF validator, so what our reader is tried on is glTF 2.0 indeed.</summary>
    [Fact]
    public void The_stand_ins_scene_is_valid_gltf()
    {
        using var folder = new TempFolder();
        File.WriteAllText(folder["kelp.gltf"], KelpGltf.Write("KP010"));
        Tool.Run("node", Repository.File("tests/DuneCrate.Planning.Tests/Scene/validate-gltf.cjs"), folder["kelp.gltf"]);
    }

    [Fact]
    public void Its_roster_has_items_lights_cameras_and_materials_with_their_traits()
    {
        SceneItem[] items = Read(KelpGltf.Write("KP010"));
        SceneItem Item(string name) => items.Single(i => i.Name == name);
        Assert.Equal("Transparent Glossy Animated", Traits(Item("dome")));
        Assert.Equal("Emits Animated", Traits(Item("lamps")));
        Assert.Equal("", Traits(Item("seabed")));
        Assert.Equal((ItemKind.Light, "point, 2.6 cd"), (Item("lamp_light").Kind, Item("lamp_light").Note));
        Assert.Equal("directional, 1.25 lx", Item("dusk_sun").Note);
        Assert.Equal(ItemKind.Locator, Item("dome_centre").Kind);
        Assert.Equal((ItemKind.Material, "Transparent Glossy"), (Item("dome_look").Kind, Traits(Item("dome_look"))));
    }

    /// <summary>glTF 2.0 specification 3.10.3: yfov is the vertical field of view in radians. 0.66 rad is 37.82°.</summary>
    [Fact]
    public void A_cameras_yfov_is_read_as_radians()
    {
        SceneItem camera = Assert.Single(
            Read(
                """
                {"asset":{"version":"2.0"},"scene":0,"scenes":[{"nodes":[0]}],"nodes":[{"name":"lens","camera":0}],
                "cameras":[{"type":"perspective","perspective":{"yfov":0.66,"znear":0.01}}]}
                """
            )
        );
        Assert.Equal((ItemKind.Camera, "perspective, vertical field of view 37.82°"), (camera.Kind, camera.Note));
    }

    /// <summary>KHR_lights_punctual: intensity is candela (lm/sr) for point and spot lights, lux (lm/m²) for directional ones.</summary>
    [Theory]
    [InlineData("point", "", "point, 40 cd")]
    [InlineData("spot", ""","spot":{"outerConeAngle":0.7}""", "spot, 40 cd")]
    [InlineData("directional", "", "directional, 40 lx")]
    public void Light_units_follow_the_extension(string type, string more, string note) =>
        Assert.Equal(
            note,
            Read(
                "{\"asset\":{\"version\":\"2.0\"},\"extensionsUsed\":[\"KHR_lights_punctual\"],\"scene\":0,\"scenes\":[{\"nodes\":[0]}],"
                    + "\"nodes\":[{\"name\":\"l\",\"extensions\":{\"KHR_lights_punctual\":{\"light\":0}}}],"
                    + "\"extensions\":{\"KHR_lights_punctual\":{\"lights\":[{\"type\":\""
                    + type
                    + "\",\"intensity\":40"
                    + more
                    + "}]}}}"
            )[0].Note
        );

    /// <summary>glTF 2.0 specification 3.9.4: alpha mode MASK cuts out, BLEND is see-through; the default roughness is 1.</summary>
    [Theory]
    [InlineData("\"alphaMode\":\"MASK\"", "CutOut")]
    [InlineData("\"alphaMode\":\"BLEND\"", "Transparent")]
    [InlineData("\"emissiveFactor\":[0,0.5,0]", "Emits")]
    [InlineData("\"pbrMetallicRoughness\":{\"roughnessFactor\":0.2}", "Glossy")]
    [InlineData("\"extensions\":{\"KHR_materials_transmission\":{\"transmissionFactor\":1}}", "Transparent")]
    [InlineData("\"doubleSided\":true", "")]
    public void Materials_give_traits(string material, string traits) =>
        Assert.Equal(
            traits,
            Traits(
                Read(
                    "{\"asset\":{\"version\":\"2.0\"},\"extensionsUsed\":[\"KHR_materials_transmission\"],\"materials\":[{\"name\":\"m\","
                        + material
                        + "}]}"
                )[0]
            )
        );

    [Theory]
    [InlineData("not json")]
    [InlineData("{}")]
    [InlineData("""{"asset":{"version":"1.0"}}""")]
    [InlineData("""{"asset":{"version":"2.0"},"nodes":[{"camera":7}]}""")]
    public void What_is_no_gltf_is_refused_in_words(string text) =>
        Assert.Contains("glTF 2.0", Assert.Throws<FormatException>(() => Read(text)).Message);

    [Fact]
    public void The_roster_goes_to_a_spreadsheet_and_back()
    {
        string table = RosterTable.Write(DemoPlan.Roster);
        Assert.StartsWith("name,kind,traits,id,colour,mask,behind,note\nhull,object,glossy animated,1,,hull,,\n", table);
        Assert.Equal(DemoPlan.Roster.Select(i => RosterTable.Write([i])), RosterTable.Read(table).Select(i => RosterTable.Write([i])));
        Assert.Equal("cut-out", RosterTable.Word(ItemTrait.CutOut));
    }

    [Theory]
    [InlineData("anchor\tobject\tglossy, cut-out\t12", "anchor Object Glossy CutOut 12")]
    [InlineData("name;id\nanchor;3", "anchor Object  3")]
    [InlineData("Name,Traits\n\"anchor, big\",emits\n", "anchor, big Object Emits ")]
    public void Tables_as_people_paste_them_are_read(string text, string expected)
    {
        SceneItem item = Assert.Single(RosterTable.Read(text));
        Assert.Equal(expected, $"{item.Name} {item.Kind} {Traits(item)} {item.Id}");
    }

    [Theory]
    [InlineData("name,kind\nanchor,ship", "Line 2, anchor: 'ship' is not a kind")]
    [InlineData("anchor,object,wet", "'wet' is not a trait")]
    [InlineData("anchor,object,,x", "is not an object id")]
    [InlineData("anchor,object,,,red", "write #rrggbb")]
    [InlineData("a\nA", "stands twice")]
    public void Lines_that_cannot_be_read_are_named(string text, string says) =>
        Assert.Contains(says, Assert.Throws<FormatException>(() => RosterTable.Read(text)).Message);

    /// <summary>
    /// Pairs 1, 4, 7, 8, 13, 17, 19, 21, 24, 25, 27, 31, 34 of table 1 in Sharma, Wu, Dalal, "The CIEDE2000 Color-Difference Formula:
    /// Implementation
    /// Notes, Supplementary Test Data, and Mathematical Observations", Color Research and Application 30 (2005).
    /// </summary>
    [Theory]
    [InlineData(50, 2.6772, -79.7751, 50, 0, -82.7485, 2.0425)]
    [InlineData(50, -1.3802, -84.2814, 50, 0, -82.7485, 1.0000)]
    [InlineData(50, 0, 0, 50, -1, 2, 2.3669)]
    [InlineData(50, -1, 2, 50, 0, 0, 2.3669)]
    [InlineData(50, -0.0010, 2.4900, 50, 0.0009, -2.4900, 4.8045)]
    [InlineData(50, 2.5, 0, 73, 25, -18, 27.1492)]
    [InlineData(50, 2.5, 0, 56, -27, -3, 31.9030)]
    [InlineData(50, 2.5, 0, 50, 3.1736, 0.5854, 1.0000)]
    [InlineData(50, 2.5, 0, 50, 3.2592, 0.3350, 1.0000)]
    [InlineData(60.2574, -34.0099, 36.2677, 60.4626, -34.1751, 39.4387, 1.2644)]
    [InlineData(61.2901, 3.7196, -5.3901, 61.4292, 2.2480, -4.9620, 1.8731)]
    [InlineData(22.7233, 20.0904, -46.6940, 23.0331, 14.9730, -42.5619, 2.0373)]
    [InlineData(2.0776, 0.0795, -1.1350, 0.9033, -0.0636, -0.5514, 0.9082)]
    public void Colour_differences_are_the_published_ones(
        double l1,
        double a1,
        double b1,
        double l2,
        double a2,
        double b2,
        double difference
    ) => Assert.Equal(difference, CieDe2000.Difference((l1, a1, b1), (l2, a2, b2)), 4);

    /// <summary>L*a*b* of the sRGB primaries under D65, to two decimals: from memory, as general colour software prints them.</summary>
    [Theory]
    [InlineData(255, 255, 255, 100, 0, 0)]
    [InlineData(255, 0, 0, 53.24, 80.09, 67.20)]
    [InlineData(0, 0, 255, 32.30, 79.19, -107.86)]
    public void Lab_of_the_primaries(byte r, byte g, byte b, double l, double a, double bb)
    {
        (double L, double A, double B) = CieDe2000.Lab(r, g, b);
        Assert.Equal((l, a, bb), (L, A, B), new Near(0.05));
    }

    private sealed class Near(double by) : IEqualityComparer<(double, double, double)>
    {
        public bool Equals((double, double, double) x, (double, double, double) y) =>
            Math.Abs(x.Item1 - y.Item1) < by && Math.Abs(x.Item2 - y.Item2) < by && Math.Abs(x.Item3 - y.Item3) < by;

        public int GetHashCode((double, double, double) obj) => 0;
    }
}
