namespace DuneCrate.Web;

/// <summary>What the application runs on, checked where it is made.</summary>
/// <param name="DataFolder">Folder of the database and keys.</param>
/// <param name="Port">Port, or 0 for a free one.</param>
/// <param name="Bind">Address to listen on.</param>
/// <param name="Roots">Storage roots: name to folder.</param>
/// <param name="CratesFolder">Folder under which crates are made.</param>
/// <param name="IsDemo">Whether the demo show is made when it is not there.</param>
public sealed record ServeOptions(string DataFolder, int Port, string Bind, IReadOnlyDictionary<string, string> Roots, string CratesFolder, bool IsDemo)
{
    /// <summary>Whether there is a stand-in farm: in the demo, and nowhere else unless asked for, because it writes made-up frames.</summary>
    public bool HasFarm { get; init; } = IsDemo;

    /// <summary>The demo in a folder of its own.</summary>
    public static ServeOptions ForDemo(string folder, int port, bool fresh)
    {
        string renders = Path.Combine(folder, "renders"), crates = Path.Combine(folder, "crates");
        if (fresh && Directory.Exists(folder))
        {
            if (!Directory.Exists(renders) && Directory.EnumerateFileSystemEntries(folder).Any())
            {
                throw new ArgumentException($"{folder} does not look like a demo's folder; it is not thrown away.");
            }

            Directory.Delete(folder, recursive: true);
        }

        Directory.CreateDirectory(renders);
        return new ServeOptions(folder, port, "127.0.0.1", new Dictionary<string, string> { ["renders"] = renders }, crates, true);
    }

    /// <summary>Real folders. Each root is written NAME=DIR.</summary>
    /// <exception cref="ArgumentException">A root is not written so, is named twice, or is no folder.</exception>
    public static ServeOptions ForServe(string data, int port, string bind, IEnumerable<string> roots)
    {
        var folders = new Dictionary<string, string>(StringComparer.OrdinalIgnoreCase);
        foreach (string root in roots)
        {
            int equals = root.IndexOf('=');
            string name = equals > 0 ? root[..equals] : "", folder = equals > 0 ? Path.GetFullPath(root[(equals + 1)..]) : "";
            if (Core.Planning.PlanValidation.NameProblem(name) is not null || !folders.TryAdd(name, folder))
            {
                throw new ArgumentException($"'{root}' is not a storage root, or its name stands twice; write --root renders=/path/to/renders.");
            }

            if (!Directory.Exists(folder))
            {
                throw new ArgumentException($"The root {name} is no folder: {folder}.");
            }
        }

        string crates = folders.TryGetValue("crates", out string? given) ? given : Path.Combine(data, "crates");
        folders.Remove("crates");
        return new ServeOptions(Path.GetFullPath(data), port, bind, folders, crates, false);
    }
}
