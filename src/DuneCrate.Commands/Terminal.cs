using DuneCrate.Foundation.Documents;

namespace DuneCrate.Commands;

/// <summary>What verbs say. Names of files and words of people may hold anything; here they do nothing to the terminal.</summary>
public static class Terminal
{
    /// <summary>A line of results on standard output.</summary>
    public static void Say(string line) => Console.Out.WriteLine(VisibleText.Clean(line));

    /// <summary>A line of messages on standard error.</summary>
    public static void Tell(string line) => Console.Error.WriteLine(VisibleText.Clean(line.ReplaceLineEndings(" ")));

    /// <summary>A document on standard output, as it is.</summary>
    public static void Write(string document) => Console.Out.Write(document);
}
