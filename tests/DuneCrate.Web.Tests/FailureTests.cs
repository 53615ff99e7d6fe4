using DuneCrate.Crates;
using DuneCrate.Foundation.Storage;
using DuneCrate.Shots.Jobs;
using DuneCrate.Web.Operations;

namespace DuneCrate.Web.Tests;

/// <summary>Failures are told by their types, whatever they say.</summary>
public sealed class FailureTests
{
    private const string What = "The crate could not be sealed";

    [Fact]
    public void What_is_left_behind_is_said_with_the_place()
    {
        var failure = new CrateLeftBehindException(new IOException("The disk is gone."), Disk.Folder(Path.GetTempPath()).At("half"));
        Assert.Equal(failure.Message, Failures.Words(What, failure));
        Assert.Contains("is left in", failure.Message);
        Assert.True(Failures.IsForeseen(failure));
    }

    [Fact]
    public void A_full_disk_below_a_failure_is_still_a_full_disk()
    {
        // 28 is ENOSPC of POSIX, the number that the framework hands on.
        var failure = new CrateLeftBehindException(new IOException("full", 28), Disk.Folder(Path.GetTempPath()).At("half"));
        Assert.Equal(507, ProblemPage.StatusOf(failure));
    }

    [Theory]
    [InlineData(typeof(IOException), true)]
    [InlineData(typeof(StorageException), true)]
    [InlineData(typeof(UnauthorizedAccessException), true)]
    [InlineData(typeof(NullReferenceException), false)]
    [InlineData(typeof(InvalidOperationException), false)]
    public void What_nobody_foresaw_goes_to_the_log(Type type, bool isForeseen)
    {
        var failure =
            type == typeof(StorageException) ? new StorageException("here", "is gone") : (Exception)Activator.CreateInstance(type)!;
        Assert.Equal(isForeseen, Failures.IsForeseen(failure));
        Assert.Equal(!isForeseen, Failures.Words(What, failure) == Failures.Unforeseen(What));
    }
}
