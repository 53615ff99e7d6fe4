using DuneCrate.Foundation.Frames;
using DuneCrate.Foundation.Rules;

namespace DuneCrate.Checking.Findings;

/// <summary>What a receiver says is wrong in a crate, while no newer crate answers it.</summary>
/// <param name="Crate">Name of the crate.</param>
/// <param name="Output">Name of the planned output that it is about; empty for the whole crate.</param>
/// <param name="Layer">The layer; null for the whole crate.</param>
/// <param name="Pass">The pass; null for the whole layer or crate.</param>
/// <param name="Frames">The frames as they were rendered.</param>
/// <param name="Words">What is wrong.</param>
/// <param name="By">Who says so.</param>
public sealed record SentBack(string Crate, string Output, string? Layer, string? Pass, FrameSet Frames, string Words, string By)
{
    /// <summary>Id that its findings have in place of a rule's: no rule finds them, a person does.</summary>
    public const string Id = "crate.sent-back";

    /// <summary>What it is called in lists.</summary>
    public const string Title = "Sent back by the receiver";

    /// <summary>
    /// It as a finding: frames to render again. A warning, since the crate that answers it must be sealed to close it.
    /// </summary>
    public Finding ToFinding() =>
        new()
        {
            Rule = Id,
            Severity = Severity.Warning,
            Output = Output,
            Layer = Layer,
            Pass = Pass,
            Frames = Frames,
            Expected = "what its receiver can work with",
            Found = Words,
            Message = $"{By} sent {Crate} back: {Words.TrimEnd('.')}.",
            Remedy = "Render the frames again and seal the next crate for the same receiver; it answers this.",
            RemedyKind = Layer is null ? RemedyKind.Look : RemedyKind.Rerender,
        };
}
