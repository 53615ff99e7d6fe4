using System.CommandLine;
using System.Globalization;
using DuneCrate.Checking.Intake;
using DuneCrate.Foundation.Passes;
using DuneCrate.Foundation.Storage;
using DuneCrate.Imaging;
using DuneCrate.Imaging.Listing;

namespace DuneCrate.Commands;

/// <summary><c>dune facts PATH…</c></summary>
public static class FactsVerb
{
    public static Command Create()
    {
        var paths = new Argument<string[]>("PATH") { Description = "Files or folders", Arity = ArgumentArity.OneOrMore };
        Option<FactsDepth> depth = Shared.Depth(FactsDepth.Header);
        var json = new Option<bool>("--json") { Description = "Write the document dune-crate.facts/1 to standard output" };
        var verb = new Command("facts", "Facts of files or folders.") { paths, depth, json };
        verb.SetAction(
            (parsed, cancel) =>
                Task.FromResult(
                    Outcome.Run(() => Run(parsed.GetRequiredValue(paths), parsed.GetValue(depth), parsed.GetValue(json), cancel))
                )
        );
        return verb;
    }

    private static int Run(string[] paths, FactsDepth depth, bool json, CancellationToken cancel)
    {
        var files = new List<IntakeFile>();
        foreach (string path in paths)
        {
            if (Directory.Exists(path))
            {
                FolderContents listed = FolderListing.Read(Shared.Folder(path), cancel);
                files.AddRange(listed.Files);
                foreach (string closed in listed.Closed)
                {
                    Terminal.Tell($"dune: the folder {closed} may not be read; what it holds is not known.");
                }
            }
            else if (Path.Exists(path) && FolderListing.OfFile(StorageRoot.File(path), path) is { } file)
            {
                files.Add(file);
            }
            else
            {
                return Outcome.Fail(Path.Exists(path) ? $"{path} is no regular file." : $"there is no file or folder {path}.");
            }
        }

        var facts = new FileFacts[files.Count];
        ReadLimits limits = Shared.Limits();
        Parallel.For(
            0,
            files.Count,
            new ParallelOptions { MaxDegreeOfParallelism = Environment.ProcessorCount, CancellationToken = cancel },
            i => facts[i] = FactsReader.Read(files[i], new FactsRequest(depth), limits, cancel)
        );
        if (json)
        {
            Terminal.Write(new FactsDocument([.. facts]).Write());
            return Outcome.Done;
        }

        foreach (FileFacts file in facts)
        {
            Terminal.Say(
                string.Create(
                    CultureInfo.InvariantCulture,
                    $"{file.Path}  {file.Format}  {file.Bytes:N0} bytes{(file.Problem is null ? "" : $"  {file.Problem}")}"
                )
            );
            foreach (PartFacts part in file.Parts)
            {
                Terminal.Say(
                    string.Create(
                        CultureInfo.InvariantCulture,
                        $"  part {part.Index}  {part.DisplayWindow.Width} × {part.DisplayWindow.Height}  {part.Compression}  "
                            + $"{part.FrameRate?.ToDisplay() ?? "no rate"}  {part.Camera ?? "no camera"}"
                    )
                );
                foreach (ChannelFacts channel in part.Channels)
                {
                    string numbers = channel.Samples is { } s
                        ? string.Create(
                            CultureInfo.InvariantCulture,
                            $"  min {s.Min:g6}  max {s.Max:g6}  mean {s.Mean:g6}  deviation {s.StdDev:g6}  nan {s.Nan}  inf {s.Inf}"
                        )
                        : "";
                    Terminal.Say($"    {channel.Name, -24} {channel.Type.Name(), -6} {channel.Pass, -18}{numbers}");
                }
            }
        }

        return Outcome.Done;
    }
}
