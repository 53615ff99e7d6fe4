using System.Collections.Immutable;

namespace DuneCrate.Planning.Scene.Helpers;

/// <summary>Something of the scene that a compositor works with: a camera, a light, a locator, a flat plane.</summary>
/// <param name="Name">Name, one of a kind in its set.</param>
/// <param name="Kind">What it is.</param>
/// <param name="Poses">Where it is: one pose for each frame of its set, or a single one when it does not move.</param>
public sealed record SceneHelper(string Name, ItemKind Kind, ImmutableArray<HelperPose> Poses)
{
    /// <summary>The kinds that are handed over.</summary>
    public static readonly ImmutableArray<ItemKind> Kinds = [ItemKind.Camera, ItemKind.Light, ItemKind.Locator, ItemKind.Plane];

    /// <summary>The lens, of a camera.</summary>
    public HelperLens? Lens { get; init; }

    /// <summary>What it gives, of a light.</summary>
    public HelperLight? Light { get; init; }

    /// <summary>Whether it moves.</summary>
    public bool Moves => Poses.Length > 1;

    /// <summary>The pose at a frame of its set, from 0.</summary>
    public HelperPose At(int frame) => Poses[Math.Clamp(frame, 0, Poses.Length - 1)];

    /// <summary>The same with equal poses as one.</summary>
    public SceneHelper Settled() =>
        Poses.Length > 1 && Poses.All(p => p.From(Poses[0]).IsNothing) ? this with { Poses = [Poses[0]] } : this;
}
