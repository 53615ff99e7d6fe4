using System.CommandLine;
using DuneCrate.Core.Intake;
using DuneCrate.Core.Planning;

namespace DuneCrate.Cli.Verbs;

/// <summary>Options that several verbs have.</summary>
internal static class Shared
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
                    result.AddError($"'{text}' is not a depth; use header or pixels.");
                }

                return text == "pixels" ? FactsDepth.Pixels : FactsDepth.Header;
            },
        };
        depth.CompletionSources.Add("header", "pixels");
        return depth;
    }

    /// <summary>What files may claim and cost: the environment variables <c>Limits__MaxPixels</c> and so on, as for the web application.</summary>
    public static ReadLimits Limits() => ReadLimits.Default.With(name => Environment.GetEnvironmentVariable($"Limits__{name}"));

    /// <summary>Reads a plan, or says why not.</summary>
    public static Plan ReadPlan(string path) => File.Exists(path)
        ? PlanDocument.ReadFile(path)
        : throw new FileNotFoundException(Directory.Exists(path) ? $"{path} is a folder; name the plan file in it." : $"There is no plan {path}.");

    /// <summary>"12 of 48 files, 31 MB of 120 MB"</summary>
    public static string Describe(IntakeProgress p) => $"{p.Files} of {p.OfFiles} files, {p.Bytes >> 20} of {p.OfBytes >> 20} MiB";

    /// <summary>Writes a text to a file, or to standard output for <c>-</c>.</summary>
    public static void Write(string? path, Func<string> text)
    {
        if (path == "-")
        {
            Console.Out.Write(text());
        }
        else if (path is not null)
        {
            File.WriteAllText(path, text());
        }
    }
}
