using System.Collections.Immutable;
using DuneCrate.Checking.Intake;
using DuneCrate.Crates.Converting;
using DuneCrate.Crates.Recipes;
using DuneCrate.Exr;
using DuneCrate.Foundation.Passes;
using DuneCrate.Imaging;
using DuneCrate.Imaging.Colour;
using DuneCrate.Planning.Model;

namespace DuneCrate.Crates.Composing;

/// <summary>Works out how the files of a crate are made from the rendered ones as a recipe asks, from facts alone.</summary>
internal sealed class ConversionPlanner(Plan plan, CrateRecipe recipe)
{
    private readonly ExrCompression? _compression = ExrCompression.Find(recipe.Compression);
    private readonly HeaderAdditions _header = new(
        recipe.Header?.FrameRate == true ? plan.Shot.FrameRate : null,
        recipe.Header?.Camera == true && plan.Shot.Camera.Length > 0 ? plan.Shot.Camera : null,
        null
    );
    private readonly Primaries? _space = recipe.Header?.ColourSpace == true ? Primaries.OfSpace(plan.Show.ColourSpace) : null;

    /// <summary>Whether files that are to be taken apart or put together have nothing of what is wanted of them.</summary>
    public bool LeavesNothing(ImmutableArray<CrateMember> members) =>
        recipe.Files != RecipeFiles.AsTheyAre && members.All(m => m.Passes.All(p => !Find(m, p).Any()));

    /// <summary>How a file is made; null when a copy of its only source is what is wanted.</summary>
    public FileConversion? For(ImmutableArray<CrateMember> members)
    {
        ImmutableArray<ConvertedPart> parts = recipe.Files switch
        {
            RecipeFiles.AsTheyAre => AsTheyAre(members[0]),
            RecipeFiles.Parts =>
            [
                .. members.SelectMany(
                    (m, i) => m.Passes.Select(p => new ConvertedPart(p.Pass, [.. Converted(m, p, i).DistinctBy(c => c.Name)]))
                ),
            ],
            _ => [new ConvertedPart(null, [.. members.SelectMany(Channels).DistinctBy(c => c.Name)])],
        };
        IEnumerable<ConvertedChannel> Converted(CrateMember member, PassPlan pass, int source) =>
            ChannelsOf(member, pass, source, Taken(members, pass)).Select(c => c.Channel);
        IEnumerable<ConvertedChannel> Channels(CrateMember member, int source) =>
            member.Passes.SelectMany(p => Converted(member, p, source)).DistinctBy(c => c.Name);
        parts = [.. parts.Where(IsFilled)];
        if (parts.IsEmpty)
        {
            // A file that does not open goes in as it came.
            return null;
        }

        bool isColour = members.Any(m => m.Passes.Any(p => plan.Catalogue.Find(p.Pass)?.IsColour == true));
        var conversion = new FileConversion(parts, _compression, recipe.Window, isColour ? _header with { Space = _space } : _header);
        return members.Length == 1 && ChangesNothing(members[0].File.Facts, conversion) ? null : conversion;
    }

    private static bool IsFilled(ConvertedPart part) => !part.Channels.IsEmpty;

    /// <summary>Names of channels that other passes of the file have.</summary>
    private static Func<string, bool> Taken(ImmutableArray<CrateMember> members, PassPlan pass)
    {
        return name => members.Any(m => m.Passes.Any(p => p != pass && p.Channels.ContainsKey(name)));
    }

    /// <summary>The channels of a pass: where they are in the rendered file, and what becomes of them.</summary>
    public IEnumerable<(string Planned, ConvertedChannel Channel)> ChannelsOf(
        CrateMember member,
        PassPlan pass,
        int source,
        Func<string, bool> isTaken
    )
    {
        (string Planned, ChannelFacts Facts, int Part)[] found = [.. Find(member, pass)];
        PassDefinition? definition = plan.Catalogue.Find(pass.Pass);
        string[] names = recipe.Files switch
        {
            RecipeFiles.AsTheyAre => [.. found.Select(f => f.Facts.StoredAs ?? f.Facts.Name)],
            RecipeFiles.PerPass => ChannelNaming.Alone(
                [.. found.Select(f => f.Planned)],
                definition?.Has(PassMeasures.Cryptomatte) == true
            ),
            _ => [.. found.Select(f => ChannelNaming.Together(pass.Pass, f.Planned, isTaken))],
        };
        for (int i = 0; i < found.Length; i++)
        {
            (string planned, ChannelFacts channel, int part) = found[i];
            string? alpha = found
                .Where(f => f.Part == part && ChannelNames.IsAlpha(f.Planned))
                .Select(f => f.Facts.StoredAs ?? f.Facts.Name)
                .FirstOrDefault();
            AlphaStep step = alpha is null || ChannelNames.IsAlpha(planned) ? AlphaStep.None : StepFor(member, definition);
            var converted = new ConvertedChannel(
                source,
                part,
                channel.StoredAs ?? channel.Name,
                names[i],
                member.Piece.TypeFor(pass, channel, recipe.Types),
                step,
                step == AlphaStep.None ? null : alpha
            );
            yield return (planned, converted);
        }
    }

    /// <summary>What is done to colours that have an alpha of their own.</summary>
    public AlphaStep StepFor(CrateMember member, PassDefinition? definition)
    {
        if (recipe.Alpha is not { } asked || definition?.Kind is not (PassKind.Combined or PassKind.Light))
        {
            return AlphaStep.None;
        }

        bool isStraight = member.Piece.Output.Layer.Alpha == AlphaMode.Straight;
        return (isStraight, asked) switch
        {
            (true, AlphaMode.Premultiplied) => AlphaStep.Premultiply,
            (false, AlphaMode.Straight) => AlphaStep.Unpremultiply,
            _ => AlphaStep.None,
        };
    }

    /// <summary>
    /// The channels of a pass that a file has. One that holds a single pass may bring an alpha that nobody planned.
    /// </summary>
    private IEnumerable<(string Planned, ChannelFacts Facts, int Part)> Find(CrateMember member, PassPlan pass)
    {
        foreach (string planned in pass.Channels.Keys)
        {
            if (FindIn(member.File.Facts, planned) is { } found)
            {
                yield return (planned, found.Facts, found.Part);
            }
        }

        if (
            member.Piece.Output.Held is not null
            && plan.Catalogue.Find(pass.Pass)?.Kind is PassKind.Combined or PassKind.Light
            && !pass.Channels.Keys.Any(ChannelNames.IsAlpha)
            && FindIn(member.File.Facts, "A") is { } alpha
        )
        {
            yield return (pass.Pass == PassKeys.Beauty ? "A" : $"{pass.Pass}.A", alpha.Facts, alpha.Part);
        }
    }

    private static (ChannelFacts Facts, int Part)? FindIn(FileFacts file, string name)
    {
        for (int p = 0; p < file.Parts.Length; p++)
        {
            if (file.Parts[p].Channels.FirstOrDefault(c => c.Name == name) is { } found)
            {
                return (found, p);
            }
        }

        return null;
    }

    /// <summary>All parts and channels as they are, without those that only passes have which stay out.</summary>
    private ImmutableArray<ConvertedPart> AsTheyAre(CrateMember member)
    {
        FileFacts facts = member.File.Facts;
        HashSet<string> kept = [.. member.Passes.SelectMany(p => p.Channels.Keys)],
            gone = [.. member.Piece.Dropped.SelectMany(p => p.Channels.Keys).Where(c => !kept.Contains(c))];
        ILookup<(int Part, string From), ConvertedChannel> planned = member
            .Passes.SelectMany(p => ChannelsOf(member, p, 0, _ => false).Select(c => c.Channel))
            .ToLookup(c => (c.Part, c.From));
        return
        [
            .. facts.Parts.Select(
                (p, i) =>
                    new ConvertedPart(
                        facts.Parts.Length == 1 ? null : p.Name,
                        [
                            .. p
                                .Channels.Where(c => !gone.Contains(c.Name))
                                .Select(c => c.StoredAs ?? c.Name)
                                .Distinct()
                                .Select(c => planned[(i, c)].FirstOrDefault() ?? new ConvertedChannel(0, i, c, c)),
                        ]
                    )
            ),
        ];
    }

    /// <summary>Whether a copy would be the same: nothing lacks, nothing goes, nothing is called or stored otherwise.</summary>
    private static bool ChangesNothing(FileFacts facts, FileConversion conversion) =>
        facts.MendedChunks == 0
        && facts.Parts.Length == conversion.Parts.Length
        && facts.Parts.Select((p, i) => ChangesNothing(p, conversion.Parts[i], conversion)).All(same => same);

    private static bool ChangesNothing(PartFacts facts, ConvertedPart part, FileConversion conversion) =>
        (part.Name is null || part.Name == facts.Name)
        && facts.Channels.Select(c => c.StoredAs ?? c.Name).Distinct().Count() == part.Channels.Length
        && part.Channels.All(c => c.Name == c.From && c.Type is null && c.Step == AlphaStep.None)
        && (conversion.Compression is null || conversion.Compression.Name == facts.Compression)
        && conversion.Window switch
        {
            RecipeWindow.Display => facts.DataWindow == facts.DisplayWindow,
            RecipeWindow.Content => false,
            _ => true,
        }
        && conversion.Header.Missing(facts).IsEmpty;
}
