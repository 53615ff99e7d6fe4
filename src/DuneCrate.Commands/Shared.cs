using System.CommandLine;
using System.Text;
using DuneCrate.Checking.Intake;
using DuneCrate.Foundation.Storage;
using DuneCrate.Imaging;
using DuneCrate.Planning.Model;

namespace DuneCrate.Commands;

/// <summary>Options that several verbs have.</summary>
public static class Shared
{
    /// <summary><c>--depth header|pixels</c></summary>
    public static Option<FactsDepth> Depth(FactsDepth usual)
    {
        var depth = new Option<FactsDepth>("--depth")
        {
            Description = "header: names, sizes and headers; pixels: every pixel",
            DefaultValueFactory = _ => usual,
            CustomParser = result =>
            {
                string text = result.Tokens[0].Value;
                if (text is not ("header" or "pixels"))
                {
                    CommandLine.Refuse(result, $"'{text}' is not a depth; use header or pixels.");
                }

                return text == "pixels" ? FactsDepth.Pixels : FactsDepth.Header;
            },
        };
        depth.CompletionSources.Add("header", "pixels");
        return depth;
    }

    /// <summary>
    /// What files may claim and cost: the environment variables <c>Limits__MaxPixels</c> and so on, as for the web application.
    /// </summary>
    public static ReadLimits Limits() => ReadLimits.Default.With(name => Environment.GetEnvironmentVariable($"Limits__{name}"));

    /// <summary><c>--root NAME=DIR</c></summary>
    public static Option<string[]> Roots() =>
        new("--root")
        {
            Description =
                "NAME=DIR: a further folder that links among the files may lead to, and with --engine the one that holds the folder, "
                + "under the name that workers have for it; as often as wanted",
            DefaultValueFactory = _ => [],
        };

    /// <summary>A folder that the command line names, with the further ones that links may lead to.</summary>
    /// <exception cref="DirectoryNotFoundException">There is no such folder.</exception>
    public static StoragePath Folder(string path, IEnumerable<string>? roots = null) =>
        StorageRoot
            .At(
                path,
                (roots ?? []).Select(r =>
                    r.IndexOf('=') is > 0 and int equals && equals < r.Length - 1
                        ? StorageRoot.At(r[(equals + 1)..])
                        : throw new ArgumentException($"'{r}' is not a root; write --root NAME=DIR.")
                )
            )
            .Top;

    /// <summary>Reads a plan, or says why not.</summary>
    public static Plan ReadPlan(string path) => PlanDocument.ReadFile(File(path, "plan"));

    /// <summary>A file that the command line names.</summary>
    /// <exception cref="IOException">There is no such file.</exception>
    public static StoragePath File(string path, string what) =>
        Directory.Exists(path) ? throw new FileNotFoundException($"{path} is a folder; name the {what} file in it.")
        : StorageRoot.File(path) is { IsFile: true } file ? file
        : throw new FileNotFoundException($"{path} is no regular file.");

    /// <summary>"12 of 48 files, 31 MB of 120 MB"</summary>
    public static string Describe(IntakeProgress p) => $"{p.Files} of {p.OfFiles} files, {p.Bytes >> 20} of {p.OfBytes >> 20} MiB";

    /// <summary>Writes a text to a file, or to standard output for <c>-</c>.</summary>
    public static void Write(string? path, Func<string> text)
    {
        if (path == "-")
        {
            Terminal.Write(text());
        }
        else if (path is not null)
        {
            Whole(path, to => to.Write(Encoding.UTF8.GetBytes(text())));
        }
    }

    /// <summary>Writes a file beside its place and puts it there when it is whole: a full disk leaves what was there, or nothing. What is
    /// no regular file, such as a pipe, is written into.</summary>
    public static void Whole(string path, Action<Stream> write)
    {
        bool isThere = Path.Exists(path) || new FileInfo(path).LinkTarget is not null;
        if (isThere && (new FileInfo(path).LinkTarget is not null || StorageRoot.File(path).Look()?.Kind != FileKind.Regular))
        {
            using FileStream into = System.IO.File.Create(path);
            write(into);
            return;
        }

        string full = Path.GetFullPath(path);
        StorageRoot.At(Path.GetDirectoryName(full)!).Top.At(Path.GetFileName(full)).Replace(write);
    }
}
