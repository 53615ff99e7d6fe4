using System.Text.Json;
using System.Text.Json.Serialization;
using DuneCrate.Foundation.Documents;

namespace DuneCrate.Web.Api.Answers;

/// <summary>How answers to scripts are written, worked out when the code is built.</summary>
[JsonSerializable(typeof(ProblemAnswer))]
[JsonSerializable(typeof(ShotsAnswer))]
[JsonSerializable(typeof(CheckBegun))]
[JsonSerializable(typeof(CheckState))]
[JsonSerializable(typeof(CrateBegun))]
[JsonSerializable(typeof(CrateState))]
[JsonSerializable(typeof(CratesAnswer))]
[JsonSerializable(typeof(Readiness))]
internal sealed partial class ApiJson : JsonSerializerContext
{
    /// <summary>Options for these answers: each on one line.</summary>
    public static readonly JsonSerializerOptions Ahead = DocumentJson.Ahead(new ApiJson(), DocumentJson.CompactForm);
}
