using ArchUnitNET.Domain;
using ArchUnitNET.Loader;
using DuneCrate.Checking;
using DuneCrate.Imaging;

namespace DuneCrate.Crates.Tests.Architecture;

/// <summary>The rooms of the core, from the ground up, and what the compiled code says about which uses which.</summary>
internal static class Rooms
{
    private const string Root = "DuneCrate";

    /// <summary>A room may use itself and every room above it in this list, and none below.</summary>
    public static readonly (string Name, string Purpose)[] InOrder =
    [
        ("Foundation.Time", "the time, from a clock"),
        ("Foundation.Failures", "failures, as types"),
        ("Foundation.Threading", "waiting on threads of work"),
        ("Foundation.Frames", "frame sets and rates"),
        ("Foundation.Naming", "names, sequences, limits of text"),
        ("Foundation.Json", "values by name in documents"),
        ("Foundation.Passes", "the pass catalogue"),
        ("Foundation.Storage", "paths under a root"),
        ("Foundation.Documents", "JSON, CSV, HTML, terminal"),
        ("Foundation.History", "who did what, as a chain of hashes"),
        ("Foundation.Rules", "what every rule has"),
        ("Imaging", "OpenEXR and other formats, statistics"),
        ("Imaging.Pictures", "pictures for people"),
        ("Imaging.Stacking", "the test composite"),
        ("Planning.Scene", "roster of a scene"),
        ("Planning.Model", "the plan"),
        ("Planning.Sheet", "the plan as a table of cells"),
        ("Planning.Merging", "two people's changes"),
        ("Planning.Edits", "changes to a plan"),
        ("Planning.Suggestions", "passes that the scene asks for"),
        ("Planning.Estimates", "bytes, files and hours"),
        ("Planning.Rules", "checks before the render"),
        ("Checking.Rebuild", "sum of passes against the beauty"),
        ("Checking.Intake", "facts of files, measures of pixels"),
        ("Checking.Pictures", "which pass of which file is looked at"),
        ("Checking.Comparing", "how far files are apart"),
        ("Checking.Findings", "findings, waivers, notes"),
        ("Checking.Matching", "files against planned outputs"),
        ("Checking.Remedies", "renames and changes of the plan"),
        ("Checking.Rules", "checks after the render"),
        ("Checking.Reports", "reports, maps, lists"),
        ("Checking", "a folder checked against a plan"),
        ("Crates", "packages for compositors"),
    ];

    /// <summary>The assemblies that the rooms are in.</summary>
    public static readonly System.Reflection.Assembly[] Assemblies =
    [
        typeof(FrameSet).Assembly,
        typeof(PicturePlanes).Assembly,
        typeof(Plan).Assembly,
        typeof(FolderCheck).Assembly,
        typeof(CrateBuilder).Assembly,
    ];

    private static readonly ArchUnitNET.Domain.Architecture Code = new ArchLoader().LoadAssemblies(Assemblies).Build();

    /// <summary>Every type in them.</summary>
    public static IEnumerable<System.Type> Types => Assemblies.SelectMany(a => a.GetTypes());

    /// <summary>
    /// Which type of which room uses which type of which other room. Type parameters are none: the loader takes those of methods that the
    /// serializer's generator writes alike into several classes for one and the same.
    /// </summary>
    public static IEnumerable<(string From, string To, string Type, string Used)> Uses() =>
        from type in Code.Types
        let room = RoomOf(type)
        where room is not null
        from dependency in type.Dependencies.Where(d => d.Target is not GenericParameter)
        let other = RoomOf(dependency.Target)
        where other is not null && other != room
        select (room, other, type.FullName, dependency.Target.FullName);

    /// <summary>The namespaces that are in no room.</summary>
    public static string[] Homeless() =>
        [
            .. Code
                .Types.Where(t => t.Namespace?.FullName.StartsWith(Root, StringComparison.Ordinal) == true && RoomOf(t) is null)
                .Select(t => t.FullName),
        ];

    /// <summary>The place of a room in the order.</summary>
    public static int PlaceOf(string room) => Array.FindIndex(InOrder, r => r.Name == room);

    private static string? RoomOf(IType type)
    {
        string name = type.Namespace?.FullName ?? "";
        return InOrder
            .Select(r => r.Name)
            .Where(r => name == $"{Root}.{r}" || name.StartsWith($"{Root}.{r}.", StringComparison.Ordinal))
            .MaxBy(r => r.Length);
    }
}
