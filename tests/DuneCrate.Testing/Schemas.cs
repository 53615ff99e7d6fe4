using System.Diagnostics;

namespace DuneCrate.Testing;

/// <summary>Holds documents against the JSON Schemas that ship in docs/schemas, by npm's ajv (JSON Schema draft 2020-12).</summary>
public static class Schemas
{
    /// <summary>What ajv has to say against a document, or an empty text.</summary>
    /// <param name="path">A file that the document may be written to.</param>
    /// <param name="schema">Name of the schema: "plan".</param>
    /// <param name="document">The document's text.</param>
    public static string Complaint(string path, string schema, string document)
    {
        File.WriteAllText(path, document);
        var start = new ProcessStartInfo("node") { RedirectStandardError = true, WorkingDirectory = Repository.Root };
        foreach (
            string argument in (string[])["tests/DuneCrate.Crates.Tests/Documents/validate.cjs", $"docs/schemas/{schema}.schema.json", path]
        )
        {
            start.ArgumentList.Add(argument);
        }

        using Process process = Process.Start(start)!;
        string complaint = process.StandardError.ReadToEnd();
        process.WaitForExit();
        Assert.True(process.ExitCode is 0 or 1, complaint);
        return complaint;
    }
}
