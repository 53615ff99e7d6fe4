using System.Collections.Immutable;
using System.Numerics;

namespace DuneCrate.Planning.Scene.Helpers;

/// <summary>
/// What somebody changed of helpers and sent back, kept beside the originals: what comes back again takes its place and is never laid on
/// top.
/// </summary>
/// <param name="Offsets">By name of the helper: an offset for each frame of the shot, or a single one.</param>
public sealed record HelperOffsets(ImmutableSortedDictionary<string, ImmutableArray<HelperPose>> Offsets)
{
    /// <summary>Turns in degrees and changes of scale below these are not told: floats are not exacter.</summary>
    private const double LeastTurn = 0.05,
        LeastScale = 1e-4;

    /// <summary>Nothing was changed.</summary>
    public static readonly HelperOffsets None = new(
        ImmutableSortedDictionary.Create<string, ImmutableArray<HelperPose>>(StringComparer.Ordinal)
    );

    /// <summary>A helper with its offset.</summary>
    public SceneHelper Over(SceneHelper helper)
    {
        if (!Offsets.TryGetValue(helper.Name, out ImmutableArray<HelperPose> offsets))
        {
            return helper;
        }

        int count = Math.Max(helper.Poses.Length, offsets.Length);
        return helper with
        {
            Poses = [.. Enumerable.Range(0, count).Select(i => helper.At(i).With(offsets[Math.Min(i, offsets.Length - 1)]))],
        };
    }

    /// <summary>The offsets with those of helpers that came back in the place of their earlier ones.</summary>
    /// <param name="original">The helpers as they were first read.</param>
    /// <param name="returned">What came back: all of them or some.</param>
    /// <returns>The offsets; the names of what came back and is none of the originals.</returns>
    public (HelperOffsets Offsets, ImmutableArray<string> Unknown) Taking(HelperSet original, HelperSet returned)
    {
        var offsets = Offsets.ToBuilder();
        var unknown = ImmutableArray.CreateBuilder<string>();
        foreach (SceneHelper back in returned.Helpers)
        {
            if (original.Helpers.FirstOrDefault(h => h.Name == back.Name) is not { } helper)
            {
                unknown.Add(back.Name);
                continue;
            }

            int count = Math.Max(helper.Poses.Length, back.Poses.Length);
            HelperPose[] moved = [.. Enumerable.Range(0, count).Select(i => back.At(i).From(helper.At(i)))];
            if (moved.All(m => m.IsNothing))
            {
                offsets.Remove(back.Name);
            }
            else
            {
                offsets[back.Name] = moved.All(m => m.From(moved[0]).IsNothing) ? [moved[0]] : [.. moved];
            }
        }

        return (new HelperOffsets(offsets.ToImmutable()), unknown.ToImmutable());
    }

    /// <summary>How far one was changed, in words: "moved by up to 0.5 m"; empty for nothing.</summary>
    public string Words(string name)
    {
        if (!Offsets.TryGetValue(name, out ImmutableArray<HelperPose> offsets))
        {
            return "";
        }

        float far = offsets.Max(o => o.Place.Length());
        double turned = offsets.Max(o => 2 * Math.Acos(Math.Clamp(Math.Abs(o.Turn.W), 0, 1)) * 180 / Math.PI);
        return FormattableString.Invariant($"moved by up to {far:0.###} m")
            + (turned > LeastTurn ? FormattableString.Invariant($", turned by up to {turned:0.##}°") : "")
            + (offsets.Any(o => (o.Scale - Vector3.One).Length() > LeastScale) ? ", scaled" : "");
    }
}
