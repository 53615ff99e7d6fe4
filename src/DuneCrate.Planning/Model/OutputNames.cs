using System.Collections.Immutable;
using DuneCrate.Foundation.Naming;

namespace DuneCrate.Planning.Model;

/// <summary>Which planned output a file belongs to, by its name alone. Immutable; safe to share.</summary>
public sealed class OutputNames(ImmutableArray<PlannedOutput> outputs)
{
    private readonly Dictionary<(string, string), PlannedOutput> _byName = outputs
        .DistinctBy(o => (o.Name.Prefix, o.Name.Suffix))
        .ToDictionary(o => (o.Name.Prefix, o.Name.Suffix));

    /// <summary>The outputs.</summary>
    public ImmutableArray<PlannedOutput> Outputs => outputs;

    /// <summary>
    /// The output that every file of a sequence belongs to, or null. Mostly a whole sequence bears the name of an output; else each of its
    /// names must be asked for with <see cref="Find"/>.
    /// </summary>
    public PlannedOutput? FindWhole(FileSequence sequence) =>
        sequence.Name.Padding > 0
        && _byName.TryGetValue((sequence.Name.Prefix, sequence.Name.Suffix), out PlannedOutput? output)
        && output.Name.Padding > 0
            ? output
            : null;

    /// <summary>The output that a path belongs to with the frame that it claims, tried at every number in it; or null.</summary>
    public (PlannedOutput Output, int Frame, int Digits)? Find(string path)
    {
        if (_byName.TryGetValue((path, ""), out PlannedOutput? still) && still.Name.Padding == 0)
        {
            return (still, still.Frames.IsEmpty ? 0 : still.Frames.First, 0);
        }

        foreach (SequenceFinder.Slot slot in SequenceFinder.NumbersIn(path))
        {
            if (_byName.TryGetValue((slot.Prefix, slot.Suffix), out PlannedOutput? output) && output.Name.Padding > 0)
            {
                return (output, slot.Frame, slot.Digits);
            }
        }

        return null;
    }
}
