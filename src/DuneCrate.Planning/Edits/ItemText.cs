namespace DuneCrate.Planning.Edits;

/// <summary>An item, a column of the roster, and the text that is to stand there.</summary>
public sealed record ItemText(string Item, string Column, string Text);
