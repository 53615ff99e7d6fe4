namespace DuneCrate.Web.Roots;

/// <summary>The folders that people may name paths under. Nothing outside them is ever opened for a path that came from a page.</summary>
public sealed class StorageRoots(ServeOptions options)
{
    /// <summary>Names of the roots.</summary>
    public IReadOnlyCollection<string> Names { get; } = [.. options.Roots.Keys.Order(StringComparer.OrdinalIgnoreCase)];

    /// <summary>The folder under which the crates of a shot are made.</summary>
    public string CratesOf(string show, string shot) => Path.Combine(options.CratesFolder, show, shot);

    /// <summary>The full path of a folder below a root, or a message that says why it is refused.</summary>
    public (string? Path, string? Problem) Resolve(string? root, string? folder)
    {
        if (root is null || !options.Roots.TryGetValue(root, out string? top))
        {
            return (null, Names.Count == 0 ? "No storage root is configured. Start the application with --root NAME=DIR." : $"There is no storage root '{root}'; choose {string.Join(" or ", Names)}.");
        }

        folder = (folder ?? "").Trim().Trim('/');
        if (folder.Contains('\0') || Path.IsPathRooted(folder) || folder.Split('/', '\\').Contains(".."))
        {
            return (null, $"'{folder}' leads out of {root}. Name a folder below it, such as KP010.");
        }

        string full = Path.GetFullPath(Path.Combine(top, folder));
        if (!Directory.Exists(full))
        {
            return (null, $"There is no folder '{folder}' in {root}.");
        }

        return Real(full) is { } real && Real(top) is { } realTop && (real == realTop || real.StartsWith(realTop.TrimEnd('/') + '/', StringComparison.Ordinal))
            ? (full, null)
            : (null, $"'{folder}' is a link that leads out of {root}.");
    }

    /// <summary>Room left on the disk of a root (of the first one when none is named), in bytes; null when it is not known.</summary>
    public long? FreeBytes(string? root)
    {
        string? folder = options.Roots.GetValueOrDefault(root ?? Names.FirstOrDefault() ?? "");
        try
        {
            return folder is null ? null : new DriveInfo(folder).AvailableFreeSpace;
        }
        catch (Exception e) when (e is IOException or UnauthorizedAccessException or ArgumentException)
        {
            return null;
        }
    }

    /// <summary>Folders directly below a folder of a root, for the chooser.</summary>
    public IReadOnlyList<string> Children(string root, string folder) => Resolve(root, folder).Path is { } path
        ? [.. Directory.EnumerateDirectories(path).Select(Path.GetFileName).OfType<string>().Where(n => n[0] != '.').Order(StringComparer.Ordinal).Take(500)]
        : [];

    /// <summary>The path with every link followed, or null when one leads nowhere.</summary>
    private static string? Real(string path)
    {
        string at = "/";
        foreach (string step in path.Split('/', StringSplitOptions.RemoveEmptyEntries))
        {
            at = Path.Combine(at, step);
            try
            {
                at = new DirectoryInfo(at).ResolveLinkTarget(returnFinalTarget: true)?.FullName ?? at;
            }
            catch (IOException)
            {
                return null;
            }
        }

        return at;
    }
}
