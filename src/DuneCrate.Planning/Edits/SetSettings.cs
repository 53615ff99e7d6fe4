using System.Collections.Immutable;
using System.Text.Json.Serialization;
using DuneCrate.Planning.Model;

namespace DuneCrate.Planning.Edits;

/// <summary>Sets a render setting of some layers, or of all of them; without a value they have the show's again.</summary>
public sealed record SetSettings(ImmutableArray<string> Layers, string Name, string? Value) : PlanEdit
{
    /// <inheritdoc/>
    [JsonIgnore]
    public override string Description =>
        $"{Name} of {Listed(Layers, "all layers")} set to {(string.IsNullOrEmpty(Value) ? "the show's" : Value)}";

    /// <inheritdoc/>
    protected override Plan Change(Plan plan)
    {
        string name = RenderSettings.NameOf(Name.Trim()),
            value = Value?.Trim() ?? "";
        if (name.Length == 0)
        {
            throw new PlanEditException("setting", "A render setting needs a name.");
        }

        if (value.Length > 0 && RenderSettings.Problem(name, value) is { } problem)
        {
            throw new PlanEditException("setting", problem);
        }

        foreach (string layer in Named(plan, Layers))
        {
            plan = ChangeLayer(
                plan,
                layer,
                l =>
                {
                    var settings = new OrderedDictionary<string, string>(l.Settings ?? []);
                    if (value.Length == 0)
                    {
                        settings.Remove(name);
                    }
                    else
                    {
                        settings[name] = value;
                    }

                    return l with
                    {
                        Settings = settings.Count == 0 ? null : settings,
                    };
                }
            );
        }

        return plan;
    }
}
