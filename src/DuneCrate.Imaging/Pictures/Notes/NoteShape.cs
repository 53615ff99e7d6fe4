using System.Text.Json.Serialization;
using DuneCrate.Foundation.Json;

namespace DuneCrate.Imaging.Pictures.Notes;

/// <summary>What is drawn for a note on a picture.</summary>
[JsonConverter(typeof(EnumNames<NoteShape>))]
public enum NoteShape
{
    /// <summary>A box with two corners.</summary>
    Box,

    /// <summary>An arrow that begins at one point and ends at the other.</summary>
    Arrow,

    /// <summary>One pixel.</summary>
    Point,
}
