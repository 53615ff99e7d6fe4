using System.Collections.Immutable;
using DuneCrate.Core.Checks.Findings;
using DuneCrate.Core.Checks.Matching;
using DuneCrate.Core.Frames;
using DuneCrate.Core.Intake;
using DuneCrate.Core.Passes;
using DuneCrate.Core.Planning.Model;
using DuneCrate.Core.Rules;

namespace DuneCrate.Core.Checks.Remedies;

/// <summary>The other way to settle a finding: what came is what is wanted, and the plan is changed to it.</summary>
/// <param name="After">The plan that agrees with what came.</param>
/// <param name="What">What is changed, for the list of versions: "sub plans frames 1001-1050".</param>
public sealed record Replan(Plan After, string What)
{
    private delegate Replan? Change(Finding finding, CheckContext context, CheckedOutput lane, FileFacts? came);

    private static readonly Dictionary<string, Change> ByRule = new()
    {
        ["frames.extra"] = (f, c, l, _) => PlanFrames(c, l, l.Planned!.Frames.Union(f.Frames)),
        ["frames.missing"] = (f, c, l, _) => PlanFrames(c, l, l.Planned!.Frames.Except(f.Frames)),
        ["frames.still"] = (_, c, l, _) => PlanFrames(c, l, l.Frames),
        ["outputs.missing"] = (_, c, l, _) => SwitchOff(c, l, l.Planned!.Passes),
        ["pixels.black"] = (f, c, l, _) =>
            f.Frames.Equals(l.Frames) && f.Severity != Severity.Blocker
                ? SwitchOff(c, l, [.. l.Planned!.Passes.Where(p => p.Pass == f.Pass)])
                : null,
        ["channels.extra"] = (_, c, l, came) =>
            came is null ? null : AddChannels(c, l, [.. came.Channels.Where(x => !ChannelMatch.IsPlanned(l, x.Name) && x.Name != "A")]),
        ["channels.missing"] = (f, c, l, came) => came is null ? null : DropChannels(c, l, f.Pass!, came, isAlpha: false),
        ["channels.alpha"] = (f, c, l, came) =>
            came is null ? null
            : f.Expected == "no alpha" ? AddAlpha(c, l, f.Pass!, came)
            : DropChannels(c, l, f.Pass!, came, isAlpha: true),
        ["channels.name"] = (f, c, l, came) => came is null ? null : RenameChannels(c, l, f.Pass!, came),
        ["channels.type"] = (f, c, l, came) => came is null ? null : SetTypes(c, l, f.Pass!, came),
        ["format.resolution"] = (_, c, _, came) =>
            First(came) is { } p
                ? OfShot(
                    c,
                    s => s with { Width = (int)p.DisplayWindow.Width, Height = (int)p.DisplayWindow.Height },
                    $"the shot is {p.DisplayWindow.Width} × {p.DisplayWindow.Height}"
                )
                : null,
        ["format.data-window"] = (_, c, _, came) =>
            First(came)?.Overscan is { } border && border != c.Plan!.Shot.Overscan
                ? OfShot(
                    c,
                    s => s with { Overscan = border },
                    border > 0 ? $"the shot has {border} pixels of overscan" : "the shot has no overscan"
                )
                : null,
        ["format.aspect"] = (_, c, _, came) =>
            First(came) is { } p
                ? OfShot(c, s => s with { PixelAspectRatio = p.PixelAspectRatio }, $"pixels are {p.PixelAspectRatio:0.####} wide")
                : null,
        ["format.rate"] = (_, c, _, came) =>
            First(came)?.FrameRate is { } rate ? OfShot(c, s => s with { FrameRate = rate }, $"the shot runs at {rate.ToDisplay()}") : null,
        ["format.camera"] = (_, c, _, came) =>
            First(came)?.Camera is { } camera ? OfShot(c, s => s with { Camera = camera }, $"the camera is {camera}") : null,
        ["format.compression"] = (_, c, l, came) =>
            First(came)?.Compression is { } how
                ? OfOutput(c, l, o => o with { Compression = how }, $"{l.Key} is compressed with {how}")
                : null,
        ["rebuild.terms"] = (_, c, l, _) => Sum(c, l),
    };

    /// <summary>Whether a rule's findings can be settled so, as far as the rule says.</summary>
    public static bool IsFor(Finding finding) => finding.Rule == "outputs.unplanned" || ByRule.ContainsKey(finding.Rule);

    /// <summary>The change that settles a finding, or null when none does: the plan cannot be made to say that, or nothing would be left of it.</summary>
    /// <param name="finding">The finding.</param>
    /// <param name="context">What it was found in.</param>
    public static Replan? Create(Finding finding, CheckContext context)
    {
        if (context.Plan is null)
        {
            return null;
        }

        if (finding.Rule == "outputs.unplanned")
        {
            return context.Strays.FirstOrDefault(s => s.Sequence.Name.ToString() == finding.Output) is { } stray
                ? AddOutput(context, stray)
                : null;
        }

        if (
            !ByRule.TryGetValue(finding.Rule, out Change? change)
            || context.Outputs.FirstOrDefault(l => l.Key == finding.Output) is not { Planned: not null } lane
        )
        {
            return null;
        }

        FileFacts? came = finding.Frames.Select(f => lane.ByFrame.GetValueOrDefault(f)?.Facts).FirstOrDefault(f => f is { Readable: true });
        return change(finding, context, lane, came);
    }

    private static PartFacts? First(FileFacts? came) => came is { Parts: [var first, ..] } ? first : null;

    private static Replan OfShot(CheckContext context, Func<ShotPlan, ShotPlan> change, string what) =>
        new(context.Plan! with { Shot = change(context.Plan.Shot) }, what);

    private static Replan OfOutput(CheckContext context, CheckedOutput lane, Func<OutputPlan, OutputPlan> change, string what) =>
        new(WithOutput(context.Plan!, lane.Planned!, change), what);

    private static Replan OfPass(CheckContext context, CheckedOutput lane, string pass, Func<PassPlan, PassPlan> change, string what) =>
        OfOutput(context, lane, o => o with { Passes = [.. o.Passes.Select(p => p.Pass == pass ? change(p) : p)] }, what);

    private static Plan WithOutput(Plan plan, PlannedOutput planned, Func<OutputPlan, OutputPlan> change) =>
        plan with
        {
            Layers =
            [
                .. plan.Layers.Select(l =>
                    l.Name != planned.Layer.Name
                        ? l
                        : l with
                        {
                            Outputs = [.. l.Outputs.Select(o => ReferenceEquals(o, planned.Output) ? change(o) : o)],
                        }
                ),
            ],
        };

    private static Replan? PlanFrames(CheckContext context, CheckedOutput lane, FrameSet frames)
    {
        if (frames.IsEmpty)
        {
            return null;
        }

        PlannedOutput planned = lane.Planned!;
        FrameSet inherited = planned.Layer.Frames ?? planned.Shot.Frames;
        FrameSet? own = frames.Equals(inherited) ? null : frames;
        string what = $"{lane.Key} plans {(frames.IsStill ? "frame" : "frames")} {frames}";
        return planned.Output.IsPerPass
            ? OfPass(context, lane, planned.Passes[0].Pass, p => p with { Frames = own }, what)
            : OfOutput(context, lane, o => o with { Frames = own }, what);
    }

    private static Replan SwitchOff(CheckContext context, CheckedOutput lane, ImmutableArray<PassPlan> passes)
    {
        var names = passes.Select(p => p.Pass).ToHashSet();
        return OfOutput(
            context,
            lane,
            o => o with { Passes = [.. o.Passes.Select(p => names.Contains(p.Pass) ? p with { Off = true } : p)] },
            $"{string.Join(", ", names)} of {lane.Layer} switched off"
        );
    }

    private static Replan? AddChannels(CheckContext context, CheckedOutput lane, ChannelFacts[] channels)
    {
        if (channels.Length == 0)
        {
            return null;
        }

        PlannedOutput planned = lane.Planned!;
        channels = [.. channels.OrderBy(c => Place(c.Name, lane.Catalogue))];
        return OfOutput(
            context,
            lane,
            output =>
            {
                // A file per pass holds what belongs to its pass, whatever the channels are called.
                foreach (
                    IGrouping<string, ChannelFacts> added in channels.GroupBy(c =>
                        planned.Output.IsPerPass ? planned.Passes[0].Pass : PlanGuess.PassOf(c.Name, lane.Catalogue)
                    )
                )
                {
                    int index = output.Passes.ToList().FindIndex(p => p.Pass == added.Key);
                    PassPlan pass = index >= 0 ? output.Passes[index] : new PassPlan { Pass = added.Key };
                    pass = pass with
                    {
                        Off = false,
                        Channels = new OrderedDictionary<string, ChannelType>(
                            pass.Channels.Concat(added.Select(c => KeyValuePair.Create(c.Name, c.Type)))
                        ),
                    };
                    output = output with { Passes = index >= 0 ? output.Passes.SetItem(index, pass) : output.Passes.Add(pass) };
                }

                return output;
            },
            $"{string.Join(" ", channels.Select(c => c.Name))} planned in {lane.Key}"
        );
    }

    /// <summary>Where the catalogue has a channel among those of its pass: red before green before blue.</summary>
    private static int Place(string channel, PassCatalogue catalogue) =>
        catalogue.Find(PlanGuess.PassOf(channel, catalogue))?.Channels.IndexOf(ChannelNames.LastOf(channel)) is >= 0 and int place
            ? place
            : int.MaxValue;

    private static Replan? AddAlpha(CheckContext context, CheckedOutput lane, string pass, FileFacts came) =>
        came.FindChannel("A") is not { } alpha
            ? null
            : OfPass(
                context,
                lane,
                pass,
                p =>
                    p with
                    {
                        Channels = new OrderedDictionary<string, ChannelType>(p.Channels.Append(KeyValuePair.Create("A", alpha.Type))),
                    },
                $"{pass} of {lane.Layer} has an alpha"
            );

    private static Replan? DropChannels(CheckContext context, CheckedOutput lane, string pass, FileFacts came, bool isAlpha)
    {
        string[] absent =
        [
            .. lane
                .Passes.First(p => p.Name == pass)
                .Channels.Select(c => c.Name)
                .Where(c => came.FindChannel(c) is null && ChannelNames.IsAlpha(c) == isAlpha),
        ];
        string what = $"{pass} of {lane.Layer} without {string.Join(" ", absent)}";
        return absent.Length == 0
            ? null
            : OfPass(
                context,
                lane,
                pass,
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
                what
            );
    }

    private static Replan? RenameChannels(CheckContext context, CheckedOutput lane, string pass, FileFacts came)
    {
        CheckedPass planned = lane.Passes.First(p => p.Name == pass);
        var names = planned
            .Channels.Where(c => came.FindChannel(c.Name) is null)
            .Select(c => (c.Name, Came: ChannelMatch.Alias(lane, planned, c.Name, came)))
            .Where(c => c.Came is not null)
            .ToDictionary(c => c.Name, c => c.Came!);
        return names.Count == 0
            ? null
            : OfPass(
                context,
                lane,
                pass,
                p =>
                    p with
                    {
                        Channels = new OrderedDictionary<string, ChannelType>(
                            p.Channels.Select(c => KeyValuePair.Create(names.GetValueOrDefault(c.Key, c.Key), c.Value))
                        ),
                    },
                $"{pass} of {lane.Layer} is stored as {string.Join(" ", names.Values)}"
            );
    }

    private static Replan? SetTypes(CheckContext context, CheckedOutput lane, string pass, FileFacts came)
    {
        ChannelType[] types =
        [
            .. lane.Passes.First(p => p.Name == pass).Channels.Select(c => came.FindChannel(c.Name)?.Type ?? c.Type).Distinct(),
        ];
        return OfPass(
            context,
            lane,
            pass,
            p =>
                p with
                {
                    Channels = new OrderedDictionary<string, ChannelType>(
                        p.Channels.Select(c => KeyValuePair.Create(c.Key, came.FindChannel(c.Key)?.Type ?? c.Value))
                    ),
                },
            $"{pass} of {lane.Layer} is stored as {string.Join(", ", types.Select(t => t.Name()))}"
        );
    }

    private static Replan? Sum(CheckContext context, CheckedOutput lane)
    {
        LayerPlan layer = lane.Planned!.Layer;
        ImmutableArray<RebuildTerm> terms = RebuildSum.Propose(lane.Catalogue, layer.Passes.Select(p => p.Pass));
        return terms.SequenceEqual(layer.Rebuild)
            ? null
            : new Replan(
                context.Plan! with
                {
                    Layers = [.. context.Plan.Layers.Select(l => l.Name == layer.Name ? l with { Rebuild = terms } : l)],
                },
                $"the beauty of {layer.Name} is {(terms.IsEmpty ? "no sum" : string.Join(" + ", terms))}"
            );
    }

    private static Replan? AddOutput(CheckContext context, StraySequence stray)
    {
        Plan plan = context.Plan!;
        FileFacts? first = stray
            .Sequence.Files.Select(f => context.Intake.Facts[f.Path])
            .FirstOrDefault(f => f is { Readable: true, Parts.IsEmpty: false });
        if (first is null)
        {
            return null;
        }

        string name = stray.Sequence.Name.Prefix.IndexOf('/') is > 0 and int slash
            ? stray.Sequence.Name.Prefix[..slash]
            : stray.Nearest?.Layer.Name ?? "frames";
        OutputPlan output = PlanGuess.OutputOf(stray.Sequence, first, plan.Show.Catalogue, plan.Shot.Frames);
        LayerPlan? layer = plan.Layers.FirstOrDefault(l => l.Name == name);

        // A pass stands in one output of a layer; a second file of the same pass cannot be planned.
        if (layer is not null && output.Passes.Any(p => layer.FindPass(p.Pass) is not null))
        {
            return null;
        }

        return new Replan(
            plan with
            {
                Layers = layer is null
                    ? plan.Layers.Add(
                        new LayerPlan
                        {
                            Name = name,
                            Alpha = output.Passes.Any(p => p.Channels.ContainsKey("A")) ? AlphaMode.Premultiplied : AlphaMode.None,
                            Outputs = [output],
                        }
                    )
                    : plan.Layers.Replace(layer, layer with { Outputs = layer.Outputs.Add(output) }),
            },
            $"{stray.Sequence.Name} planned in {name}"
        );
    }
}
