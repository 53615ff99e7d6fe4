using System.CommandLine;
using System.Globalization;
using DuneCrate.Checking.Comparing;
using DuneCrate.Commands;
using DuneCrate.Foundation.Documents;
using DuneCrate.Imaging;
using DuneCrate.Imaging.Listing;

namespace DuneCrate.Cli.Verbs;

/// <summary><c>dune compare A B</c></summary>
internal static class CompareVerb
{
    public static Command Create()
    {
        var a = new Argument<string>("A") { Description = "A file or a folder" };
        var b = new Argument<string>("B") { Description = "Another of the same sort" };
        var tolerance = new Option<double>("--tolerance") { Description = "Samples that are no farther apart count as equal" };
        var json = new Option<string?>("--json")
        {
            Description = "Write the document dune-crate.comparison/1 to a file, or - for standard output",
        };
        var verb = new Command("compare", "How far two files or folders are apart.") { a, b, tolerance, json };
        verb.SetAction(
            (parsed, cancel) =>
                Task.FromResult(
                    Outcome.Run(() =>
                        Run(
                            parsed.GetRequiredValue(a),
                            parsed.GetRequiredValue(b),
                            parsed.GetValue(tolerance) is >= 0 and < double.PositiveInfinity and var t
                                ? t
                                : throw new FormatException("--tolerance takes a number from 0."),
                            parsed.GetValue(json),
                            cancel
                        )
                    )
                )
        );
        return verb;
    }

    private static int Run(string a, string b, double tolerance, string? json, CancellationToken cancel)
    {
        ReadLimits limits = Shared.Limits();
        ComparisonDocument found;
        if (Directory.Exists(a) && Directory.Exists(b))
        {
            found = FolderComparison.Compare(Shared.Folder(a), Shared.Folder(b), tolerance, limits, cancel);
            if (found.Files.IsEmpty && found.OnlyA.IsEmpty && found.OnlyB.IsEmpty)
            {
                throw new FormatException($"There are no pictures in {a} and {b}.");
            }
        }
        else if (Directory.Exists(a) != Directory.Exists(b))
        {
            throw new FormatException($"One of {a} and {b} is a folder; name two files or two folders.");
        }
        else
        {
            FileDifference difference = FileComparison.Compare(File(a), File(b), tolerance, limits, cancel);
            found = new ComparisonDocument(tolerance, difference.Equal, [], [], [difference]);
        }

        Shared.Write(json, found.Write);
        if (json != "-")
        {
            Say(found);
        }

        return found.Equal ? Outcome.Done : Outcome.Blocked;
    }

    private static IntakeFile File(string path) => FolderListing.OfFile(Shared.File(path, "picture"), path)!;

    private static void Say(ComparisonDocument found)
    {
        foreach ((string word, string path) in found.OnlyA.Select(p => ("only in A", p)).Concat(found.OnlyB.Select(p => ("only in B", p))))
        {
            Terminal.Say($"{word}  {path}");
        }

        foreach (FileDifference file in found.Files)
        {
            if (!file.Equal)
            {
                Terminal.Say($"differs    {file.A}{(file.A == file.B ? "" : $" and {file.B}")}");
            }

            foreach (ChannelDifference c in file.Channels.Where(c => c.Off > 0))
            {
                string ratio = c.Psnr is { } db ? string.Create(CultureInfo.InvariantCulture, $"  {db:0.0} dB") : "",
                    odd = c.Odd > 0 ? $", {c.Odd} no numbers" : "";
                Terminal.Say(
                    string.Create(
                        CultureInfo.InvariantCulture,
                        $"    {c.Name, -24} max {c.Max:g4} at {c.Worst![0]}, {c.Worst[1]}  mean {c.Mean:g4}  rms {c.Rms:g4}{ratio}  "
                            + $"{Words.Percent(c.Off)} off{odd}"
                    )
                );
            }

            foreach (string note in file.Notes)
            {
                Terminal.Say($"    {note}");
            }
        }

        int apart = found.Files.Count(f => !f.Equal);
        Terminal.Say(
            found.Equal
                ? $"{Words.Count(found.Files.Length, "file")} equal{(found.Tolerance > 0 ? " within the tolerance" : "")}."
                : $"{Words.Number(apart)} of {Words.Count(found.Files.Length, "file")} differ, "
                    + $"{Words.Number(found.OnlyA.Length + found.OnlyB.Length)} have no counterpart."
        );
    }
}
