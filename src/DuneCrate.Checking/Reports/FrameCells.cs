using System.Text;
using DuneCrate.Checking.Findings;
using DuneCrate.Foundation.Frames;

namespace DuneCrate.Checking.Reports;

/// <summary>
/// A row's runs as the frame map draws them, short enough for hundreds of thousands of cells: groups with <c>;</c> between, each a letter
/// for the state and its runs with
/// <c>,</c> between; a run is the frames left out since the run before (or since the first frame of the map) and, after <c>+</c>, the
/// frames that follow its first, both to base 36.
/// Everything that is planned or found comes first as good; what is not good lies over it.
/// </summary>
public static class FrameCells
{
    private const string Letters = "pgousxwdm",
        Digits = "0123456789abcdefghijklmnopqrstuvwxyz";

    /// <summary>
    /// The text of a row. Letters: p pending, g good, o other, u not planned, s settling, x suspect, w wrong, d damaged, m missing.
    /// </summary>
    /// <param name="row">The row.</param>
    /// <param name="first">First frame of the map.</param>
    public static string Encode(FrameMapRow row, int first)
    {
        var text = new StringBuilder();
        FrameSet there = row.There;
        Append(text, 'g', there, first);
        foreach ((FrameState state, FrameSet frames) in row.Runs)
        {
            if (state != FrameState.Good)
            {
                Append(text, Letters[(int)state], frames, first);
            }
        }

        return text.ToString();
    }

    private static void Append(StringBuilder text, char letter, FrameSet frames, long next)
    {
        if (frames.IsEmpty)
        {
            return;
        }

        text.Append(text.Length > 0 ? ";" : "").Append(letter);
        bool isFirst = true;
        foreach (FrameRun run in frames.Runs)
        {
            long span = run.Step == 1 ? (long)run.Last - run.First : 0;
            for (long at = run.First; at <= run.Last; at += span + Math.Max(1, run.Step))
            {
                text.Append(isFirst ? "" : ",");
                Number(text, at - next);
                if (span > 0)
                {
                    Number(text.Append('+'), span);
                }

                (isFirst, next) = (false, at + span + 1);
            }
        }
    }

    private static void Number(StringBuilder text, long number)
    {
        if (number < 0)
        {
            text.Append('-');
            number = -number;
        }

        int place = text.Length;
        do
        {
            text.Insert(place, Digits[(int)(number % 36)]);
            number /= 36;
        } while (number > 0);
    }
}
