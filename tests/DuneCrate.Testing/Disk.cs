using DuneCrate.Checking;
using DuneCrate.Checking.Intake;
using DuneCrate.Checking.Matching;
using DuneCrate.Checking.Reports;
using DuneCrate.Crates;
using DuneCrate.Crates.Recipes;
using DuneCrate.Exr;
using DuneCrate.Foundation.Storage;
using DuneCrate.Imaging;
using DuneCrate.Imaging.Listing;
using DuneCrate.StandIns.Renderer;

namespace DuneCrate.Testing;

/// <summary>Files and folders of tests, as the product takes them: every folder that a test names is a root of its own.</summary>
public static class Disk
{
    /// <summary>A folder, made when it is not there.</summary>
    public static StoragePath Folder(string path) => StorageRoot.At(Directory.CreateDirectory(path).FullName).Top;

    /// <summary>A file in a folder that is there.</summary>
    public static StoragePath File(string path) => Folder(Path.GetDirectoryName(Path.GetFullPath(path))!).At(Path.GetFileName(path));

    /// <summary>A path that need not be there.</summary>
    public static StoragePath Place(string fullPath) => StorageRoot.At("/").Top.At(fullPath.TrimStart('/'));

    /// <summary>A file as a listing of its own, under its name.</summary>
    public static IntakeFile Listed(string path) => FolderListing.OfFile(File(path), Path.GetFileName(path))!;

    /// <summary>An OpenEXR file, opened under the usual limits.</summary>
    public static ExrFile Exr(string path) => ExrFile.Open(File(path), ExrLimits.Default);

    /// <summary>The facts of one file.</summary>
    public static FileFacts Facts(
        string path,
        FactsRequest? request = null,
        ReadLimits? limits = null,
        CancellationToken cancel = default
    ) =>
        FactsReader.Read(
            FolderListing.OfFile(File(path), Path.GetFileName(path))!,
            request ?? new FactsRequest(FactsDepth.Pixels),
            limits ?? ReadLimits.Default,
            cancel
        );

    /// <summary>A folder taken in.</summary>
    public static IntakeResult TakeIn(
        string folder,
        Plan? plan,
        FactsDepth depth,
        IFactsCache? cache = null,
        IProgress<IntakeProgress>? progress = null,
        CancellationToken cancel = default
    ) => new IntakeRun(cache ?? new NoFactsCache(), ReadLimits.Default).Run(Folder(folder), plan, depth, progress, cancel);

    /// <summary>A folder held against a plan.</summary>
    public static (IntakeResult Intake, CheckReport Report) Check(string folder, Plan? plan, FactsDepth depth, IFactsCache? cache = null)
    {
        CheckResult found = FolderCheck.Run(Asked(folder, plan, depth, cache), default);
        return (found.Intake, found.Report);
    }

    /// <summary>What such a check is asked.</summary>
    public static CheckRequest Asked(string folder, Plan? plan, FactsDepth depth, IFactsCache? cache = null) =>
        Asked(Folder(folder), plan, depth, cache);

    /// <inheritdoc cref="Asked(string, Plan, FactsDepth, IFactsCache)"/>
    public static CheckRequest Asked(StoragePath folder, Plan? plan, FactsDepth depth, IFactsCache? cache = null) =>
        new()
        {
            Folder = folder,
            Plan = plan,
            Depth = depth,
            Cache = cache ?? new NoFactsCache(),
            Limits = ReadLimits.Default,
        };

    /// <summary>What a crate of an intake would hold.</summary>
    public static CrateContents Contents(
        Plan plan,
        IntakeResult intake,
        string layout = CrateLayouts.ByLayer,
        CrateRecipe? recipe = null
    ) => CrateContents.From(new CheckContext(plan, intake), layout, recipe);

    /// <summary>Frames of the stand-in renderer.</summary>
    public static void Render(Plan plan, string folder, FrameSet? frames, IReadOnlyCollection<Fault> faults) =>
        StandInRenderer.Render(plan, Folder(folder), frames, faults);
}
