using System.Collections.Immutable;

namespace DuneCrate.Planning.Scene.Helpers;

/// <summary>The helpers of a shot, a pose for each of its frames.</summary>
/// <param name="Helpers">The helpers.</param>
/// <param name="Told">What the file that they were read from says that is not as the shot has it, a sentence each.</param>
public sealed record HelperSet(ImmutableArray<SceneHelper> Helpers, ImmutableArray<string> Told)
{
    /// <summary>No helpers.</summary>
    public static readonly HelperSet Empty = new([], []);

    /// <summary>Helpers that a set may have.</summary>
    public const int MostHelpers = 500;

    private const int ManyHelpers = 12;
    private const double MostOffAspect = 0.01;

    /// <summary>Those that were chosen.</summary>
    public HelperSet Only(IReadOnlyCollection<string> names) => this with { Helpers = [.. Helpers.Where(h => names.Contains(h.Name))] };

    /// <summary>
    /// Names of those that a shot hands over unless somebody chooses: what the roster names, with the render camera; all of them where
    /// the roster names none, without lights where there are many.
    /// </summary>
    /// <param name="roster">What the scene holds; null when nobody said.</param>
    /// <param name="camera">The render camera; empty when it is not known.</param>
    public ImmutableArray<string> ChosenBy(SceneRoster? roster, string camera)
    {
        SceneHelper[] named = [.. Helpers.Where(h => IsIn(roster, h) || h.Name == camera)];
        return
        [
            .. (
                named.Any(h => IsIn(roster, h)) ? named : Helpers.Where(h => h.Kind is not ItemKind.Light || Helpers.Length < ManyHelpers)
            ).Select(h => h.Name),
        ];
    }

    /// <summary>What the roster names of the kinds that are handed over, and the set lacks.</summary>
    /// <param name="roster">What the scene holds; null when nobody said.</param>
    public IEnumerable<SceneItem> Lacking(SceneRoster? roster) =>
        (roster?.Items ?? []).Where(i =>
            SceneHelper.Kinds.Contains(i.Kind) && !Helpers.Any(h => h.Name.Equals(i.Name, StringComparison.OrdinalIgnoreCase))
        );

    /// <summary>Whether the roster names a helper.</summary>
    /// <param name="roster">What the scene holds; null when nobody said.</param>
    /// <param name="helper">The helper.</param>
    public static bool IsIn(SceneRoster? roster, SceneHelper helper) =>
        roster?.Items.Any(i => i.Kind == helper.Kind && i.Name.Equals(helper.Name, StringComparison.OrdinalIgnoreCase)) == true;

    /// <summary>The set with what came back laid over it; the originals stay as they are.</summary>
    public HelperSet With(HelperOffsets offsets) => this with { Helpers = [.. Helpers.Select(h => offsets.Over(h))] };

    /// <summary>What is wrong with the set for a shot, a sentence each that says what to do.</summary>
    public IEnumerable<string> Problems(HelperShot shot)
    {
        foreach (string told in Told)
        {
            yield return told;
        }

        SceneHelper[] cameras = [.. Helpers.Where(h => h.Kind == ItemKind.Camera)];
        if (shot.Camera.Length > 0 && !cameras.Any(c => c.Name == shot.Camera))
        {
            yield return $"The render camera {shot.Camera} is not among them; whatever is laid over the picture needs it. Choose it, or "
                + "export it again.";
        }

        foreach (SceneHelper camera in cameras.Where(c => c.Lens?.Aspect is { } a && Math.Abs(a / shot.Aspect - 1) > MostOffAspect))
        {
            yield return FormattableString.Invariant(
                $"{camera.Name}: its film back is {camera.Lens!.Aspect:0.###} wide for 1, the picture {shot.Aspect:0.###}. One of both is "
            ) + "cropped; set the film back to the picture's and export again.";
        }

        foreach (SceneHelper helper in Helpers.Where(h => h.Poses.Any(p => !IsFinite(p))))
        {
            yield return $"{helper.Name} has places that are no numbers. Export it again.";
        }
    }

    private static bool IsFinite(HelperPose pose) =>
        float.IsFinite(pose.Place.LengthSquared())
        && float.IsFinite(pose.Turn.LengthSquared())
        && float.IsFinite(pose.Scale.LengthSquared());
}
