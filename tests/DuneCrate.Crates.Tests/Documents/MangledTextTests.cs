using System.Text;
using DuneCrate.Foundation.Naming;
using DuneCrate.Planning.Scene;
using DuneCrate.Planning.Sheet;
using DuneCrate.StandIns.Renderer;

namespace DuneCrate.Crates.Tests.Documents;

/// <summary>
/// What people type and paste: some thousand texts of each field's own characters in any order. Each is read or refused with words, and
/// what is read is the same when it is written and read again.
/// </summary>
public class MangledTextTests
{
    private const int Texts = 4000;

    private delegate bool Reader(string text, out string? again, out string? problem);

    [Theory]
    [InlineData("0123456789-,x ", 12)]
    [InlineData("12-,x", 7)]
    [InlineData("-,9", 14)]
    public void Frame_sets(string letters, int longest) =>
        All(
            letters,
            longest,
            (string text, out string? again, out string? problem) =>
            {
                bool isRead = FrameSet.TryParse(text, out FrameSet? set, out problem);
                again = set?.ToString();
                return isRead;
            }
        );

    [Theory]
    [InlineData("0123456789./ ", 10)]
    [InlineData("2349.8705/", 6)]
    public void Frame_rates(string letters, int longest) =>
        All(
            letters,
            longest,
            (string text, out string? again, out string? problem) =>
            {
                bool isRead = FrameRate.TryParse(text, out FrameRate rate, out problem);
                again = isRead ? rate.ToString() : null;
                return isRead;
            }
        );

    [Theory]
    [InlineData("{} layer frame.exr/", 20)]
    public void Name_templates(string letters, int longest) =>
        All(
            letters,
            longest,
            (string text, out string? again, out string? problem) =>
            {
                bool isRead = NameTemplate.TryParse(text, out NameTemplate? template, out problem);
                again = isRead ? template!.ToString() : null;
                return isRead;
            },
            ["{layer}", "{shot}", "{frame}", "{pass}", "{version}", "{show}", "/", ".", ".exr", "..", "{", "}", "sub", "_"]
        );

    [Fact]
    public void Cells_of_the_pass_sheet() =>
        All(
            "",
            6,
            (string text, out string? again, out string? problem) =>
            {
                bool isRead = SheetCell.TryParse(text, out SheetCell cell, out problem);
                again = isRead ? cell.ToString() : null;
                return isRead;
            },
            [
                "half",
                "float",
                "uint",
                "own",
                "shared",
                "data",
                "off",
                "x",
                "alpha",
                "noalpha",
                "edge=0.5",
                "edge=",
                "near=1",
                "far=9",
                "far=-",
                "near=NaN",
                "frames=1001-1004",
                "frames=9-1",
                "filtered",
                "unfiltered",
                "lead",
                " ",
                " ",
                "=",
                "%",
            ]
        );

    [Fact]
    public void Colours() =>
        All(
            "",
            3,
            (string text, out string? again, out string? problem) =>
            {
                bool isRead = FlatColours.TryParse(text, out var colour);
                again = isRead ? $"#{colour.Red:x2}{colour.Green:x2}{colour.Blue:x2}" : null;
                problem = "not a colour";
                return isRead;
            },
            ["#7caf00", "#FFffFF", "7caf00", "#fff", "#", "0", "g", " "]
        );

    [Fact]
    public void Tables_of_items_are_read_or_refused_with_their_line()
    {
        string whole = RosterTable.Write(GltfRoster.Read(new MemoryStream(Encoding.UTF8.GetBytes(KelpGltf.Write("KP010")))));
        foreach (string text in Mangled(whole, 1500))
        {
            try
            {
                string again = RosterTable.Write(RosterTable.Read(text));
                Assert.Equal(again, RosterTable.Write(RosterTable.Read(again)));
            }
            catch (FormatException e)
            {
                Assert.DoesNotMatch(JsonMutations.OfTheCode, e.Message);
            }
        }
    }

    [Fact]
    public void Scenes_are_read_or_refused()
    {
        foreach (string text in Mangled(KelpGltf.Write("KP010"), 400))
        {
            try
            {
                Assert.All(GltfRoster.Read(new MemoryStream(Encoding.UTF8.GetBytes(text))), i => Assert.NotEmpty(i.Name));
            }
            catch (FormatException e)
            {
                Assert.DoesNotMatch(JsonMutations.OfTheCode, e.Message);
            }
        }
    }

    /// <summary>glTF 2.0 specification, 3.5.2: nodes stand in disjoint strict trees. Whoever walks a circle never comes back.</summary>
    [Theory]
    [InlineData("""{ "name": "a", "children": [1] }, { "name": "b", "children": [0] }""", "children of each other")]
    [InlineData("""{ "name": "a", "children": [0] }""", "children of each other")]
    [InlineData("""{ "name": "a", "children": [2] }, { "name": "b", "children": [2] }, { "name": "c" }""", "two parents")]
    public void Scenes_whose_nodes_are_no_trees_are_refused(string nodes, string says)
    {
        string scene = $$"""{ "asset": { "version": "2.0" }, "scene": 0, "scenes": [{ "nodes": [0] }], "nodes": [{{nodes}}] }""";
        Assert.Contains(
            says,
            Assert.Throws<FormatException>(() => GltfRoster.Read(new MemoryStream(Encoding.UTF8.GetBytes(scene)))).Message
        );
    }

    [Fact]
    public void Plans_cut_anywhere_are_refused_with_their_line()
    {
        string whole = PlanDocument.Write(StandInPlan.Create("KP010", FrameSet.Parse("1001-1003"), 96, 54));
        for (int length = 0; length < whole.Length - 2; length += 7)
        {
            (Plan? plan, var problems) = PlanDocument.Read(whole[..length]);
            Assert.Null(plan);
            Assert.Matches(@"line \d+", Assert.Single(problems).Message);
        }
    }

    /// <summary>Texts made of pieces: read, or refused with words; what is read is itself again.</summary>
    private static void All(string letters, int longest, Reader read, string[]? pieces = null)
    {
        pieces ??= [.. letters.Select(c => c.ToString())];
        var random = new Random(20_26);
        int good = 0;
        for (int i = 0; i < Texts; i++)
        {
            string text = string.Concat(Enumerable.Range(0, random.Next(longest + 1)).Select(_ => pieces[random.Next(pieces.Length)]));
            if (read(text, out string? first, out string? problem))
            {
                good++;
                Assert.True(
                    read(first!, out string? second, out problem),
                    $"'{text}' is written as '{first}', which is not read: {problem}"
                );
                Assert.Equal(first, second);
            }
            else
            {
                Assert.False(string.IsNullOrWhiteSpace(problem), $"'{text}' is refused without a word");
            }
        }

        Assert.True(good > Texts / 100, $"only {good} texts were read");
    }

    /// <summary>A text with pieces cut out, doubled, moved or put in, some at a time.</summary>
    private static IEnumerable<string> Mangled(string whole, int times)
    {
        string[] strange = ["\"", ",", "\n", "\t", ";", "\0", "ä", "-1", "1e999", "null", "{", "]", new string('9', 40)];
        var random = new Random(7);
        for (int i = 0; i < times; i++)
        {
            var text = new StringBuilder(whole);
            for (int changes = random.Next(1, 4); changes > 0 && text.Length > 2; changes--)
            {
                int at = random.Next(text.Length - 1),
                    length = Math.Min(random.Next(1, 30), text.Length - at);
                string piece = text.ToString(at, length);
                text = random.Next(4) switch
                {
                    0 => text.Remove(at, length),
                    1 => text.Insert(at, piece),
                    2 => text.Remove(at, length).Insert(random.Next(text.Length + 1), piece),
                    _ => text.Insert(at, strange[random.Next(strange.Length)]),
                };
            }

            yield return text.ToString();
        }
    }
}
