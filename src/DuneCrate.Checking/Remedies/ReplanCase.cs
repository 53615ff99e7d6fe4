using System.Collections.Immutable;
using DuneCrate.Checking.Findings;
using DuneCrate.Checking.Intake;
using DuneCrate.Checking.Matching;
using DuneCrate.Foundation.Frames;
using DuneCrate.Foundation.Passes;
using DuneCrate.Planning.Model;

namespace DuneCrate.Checking.Remedies;

/// <summary>A finding with what its rule needs to change the plan to what came, and the changes that several rules make.</summary>
/// <param name="finding">The finding.</param>
/// <param name="context">What it was found in; there is a plan.</param>
public sealed class ReplanCase(Finding finding, CheckContext context)
{
    private readonly CheckedOutput? _output = context.Outputs.FirstOrDefault(o => o.Key == finding.Output && o.Planned is not null);

    /// <summary>The finding.</summary>
    public Finding Finding => finding;

    /// <summary>What it was found in.</summary>
    public CheckContext Context => context;

    /// <summary>The plan.</summary>
    public Plan Plan => context.Plan!;

    /// <summary>The sequence that no output claims and that the finding is about, or null.</summary>
    public StraySequence? Stray { get; } = context.Strays.FirstOrDefault(s => s.Sequence.Name.ToString() == finding.Output);

    /// <summary>Whether the finding is about a planned output.</summary>
    public bool HasOutput => _output is not null;

    /// <summary>The planned output.</summary>
    /// <exception cref="InvalidOperationException">The finding is about none.</exception>
    public CheckedOutput Output => _output ?? throw new InvalidOperationException($"{finding.Output} is no planned output.");

    /// <summary>The output as planned.</summary>
    public PlannedOutput Planned => Output.Planned!;

    /// <summary>The pass as planned.</summary>
    public CheckedPass Pass => Output.Passes.First(p => p.Name == finding.Pass);

    /// <summary>The first file among the finding's frames that opens, or null.</summary>
    public FileFacts? Came =>
        finding.Frames.Select(f => Output.ByFrame.GetValueOrDefault(f)?.Facts).FirstOrDefault(f => f is { Readable: true });

    /// <summary>The first part of that file, or null.</summary>
    public PartFacts? FirstPart => Came is { Parts: [var first, ..] } ? first : null;

    /// <summary>The shot changed.</summary>
    public Replan WithShot(Func<ShotPlan, ShotPlan> change, string what) => new(Plan with { Shot = change(Plan.Shot) }, what);

    /// <summary>The layer changed.</summary>
    public Replan WithLayer(Func<LayerPlan, LayerPlan> change, string what) =>
        new(Plan with { Layers = [.. Plan.Layers.Select(l => l.Name == Planned.Layer.Name ? change(l) : l)] }, what);

    /// <summary>The output changed.</summary>
    public Replan WithOutput(Func<OutputPlan, OutputPlan> change, string what) =>
        WithLayer(
            layer => layer with { Outputs = [.. layer.Outputs.Select(o => ReferenceEquals(o, Planned.Output) ? change(o) : o)] },
            what
        );

    /// <summary>The finding's pass changed.</summary>
    public Replan WithPass(Func<PassPlan, PassPlan> change, string what) => WithPass(finding.Pass!, change, what);

    /// <summary>The channels of the finding's pass changed.</summary>
    public Replan WithChannels(Func<KeyValuePair<string, ChannelType>, KeyValuePair<string, ChannelType>> change, string what) =>
        WithPass(p => p with { Channels = new OrderedDictionary<string, ChannelType>(p.Channels.Select(change)) }, what);

    /// <summary>The output planned at other frames; null for none at all.</summary>
    public Replan? WithFrames(FrameSet frames)
    {
        if (frames.IsEmpty)
        {
            return null;
        }

        FrameSet? own = frames.Equals(Planned.Layer.Frames ?? Planned.Shot.Frames) ? null : frames;
        string what = $"{Output.Key} plans {(frames.IsStill ? "frame" : "frames")} {frames}";
        return Planned.Output.IsPerPass
            ? WithPass(Planned.Passes[0].Pass, p => p with { Frames = own }, what)
            : WithOutput(o => o with { Frames = own }, what);
    }

    /// <summary>Passes of the output switched off.</summary>
    public Replan WithoutPasses(ImmutableArray<PassPlan> passes)
    {
        var names = passes.Select(p => p.Pass).ToHashSet();
        return WithOutput(
            o => o with { Passes = [.. o.Passes.Select(p => names.Contains(p.Pass) ? p with { Off = true } : p)] },
            $"{string.Join(", ", names)} of {Output.Layer} switched off"
        );
    }

    /// <summary>
    /// The finding's pass without channels that did not come: without any left it is switched off; null when all of them came.
    /// </summary>
    /// <param name="which">Which of its channels are in question.</param>
    public Replan? WithoutAbsentChannels(Func<string, bool> which)
    {
        FileFacts? came = Came;
        string[] absent = came is null ? [] : [.. Pass.Channels.Select(c => c.Name).Where(c => which(c) && came.FindChannel(c) is null)];
        return absent.Length == 0
            ? null
            : WithPass(
                p =>
                    p.Channels.Keys.All(absent.Contains)
                        ? p with
                        {
                            Off = true,
                        }
                        : p with
                        {
                            Channels = new OrderedDictionary<string, ChannelType>(p.Channels.Where(c => !absent.Contains(c.Key))),
                        },
                $"{finding.Pass} of {Output.Layer} without {string.Join(" ", absent)}"
            );
    }

    private Replan WithPass(string pass, Func<PassPlan, PassPlan> change, string what) =>
        WithOutput(o => o with { Passes = [.. o.Passes.Select(p => p.Pass == pass ? change(p) : p)] }, what);
}
