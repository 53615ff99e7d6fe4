using System.Text.Json.Serialization;

namespace DuneCrate.Checking.Reports;

/// <summary>How reports are written, worked out when the code is built: at start nothing has to be asked of the types.</summary>
[JsonSerializable(typeof(CheckReport))]
[JsonSerializable(typeof(RerunList))]
[JsonSerializable(typeof(ShowReport))]
internal sealed partial class ReportJson : JsonSerializerContext;
