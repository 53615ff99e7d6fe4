using System.Collections.Immutable;
using System.CommandLine;
using System.Globalization;
using DuneCrate.Core.Intake;
using DuneCrate.Core.Passes;

namespace DuneCrate.Cli.Verbs;

/// <summary><c>dune facts PATH…</c></summary>
internal static class FactsVerb
{
    public static Command Make()
    {
        var paths = new Argument<string[]>("PATH") { Description = "Files or folders", Arity = ArgumentArity.OneOrMore };
        Option<FactsDepth> depth = Shared.Depth(FactsDepth.Header);
        var json = new Option<bool>("--json") { Description = "Write the document dune-crate.facts/1 to standard output" };
        var verb = new Command("facts", "Facts of files or folders.") { paths, depth, json };
        verb.SetAction((parsed, cancel) => Task.FromResult(Outcome.Of(() => Run(parsed.GetRequiredValue(paths), parsed.GetValue(depth), parsed.GetValue(json), cancel))));
        return verb;
    }

    private static int Run(string[] paths, FactsDepth depth, bool json, CancellationToken cancel)
    {
        var files = new List<IntakeFile>();
        foreach (string path in paths)
        {
            if (Directory.Exists(path))
            {
                files.AddRange(FolderListing.Of(path));
            }
            else if (File.Exists(path))
            {
                files.Add(FolderListing.OfFile(path) with { Path = path });
            }
            else
            {
                return Outcome.Fail($"there is no file or folder {path}.");
            }
        }

        var facts = new FileFacts[files.Count];
        ReadLimits limits = Shared.Limits();
        Parallel.For(0, files.Count, new ParallelOptions { MaxDegreeOfParallelism = Environment.ProcessorCount, CancellationToken = cancel }, i => facts[i] = FactsReader.Read(files[i], new FactsRequest(depth), limits, cancel));
        if (json)
        {
            Console.Out.Write(new FactsDocument([.. facts]).Write());
            return Outcome.Done;
        }

        foreach (FileFacts file in facts)
        {
            Console.Out.WriteLine(string.Create(CultureInfo.InvariantCulture, $"{file.Path}  {file.Format}  {file.Bytes:N0} bytes{(file.Problem is null ? "" : $"  {file.Problem}")}"));
            foreach (PartFacts part in file.Parts)
            {
                Console.Out.WriteLine(string.Create(CultureInfo.InvariantCulture, $"  part {part.Index}  {part.DisplayWindow.Width} × {part.DisplayWindow.Height}  {part.Compression}  {part.FrameRate?.ToDisplay() ?? "no rate"}  {part.Camera ?? "no camera"}"));
                foreach (ChannelFacts channel in part.Channels)
                {
                    string numbers = channel.Samples is { } s ? string.Create(CultureInfo.InvariantCulture, $"  min {s.Min:g6}  max {s.Max:g6}  mean {s.Mean:g6}  deviation {s.StdDev:g6}  nan {s.Nan}  inf {s.Inf}") : "";
                    Console.Out.WriteLine($"    {channel.Name,-24} {channel.Type.Name(),-6} {channel.Pass,-18}{numbers}");
                }
            }
        }

        return Outcome.Done;
    }
}
