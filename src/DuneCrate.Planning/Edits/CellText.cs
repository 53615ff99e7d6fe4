namespace DuneCrate.Planning.Edits;

/// <summary>A cell and the text that is to stand in it; an empty text takes the pass out.</summary>
public sealed record CellText(string Layer, string Pass, string Text);
