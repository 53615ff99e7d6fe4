using System.Globalization;
using DuneCrate.Checking.Matching;
using DuneCrate.Foundation.Frames;
using DuneCrate.Foundation.Passes;
using DuneCrate.Planning.Model;
using DuneCrate.Planning.Scene;

namespace DuneCrate.Checking.Rules;

/// <summary>The ids or flat colours that a pass may show.</summary>
/// <param name="Words">For people.</param>
/// <param name="Knows">Whether a value met in the picture is one of them; the background always is.</param>
internal sealed record PlannedIds(string Words, Func<string, bool> Knows)
{
    /// <summary>What a pass may show, or null when the plan does not say or the pass has no ids.</summary>
    public static PlannedIds? From(PlannedOutput output, CheckedPass pass)
    {
        SceneItem[] items = [.. output.Plan.Items];
        if (pass.Definition?.Has(PassMeasures.ObjectIds) == true)
        {
            int[] ids = output.Passes.First(p => p.Pass == pass.Name).Ids is { } asked
                ? [.. asked]
                : [.. items.Select(i => i.Id).OfType<int>()];
            var known = ids.Append(0).Select(i => i.ToString(CultureInfo.InvariantCulture)).ToHashSet();
            return ids.Length == 0 ? null : new PlannedIds($"ids {FrameSet.From(ids)}", v => known.Contains(v));
        }

        if (pass.Definition?.Has(PassMeasures.MaterialColours) == true)
        {
            (byte Red, byte Green, byte Blue)[] colours =
            [
                .. items.Select(i => FlatColours.TryParse(i.Colour, out var c) ? c : default).Distinct(),
            ];
            return items.All(i => i.Colour is null)
                ? null
                : new PlannedIds($"{items.Count(i => i.Colour is not null)} flat colours", v => IsNear(v, colours));
        }

        return null;
    }

    private static bool IsNear(string value, (byte Red, byte Green, byte Blue)[] colours)
    {
        double[] parts = [.. value.Split(' ').Select(p => double.Parse(p, CultureInfo.InvariantCulture) * 255)];
        return parts.Length == 3
            && (
                parts.All(p => p == 0)
                || colours.Any(c =>
                    Math.Abs(parts[0] - c.Red) <= 1 && Math.Abs(parts[1] - c.Green) <= 1 && Math.Abs(parts[2] - c.Blue) <= 1
                )
            );
    }
}
