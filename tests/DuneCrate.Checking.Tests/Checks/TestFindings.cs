using DuneCrate.Checking.Findings;
using DuneCrate.Foundation.Rules;

namespace DuneCrate.Checking.Tests.Checks;

/// <summary>Findings made up for tests of what is done with them.</summary>
internal static class TestFindings
{
    public static Finding Make(
        string rule,
        Severity severity,
        string output,
        string layer,
        string? pass,
        FrameSet frames,
        RemedyKind kind = RemedyKind.Look
    ) =>
        new()
        {
            Rule = rule,
            Severity = severity,
            Output = output,
            Layer = layer,
            Pass = pass,
            Frames = frames,
            Expected = "this",
            Found = "that",
            Message = "It differs.",
            Remedy = "Look.",
            RemedyKind = kind,
        };
}
