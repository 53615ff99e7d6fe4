using System.Collections.Immutable;
using DuneCrate.Exr;
using DuneCrate.Imaging;

namespace DuneCrate.Checking.Tests.Intake;

/// <content>Random pictures whose measures can be said by hand.</content>
public sealed partial class MeasureTests
{
    /// <summary>Random planes of values that halves hold exactly, in a window that begins at −3, 7.</summary>
    private sealed class Picture
    {
        private readonly Dictionary<string, float[]> _planes;
        private readonly int _width,
            _height;

        public Picture(int width, int height, Random random, params string[] names)
        {
            (_width, _height, Names) = (width, height, names);
            _planes = names.ToDictionary(
                n => n,
                _ => Enumerable.Range(0, width * height).Select(_ => Round(0.1f + random.NextSingle() * 2)).ToArray()
            );
        }

        public string[] Names { get; }

        public ChannelType Type { get; init; } = ChannelType.Half;

        public ExrCompression Compression { get; init; } = ExrCompression.Zip;

        public int Size => _width * _height;

        public float[] this[string name]
        {
            get => _planes[name];
            set => _planes[name] = value;
        }

        public float[] this[int channel]
        {
            get => _planes[Names[channel]];
            set => _planes[Names[channel]] = value;
        }

        public int[] At(int place) => [place % _width - 3, place / _width + 7];

        public ExrImage ToImage()
        {
            var window = new PixelBox(-3, 7, _width - 4, _height + 6);
            foreach (string name in Names.Where(_ => Type == ChannelType.Half))
            {
                _planes[name] = [.. _planes[name].Select(Round)];
            }

            var part = new ExrPart(Names.Select(n => new ExrChannel(n, Type.ToExr())), window, window, Compression, []);
            return new ExrImage(part, _planes.ToImmutableDictionary());
        }
    }
}
