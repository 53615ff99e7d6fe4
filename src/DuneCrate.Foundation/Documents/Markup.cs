namespace DuneCrate.Foundation.Documents;

/// <summary>Text that is markup already and is written as it is. Made by the code alone, never from what people or files say.</summary>
public readonly record struct Markup(string Text);
