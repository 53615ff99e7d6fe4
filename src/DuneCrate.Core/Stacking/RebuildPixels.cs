using System.Collections.Immutable;
using System.Numerics.Tensors;
using DuneCrate.Core.Images;

namespace DuneCrate.Core.Stacking;

/// <summary>Beauty, sum and residual of one frame, as pictures' planes; and the numbers.</summary>
/// <param name="Window">The data window.</param>
/// <param name="Sum">Red, green and blue of Σ terms.</param>
/// <param name="Residual">Per pixel the greatest |beauty − sum| of the three colours.</param>
/// <param name="Facts">The numbers.</param>
public sealed record RebuildPixels(PixelBox Window, ImmutableArray<float[]> Sum, float[] Residual, RebuildFacts Facts)
{
    /// <summary>Works the rebuild out from planes by channel name.</summary>
    public static RebuildPixels Of(RebuildRecipe recipe, IReadOnlyDictionary<string, float[]> planes, PixelBox window)
    {
        int size = (int)(window.Width * window.Height);
        float[] residual = new float[size], difference = new float[size], product = new float[size];
        var sums = ImmutableArray.CreateBuilder<float[]>(3);
        for (int colour = 0; colour < 3; colour++)
        {
            float[] sum = new float[size];
            foreach (RebuildRecipeTerm term in recipe.Terms)
            {
                planes[term.Factors[0][colour]].CopyTo(product, 0);
                foreach (ImmutableArray<string> factor in term.Factors.Skip(1))
                {
                    TensorPrimitives.Multiply(product, planes[factor[colour]], product);
                }

                TensorPrimitives.Add(sum, product, sum);
            }

            TensorPrimitives.Subtract(planes[recipe.Beauty[colour]], sum, difference);
            TensorPrimitives.Abs<float>(difference, difference);
            TensorPrimitives.Max<float>(residual, difference, residual);
            sums.Add(sum);
        }

        return new RebuildPixels(window, sums.MoveToImmutable(), residual, Intake.SplitRebuild.Measure(recipe, planes, window));
    }
}
