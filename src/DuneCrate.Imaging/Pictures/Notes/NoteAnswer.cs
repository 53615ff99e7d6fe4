using System.Collections.Immutable;
using System.Text.Json;
using DuneCrate.Foundation.Documents;

namespace DuneCrate.Imaging.Pictures.Notes;

/// <summary>What somebody answered to a note.</summary>
/// <param name="Words">The answer.</param>
/// <param name="By">Who wrote it.</param>
/// <param name="At">When, UTC.</param>
public sealed record NoteAnswer(string Words, string By, DateTime At)
{
    /// <summary>The text that answers are kept as.</summary>
    public static string Write(ImmutableArray<NoteAnswer> answers) =>
        JsonSerializer.Serialize(answers, NoteJson.Ahead.Of<ImmutableArray<NoteAnswer>>());

    /// <summary>The answers of such a text.</summary>
    /// <exception cref="JsonException">It is none.</exception>
    public static ImmutableArray<NoteAnswer> Read(string json) => [.. DocumentJson.Read<NoteAnswer[]>(json, NoteJson.Ahead)];
}
