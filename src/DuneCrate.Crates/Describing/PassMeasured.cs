using System.Collections.Immutable;
using System.Globalization;
using System.Text.Json.Serialization;
using DuneCrate.Checking.Intake.Measures;
using DuneCrate.Checking.Matching;
using DuneCrate.Checking.Pictures;
using DuneCrate.Exr;
using DuneCrate.Foundation.Passes;
using DuneCrate.Foundation.Storage;
using DuneCrate.Imaging;
using DuneCrate.Imaging.Pictures;
using DuneCrate.Planning.Model;

namespace DuneCrate.Crates.Describing;

/// <summary>What the pixels of a pass say that a compositor types in or picks from; read from all of its files.</summary>
public sealed record PassMeasured
{
    /// <summary>Ids that are told of a pass.</summary>
    public const int MostIds = 64;

    /// <summary>
    /// Share of normals that may turn away from the camera in camera space: rounding and filtered edges. Common practice.
    /// </summary>
    private const double MostAway = 0.02;

    /// <summary>The measures that are told of.</summary>
    private const PassMeasures Measurable =
        PassMeasures.Depth
        | PassMeasures.Normal
        | PassMeasures.Motion
        | PassMeasures.ObjectIds
        | PassMeasures.MaterialColours
        | PassMeasures.Cryptomatte;

    private const string CameraSpace = "camera",
        SceneSpace = "world or object";

    /// <summary>The nearest distance, in the pass's unit; null for other passes.</summary>
    [JsonIgnore(Condition = JsonIgnoreCondition.WhenWritingNull)]
    public double? Near { get; init; }

    /// <summary>The farthest distance, what stands for the background left aside; null for other passes.</summary>
    [JsonIgnore(Condition = JsonIgnoreCondition.WhenWritingNull)]
    public double? Far { get; init; }

    /// <summary>The distance that stands for nothing being there; null when none does.</summary>
    [JsonIgnore(Condition = JsonIgnoreCondition.WhenWritingNull)]
    public double? Background { get; init; }

    /// <summary>
    /// The space that directions lie in: <c>camera</c> where (nearly) all of them face the camera, which they do in no other space of a
    /// scene with more than one side in view; else <c>world or object</c>. Null for other passes.
    /// </summary>
    [JsonIgnore(Condition = JsonIgnoreCondition.WhenWritingNull)]
    public string? Space { get; init; }

    /// <summary>The greatest movement along an axis, in the pass's unit; null for other passes.</summary>
    [JsonIgnore(Condition = JsonIgnoreCondition.WhenWritingNull)]
    public double? Fastest { get; init; }

    /// <summary>Where motion vectors point; null for other passes and where their pictures do not tell.</summary>
    [JsonIgnore(Condition = JsonIgnoreCondition.WhenWritingNull)]
    public MotionHeading? Heading { get; init; }

    /// <summary>The ids, most pixels first, at most <see cref="MostIds"/>; null for other passes.</summary>
    [JsonIgnore(Condition = JsonIgnoreCondition.WhenWritingNull)]
    public ImmutableArray<PassIdentity>? Ids { get; init; }

    /// <summary>Ids beyond those.</summary>
    [JsonIgnore(Condition = JsonIgnoreCondition.WhenWritingDefault)]
    public int FurtherIds { get; init; }

    /// <summary>What the files of a pass say; null when it is nothing that has to be told.</summary>
    internal static PassMeasured? Of(PassPlan pass, PassDefinition? definition, Plan plan, IReadOnlyCollection<CheckedFile> files)
    {
        if (definition?.Has(Measurable) != true)
        {
            return null;
        }

        PassFacts[] found = [.. files.SelectMany(f => f.Facts.Parts).SelectMany(p => p.Passes ?? []).Where(f => f.Pass == pass.Pass)];
        var measured = new PassMeasured
        {
            Near = Least(found.Select(f => f.Depth?.Nearest)),
            Far = found.Select(f => f.Depth?.Farthest).Max(),
            Background = found.Select(f => f.Depth?.Background).FirstOrDefault(b => b is not null),
            Space = definition.Has(PassMeasures.Normal) ? SpaceOf(pass, found, files) : null,
            Fastest = definition.Has(PassMeasures.Motion) ? Greatest(pass, files) : null,
        };
        IdCount[] ids = [.. found.SelectMany(f => f.Ids?.Ids ?? f.Crypto?.Ids ?? [])];
        if (ids.Length > 0)
        {
            (string Value, long Pixels)[] counted =
            [
                .. ids.Where(i => !IsNothing(i.Value))
                    .GroupBy(i => i.Value, StringComparer.Ordinal)
                    .Select(g => (g.Key, g.Sum(i => i.Pixels)))
                    .OrderByDescending(i => i.Item2)
                    .ThenBy(i => i.Key, StringComparer.Ordinal),
            ];
            measured = measured with
            {
                Ids = [.. counted.Take(MostIds).Select(i => Identity(definition, plan, i.Value, i.Pixels))],
                FurtherIds = Math.Max(0, counted.Length - MostIds),
            };
        }

        return measured == new PassMeasured() ? null : measured;
    }

    private static double? Least(IEnumerable<double?> values) => values.Min();

    private static bool IsNothing(string value) => value is "0" or "00000000" or "0 0 0";

    private static string? SpaceOf(PassPlan pass, PassFacts[] found, IReadOnlyCollection<CheckedFile> files)
    {
        long covered = found.Sum(f => f.Normal?.Covered ?? 0),
            away = files.Sum(f => f.Find(pass.Channels.Keys.Last())?.Samples?.Negative ?? 0);
        return covered == 0 ? null
            : away <= MostAway * covered ? CameraSpace
            : SceneSpace;
    }

    private static double? Greatest(PassPlan pass, IReadOnlyCollection<CheckedFile> files) =>
        files
            .SelectMany(f => pass.Channels.Keys.Select(c => f.Find(c)?.Samples))
            .Where(s => s is not null)
            .Select(s => (double?)Math.Max(Math.Abs(s!.Min), Math.Abs(s.Max)))
            .Max();

    private static PassIdentity Identity(PassDefinition definition, Plan plan, string value, long pixels)
    {
        if (definition.Has(PassMeasures.MaterialColours) && ColourOf(value) is { } colour)
        {
            return new PassIdentity(value, plan.Items.FirstOrDefault(i => i.Colour == colour)?.Name, colour, pixels);
        }

        string? name =
            definition.Has(PassMeasures.ObjectIds) && int.TryParse(value, NumberStyles.None, CultureInfo.InvariantCulture, out int id)
                ? plan.Items.FirstOrDefault(i => i.Id == id)?.Name
                : null;
        return new PassIdentity(value, name, Hex(FalseColours.OfId(IdOf(definition, value))), pixels);
    }

    /// <summary>The id as the pixels of Look colour it.</summary>
    private static float IdOf(PassDefinition definition, string value) =>
        definition.Has(PassMeasures.Cryptomatte)
        && uint.TryParse(value, NumberStyles.HexNumber, CultureInfo.InvariantCulture, out uint bits)
            ? BitConverter.UInt32BitsToSingle(bits)
        : float.TryParse(value, CultureInfo.InvariantCulture, out float id) ? id
        : 0;

    private static string Hex((byte R, byte G, byte B) colour) => $"#{colour.R:x2}{colour.G:x2}{colour.B:x2}";

    /// <summary>Three samples of 0..1 as #rrggbb; null when they are none.</summary>
    private static string? ColourOf(string value)
    {
        string[] pieces = value.Split(' ');
        double[] samples =
        [
            .. pieces.Select(p => double.TryParse(p, CultureInfo.InvariantCulture, out double sample) ? sample : double.NaN),
        ];
        return samples.Length == 3 && samples.All(double.IsFinite)
            ? "#" + string.Concat(samples.Select(s => ((int)Math.Round(255 * Math.Clamp(s, 0, 1))).ToString("x2")))
            : null;
    }

    /// <summary>What is measured of a pass, with what only its pictures tell: names of ids, and where motion points.</summary>
    internal static PassMeasured? Told(PackedPass pass, CrateContents contents, ReadLimits limits) =>
        Named(pass, contents.Folder, limits) is { } measured ? measured with { Heading = MotionHeading.Of(contents, pass, limits) } : null;

    /// <summary>The ids of a pass with the names that its first rendered file gives them.</summary>
    private static PassMeasured? Named(PackedPass pass, StoragePath folder, ReadLimits limits)
    {
        PassMeasured? measured = pass.Measured;
        if (
            measured?.Ids is not { } ids
            || pass.Definition?.Has(PassMeasures.Cryptomatte) != true
            || pass.Facts is not { Format: "exr" } facts
        )
        {
            return measured;
        }

        try
        {
            ImmutableDictionary<float, string> names = MatteNames.Of(folder.At(facts.Path), limits);
            return measured with { Ids = [.. ids.Select(i => i with { Name = NameOf(i.Value, names) })] };
        }
        catch (Exception e) when (e is ImageException or IOException or UnauthorizedAccessException)
        {
            return measured;
        }
    }

    private static string? NameOf(string id, ImmutableDictionary<float, string> names) =>
        uint.TryParse(id, NumberStyles.HexNumber, CultureInfo.InvariantCulture, out uint bits)
            ? names.GetValueOrDefault(BitConverter.UInt32BitsToSingle(bits))
            : null;
}
