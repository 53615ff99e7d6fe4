using DuneCrate.Imaging.Pictures;

namespace DuneCrate.Imaging.Tests.Stacking;

/// <summary>A piece of a picture around one pixel, enlarged and marked.</summary>
public class PictureTests
{
    /// <summary>Red is the column, green the line.</summary>
    private static readonly Picture Ramp = new(
        100,
        60,
        [.. Enumerable.Range(0, 6000).SelectMany(i => new[] { (byte)(i % 100), (byte)(i / 100), (byte)7 })]
    );

    [Theory]
    [InlineData(50, 30, 34, 21)]
    [InlineData(0, 0, 0, 0)]
    [InlineData(99, 59, 68, 42)]
    [InlineData(3, 58, 0, 42)]
    [InlineData(-8, 900, 0, 42)]
    public void The_pixel_stands_in_the_middle_or_as_near_to_it_as_the_edges_allow(int x, int y, int left, int top)
    {
        Picture piece = Ramp.Around(x, y, 32, 18, 4);
        Assert.Equal((128, 72), (piece.Width, piece.Height));
        Assert.Equal(
            ((byte)Math.Clamp(x, 0, 99), (byte)Math.Clamp(y, 0, 59)),
            Colour(piece, (Math.Clamp(x, 0, 99) - left) * 4 + 2, (Math.Clamp(y, 0, 59) - top) * 4 + 2)
        );
        (int farX, int farY) = (x < 50 ? 127 : 0, y < 30 ? 71 : 0);
        Assert.Equal(((byte)(left + farX / 4), (byte)(top + farY / 4)), Colour(piece, farX, farY));
    }

    [Fact]
    public void The_pixel_has_a_white_frame_within_a_black_one()
    {
        Picture piece = Ramp.Around(50, 30, 32, 18, 4);
        int left = (50 - 34) * 4,
            top = (30 - 21) * 4;
        Assert.Equal(((byte)255, (byte)255), Colour(piece, left - 1, top - 1));
        Assert.Equal(((byte)255, (byte)255), Colour(piece, left + 4, top + 4));
        Assert.Equal(((byte)0, (byte)0), Colour(piece, left - 2, top - 2));
        Assert.Equal(((byte)0, (byte)0), Colour(piece, left + 5, top + 5));
        Assert.Equal(((byte)50, (byte)30), Colour(piece, left, top));
    }

    [Fact]
    public void A_picture_smaller_than_the_piece_is_taken_whole()
    {
        Picture piece = new Picture(3, 2, new byte[18]).Around(1, 1, 32, 18, 3);
        Assert.Equal((9, 6), (piece.Width, piece.Height));
    }

    private static (byte, byte) Colour(Picture picture, int x, int y) =>
        (picture.Rgb[(y * picture.Width + x) * 3], picture.Rgb[(y * picture.Width + x) * 3 + 1]);
}
