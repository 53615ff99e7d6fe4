using System.Globalization;
using System.Text;
using DuneCrate.Core.Checks;
using DuneCrate.Core.Frames;

namespace DuneCrate.Web.Shots;

/// <summary>
/// A lane's runs as the frame map draws them: <c>letter first last;</c> … Everything that is planned or found comes first as good; what is not good lies over it.
/// </summary>
public static class FrameCells
{
    private const string Letters = "pgusxdm";

    /// <summary>The text of a lane. Letters: p pending, g good, u not planned, s settling, x suspect, d damaged, m missing.</summary>
    public static string Of(FrameLane lane)
    {
        var text = new StringBuilder();
        FrameSet all = lane.Runs.Aggregate(FrameSet.Empty, (union, r) => union.Union(r.Frames));
        Append(text, 'g', all);
        foreach ((FrameState state, FrameSet frames) in lane.Runs)
        {
            if (state != FrameState.Good)
            {
                Append(text, Letters[(int)state], frames);
            }
        }

        return text.ToString();
    }

    private static void Append(StringBuilder text, char letter, FrameSet frames)
    {
        foreach (FrameRun run in frames.Runs)
        {
            for (int first = run.First; first <= run.Last; first += run.Step)
            {
                int last = run.Step == 1 ? run.Last : first;
                text.Append(CultureInfo.InvariantCulture, $"{letter} {first} {last};");
                if (run.Step == 1)
                {
                    break;
                }
            }
        }
    }
}
