using System.Collections.Immutable;
using System.Globalization;
using DuneCrate.Checking.Intake;
using DuneCrate.Checking.Matching;
using DuneCrate.Crates.Converting;
using DuneCrate.Crates.Describing;
using DuneCrate.Crates.Recipes;
using DuneCrate.Foundation.Documents;
using DuneCrate.Foundation.Naming;
using DuneCrate.Foundation.Passes;
using DuneCrate.Planning.Model;

namespace DuneCrate.Crates.Composing;

/// <summary>Works out what a crate will hold: which files go in, under which names, made how; and what stays out and why.</summary>
internal sealed class CrateComposer
{
    private readonly CheckContext _found;
    private readonly Plan _plan;
    private readonly IntakeResult _intake;
    private readonly CrateRecipe _recipe;
    private readonly ConversionPlanner _planner;
    private readonly CrateNames _names;
    private readonly int _shift;
    private readonly Dictionary<FileFacts, string> _stored = new(ReferenceEqualityComparer.Instance);
    private readonly ImmutableArray<LeftOut>.Builder _left = ImmutableArray.CreateBuilder<LeftOut>();

    /// <summary>Begins a crate.</summary>
    public CrateComposer(CheckContext found, string layout, CrateRecipe recipe)
    {
        Plan plan = found.Plan ?? throw new CrateRefusedException("A crate is made of what is planned; plan the shot first.");
        (_found, _plan, _intake, _recipe) = (found, plan, found.Intake, recipe);
        _planner = new ConversionPlanner(plan, recipe);
        _names = new CrateNames(plan, layout, recipe);
        _shift = recipe.FirstFrame is { } first && !plan.Shot.Frames.IsEmpty ? first - plan.Shot.Frames.First : 0;
    }

    /// <summary>Lays out a crate. Of two files that claim one frame the one with the planned digits goes in.</summary>
    /// <exception cref="CrateRefusedException">Two sequences would get the same name, or one would lie outside the crate.</exception>
    public (ImmutableArray<CrateSequence> Sequences, ImmutableArray<LeftOut> LeftOut) Compose()
    {
        string[] layers = [.. _plan.Layers.Select(l => l.Name)],
            unknown = [.. (_recipe.Layers ?? []).Except(layers)];
        if (unknown.Length > 0)
        {
            throw new CrateRefusedException(
                $"The recipe asks for {Words.List(unknown)}, and the plan has no such layer; its layers are {Words.List(layers)}."
            );
        }

        if (_recipe.Frames is { } wanted && !_plan.Shot.Frames.IsEmpty && _plan.Shot.Frames.Intersect(wanted).IsEmpty)
        {
            throw new CrateRefusedException($"Frames {wanted} are wanted, and the shot has {_plan.Shot.Frames}.");
        }

        CratePiece[] pieces =
        [
            .. _found
                .Outputs.Where(o => o.Planned is not null && !o.Files.IsEmpty && !o.Passes.IsEmpty)
                .Select(PieceOf)
                .OfType<CratePiece>(),
        ];
        ImmutableArray<CrateSequence> sequences = [.. Groups(pieces).Select(g => SequenceOf([.. g])).Where(s => !s.Files.IsEmpty)];
        _names.CheckClashes(sequences);
        foreach (StraySequence stray in _found.Strays)
        {
            _left.AddRange(stray.Sequence.Files.Select(f => Stray(stray, f.Path, f.Frame)));
        }

        return (sequences, _left.ToImmutable());
    }

    private LeftOut Stray(StraySequence stray, string path, int frame) =>
        new(
            path,
            _intake.Facts[path].Bytes,
            stray.Kind switch
            {
                StrayKind.Unplanned => "in no output of the plan",
                StrayKind.Version => $"another version of {stray.Nearest!.Key}",
                StrayKind.Format => $"another format than {stray.Nearest!.Key}",
                _ => $"misnamed; meant for {stray.Nearest!.Key}",
            },
            stray.IsMisnamed ? stray.Nearest!.Name.At(frame) : null
        );

    /// <summary>What is taken of an output; null when the recipe wants none of its passes.</summary>
    private CratePiece? PieceOf(CheckedOutput found)
    {
        PlannedOutput output = found.Planned!;
        if (_recipe.Layers?.Contains(output.Layer.Name) == false)
        {
            _left.AddRange(found.Files.Select(f => new LeftOut(f.Facts.Path, f.Facts.Bytes, "its layer is not wanted")));
            return null;
        }

        ImmutableArray<PassPlan> passes = [.. output.Passes.Where(p => _recipe.Takes(p.Pass))];
        if (passes.IsEmpty)
        {
            _left.AddRange(found.Files.Select(f => new LeftOut(f.Facts.Path, f.Facts.Bytes, "not wanted by the recipe")));
            return null;
        }

        var files = ImmutableSortedDictionary.CreateBuilder<int, CheckedFile>();
        foreach (IGrouping<int, CheckedFile> claims in found.Files.GroupBy(f => f.Frame))
        {
            CheckedFile best = claims.OrderBy(f => Math.Abs(f.Digits - output.Name.Padding)).First();
            bool isPlanned = output.Frames.Contains(best.Frame) || output.Name.Padding == 0;
            bool isWanted = _recipe.Frames?.Contains(best.Frame) != false || output.Frames.IsStill;
            if (isPlanned && !isWanted)
            {
                _left.AddRange(claims.Select(f => new LeftOut(f.Facts.Path, f.Facts.Bytes, "not among the frames that are wanted")));
                continue;
            }

            if (isPlanned)
            {
                files.Add(best.Frame, best);
            }

            _left.AddRange(
                claims
                    .Where(f => !isPlanned || f != best)
                    .Select(f => new LeftOut(
                        f.Facts.Path,
                        f.Facts.Bytes,
                        isPlanned ? "another file claims its frame" : "outside the planned frames"
                    ))
            );
        }

        return new CratePiece(found, files.ToImmutable(), passes);
    }

    /// <summary>Pieces and passes that share files in the crate.</summary>
    private IEnumerable<IEnumerable<(CratePiece Piece, ImmutableArray<PassPlan> Passes)>> Groups(CratePiece[] pieces)
    {
        foreach (IGrouping<object, CratePiece> together in pieces.GroupBy(KeyOf))
        {
            CratePiece first = together.First();
            if (_recipe.Files == RecipeFiles.PerPass && first.IsExr)
            {
                foreach (PassPlan pass in first.Passes)
                {
                    yield return [(first, [pass])];
                }
            }
            else
            {
                yield return together.Select(p => (p, p.Passes));
            }
        }
    }

    /// <summary>Only what has the same layer and the same planned frames is put into one file.</summary>
    private object KeyOf(CratePiece piece) =>
        _recipe.Files is RecipeFiles.PerLayer or RecipeFiles.Parts && piece.IsExr
            ? (piece.Output.Layer.Name, piece.Output.Frames.ToString(), piece.Output.Name.Padding == 0)
            : piece;

    private CrateSequence SequenceOf(ImmutableArray<(CratePiece Piece, ImmutableArray<PassPlan> Passes)> members)
    {
        // What stands for the layer comes first: its header is carried on.
        members = [.. members.OrderBy(m => !m.Passes.Any(p => p.Pass == PassKeys.Beauty))];
        (string shortName, FrameName name) = _names.Of(members);
        int shift = name.Padding == 0 ? 0 : _shift;
        var files = ImmutableArray.CreateBuilder<CrateFile>();
        (ImmutableArray<ChannelShape> Shapes, string Stored, bool IsEmpty, FileConversion? Conversion)? last = null;
        bool isExr = members[0].Piece.IsExr;
        foreach (int frame in members.SelectMany(m => m.Piece.Files.Keys).Distinct().Order())
        {
            ImmutableArray<CrateMember> here =
            [
                .. members
                    .Where(m => m.Piece.Files.ContainsKey(frame))
                    .Select(m => new CrateMember(m.Piece, m.Piece.Files[frame], m.Passes)),
            ];
            ImmutableArray<ChannelShape> shapes = [.. here.Select(m => m.File.Shape)];
            string stored = here.Length == 1 ? StoredOf(here[0].File.Facts) : string.Join('|', here.Select(m => StoredOf(m.File.Facts)));
            if (last is not { } known || known.Stored != stored || !known.Shapes.AsSpan().SequenceEqual(shapes.AsSpan()))
            {
                bool leavesNothing = isExr && _planner.LeavesNothing(here);
                last = (shapes, stored, leavesNothing, isExr && !leavesNothing ? _planner.For(here) : null);
            }

            if (last.Value.IsEmpty)
            {
                string wanted = Words.List(here.SelectMany(m => m.Passes).Select(p => p.Pass));
                _left.AddRange(here.Select(m => new LeftOut(m.File.Facts.Path, m.File.Facts.Bytes, $"has no channel of {wanted}")));
                continue;
            }

            FileConversion? conversion = last.Value.Conversion;
            files.Add(
                new CrateFile(
                    [.. here.Select(m => new CrateSource(m.File.Facts.Path, m.File.Facts.Bytes, m.File.Facts.Content))],
                    name.At(frame + shift),
                    frame,
                    conversion
                )
            );
        }

        return new CrateSequence(shortName, name, files.ToImmutable(), [.. Packed(members)], shift);
    }

    /// <summary>What decides, beside its channels, how a file is converted.</summary>
    private string StoredOf(FileFacts facts)
    {
        // The same file is asked about for each of its passes.
        if (!_stored.TryGetValue(facts, out string? known))
        {
            _stored[facts] = known = Stored(facts);
        }

        return known;
    }

    private static string Stored(FileFacts facts) =>
        string.Join(
            ';',
            facts.Parts.Select(p =>
                string.Create(
                    CultureInfo.InvariantCulture,
                    $"{p.Name} {p.Compression} {p.DataWindow} {p.DisplayWindow} {p.FrameRate} {p.Camera is null} {p.ColourSpace is null} "
                        + $"{p.Chromaticities is null}"
                )
            )
        ) + (facts.MendedChunks > 0 ? " mended" : "");

    private IEnumerable<PackedPass> Packed(ImmutableArray<(CratePiece Piece, ImmutableArray<PassPlan> Passes)> members)
    {
        Func<string, bool> taken(PassPlan pass) => name => members.Any(m => m.Passes.Any(p => p != pass && p.Channels.ContainsKey(name)));
        foreach ((CratePiece piece, ImmutableArray<PassPlan> passes) in members)
        {
            CheckedFile? typical = piece.Checked.ByShape.OrderByDescending(s => s.Count()).FirstOrDefault()?.First();
            foreach (PassPlan pass in passes)
            {
                var packed = new PackedPass(piece.Output, pass, piece.Facts)
                {
                    Measured = PassMeasured.Of(pass, _plan.Catalogue.Find(pass.Pass), _plan, [.. piece.Files.Values]),
                };
                if (typical is null)
                {
                    yield return packed;
                    continue;
                }

                var member = new CrateMember(piece, typical, passes);
                (string Planned, ConvertedChannel Channel)[] found = [.. _planner.ChannelsOf(member, pass, 0, taken(pass))];
                ConvertedChannel[] channels = [.. found.Select(c => c.Channel)];
                yield return packed with
                {
                    Channels =
                    [
                        .. found.Select(c => new PackedChannel(
                            c.Planned,
                            c.Channel.From,
                            piece.IsExr ? c.Channel.Name : c.Channel.From,
                            (piece.IsExr ? c.Channel.Type : null) ?? TypeIn(typical.Facts, c.Channel)
                        )),
                    ],
                    Part = _recipe.Files == RecipeFiles.Parts && piece.IsExr ? pass.Pass : null,
                    Alpha = piece.IsExr && channels.Any(c => c.Step != AlphaStep.None) && _recipe.Alpha is { } alpha ? alpha : null,
                    Operations = piece.IsExr ? [.. Operations(member, pass, channels)] : [],
                };
            }
        }
    }

    private static ChannelType TypeIn(FileFacts facts, ConvertedChannel channel) =>
        facts.Parts[channel.Part].Channels.First(c => (c.StoredAs ?? c.Name) == channel.From).Type;

    private IEnumerable<string> Operations(CrateMember member, PassPlan pass, ConvertedChannel[] channels)
    {
        if (channels.Any(c => c.Type == ChannelType.Half))
        {
            yield return "half from float";
        }
        else if (channels.Any(c => c.Type == ChannelType.Float))
        {
            yield return "float from half";
        }

        PassDefinition? definition = _plan.Catalogue.Find(pass.Pass);
        if (
            definition is not null
            && _recipe.Types?.TryGetValue(definition.Kind, out ChannelType asked) == true
            && asked == ChannelType.Half
            && pass.Channels.Keys.Where(member.Piece.IsTooBright).ToArray() is { Length: > 0 } bright
        )
        {
            yield return $"{Words.List(bright)} kept as float: some samples are above 65,504, the most that half holds";
        }

        if (channels.Any(c => c.Step == AlphaStep.Premultiply))
        {
            yield return "multiplied by its alpha";
        }
        else if (channels.Any(c => c.Step == AlphaStep.Unpremultiply))
        {
            yield return "divided by its alpha, but where that is 0";
        }
    }
}
