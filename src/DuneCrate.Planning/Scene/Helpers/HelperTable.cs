using System.Collections.Immutable;
using System.Globalization;
using System.Numerics;
using CsvHelper;
using CsvHelper.Configuration;
using DuneCrate.Foundation.Documents;

namespace DuneCrate.Planning.Scene.Helpers;

/// <summary>
/// Helpers as a table, a line for each helper and frame. Places are in metres, right-handed, y up; turns are unit quaternions; what does
/// not move has one line without a frame. Source of the format: RFC 4180.
/// </summary>
public static class HelperTable
{
    /// <summary>Bytes that a table may have.</summary>
    public const long MostBytes = 64L << 20;

    private static readonly string[] Heads =
    [
        "frame",
        "name",
        "kind",
        "x",
        "y",
        "z",
        "qx",
        "qy",
        "qz",
        "qw",
        "sx",
        "sy",
        "sz",
        "vfov",
        "aspect",
        "light",
        "r",
        "g",
        "b",
        "intensity",
        "unit",
    ];

    private static readonly Dictionary<string, float> Metres = new(StringComparer.OrdinalIgnoreCase)
    {
        [""] = 1,
        ["m"] = 1,
        ["dm"] = 0.1f,
        ["cm"] = 0.01f,
        ["mm"] = 0.001f,
        ["in"] = 0.0254f,
        ["ft"] = 0.3048f,
    };

    /// <summary>The table.</summary>
    /// <param name="helpers">The helpers.</param>
    /// <param name="first">The shot's first frame.</param>
    public static string Write(IEnumerable<SceneHelper> helpers, int first) =>
        CsvText.Write(Heads, helpers.SelectMany(h => h.Poses.Select((p, i) => Row(h, p, h.Moves ? first + i : null))));

    /// <summary>Reads a table for a shot.</summary>
    /// <exception cref="FormatException">A line cannot be read; the message names it.</exception>
    public static HelperSet Read(string text, HelperShot shot)
    {
        using var csv = new CsvReader(
            new StringReader(text),
            new CsvConfiguration(CultureInfo.InvariantCulture)
            {
                Delimiter = text.Split('\n', 2)[0].Contains('\t') ? "\t" : ",",
                TrimOptions = TrimOptions.Trim,
                IgnoreBlankLines = true,
                BadDataFound = null,
                MissingFieldFound = null,
                PrepareHeaderForMatch = a => a.Header.ToLowerInvariant(),
            }
        );
        if (!csv.Read() || !csv.ReadHeader() || csv.HeaderRecord?.Contains("name", StringComparer.OrdinalIgnoreCase) != true)
        {
            throw new FormatException($"The table needs a line of heads first: {string.Join(',', Heads)}.");
        }

        var found = new Dictionary<string, (SceneHelper Helper, SortedDictionary<int, HelperPose> Poses)>(StringComparer.Ordinal);
        var units = new HashSet<string>(StringComparer.OrdinalIgnoreCase);
        while (csv.Read())
        {
            (string name, int? frame, SceneHelper helper, string unit) = Line(csv);
            units.Add(unit);
            if (!found.TryGetValue(name, out var known))
            {
                found[name] = known = (helper, []);
            }

            if (found.Count > HelperSet.MostHelpers)
            {
                throw new FormatException($"The table has more than {HelperSet.MostHelpers} names. Hand over what a compositor needs.");
            }

            known.Poses[frame ?? int.MinValue] = helper.Poses[0];
        }

        var told = new List<string>();
        if (units.FirstOrDefault(u => u.Length > 0 && !u.Equals("m", StringComparison.OrdinalIgnoreCase)) is { } other)
        {
            told.Add($"Places were given in {other} and are handed over in metres.");
        }

        SceneHelper[] helpers = [.. found.Values.Select(f => Spread(f.Helper, f.Poses, shot, told))];
        return new HelperSet([.. helpers.Select(h => h.Settled())], [.. told]);
    }

    /// <summary>A pose for each frame: between keys along the line between them, and before and after as the nearest.</summary>
    private static SceneHelper Spread(SceneHelper helper, SortedDictionary<int, HelperPose> poses, HelperShot shot, List<string> told)
    {
        if (poses.Count == 1)
        {
            return helper with { Poses = [poses.First().Value] };
        }

        int[] keys = [.. poses.Keys.Where(k => k != int.MinValue)];
        if (keys[0] > shot.First || keys[^1] < shot.Last)
        {
            told.Add(
                $"{helper.Name}: its keys go from {keys[0]} to {keys[^1]}, the shot from {shot.First} to {shot.Last}. "
                    + "Export the whole range."
            );
        }

        int missing = Enumerable.Range(shot.First, shot.Count).Count(f => f > keys[0] && f < keys[^1] && !poses.ContainsKey(f));
        if (missing > 0)
        {
            told.Add($"{helper.Name}: {Words.Count(missing, "frame")} between its keys {Words.Are(missing)} filled along the line.");
        }

        return helper with
        {
            Poses = [.. Enumerable.Range(shot.First, shot.Count).Select(f => Between(poses, keys, f))],
        };
    }

    private static HelperPose Between(SortedDictionary<int, HelperPose> poses, int[] keys, int frame)
    {
        int after = Array.FindIndex(keys, k => k >= frame);
        if (after <= 0 || keys[after] == frame)
        {
            return poses[after < 0 ? keys[^1] : keys[after]];
        }

        float t = (frame - keys[after - 1]) / (float)(keys[after] - keys[after - 1]);
        (HelperPose a, HelperPose b) = (poses[keys[after - 1]], poses[keys[after]]);
        return new HelperPose(Vector3.Lerp(a.Place, b.Place, t), Quaternion.Slerp(a.Turn, b.Turn, t), Vector3.Lerp(a.Scale, b.Scale, t));
    }

    private static (string Name, int? Frame, SceneHelper Helper, string Unit) Line(CsvReader csv)
    {
        FormatException Wrong(string what) => new($"Line {csv.Parser.RawRow}: {what}");
        string Text(string head) => csv.GetField(head) ?? "";
        float Number(string head, float usual) =>
            Text(head) is not { Length: > 0 } text ? usual
            : float.TryParse(text, CultureInfo.InvariantCulture, out float number) && float.IsFinite(number) ? number
            : throw Wrong($"{head} is '{text}', which is no number.");
        string name = Text("name"),
            unit = Text("unit");
        if (name.Length is 0 or > 120)
        {
            throw Wrong("a name is needed, of at most 120 characters.");
        }

        if (!Enum.TryParse(Text("kind"), ignoreCase: true, out ItemKind kind) || !SceneHelper.Kinds.Contains(kind))
        {
            throw Wrong($"kind is '{Text("kind")}'; use camera, light, locator or plane.");
        }

        int? frame =
            Text("frame") is not { Length: > 0 } at ? null
            : int.TryParse(at, CultureInfo.InvariantCulture, out int number) ? number
            : throw Wrong($"frame is '{at}', which is no whole number.");
        if (!Metres.TryGetValue(unit, out float scale))
        {
            throw Wrong($"unit is '{unit}'; use m, dm, cm, mm, in or ft.");
        }

        var turn = new Quaternion(Number("qx", 0), Number("qy", 0), Number("qz", 0), Number("qw", 1));
        if (turn.LengthSquared() < 1e-6f)
        {
            throw Wrong("qx, qy, qz and qw are no turn: all of them are 0.");
        }

        var pose = new HelperPose(
            new Vector3(Number("x", 0), Number("y", 0), Number("z", 0)) * scale,
            Quaternion.Normalize(turn),
            new Vector3(Number("sx", 1), Number("sy", 1), Number("sz", 1))
        );
        float fov = Number("vfov", 0),
            aspect = Number("aspect", 0);
        if (kind == ItemKind.Camera && fov is <= 0 or >= 180)
        {
            throw Wrong("a camera needs vfov, its vertical field of view in degrees.");
        }

        return (
            name,
            frame,
            new SceneHelper(name, kind, [pose])
            {
                Lens = kind == ItemKind.Camera ? new HelperLens(fov * Math.PI / 180, aspect > 0 ? aspect : null) : null,
                Light =
                    kind == ItemKind.Light
                        ? new HelperLight(
                            Text("light") is { Length: > 0 } type ? type : "point",
                            new Vector3(Number("r", 1), Number("g", 1), Number("b", 1)),
                            Number("intensity", 1)
                        )
                        : null,
            },
            unit
        );
    }

    private static IEnumerable<string?> Row(SceneHelper helper, HelperPose pose, int? frame) =>
        [
            frame?.ToString(CultureInfo.InvariantCulture),
            helper.Name,
            Words.Choice(helper.Kind),
            .. new[]
            {
                pose.Place.X,
                pose.Place.Y,
                pose.Place.Z,
                pose.Turn.X,
                pose.Turn.Y,
                pose.Turn.Z,
                pose.Turn.W,
                pose.Scale.X,
                pose.Scale.Y,
                pose.Scale.Z,
            }.Select(Text),
            helper.Lens is { } lens ? Text(lens.VerticalFov * 180 / Math.PI) : null,
            helper.Lens?.Aspect is { } aspect ? Text(aspect) : null,
            helper.Light?.Type,
            helper.Light is { } light ? Text(light.Colour.X) : null,
            helper.Light is { } g ? Text(g.Colour.Y) : null,
            helper.Light is { } b ? Text(b.Colour.Z) : null,
            helper.Light is { } i ? Text(i.Intensity) : null,
            "m",
        ];

    private static string Text(float value) => value.ToString("R", CultureInfo.InvariantCulture);

    private static string Text(double value) => value.ToString("R", CultureInfo.InvariantCulture);
}
