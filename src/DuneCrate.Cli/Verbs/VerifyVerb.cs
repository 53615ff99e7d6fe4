using System.CommandLine;
using System.Security.Cryptography;
using DuneCrate.Cli.Remote;
using DuneCrate.Commands;
using DuneCrate.Crates;
using DuneCrate.Crates.Events;
using DuneCrate.Crates.Signing;
using DuneCrate.Foundation.Documents;
using DuneCrate.Foundation.Storage;

namespace DuneCrate.Cli.Verbs;

/// <summary><c>dune verify CRATE</c></summary>
internal static class VerifyVerb
{
    public static Command Create()
    {
        var crate = new Argument<string>("CRATE") { Description = "The crate's folder; with --server its name" };
        var key = new Option<string[]>("--key")
        {
            Description = "A public key in PEM form that must have signed it; several for any of them",
            DefaultValueFactory = _ => [],
        };
        var verb = new Command("verify", "Read a crate back against its manifest, checksums and signature.") { crate, key };
        var remote = new ServerOptions();
        foreach (Option option in remote.All)
        {
            verb.Options.Add(option);
        }

        verb.SetAction(
            (parsed, cancel) =>
                Outcome.RunAsync(async () =>
                {
                    if (remote.Read(parsed) is { } server)
                    {
                        return await ThereAsync(server, parsed.GetRequiredValue(crate), cancel);
                    }

                    ECDsa[] keys = [.. parsed.GetRequiredValue(key).Select(k => CrateSignature.Read(Pem(k)))];
                    StoragePath folder = Shared.Folder(parsed.GetRequiredValue(crate));
                    CrateProof proof = CrateVerifier.Verify(folder, null, cancel, keys);
                    foreach (string problem in proof.Problems)
                    {
                        Terminal.Say(problem);
                    }

                    Terminal.Say(
                        proof.IsWhole
                            ? $"{proof.Manifest.Name} is whole: {proof.Files} files, {proof.Bytes >> 20} MiB."
                            : $"{proof.Manifest.Name} is not whole: {proof.Problems.Length} of {proof.Files} files differ."
                    );
                    if (proof is { IsWhole: true, Carried: { } carried, Manifest.Onto: { } onto })
                    {
                        Terminal.Tell(
                            $"it is a delta: {Words.Count(carried, "further file")} are those of {onto.Name}; ./dune join makes a "
                                + "whole crate of both."
                        );
                    }

                    foreach (CrateEvent line in CrateHistory.Of(folder).Events)
                    {
                        Terminal.Tell($"{line.At:yyyy-MM-dd HH:mm} {line.Did} by {line.By}: {line.What}.");
                    }

                    if (proof.IsWhole)
                    {
                        Terminal.Tell(Signed(proof.Manifest, keys.Length > 0));
                    }

                    return proof.IsWhole ? Outcome.Done : Outcome.Blocked;
                })
        );
        return verb;
    }

    /// <summary>Has the crate of this name read back on a server, which holds it against its own keys.</summary>
    private static async Task<int> ThereAsync(Server server, string crate, CancellationToken cancel)
    {
        string[] problems = await server.VerifyAsync(crate, cancel);
        foreach (string problem in problems)
        {
            Terminal.Say(problem);
        }

        Terminal.Say(problems.Length == 0 ? $"{crate} is whole, on {server.Address}." : $"{crate} is not whole, on {server.Address}.");
        return problems.Length == 0 ? Outcome.Done : Outcome.Blocked;
    }

    private static string Pem(string file) => Shared.File(file, "key").ReadText(CrateSignature.MostBytes);

    private static string Signed(CrateManifest crate, bool isKnown) =>
        crate.SignedWith is not { } print ? "it is not signed."
        : isKnown ? $"signed with {print}, which is the key that you gave."
        : $"signed with {print}; give --key to tell whose that is.";
}
