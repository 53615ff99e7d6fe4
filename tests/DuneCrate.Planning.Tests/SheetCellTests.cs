using CsCheck;
using DuneCrate.Planning.Sheet;

namespace DuneCrate.Planning.Tests;

public class SheetCellTests
{
    private static readonly Gen<SheetCell> Cells =
        from off in Gen.Bool
        from type in Gen.OneOfConst<ChannelType?>(
            null,
            ChannelType.Half,
            ChannelType.Float,
            ChannelType.UInt,
            ChannelType.UInt8,
            ChannelType.UInt16
        )
        from home in Gen.OneOfConst<PassHome?>(null, PassHome.Shared, PassHome.Data, PassHome.Own)
        from lead in Gen.Bool
        from filtered in Gen.OneOfConst<bool?>(null, true, false)
        from alpha in Gen.OneOfConst<bool?>(null, true, false)
        from edge in Gen.OneOfConst<double?>(null, 0, 0.5, 1)
        from near in Gen.OneOfConst<double?>(null, 0, 0.25, 2)
        from far in Gen.OneOfConst<double?>(null, 12.5, 1e6)
        from frames in Gen.OneOfConst<string?>(null, "1001-1010", "5,9-21x3", "-5--1")
        select new SheetCell
        {
            IsPlanned = true,
            IsOff = off,
            Type = type,
            Home = home,
            IsLead = lead,
            Filtered = filtered,
            Alpha = alpha,
            Threshold = edge,
            Near = near,
            Far = far,
            Frames = frames is null ? null : FrameSet.Parse(frames),
        };

    [Fact]
    public void Reading_a_cells_text_gives_the_cell() =>
        Cells.Sample(cell =>
        {
            Assert.True(SheetCell.TryParse(cell.ToString(), out SheetCell read, out string? problem), problem);
            return read == cell;
        });

    [Theory]
    [InlineData("", "")]
    [InlineData("·", "")]
    [InlineData("-", "")]
    [InlineData("x", "x")]
    [InlineData("YES", "x")]
    [InlineData("own  Float", "float own")]
    [InlineData("lead half", "half lead")]
    [InlineData("off", "off")]
    [InlineData("edge=0.50 float", "float edge=0.5")]
    [InlineData("far=120.0 near=2", "near=2 far=120")]
    public void Text_as_people_write_it_is_understood(string text, string canonical)
    {
        Assert.True(SheetCell.TryParse(text, out SheetCell cell, out _));
        Assert.Equal(canonical, cell.ToString());
    }

    [Theory]
    [InlineData("floaty", "means nothing")]
    [InlineData("edge=2", "from 0 to 1")]
    [InlineData("near=-1", "0 or more")]
    [InlineData("far=horizon", "scene units")]
    [InlineData("near=9 far=9", "must be less than far=9")]
    [InlineData("frames=9-1", "runs backwards")]
    public void What_means_nothing_is_refused_in_words(string text, string says)
    {
        Assert.False(SheetCell.TryParse(text, out _, out string? problem));
        Assert.Contains(says, problem);
    }
}
