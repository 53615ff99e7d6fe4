using DuneCrate.Checking.Findings;
using DuneCrate.Checking.Intake;
using DuneCrate.Checking.Intake.Measures;
using DuneCrate.Checking.Matching;
using DuneCrate.Exr;

namespace DuneCrate.Checking.Rules;

/// <summary>What pixel rules share: the statistics of a pass in a file.</summary>
public abstract class PixelRule : FileRule
{
    /// <inheritdoc/>
    public override FactsDepth Depth => FactsDepth.Pixels;

    /// <inheritdoc/>
    public override EvidenceKind Evidence => EvidenceKind.Frame;

    /// <summary>The statistics of a pass's channels in a file, those that were read.</summary>
    protected static PassSamples Samples(CheckedPass pass, CheckedFile file) => new(file.Shape.Places(pass, colour: false), file.Facts);

    /// <summary>What was measured of a pass in a whole file, or null.</summary>
    protected static PassFacts? Measured(CheckedPass pass, CheckedFile file)
    {
        foreach (PartFacts part in file.Facts.Trouble == ImageProblem.None ? file.Facts.Parts : [])
        {
            foreach (PassFacts facts in part.Passes ?? [])
            {
                if (facts.Pass == pass.Name)
                {
                    return facts;
                }
            }
        }

        return null;
    }

    /// <summary>The same without alpha.</summary>
    protected static PassSamples Colours(CheckedPass pass, CheckedFile file) => new(file.Shape.Places(pass, colour: true), file.Facts);

    /// <summary>Whether a picture was read and every sample of it is 0.</summary>
    protected static bool IsBlack(CheckedPass pass, CheckedFile file) =>
        Colours(pass, file) is var colours && colours.Any() && colours.All(c => c.Samples is { Min: 0, Max: 0, Nan: 0, Inf: 0 });
}
