using System.Text.Json;
using DuneCrate.Foundation.Documents;
using DuneCrate.Shots.Checking;
using DuneCrate.Shots.Notifications;
using DuneCrate.Web.Api.Answers;

namespace DuneCrate.Web.Tests;

/// <summary>
/// What the application writes by code that was made when it was built has the bytes that the serializer writes when it asks the types.
/// </summary>
public sealed class AheadTests
{
    [Fact]
    public void Events_have_the_same_bytes_either_way_and_are_read_as_they_were()
    {
        EventDocument whole = WholeDocument.Of<EventDocument>(),
            bare = whole with { By = null, Address = null, Counts = null };
        foreach (EventDocument document in (EventDocument[])[whole, bare])
        {
            Assert.Equal(JsonSerializer.Serialize(document, AnyJson.Options) + "\n", document.Write());
            Assert.Equal(document.Write(), EventDocument.Read(document.Write()).Write());
        }
    }

    [Fact]
    public void Renames_and_answers_to_scripts_have_the_same_bytes_either_way()
    {
        Same<RenameStep>(AnyJson.Options, RenameJson.Ahead);
        Same<ProblemAnswer>(AnyJson.Compact, ApiJson.Ahead);
        Same<ShotsAnswer>(AnyJson.Compact, ApiJson.Ahead);
        Same<CheckBegun>(AnyJson.Compact, ApiJson.Ahead);
        Same<CheckState>(AnyJson.Compact, ApiJson.Ahead);
        Same<CrateBegun>(AnyJson.Compact, ApiJson.Ahead);
        Same<CrateState>(AnyJson.Compact, ApiJson.Ahead);
        Same<CratesAnswer>(AnyJson.Compact, ApiJson.Ahead);
        Same<Readiness>(AnyJson.Compact, ApiJson.Ahead);
        var nothingYet = new CrateState(1, null, "queued", null, null, 0, 0, "", null, []);
        Assert.Equal(JsonSerializer.Serialize(nothingYet, AnyJson.Compact), JsonSerializer.Serialize(nothingYet, ApiJson.Ahead));
    }

    private static void Same<T>(JsonSerializerOptions asked, JsonSerializerOptions ahead)
    {
        T document = WholeDocument.Of<T>();
        Assert.Equal(JsonSerializer.Serialize(document, asked), JsonSerializer.Serialize(document, ahead));
    }
}
