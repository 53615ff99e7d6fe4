using DuneCrate.Checking;
using DuneCrate.Checking.Intake;
using DuneCrate.Checking.Reports;
using DuneCrate.Crates.Handing;
using DuneCrate.Foundation.Storage;
using DuneCrate.StandIns.DropBox;
using Microsoft.Extensions.Time.Testing;

namespace DuneCrate.Crates.Tests;

/// <summary>What depends on the time goes by the clock that is given, not by the machine's.</summary>
public sealed class ClockTests
{
    private readonly FakeTimeProvider _clock = new(DateTimeOffset.UtcNow);

    [Fact]
    public void What_another_machine_left_goes_after_a_day()
    {
        using var shot = new ShotFixture();
        using var to = new TempFolder();
        string left = to[$".KP010_crate_v001.elsewhere.1.{Guid.NewGuid():N}.partial"];
        Directory.CreateDirectory(left);
        Seal(shot, to);
        Assert.True(Directory.Exists(left));
        _clock.Advance(TimeSpan.FromHours(25));
        Seal(shot, to);
        Assert.False(Directory.Exists(left));
    }

    [Fact]
    public void A_receipt_is_dated_by_the_clock()
    {
        using var shot = new ShotFixture();
        using var to = new TempFolder();
        using var site = new TempFolder();
        StoragePath crate = Seal(shot, to).Folder;
        _clock.Advance(TimeSpan.FromDays(40));
        CrateReceipt receipt = CrateSender.Send(
            crate,
            new DropBoxStandIn(Disk.Folder(site.Path), "Tide Room"),
            "Ada Reed",
            _clock,
            null,
            default
        );
        Assert.Equal(_clock.GetUtcNow().UtcDateTime, receipt.At);
    }

    [Fact]
    public void A_file_that_is_cut_short_is_being_written_only_while_it_is_young()
    {
        using var shot = new ShotFixture("empty:sub:1004");
        Assert.Contains(Check(shot).Findings, f => f.Rule == "files.settling");
        _clock.Advance(TimeSpan.FromHours(1));
        Assert.DoesNotContain(Check(shot).Findings, f => f.Rule == "files.settling");
    }

    private SealedCrate Seal(ShotFixture shot, TempFolder to) =>
        CrateBuilder.Seal(
            Disk.Contents(shot.Plan, Disk.TakeIn(shot.Folder, shot.Plan, FactsDepth.Pixels), CrateLayouts.ByLayer),
            shot.Check(),
            Disk.Folder(to.Path),
            Guid.NewGuid(),
            null,
            default,
            clock: _clock
        );

    private CheckReport Check(ShotFixture shot) =>
        FolderCheck.Run(Disk.Asked(shot.Folder, shot.Plan, FactsDepth.Pixels) with { Clock = _clock }, default).Report;
}
