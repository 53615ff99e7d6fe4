using DuneCrate.Foundation.Naming;
using DuneCrate.Foundation.Passes;
using DuneCrate.Planning.Model;

namespace DuneCrate.Planning.Edits;

/// <summary>Names of layers: what is allowed, and what follows a new one.</summary>
internal static class LayerNames
{
    public static void Check(Plan plan, string name, string? but = null)
    {
        if (TextLimits.NameProblem(name) is { } problem)
        {
            throw new PlanEditException("name", problem);
        }

        if (plan.Layers.Any(l => l.Name != but && l.Name.Equals(name, StringComparison.OrdinalIgnoreCase)))
        {
            throw new PlanEditException("name", $"There is a layer {name} already; file systems may not tell them apart.");
        }
    }

    /// <summary>The layer under another name, with templates that spell the name and channels that begin with it.</summary>
    public static LayerPlan Renamed(LayerPlan layer, string from, string to) =>
        layer with
        {
            Name = to,
            Outputs =
            [
                .. layer.Outputs.Select(o =>
                    o with
                    {
                        Template = Spelled(o.Template, from, to),
                        Passes =
                        [
                            .. o.Passes.Select(p =>
                                p with
                                {
                                    Channels = new OrderedDictionary<string, ChannelType>(
                                        p.Channels.Select(c =>
                                            KeyValuePair.Create(
                                                c.Key.StartsWith(from + ".", StringComparison.Ordinal) ? to + c.Key[from.Length..] : c.Key,
                                                c.Value
                                            )
                                        )
                                    ),
                                }
                            ),
                        ],
                    }
                ),
            ],
        };

    public static OrderedDictionary<string, TValue>? Rekeyed<TValue>(OrderedDictionary<string, TValue>? values, string from, string to) =>
        values is null
            ? null
            : new OrderedDictionary<string, TValue>(values.Select(v => KeyValuePair.Create(v.Key == from ? to : v.Key, v.Value)));

    /// <summary>Replaces the name where it stands as a whole word outside of tokens.</summary>
    private static string Spelled(string template, string from, string to)
    {
        for (
            int at = template.IndexOf(from, StringComparison.Ordinal);
            at >= 0;
            at = template.IndexOf(from, at + to.Length, StringComparison.Ordinal)
        )
        {
            bool isWord =
                (at == 0 || !char.IsAsciiLetterOrDigit(template[at - 1]))
                && (at + from.Length == template.Length || !char.IsAsciiLetterOrDigit(template[at + from.Length]));
            bool isToken = at > 0 && template[at - 1] == '{';
            if (isWord && !isToken)
            {
                template = template[..at] + to + template[(at + from.Length)..];
            }
            else
            {
                at += Math.Max(0, from.Length - to.Length);
            }

            if (at + to.Length > template.Length)
            {
                break;
            }
        }

        return template;
    }
}
