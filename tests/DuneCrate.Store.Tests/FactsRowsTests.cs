using DuneCrate.Checking.Intake;
using DuneCrate.Checking.Rebuild;
using DuneCrate.Exr;
using DuneCrate.Imaging.Listing;
using Microsoft.Extensions.DependencyInjection;
using Microsoft.Extensions.Logging;

namespace DuneCrate.Store.Tests;

/// <summary>Facts that no row can hold keep nothing else from being kept.</summary>
public sealed class FactsRowsTests : IDisposable
{
    private readonly string _folder = Directory.CreateTempSubdirectory("dune-crate-rows-").FullName;
    private readonly KeptLog _log = new(nameof(FactsStore));
    private readonly ServiceProvider _services;

    public FactsRowsTests() =>
        _services = new ServiceCollection()
            .AddLogging(l => l.AddProvider(_log))
            .AddDuneCrateStore(Path.Combine(_folder, "dune-crate.db"))
            .BuildServiceProvider();

    [Fact]
    public void One_file_that_cannot_be_kept_is_set_aside_by_name()
    {
        FactsStore store = _services.GetRequiredService<FactsStore>();
        IntakeFile[] files = [.. Enumerable.Range(1, 600).Select(i => Listed($"a.{i}.exr"))];
        for (int i = 0; i < files.Length; i++)
        {
            store.Keep(files[i], Request, FactsOf(files[i], i == 299 ? double.NaN : i));
        }

        store.KeepRebuild(new RebuildKey(files[0].Place, 7), Rebuild with { MeanResidual = double.PositiveInfinity });
        store.KeepRebuild(new RebuildKey(files[1].Place, 8), Rebuild);
        store.Flush();
        Assert.Equal([299], Enumerable.Range(0, files.Length).Where(i => store.Find(files[i], Request) is null));
        Assert.Null(store.FindRebuild(new RebuildKey(files[0].Place, 7)));
        Assert.Equal(Rebuild, store.FindRebuild(new RebuildKey(files[1].Place, 8)));
        Assert.Contains(_log.Lines, l => l.Text.Contains("a.300.exr cannot be kept", StringComparison.Ordinal));

        // Nothing of it is left for the next time.
        store.Flush();
        Assert.Equal(2, _log.Lines.Count);
    }

    private static readonly FactsRequest Request = new(FactsDepth.Header);

    private static readonly RebuildFacts Rebuild = new() { MeanResidual = 0.25 };

    private static FileFacts FactsOf(IntakeFile file, double seconds) =>
        new()
        {
            Path = file.Path,
            Format = "exr",
            Bytes = file.Bytes,
            Modified = file.Modified,
            Readable = true,
            Parts =
            [
                new PartFacts
                {
                    Type = "scanlineimage",
                    Compression = "zip",
                    DataWindow = PixelBox.OfSize(4, 4),
                    DisplayWindow = PixelBox.OfSize(4, 4),
                    RenderSeconds = seconds,
                },
            ],
        };

    private IntakeFile Listed(string name)
    {
        File.WriteAllText(Path.Combine(_folder, name), name);
        return Disk.Listed(Path.Combine(_folder, name));
    }

    public void Dispose()
    {
        _services.Dispose();
        Microsoft.Data.Sqlite.SqliteConnection.ClearAllPools();
        Directory.Delete(_folder, recursive: true);
    }
}
