using DuneCrate.Foundation.Naming;

namespace DuneCrate.Foundation.Storage;

/// <summary>Storage roots as a command line names them: <c>renders=/path/to/renders</c>.</summary>
public static class NamedRoots
{
    /// <summary>Reads them; letter case of names does not matter.</summary>
    /// <returns>Full path of the folder by name. Nothing says yet whether it is there.</returns>
    /// <exception cref="ArgumentException">One is not written so, or its name stands twice.</exception>
    public static Dictionary<string, string> Read(IEnumerable<string> texts)
    {
        var folders = new Dictionary<string, string>(StringComparer.OrdinalIgnoreCase);
        foreach (string text in texts)
        {
            int equals = text.IndexOf('=');
            string name = equals > 0 ? text[..equals] : "",
                folder = equals > 0 && equals < text.Length - 1 ? Path.GetFullPath(text[(equals + 1)..]) : "";
            if (TextLimits.NameProblem(name) is not null || folder.Length == 0 || !folders.TryAdd(name, folder))
            {
                throw new ArgumentException(
                    $"'{text}' is not a storage root, or its name stands twice; write --root renders=/path/to/renders."
                );
            }
        }

        return folders;
    }
}
