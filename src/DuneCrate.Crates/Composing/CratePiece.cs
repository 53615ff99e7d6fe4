using System.Collections.Immutable;
using DuneCrate.Checking.Intake;
using DuneCrate.Checking.Matching;
using DuneCrate.Foundation.Passes;
using DuneCrate.Planning.Model;

namespace DuneCrate.Crates.Composing;

/// <summary>A planned output with the files that go in and the passes that are taken.</summary>
/// <param name="Checked">The output with its files.</param>
/// <param name="Files">One file for each frame.</param>
/// <param name="Passes">The passes that are taken.</param>
internal sealed record CratePiece(CheckedOutput Checked, ImmutableSortedDictionary<int, CheckedFile> Files, ImmutableArray<PassPlan> Passes)
{
    private readonly Dictionary<string, bool> _isTooBright = [];

    /// <summary>The planned output.</summary>
    public PlannedOutput Output => Checked.Planned!;

    /// <summary>What a file says that has the channels of most of them; null when none opens.</summary>
    public FileFacts? Facts { get; } = Checked.ByShape.OrderByDescending(s => s.Count()).FirstOrDefault()?.First().Facts;

    /// <summary>Whether all files are OpenEXR; others are never converted.</summary>
    public bool IsExr { get; } = Files.Values.All(f => f.Facts.Format == "exr");

    /// <summary>Passes of the output that stay out.</summary>
    public IEnumerable<PassPlan> Dropped => Output.Passes.Where(p => !Passes.Contains(p));

    /// <summary>Whether a channel has samples in any file that half does not hold.</summary>
    public bool IsTooBright(string channel)
    {
        if (!_isTooBright.TryGetValue(channel, out bool known))
        {
            known = Files.Values.Any(f =>
                f.Find(channel)?.Samples is { } s && Math.Max(Math.Abs(s.Min), Math.Abs(s.Max)) > Converting.HalfLoss.Most
            );
            _isTooBright[channel] = known;
        }

        return known;
    }

    /// <summary>
    /// The type of a channel's samples when it is asked to be another: never for data, identity and what half does not hold.
    /// </summary>
    public ChannelType? TypeFor(PassPlan pass, ChannelFacts channel, IReadOnlyDictionary<PassKind, ChannelType>? asked) =>
        Output.Plan.Catalogue.Find(pass.Pass) is { IsExact: false } definition
        && asked?.TryGetValue(definition.Kind, out ChannelType type) == true
        && type != channel.Type
        && channel.Type is ChannelType.Half or ChannelType.Float
        && !(type == ChannelType.Half && IsTooBright(channel.Name))
            ? type
            : null;
}
