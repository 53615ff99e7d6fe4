using System.Collections.Immutable;
using DuneCrate.Checking.Intake;
using DuneCrate.Imaging.Listing;
using DuneCrate.StandIns.Renderer;

namespace DuneCrate.Checking.Tests.Intake;

/// <summary>The arrival board, from names, sizes and times alone, and the check of first frames.</summary>
public class ArrivalTests
{
    private static readonly DateTime Now = new(2026, 1, 2, 12, 0, 0, DateTimeKind.Utc);
    private static readonly Plan Plan = StandInPlan.Create("KP010", FrameSet.Parse("1001-1010"), 64, 36);

    [Fact]
    public void Files_that_hold_still_have_landed_and_the_newest_are_left_alone()
    {
        LayerArrival sub = Board([.. Files("sub/KP010_sub.{0}.exr", 5, i => Now.AddSeconds(i == 4 ? -1 : -60 + 10 * i))])[0];
        Assert.Equal(("1001-1004", "1005"), (sub.Outputs[0].Landed.ToString(), sub.Outputs[0].Settling.ToString()));
        Assert.Equal(4, sub.Landed);
    }

    [Fact]
    public void Tiny_files_are_still_being_written()
    {
        LayerArrival sub = Board(new IntakeFile(Place, "sub/KP010_sub.1001.exr", 12, Now.AddHours(-1)))[0];
        Assert.Equal("1001", sub.Outputs[0].Settling.ToString());
    }

    [Fact]
    public void Rate_and_time_left_follow_from_the_newest_files()
    {
        LayerArrival sub = Board([.. Files("sub/KP010_sub.{0}.exr", 5, i => Now.AddSeconds(-50 + 10 * i))])[0];

        // Four distances of ten seconds: six a minute; 10 frames in 6 outputs are planned and 5 have landed.
        Assert.Equal(6, sub.PerMinute, 1e-9);
        Assert.Equal((sub.Planned - 5) / 6.0, sub.Left!.Value.TotalMinutes, 1e-6);
        Assert.Equal(ArrivalState.Arriving, sub.State);
    }

    [Theory]
    [InlineData(30, ArrivalState.Arriving)]
    [InlineData(3600, ArrivalState.Stalled)]
    public void A_layer_stalls_when_nothing_comes_for_much_longer_than_usual(int secondsAgo, ArrivalState state) =>
        Assert.Equal(state, Board([.. Files("kelp/KP010_kelp.{0}.exr", 4, i => Now.AddSeconds(-secondsAgo - 4 + i))])[1].State);

    [Fact]
    public void A_layer_without_files_waits_and_one_with_all_is_complete()
    {
        Plan one = Plan with { Layers = [Plan.Layers[1] with { Outputs = [Plan.Layers[1].Outputs[0]] }] };
        Assert.Equal(ArrivalState.Waiting, Assert.Single(ArrivalBoard.From(one, [], Now)).State);
        LayerArrival all = Assert.Single(ArrivalBoard.From(one, [.. Files("kelp/KP010_kelp.{0}.exr", 10, _ => Now.AddHours(-1))], Now));
        Assert.Equal((ArrivalState.Complete, 1001), (all.State, all.FirstWhole));
        Assert.Null(all.Left);
    }

    [Fact]
    public void Files_outside_the_plan_do_not_count() =>
        Assert.Equal(
            0,
            Board(
                new IntakeFile(Place, "sub/KP010_sub.1999.exr", 5000, Now.AddHours(-1)),
                new IntakeFile(Place, "sub/other.1001.exr", 5000, Now.AddHours(-1))
            )[0].Landed
        );

    [Theory]
    [InlineData("wrong-camera:sub:1001", "format.camera")]
    [InlineData("half-depth:sub:1001", "channels.type")]
    [InlineData("wrong-size:sub:1001", "format.resolution")]
    [InlineData("dropped-channel:sub:1001", "channels.missing")]
    public void The_first_frame_says_what_is_wrong_before_the_others_are_there(string fault, string rule)
    {
        using var folder = new TempFolder();
        Assert.True(Fault.TryParse(fault, out Fault? wrong, out _));
        Disk.Render(Plan, folder.Path, FrameSet.Single(1001), [wrong]);
        Assert.Contains(FirstFrameCheck.Run(Disk.Asked(folder.Path, Plan, FactsDepth.Pixels), "sub", 1001, default), f => f.Rule == rule);
        Assert.Empty(FirstFrameCheck.Run(Disk.Asked(folder.Path, Plan, FactsDepth.Pixels), "kelp", 1001, default));
    }

    private static Foundation.Storage.StoragePath Place => Disk.Folder(Path.GetTempPath());

    private static ImmutableArray<LayerArrival> Board(params IntakeFile[] files) => ArrivalBoard.From(Plan, files, Now);

    private static IEnumerable<IntakeFile> Files(string name, int count, Func<int, DateTime> modified) =>
        Enumerable
            .Range(0, count)
            .Select(i => string.Format(System.Globalization.CultureInfo.InvariantCulture, name, 1001 + i))
            .Select((n, i) => new IntakeFile(Place, n, 5000, modified(i)));
}
