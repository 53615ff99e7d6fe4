using System.Text.Json;
using System.Text.Json.Serialization;
using DuneCrate.Foundation.Documents;
using DuneCrate.Store.Rows;

namespace DuneCrate.Shots.Notifications;

/// <summary>The document <c>dune-crate.event/1</c>: one thing that happened, for people and programs outside.</summary>
public sealed record EventDocument
{
    /// <summary>Always dune-crate.event/1.</summary>
    public string Schema { get; init; } = "dune-crate.event/1";

    /// <summary>One of <see cref="NotificationKinds"/>.</summary>
    public required string Kind { get; init; }

    /// <summary>When, UTC.</summary>
    public required DateTime At { get; init; }

    /// <summary>Code of the show.</summary>
    public required string Show { get; init; }

    /// <summary>Code of the shot.</summary>
    public required string Shot { get; init; }

    /// <summary>What happened, in one line.</summary>
    public required string What { get; init; }

    /// <summary>Who did it, or null.</summary>
    [JsonIgnore(Condition = JsonIgnoreCondition.WhenWritingNull)]
    public string? By { get; init; }

    /// <summary>Where to look, or null when the application's address is not configured.</summary>
    [JsonIgnore(Condition = JsonIgnoreCondition.WhenWritingNull)]
    public string? Address { get; init; }

    /// <summary>Numbers that belong to it, such as blockers and files; null for none.</summary>
    [JsonIgnore(Condition = JsonIgnoreCondition.WhenWritingNull)]
    public IReadOnlyDictionary<string, long>? Counts { get; init; }

    /// <summary>Something that happened to a shot.</summary>
    public static EventDocument About(ShotRow shot, string kind, DateTime at, string what) =>
        new()
        {
            Kind = kind,
            At = at,
            Show = shot.Show.Code,
            Shot = shot.Code,
            What = what,
        };

    /// <summary>The document's text.</summary>
    public string Write() => JsonSerializer.Serialize(this, EventJson.Ahead.Of<EventDocument>()) + "\n";

    /// <summary>The event of such a text.</summary>
    /// <exception cref="JsonException">It is none.</exception>
    public static EventDocument Read(string json) => DocumentJson.Read<EventDocument>(json, EventJson.Ahead);
}
