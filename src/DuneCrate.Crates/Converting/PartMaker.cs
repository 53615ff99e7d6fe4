using System.Buffers;
using System.Collections.Immutable;
using System.IO.Hashing;
using System.Numerics.Tensors;
using System.Runtime.InteropServices;
using DuneCrate.Checking.Intake;
using DuneCrate.Crates.Recipes;
using DuneCrate.Exr;
using DuneCrate.Foundation.Passes;
using DuneCrate.Imaging;

namespace DuneCrate.Crates.Converting;

/// <summary>Makes one part of a new file line by line, with one chunk in memory. Belongs to one thread at a time.</summary>
internal sealed class PartMaker : IDisposable
{
    private const string CryptomattePrefix = "cryptomatte/";

    private readonly Move[] _moves;
    private readonly XxHash128 _written = new();
    private byte[] _chunk = [];
    private float[] _colour = [],
        _alpha = [];

    /// <summary>Finds the channels in their sources and works out the header.</summary>
    /// <exception cref="CrateRefusedException">A source lacks a channel or cannot be converted.</exception>
    public PartMaker(
        ConvertedPart wanted,
        FileConversion conversion,
        IReadOnlyList<SourceFile> sources,
        int index,
        CancellationToken cancel
    )
    {
        (SourcePart Part, int Channel)[] found = [.. wanted.Channels.Select(c => sources[c.Source].Find(c.Part, c.From))];
        SourcePart lead = found[0].Part;
        PixelBox window = conversion.Window switch
        {
            RecipeWindow.Display => lead.Part.DisplayWindow,
            RecipeWindow.Content => ContentBox.Of(found, cancel),
            _ => Around(found.Select(f => f.Part.Part.DataWindow)),
        };
        ExrChannel[] channels =
        [
            .. wanted.Channels.Select(
                (c, i) =>
                    found[i].Part.Part.Channels[found[i].Channel] with
                    {
                        Name = c.Name,
                        Type = c.Type?.ToExr() ?? found[i].Part.Part.Channels[found[i].Channel].Type,
                    }
            ),
        ];
        ExrCompression compression =
            conversion.Compression ?? (lead.Part.Compression.IsWritten ? lead.Part.Compression : ExrCompression.Zip);
        Part = lead.Part.Rewritten(
            channels,
            window,
            compression,
            Attributes(found, wanted.Channels, conversion.Header),
            wanted.Name,
            index
        );
        _moves =
        [
            .. Part.Channels.Select(c =>
            {
                int i = wanted.Channels.IndexOf(wanted.Channels.First(w => w.Name == c.Name));
                ConvertedChannel channel = wanted.Channels[i];
                return new Move(
                    found[i].Part,
                    found[i].Channel,
                    channel.Step,
                    channel.Step == AlphaStep.None ? -1 : found[i].Part.IndexOf(channel.Alpha!)
                );
            }),
        ];
        _chunk = ArrayPool<byte>.Shared.Rent(checked((int)new ExrChunkShape(Part, Part.Chunks.BandBox(0)).Bytes));
        if (_moves.Where((m, i) => m.Step != AlphaStep.None || m.Type != Part.Channels[i].Type).Any())
        {
            int widest = (int)found.Max(f => f.Part.Part.DataWindow.Width);
            (_colour, _alpha) = (ArrayPool<float>.Shared.Rent(widest), ArrayPool<float>.Shared.Rent(widest));
        }
    }

    /// <summary>The header of the new part.</summary>
    public ExrPart Part { get; }

    /// <summary>Whether halves were made of floats.</summary>
    public bool HasHalved { get; private set; }

    /// <summary>What halves lost.</summary>
    public HalfLoss Loss { get; private set; }

    /// <summary>XXH3 (128 bit) of all lines as they were to be written.</summary>
    public ImmutableArray<byte> Written => [.. _written.GetCurrentHash()];

    /// <summary>Makes a line; writes the chunk when it was its last. Lines of the data window must come in order, once each.</summary>
    public void Make(int y, ExrChunkWriter writer)
    {
        int number = Part.Chunks.BandOfLine(y);
        PixelBox chunk = Part.Chunks.BandBox(number);
        int bytes = (int)Part.BytesPerLine;
        Span<byte> line = _chunk.AsSpan((y - chunk.MinY) * bytes, bytes);
        line.Clear();
        for (int c = 0; c < _moves.Length; c++)
        {
            Fill(_moves[c], Part.Channels[c].Type, y, line[(Part.PixelOffsets[c] * (int)Part.DataWindow.Width)..]);
        }

        if (y == chunk.MaxY)
        {
            ReadOnlySpan<byte> lines = _chunk.AsSpan(0, (int)chunk.Height * bytes);
            _written.Append(lines);
            writer.Write(Part.Index, number, lines);
        }
    }

    private void Fill(Move move, ExrPixelType type, int y, Span<byte> line)
    {
        PixelBox from = move.Part.Part.DataWindow;
        int first = Math.Max(from.MinX, Part.DataWindow.MinX),
            count = Math.Min(from.MaxX, Part.DataWindow.MaxX) - first + 1;
        if (y < from.MinY || y > from.MaxY || count <= 0)
        {
            return;
        }

        ExrPixelType own = move.Type;
        ReadOnlySpan<byte> samples = move.Part.Line(move.Channel, y).Slice((first - from.MinX) * own.Bytes(), count * own.Bytes());
        Span<byte> to = line.Slice((first - Part.DataWindow.MinX) * type.Bytes(), count * type.Bytes());
        if (own == type && move.Step == AlphaStep.None)
        {
            samples.CopyTo(to);
            return;
        }

        Span<float> colour = _colour.AsSpan(0, count);
        ExrImage.ToFloats(samples, own, colour);
        if (move.Step != AlphaStep.None)
        {
            Step(move, y, first - from.MinX, colour);
        }

        ExrImage.FromFloats(colour, type, to);
        if (type == ExrPixelType.Half && own == ExrPixelType.Float)
        {
            HasHalved = true;
            Loss = Loss.With(HalfLoss.Of(colour, MemoryMarshal.Cast<byte, Half>(to)));
        }
    }

    private void Step(Move move, int y, int skip, Span<float> colour)
    {
        ExrPixelType type = move.Part.Part.Channels[move.Alpha].Type;
        Span<float> alpha = _alpha.AsSpan(0, colour.Length);
        ExrImage.ToFloats(move.Part.Line(move.Alpha, y).Slice(skip * type.Bytes(), colour.Length * type.Bytes()), type, alpha);
        if (move.Step == AlphaStep.Premultiply)
        {
            TensorPrimitives.Multiply(colour, alpha, colour);
            return;
        }

        for (int i = 0; i < colour.Length; i++)
        {
            colour[i] = alpha[i] == 0 ? colour[i] : colour[i] / alpha[i];
        }
    }

    /// <summary>
    /// The header of the first source, with what only the others say. What it says of a Cryptomatte goes where its channels go.
    /// </summary>
    private static ImmutableArray<ExrAttribute> Attributes(
        (SourcePart Part, int Channel)[] found,
        ImmutableArray<ConvertedChannel> channels,
        HeaderAdditions additions
    )
    {
        var attributes = new List<ExrAttribute>();
        foreach (ExrPart part in found.Select(f => f.Part.Part).Distinct())
        {
            attributes.AddRange(
                part.Attributes.Where(a => attributes.TrueForAll(own => own.Name != a.Name) && !IsOfAbsentMatte(part, a, channels))
            );
        }

        return [.. attributes, .. additions.Missing(HeaderFacts.From(found[0].Part.Part))];
    }

    private static bool IsOfAbsentMatte(ExrPart part, ExrAttribute attribute, ImmutableArray<ConvertedChannel> channels)
    {
        if (
            !attribute.Name.StartsWith(CryptomattePrefix, StringComparison.Ordinal)
            || part.Find($"{attribute.Name[..attribute.Name.LastIndexOf('/')]}/name")?.AsText() is not { } name
        )
        {
            return false;
        }

        return !channels.Any(c => c.Name.StartsWith(name, StringComparison.Ordinal));
    }

    private static PixelBox Around(IEnumerable<PixelBox> boxes) =>
        boxes.Aggregate(
            (a, b) => new PixelBox(Math.Min(a.MinX, b.MinX), Math.Min(a.MinY, b.MinY), Math.Max(a.MaxX, b.MaxX), Math.Max(a.MaxY, b.MaxY))
        );

    public void Dispose()
    {
        ArrayPool<byte>.Shared.Return(_chunk);
        ArrayPool<float>.Shared.Return(_colour);
        ArrayPool<float>.Shared.Return(_alpha);
    }

    /// <summary>Where a channel's samples come from, and what is done to them.</summary>
    private readonly record struct Move(SourcePart Part, int Channel, AlphaStep Step, int Alpha)
    {
        /// <summary>Type of the channel in its source.</summary>
        public ExrPixelType Type => Part.Part.Channels[Channel].Type;
    }
}
