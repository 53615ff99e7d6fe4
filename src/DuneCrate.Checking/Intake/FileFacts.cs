using System.Collections.Immutable;
using System.Text.Json.Serialization;
using DuneCrate.Checking.Rebuild;
using DuneCrate.Exr;
using DuneCrate.Foundation.Frames;
using DuneCrate.Foundation.Passes;

namespace DuneCrate.Checking.Intake;

/// <summary>What one file says and contains. Immutable; a file that cannot be read keeps whatever could be.</summary>
public sealed record FileFacts
{
    /// <summary>Path relative to the folder, with <c>/</c>.</summary>
    public required string Path { get; init; }

    /// <summary>Format by content where it is known, else by extension: exr, png …</summary>
    public required string Format { get; init; }

    /// <summary>Size in bytes.</summary>
    public long Bytes { get; init; }

    /// <summary>Time of the last change, UTC.</summary>
    public DateTime Modified { get; init; }

    /// <summary>Whether the file opens as an image.</summary>
    public bool Readable { get; init; }

    /// <summary>What is wrong with it in words, or null.</summary>
    public string? Problem { get; init; }

    /// <summary>What sort of trouble <see cref="Problem"/> is.</summary>
    public ImageProblem Trouble { get; init; }

    /// <summary>Lines of the first part that are lost, in data window coordinates; null when none are.</summary>
    [JsonIgnore(Condition = JsonIgnoreCondition.WhenWritingNull)]
    public FrameSet? LostLines { get; init; }

    /// <summary>
    /// Chunks that the file's own table does not give and that were found by walking through it. Other readers may stop at them.
    /// </summary>
    [JsonIgnore(Condition = JsonIgnoreCondition.WhenWritingDefault)]
    public int MendedChunks { get; init; }

    /// <summary>
    /// XXH3 (128 bit) of the whole file as it was read for these facts; empty at header depth, and when the file was written to meanwhile.
    /// </summary>
    [JsonIgnore]
    public ImmutableArray<byte> Content { get; init; } = [];

    /// <summary>Whether they hold for this moment only, so that they are not remembered.</summary>
    [JsonIgnore]
    public bool IsTransient => Trouble is ImageProblem.Tiny or ImageProblem.Changing or ImageProblem.NotRead;

    /// <summary>The parts.</summary>
    public ImmutableArray<PartFacts> Parts { get; init; } = [];

    /// <summary>
    /// How far the light passes are from the beauty, when all of them are in this file and the plan says what sums to what.
    /// </summary>
    [JsonIgnore(Condition = JsonIgnoreCondition.WhenWritingNull)]
    public RebuildFacts? Rebuild { get; init; }

    /// <summary>Every channel of every part.</summary>
    [JsonIgnore]
    public IEnumerable<ChannelFacts> Channels => Parts.SelectMany(p => p.Channels);

    /// <summary>
    /// The same facts with the names that the plan gives the channels of the one pass that the file holds; what stands for none of them
    /// keeps its own.
    /// </summary>
    public FileFacts As(HeldPass held)
    {
        if (held.Channels.All(c => FindChannel(c)?.Pass == held.Pass))
        {
            return this;
        }

        ILookup<string, string> planned = held.Match([.. Channels.Select(c => c.Name)]).ToLookup(m => m.Stored, m => m.Planned);
        return this with
        {
            Parts = [.. Parts.Select(p => p with { Channels = [.. p.Channels.SelectMany(c => Renamed(c, planned[c.Name], held.Pass))] })],
        };
    }

    private static IEnumerable<ChannelFacts> Renamed(ChannelFacts channel, IEnumerable<string> planned, string pass) =>
        planned
            .Select(name => channel with { Name = name, StoredAs = name == channel.Name ? null : channel.Name, Pass = pass })
            .DefaultIfEmpty(channel);

    /// <summary>The channel of a name in whichever part, or null.</summary>
    public ChannelFacts? FindChannel(string name)
    {
        foreach (PartFacts part in Parts)
        {
            foreach (ChannelFacts channel in part.Channels)
            {
                if (channel.Name == name)
                {
                    return channel;
                }
            }
        }

        return null;
    }
}
