namespace DuneCrate.Planning.Edits;

/// <summary>An item, a layer, and the role that is to stand in the grid: a role's words, or nothing for shown.</summary>
public sealed record RoleText(string Item, string Layer, string Text);
