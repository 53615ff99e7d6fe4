namespace DuneCrate.Planning.Edits;

/// <summary>A layer (or the show, named by an empty text), a render setting, and its value.</summary>
public sealed record SettingText(string Layer, string Name, string Text);
