using System.Text.Json;
using DuneCrate.Core.Documents;
using DuneCrate.Core.Tests.Planning;

namespace DuneCrate.Core.Tests.Documents;

/// <summary>
/// Plans are read and written by code that is generated when the product is built. The serializer that asks the types by reflection is the
/// reference: both read every text alike, or refuse it with the same words at the same place, and write the same bytes.
/// </summary>
public sealed class GeneratedJsonTests
{
    [Theory]
    [MemberData(nameof(MutatedDocumentTests.Changes), MemberType = typeof(MutatedDocumentTests))]
    public void A_plan_is_read_as_by_reflection(string change) =>
        JsonMutations.AllAreUsed(PlanDocument.Write(MutatedDocumentTests.WholePlan()), change, Same);

    [Theory]
    [InlineData("""{ "show": { "code": "KELP" }, "shot": { "code": "KP010", "frames": "1001-1010" } }""")]
    [InlineData("""{ "show": { "code": "KELP" }, "shot": { "code": "KP010" } }""")]
    [InlineData(
        """
            { "show": { "code": "KELP", "padding": 5 }, "shot": { "code": "A", "frames": "1" },
              "layers": [ { "name": "a", "outputs": [ { "template": "{layer}", "passes": [ { "pass": "beauty" } ] } ] } ] }
            """
    )]
    [InlineData("""{ "show": { "code": "KELP" }, "shot": { "code": "A", "frames": "1" }, "layers": null }""")]
    [InlineData("""{ "show": null, "shot": { "code": "A", "frames": "1" } }""")]
    [InlineData(
        """
            { "note": "kept", "show": { "code": "KELP", "colour": [1, { "a": null }] }, "shot": { "code": "A", "frames": "1" },
              "layers": [ { "name": "a", "later": 4 } ] }
            """
    )]
    [InlineData("{}")]
    [InlineData("[]")]
    [InlineData("null")]
    [InlineData("")]
    public void A_text_is_read_as_by_reflection(string json) => Same(json);

    private static void Same(string json)
    {
        (string? reference, string? refusal) = Read(
            () => DocumentJson.Read<Plan>(json),
            p => JsonSerializer.Serialize(p, DocumentJson.Options) + "\n"
        );
        (string? ours, string? refused) = Read(() => DocumentJson.Read<Plan>(json, PlanDocument.Options), PlanDocument.Write);
        Assert.Equal(refusal, refused);
        Assert.Equal(reference, ours);
    }

    private static (string? Text, string? Refusal) Read(Func<Plan> read, Func<Plan, string> write)
    {
        try
        {
            return (write(read()), null);
        }
        catch (JsonException e)
        {
            return (null, $"{e.Path} {DocumentJson.Problem(e)}");
        }
    }
}
