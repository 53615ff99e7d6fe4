using DuneCrate.Checking.Intake;

namespace DuneCrate.Engine.Messages;

/// <summary>Facts of a file as they travel.</summary>
/// <param name="Facts">The facts.</param>
/// <param name="Content">Hash of the whole file, which facts as a document leave out; empty at header depth.</param>
public sealed record FileFound(FileFacts Facts, byte[] Content)
{
    /// <summary>As they travel.</summary>
    public static FileFound Of(FileFacts facts) => new(facts, [.. facts.Content]);

    /// <summary>As they were.</summary>
    public FileFacts Whole => Facts with { Content = [.. Content] };
}
