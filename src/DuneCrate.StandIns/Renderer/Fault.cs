using System.Diagnostics.CodeAnalysis;
using DuneCrate.Foundation.Frames;

namespace DuneCrate.StandIns.Renderer;

/// <summary>
/// Something that goes wrong on demand: a kind, the layer (with <c>layer.pass</c> the output that holds the pass), and the frames.
/// </summary>
public sealed record Fault(string Kind, string Layer, string? Pass, FrameSet Frames)
{
    /// <summary>The kinds, with what they do.</summary>
    public static readonly IReadOnlyDictionary<string, string> Kinds = new Dictionary<string, string>
    {
        ["missing"] = "the file is not written",
        ["truncated"] = "the file ends after three fifths of its bytes",
        ["empty"] = "the file has no bytes",
        ["nonfinite"] = "a patch of NaN and infinity in the beauty",
        ["wrong-size"] = "rendered at three quarters of the size",
        ["wrong-rate"] = "25 frames a second in the header, or 24 where 25 is right",
        ["wrong-camera"] = "another camera in the header",
        ["dropped-channel"] = "one channel of a light pass is left out",
        ["half-depth"] = "Z written as half",
        ["8-bit"] = "colour quantised to 8-bit sRGB levels",
        ["black"] = "no light at all",
        ["copy"] = "the picture of the frame before once more",
        ["renamed"] = "two letters of the file name swapped",
        ["repadded"] = "one digit more in the number",
        ["unlit"] = "one light pass is zero, the beauty is not",
    };

    /// <summary>Reads what <see cref="TryParse"/> reads.</summary>
    /// <exception cref="FormatException">It is no fault; the message says why.</exception>
    public static Fault Read(string text) =>
        TryParse(text, out Fault? fault, out string? problem) ? fault : throw new FormatException(problem);

    /// <summary>Reads <c>KIND:LAYER:FRAMES</c>, such as <c>missing:sub:1009-1010</c> or <c>truncated:kelp.depth:1022</c>.</summary>
    public static bool TryParse(string text, [NotNullWhen(true)] out Fault? fault, [NotNullWhen(false)] out string? problem)
    {
        fault = null;
        string[] parts = text.Split(':');
        if (parts.Length != 3)
        {
            problem = $"'{text}' is not a fault; write KIND:LAYER:FRAMES, such as missing:sub:1009-1010.";
        }
        else if (!Kinds.ContainsKey(parts[0]))
        {
            problem = $"'{parts[0]}' is not a kind of fault; use {string.Join(", ", Kinds.Keys)}.";
        }
        else if (FrameSet.TryParse(parts[2], out FrameSet? frames, out problem))
        {
            int dot = parts[1].IndexOf('.');
            fault =
                dot < 0 ? new Fault(parts[0], parts[1], null, frames) : new Fault(parts[0], parts[1][..dot], parts[1][(dot + 1)..], frames);
        }

        return fault is not null;
    }
}
