namespace DuneCrate.Imaging.Statistics;

/// <summary>What counts as a soft edge and as shining where there is no alpha, and both counted over planes.</summary>
public static class SoftAlpha
{
    /// <summary>Colour above this shines.</summary>
    public const float Lit = 1e-3f;

    /// <summary>Between these two an alpha is that of a soft edge.</summary>
    public const float SoftFrom = 0.02f,
        SoftTo = 0.98f;

    /// <summary>Whether an alpha is that of a soft edge.</summary>
    public static bool IsSoft(float alpha) => alpha is > SoftFrom and < SoftTo;

    /// <summary>Counts planes, where nothing is known of passes that shine beyond alpha.</summary>
    /// <param name="colour">Red, green and blue.</param>
    /// <param name="alpha">Alpha.</param>
    public static AlphaFacts Of(float[][] colour, float[] alpha)
    {
        long empty = 0,
            lit = 0,
            soft = 0,
            above = 0;
        for (int i = 0; i < alpha.Length; i++)
        {
            float brightest = MathF.Max(colour[0][i], MathF.Max(colour[1][i], colour[2][i]));
            if (alpha[i] <= 0)
            {
                empty++;
                lit += brightest > Lit ? 1 : 0;
            }
            else if (IsSoft(alpha[i]))
            {
                soft++;
                above += brightest > alpha[i] + Lit ? 1 : 0;
            }
        }

        return new AlphaFacts(empty, lit, soft, above, null);
    }
}
