using System.CommandLine;
using DuneCrate.Core.Crates;

namespace DuneCrate.Cli.Verbs;

/// <summary><c>dune verify CRATE</c></summary>
internal static class VerifyVerb
{
    public static Command Create()
    {
        var crate = new Argument<string>("CRATE") { Description = "The crate's folder" };
        var verb = new Command("verify", "Read a crate back against its manifest and checksums.") { crate };
        verb.SetAction(
            (parsed, cancel) =>
                Task.FromResult(
                    Outcome.Run(() =>
                    {
                        CrateProof proof = CrateVerifier.Verify(Shared.Folder(parsed.GetRequiredValue(crate)), null, cancel);
                        foreach (string problem in proof.Problems)
                        {
                            Terminal.Say(problem);
                        }

                        Terminal.Say(
                            proof.IsWhole
                                ? $"{proof.Manifest.Name} is whole: {proof.Files} files, {proof.Bytes >> 20} MiB."
                                : $"{proof.Manifest.Name} is not whole: {proof.Problems.Length} of {proof.Files} files differ."
                        );
                        return proof.IsWhole ? Outcome.Done : Outcome.Blocked;
                    })
                )
        );
        return verb;
    }
}
