namespace DuneCrate.Web.Stations.Shows;

/// <summary>One field of the settings with its label.</summary>
/// <param name="Fields">Where its text and its problem stand.</param>
/// <param name="Name">Its name there.</param>
/// <param name="Label">What people read.</param>
/// <param name="Hint">What it is when nothing is written.</param>
/// <param name="Unit">What stands behind it.</param>
public sealed record SettingField(SettingsForm Fields, string Name, string Label, string? Hint = null, string? Unit = null)
{
    /// <summary>The values there are to choose from; empty for a text.</summary>
    public IReadOnlyList<string> Choices { get; init; } = [];
}
