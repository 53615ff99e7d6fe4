namespace DuneCrate.Planning.Merging;

/// <summary>One thing that differs between two versions of a plan, or between a layer and its base.</summary>
/// <param name="Path">Where, as names from the outside in: layers, sub, outputs, …, depth, channels, Z.</param>
/// <param name="Before">The earlier value in words; empty when there was none.</param>
/// <param name="After">The later value in words; empty when it is gone.</param>
public sealed record PlanChange(string Path, string Before, string After)
{
    /// <summary>Where, for people: "sub · depth · Z".</summary>
    public string Where => PlanComparison.Words(Path);

    /// <summary>The layer it is in, or null.</summary>
    public string? Layer => Path.StartsWith("layers/", StringComparison.Ordinal) ? Path.Split('/')[1] : null;

    /// <summary>The pass it is about, or null.</summary>
    public string? Pass => PlanComparison.PassIn(Path);

    /// <summary>The whole change in one line.</summary>
    public override string ToString() =>
        Before.Length == 0 ? $"{Where}: {After} added"
        : After.Length == 0 ? $"{Where}: {Before} taken out"
        : $"{Where}: {Before} → {After}";
}
