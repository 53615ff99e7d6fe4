using System.Collections.Immutable;
using DuneCrate.Checking.Findings;
using DuneCrate.Checking.Reports;
using DuneCrate.Foundation.Frames;
using DuneCrate.Shots.Views;
using Microsoft.AspNetCore.Http;
using Microsoft.AspNetCore.WebUtilities;

namespace DuneCrate.Web.Tests;

/// <summary>What is looked at, in the address and back; and the runs of the frame map in their short form.</summary>
public class FindingQueryTests
{
    [Theory]
    [InlineData("")]
    [InlineData("of-layer=sub&of-pass=beauty&rule=pixels.black&severity=warning&state=damaged&words=1004%20lamp&order=frame")]
    [InlineData("rule=frames.missing")]
    [InlineData("order=count")]
    public void An_address_is_read_and_written_alike(string query)
    {
        FindingQuery read = Parse(query);
        Assert.Equal(query, string.Join('&', read.Parts.Select(p => $"{p.Name}={Uri.EscapeDataString(p.Value)}")));
        Assert.Equal(read, Parse(string.Join('&', read.Parts.Select(p => $"{p.Name}={Uri.EscapeDataString(p.Value)}"))));
    }

    [Theory]
    [InlineData("severity=grave&state=9&order=sideways&words=%20")]
    [InlineData("rule=&of-layer=&severity=")]
    [InlineData("severity=17")]
    public void What_cannot_be_read_asks_for_nothing(string query) => Assert.Equal(FindingQuery.All, Parse(query));

    [Fact]
    public void A_selection_carries_what_is_looked_at()
    {
        var selection = new Selection("sub", "depth", 1004, Parse("rule=depth.range&order=rule"));
        Assert.Equal("?layer=sub&pass=depth&frame=1004&rule=depth.range&order=rule", selection.Query);
        Assert.Equal("?", Selection.None.Query);
    }

    [Theory]
    [InlineData("good 1-10", 1, "g0+9")]
    [InlineData("good 5-10", 1, "g4+5")]
    [InlineData("good 1-2,5|missing 3-4", 1, "g0+1,2;m2+1")]
    [InlineData("good 1001-1100|damaged 1007,1050-1059", 1001, "g0+2r;d6,16+9")]
    [InlineData("pending 1-50", 1, "p0+1d")]
    [InlineData("good -3-3|suspect -1", -3, "g0+6;x2")]
    [InlineData("good 1-9x2", 1, "g0,1,1,1,1")]
    [InlineData("good 2-4|unplanned 9|settling 3", 1, "g1+2,4;u8;s2")]
    public void Runs_are_written_short(string lane, int first, string text) => Assert.Equal(text, FrameCells.Encode(Lane(lane), first));

    [Fact]
    public void Runs_read_as_the_script_reads_them_are_the_runs()
    {
        var random = new Random(11);
        for (int round = 0; round < 200; round++)
        {
            int first = random.Next(-50, 2000);
            var there = FrameSet.From(Enumerable.Range(first, random.Next(1, 300)).Where(_ => random.Next(4) > 0));
            var bad = FrameSet.From(there.Where(_ => random.Next(5) == 0));
            var lane = new FrameMapRow(
                "o",
                "sub",
                "beauty",
                ["beauty"],
                [new FrameStateRun(FrameState.Good, there.Except(bad)), new FrameStateRun(FrameState.Damaged, bad)],
                FrameState.Damaged
            );
            Dictionary<char, List<int>> read = Read(FrameCells.Encode(lane, first), first);
            Assert.Equal(there, read.GetValueOrDefault('g', []));
            Assert.Equal(bad, read.GetValueOrDefault('d', []));
        }
    }

    /// <summary>lanes.js, readRuns.</summary>
    private static Dictionary<char, List<int>> Read(string text, int first)
    {
        var read = new Dictionary<char, List<int>>();
        foreach (string group in text.Split(';', StringSplitOptions.RemoveEmptyEntries))
        {
            (int next, List<int> frames) = (first, read[group[0]] = []);
            foreach (string item in group[1..].Split(','))
            {
                string[] parts = item.Split('+');
                (int a, int more) = (next + Number(parts[0]), parts.Length > 1 ? Number(parts[1]) : 0);
                frames.AddRange(Enumerable.Range(a, more + 1));
                next = a + more + 1;
            }
        }

        return read;

        static int Number(string text) =>
            text[0] == '-' ? -Number(text[1..]) : text.Aggregate(0, (n, c) => n * 36 + (char.IsAsciiDigit(c) ? c - '0' : c - 'a' + 10));
    }

    private static FrameMapRow Lane(string text)
    {
        ImmutableArray<FrameStateRun> runs =
        [
            .. text.Split('|')
                .Select(r => new FrameStateRun(Enum.Parse<FrameState>(r.Split(' ')[0], ignoreCase: true), FrameSet.Parse(r.Split(' ')[1]))),
        ];
        return new FrameMapRow("o", "sub", "beauty", ["beauty"], runs, runs[^1].State);
    }

    private static FindingQuery Parse(string text) => FindingQuery.Parse(n => new QueryCollection(QueryHelpers.ParseQuery(text))[n]);
}
