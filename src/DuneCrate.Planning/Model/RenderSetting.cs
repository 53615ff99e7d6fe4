using System.Collections.Immutable;

namespace DuneCrate.Planning.Model;

/// <summary>One render setting that decides what passes will be.</summary>
/// <param name="Name">Name in documents.</param>
/// <param name="Words">Name for people, with the unit.</param>
/// <param name="Kind">What values it takes.</param>
/// <param name="Choices">The words of a choice.</param>
/// <param name="Former">A name that earlier documents give it; null for none.</param>
public sealed record RenderSetting(string Name, string Words, SettingKind Kind, ImmutableArray<string> Choices, string? Former = null);
