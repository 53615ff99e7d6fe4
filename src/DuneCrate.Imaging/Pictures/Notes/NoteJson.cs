using System.Collections.Immutable;
using System.Text.Json;
using System.Text.Json.Serialization;
using DuneCrate.Foundation.Documents;

namespace DuneCrate.Imaging.Pictures.Notes;

/// <summary>How answers to notes are kept, worked out when the code is built.</summary>
[JsonSerializable(typeof(ImmutableArray<NoteAnswer>))]
[JsonSerializable(typeof(NoteAnswer[]))]
internal sealed partial class NoteJson : JsonSerializerContext
{
    /// <summary>Options for these answers.</summary>
    public static readonly JsonSerializerOptions Ahead = DocumentJson.Ahead(new NoteJson());
}
