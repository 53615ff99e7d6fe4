using System.Collections.Immutable;
using DuneCrate.Checking.Intake;
using DuneCrate.Checking.Intake.Gathering;
using DuneCrate.Checking.Rebuild;
using DuneCrate.Foundation.Frames;
using DuneCrate.Foundation.Naming;
using DuneCrate.Foundation.Passes;
using DuneCrate.Foundation.Rules;
using DuneCrate.Planning.Model;

namespace DuneCrate.Checking.Matching;

/// <summary>
/// What rules are asked about: plan and facts, matched once. Files are matched to outputs by name alone, so that the result does
/// not depend on the order in which they came.
/// </summary>
public sealed class CheckContext
{
    /// <summary>Strays whose names are compared with the outputs'; a folder with more of them is no slip of a hand.</summary>
    private const int MostCompared = 2_000;

    /// <summary>Matches an intake to a plan.</summary>
    /// <param name="plan">The plan, or null.</param>
    /// <param name="intake">What was found.</param>
    public CheckContext(Plan? plan, IntakeResult intake)
    {
        (Plan, Intake) = (plan, intake);
        if (!IsPlanned)
        {
            Outputs =
            [
                .. intake.Sequences.Select(s => new CheckedOutput(
                    null,
                    s.Name,
                    LayerOf(s.Name),
                    FilesOf(s, intake.Held.GetValueOrDefault(s.Name)),
                    FrameSet.Empty
                )),
            ];
            return;
        }

        ImmutableArray<PlannedOutput> outputs = PlannedOutput.From(plan!);
        var names = new OutputNames(outputs);
        var claimed = outputs.ToDictionary(o => o, _ => ImmutableArray.CreateBuilder<CheckedFile>());
        var left = new List<string>();
        foreach (FileSequence sequence in intake.Sequences)
        {
            PlannedOutput? whole = names.FindWhole(sequence);
            foreach (SequenceFile file in sequence.Files)
            {
                if (whole is not null)
                {
                    claimed[whole].Add(FileOf(file.Path, file.Frame, file.Digits, whole.Held));
                }
                else if (names.Find(file.Path) is { } claim)
                {
                    claimed[claim.Output].Add(FileOf(file.Path, claim.Frame, claim.Digits, claim.Output.Held));
                }
                else
                {
                    left.Add(file.Path);
                }
            }
        }

        Strays =
        [
            .. SideBySide
                .Map(
                    SequenceFinder.Find(left),
                    (s, i) => i < MostCompared ? Stray(s, outputs) : new StraySequence(s, null, 0, StrayKind.Unplanned)
                )
                .Select(s => s.Kind == StrayKind.Misnamed && FillsNothing(s) ? s with { Kind = StrayKind.Unplanned } : s),
        ];
        // A name that is near by chance: every frame that it could be a slip of is there.
        bool FillsNothing(StraySequence stray) =>
            claimed[stray.Nearest!].Select(f => f.Frame).ToHashSet().IsSupersetOf(stray.Sequence.Frames);

        ILookup<PlannedOutput, FrameSet> misnamed = Strays.Where(s => s.IsMisnamed).ToLookup(s => s.Nearest!, s => s.Sequence.Frames);
        Outputs =
        [
            .. outputs.Select(o => new CheckedOutput(o, o.Name, o.Layer.Name, claimed[o].ToImmutable(), FrameSet.UnionOf(misnamed[o]))),
        ];
    }

    /// <summary>The plan, or null.</summary>
    public Plan? Plan { get; }

    /// <summary>Whether anything is planned; without it sequences are held against themselves.</summary>
    public bool IsPlanned => Plan is { Layers.IsEmpty: false };

    /// <summary>What was found.</summary>
    public IntakeResult Intake { get; }

    /// <summary>The time at which files are judged, UTC: that of the reading.</summary>
    public DateTime Now => Intake.Taken;

    /// <summary>Planned outputs with their files; without a plan every sequence.</summary>
    public ImmutableArray<CheckedOutput> Outputs { get; }

    /// <summary>Sequences that no output claims; without a plan none.</summary>
    public ImmutableArray<StraySequence> Strays { get; } = [];

    /// <summary>Whether an output lies in a folder that may not be read: its frames are not known to be missing.</summary>
    public bool IsClosed(CheckedOutput output) => Intake.Closed.Any(output.IsIn);

    /// <summary>The checkedOutput of the output that a stray sequence is nearest to.</summary>
    public CheckedOutput OutputOf(StraySequence stray) => Outputs.First(l => l.Planned == stray.Nearest);

    /// <summary>Paths that differ only in letter case, in groups.</summary>
    public IReadOnlyList<string[]> CaseClashes =>
        field ??=
            new HashSet<string>(Intake.Facts.Keys, StringComparer.OrdinalIgnoreCase).Count == Intake.Facts.Count
                ? []
                :
                [
                    .. Intake
                        .Facts.Keys.GroupBy(p => p, StringComparer.OrdinalIgnoreCase)
                        .Where(g => g.Count() > 1)
                        .Select(g => g.Order(StringComparer.Ordinal).ToArray())
                        .OrderBy(g => g[0], StringComparer.Ordinal),
                ];

    /// <summary>What the show changes about a rule, or null.</summary>
    public RuleSetting? Setting(Rule rule) => rule.SettingIn(Plan?.Show.Rules);

    /// <summary>A show's threshold of a rule, or the rule's own.</summary>
    public double Threshold(Rule rule, RuleThreshold threshold) => rule.ValueOf(threshold, Plan?.Show.Rules);

    /// <summary>The rebuild of a layer at a frame, or null when it was not measured.</summary>
    public RebuildFacts? Rebuild(CheckedOutput checkedOutput, CheckedFile file) =>
        file.Facts.Rebuild
        ?? (checkedOutput.Planned?.HasBeauty == true ? Intake.Rebuilds.GetValueOrDefault((checkedOutput.Layer, file.Frame)) : null);

    private ImmutableArray<CheckedFile> FilesOf(FileSequence sequence, HeldPass? held) =>
        [.. sequence.Files.Select(f => FileOf(f.Path, f.Frame, f.Digits, held))];

    private CheckedFile FileOf(string path, int frame, int digits, HeldPass? held) =>
        new(frame, digits, held is null ? Intake.Facts[path] : Intake.Facts[path].As(held));

    private static string LayerOf(FrameName name) => name.Prefix.IndexOf('/') is > 0 and int slash ? name.Prefix[..slash] : "";

    /// <summary>A file whose number stands where none is looked for is tried as a frame of each number in its name.</summary>
    private static StraySequence Stray(FileSequence sequence, ImmutableArray<PlannedOutput> outputs)
    {
        StraySequence asItIs = Named(sequence, outputs);
        return asItIs.IsMisnamed || !sequence.HasNoFrameNumber
            ? asItIs
            : NameSlip.AtEachNumber(sequence).Select(s => Named(s, outputs)).FirstOrDefault(s => s.IsMisnamed) ?? asItIs;
    }

    private static StraySequence Named(FileSequence sequence, ImmutableArray<PlannedOutput> outputs)
    {
        FrameName name = sequence.Name;
        if (
            name.Suffix.Length == 0
            && name.Padding > 0
            && name.Prefix.EndsWith('.')
            && name.Prefix.LastIndexOf('.', name.Prefix.Length - 2) is > 0 and int dot
        )
        {
            (string prefix, string suffix) = (name.Prefix[..(dot + 1)], name.Prefix[dot..^1]);
            if (outputs.FirstOrDefault(o => o.Name.Prefix == prefix && o.Name.Suffix == suffix) is { } reordered)
            {
                return new StraySequence(sequence, reordered, 0, StrayKind.Order);
            }
        }

        (PlannedOutput? output, int distance) = Nearest(name.Prefix + name.Suffix, sequence.Frames, outputs);
        return new StraySequence(
            sequence,
            output,
            distance,
            output is null ? StrayKind.Unplanned : StraySequence.KindOf(name, output.Name, distance)
        );
    }

    /// <summary>The output whose name is nearest; of equally near ones the one that lacks the frames is meant.</summary>
    private static (PlannedOutput? Output, int Distance) Nearest(string name, FrameSet frames, ImmutableArray<PlannedOutput> outputs)
    {
        (PlannedOutput? best, int distance) = (null, int.MaxValue - 1);
        long outside = 0;
        foreach (PlannedOutput output in outputs)
        {
            int found = EditDistance.Between(output.Name.Prefix + output.Name.Suffix, name, distance);
            if (found > distance)
            {
                continue;
            }

            long lacks = frames.Except(output.Frames).LongCount;
            if (best is null || found < distance || lacks < outside)
            {
                (best, distance, outside) = (output, found, lacks);
            }
        }

        return (best, best is null ? 0 : distance);
    }
}
