using DuneCrate.Checking.Intake;
using DuneCrate.Checking.Matching;
using DuneCrate.Checking.Remedies;

namespace DuneCrate.Checking.Tests.Checks;

/// <summary>Names that are put right and given back: nothing is written over, and either all move or none.</summary>
public class RenamesTests
{
    [Fact]
    public void Slips_case_order_and_digits_are_put_right_and_given_back()
    {
        using var shot = new ShotFixture("renamed:sub:1010", "repadded:sub:1011");
        Move(shot, "sub/KP010_sub.1004.exr", "sub/kp010_SUB.1004.exr");
        Move(shot, "kelp/KP010_kelp.1002.exr", "kelp/KP010_kelp.exr.1002");
        string[] before = Names(shot);
        var renames = Find(shot);
        Assert.Equal(
            ["kelp/KP010_kelp.1002.exr", "sub/KP010_sub.1004.exr", "sub/KP010_sub.1010.exr", "sub/KP010_sub.1011.exr"],
            renames.Select(r => r.To).Order()
        );
        Assert.Equal(RenameOutcome.Done, Renames.Apply(Disk.Folder(shot.Folder), renames));
        Assert.Empty(shot.Check(FactsDepth.Header).Findings);
        Assert.Empty(Find(shot));
        Assert.Equal(RenameOutcome.Done, Renames.Back(Disk.Folder(shot.Folder), renames));
        Assert.Equal(before, Names(shot));
    }

    [Fact]
    public void A_name_that_is_taken_is_left_alone()
    {
        using var shot = new ShotFixture("repadded:sub:1011");
        File.Copy(shot["sub/KP010_sub.1001.exr"], shot["sub/KP010_sub.1011.exr"]);
        Assert.Empty(Find(shot));
    }

    [Fact]
    public void Two_files_that_want_one_name_are_left_alone()
    {
        using var shot = new ShotFixture("missing:sub:1005");
        File.Copy(shot["sub/KP010_sub.1001.exr"], shot["sub/KP010_sbu.1005.exr"]);
        File.Copy(shot["sub/KP010_sub.1002.exr"], shot["sub/KP010_usb.1005.exr"]);
        Assert.DoesNotContain(Find(shot), r => r.To == "sub/KP010_sub.1005.exr");
    }

    [Fact]
    public void When_one_cannot_be_moved_none_is()
    {
        using var shot = new ShotFixture("renamed:sub:1010", "repadded:sub:1011");
        var renames = Find(shot);
        Assert.Equal(2, renames.Length);
        string[] before = Names(shot);
        File.WriteAllText(shot[renames[1].To], "somebody was quicker");
        RenameOutcome outcome = Renames.Apply(Disk.Folder(shot.Folder), renames);
        Assert.Contains("Nothing was renamed", outcome.Problem);
        Assert.Empty(outcome.Left);
        Assert.Equal("somebody was quicker", File.ReadAllText(shot[renames[1].To]));
        File.Delete(shot[renames[1].To]);
        Assert.Equal(before, Names(shot));
    }

    [Theory]
    [InlineData("../outside.exr")]
    [InlineData("/tmp/outside.exr")]
    public void No_name_leads_out_of_the_folder(string to)
    {
        using var shot = new ShotFixture();
        Assert.Contains(
            "leads out of its folder",
            Renames.Apply(Disk.Folder(shot.Folder), [new Rename("sub/KP010_sub.1001.exr", to)]).Problem
        );
        Assert.True(File.Exists(shot["sub/KP010_sub.1001.exr"]));
    }

    [Fact]
    public void A_way_back_that_is_barred_is_told_with_what_stands_where()
    {
        using var shot = new ShotFixture("renamed:sub:1010", "repadded:sub:1011");
        var renames = Find(shot);
        Assert.Equal(RenameOutcome.Done, Renames.Apply(Disk.Folder(shot.Folder), renames));
        File.WriteAllText(shot[renames[0].From], "somebody took the old name");
        RenameOutcome outcome = Renames.Back(Disk.Folder(shot.Folder), renames);
        Assert.Equal([renames[0]], outcome.Left.AsEnumerable());
        Assert.Contains("its old name is taken", outcome.Problem);
        Assert.Contains("1 file has its new name still", outcome.Problem);
        Assert.Equal("somebody took the old name", File.ReadAllText(shot[renames[0].From]));
        Assert.True(File.Exists(shot[renames[0].To]) && File.Exists(shot[renames[1].From]));
    }

    [Fact]
    public void A_renaming_that_was_killed_in_the_middle_is_taken_back_whole()
    {
        using var shot = new ShotFixture("renamed:sub:1010", "repadded:sub:1011");
        string[] before = Names(shot);
        var renames = Find(shot);
        Renames.Apply(Disk.Folder(shot.Folder), renames[..1]);
        Assert.Equal(RenameOutcome.Done, Renames.Back(Disk.Folder(shot.Folder), renames));
        Assert.Equal(before, Names(shot));
    }

    [Fact]
    public void No_file_is_moved_through_a_link()
    {
        using var shot = new ShotFixture();
        using var elsewhere = new TempFolder();
        Directory.Move(shot["sub"], elsewhere["sub"]);
        Directory.CreateSymbolicLink(shot["sub"], elsewhere["sub"]);
        RenameOutcome outcome = Renames.Apply(Disk.Folder(shot.Folder), [new Rename("sub/KP010_sub.1001.exr", "sub/KP010_sub.2001.exr")]);
        Assert.Contains("a link", outcome.Problem);
        Assert.True(File.Exists(elsewhere["sub/KP010_sub.1001.exr"]));
    }

    private static System.Collections.Immutable.ImmutableArray<Rename> Find(ShotFixture shot) =>
        Renames.From(new CheckContext(shot.Plan, Disk.TakeIn(shot.Folder, shot.Plan, FactsDepth.Header)));

    private static void Move(ShotFixture shot, string from, string to) => File.Move(shot[from], shot[to]);

    private static string[] Names(ShotFixture shot) =>
        [.. Directory.GetFiles(shot.Folder, "*", SearchOption.AllDirectories).Order(StringComparer.Ordinal)];
}
