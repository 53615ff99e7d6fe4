using DuneCrate.Foundation.Documents;

namespace DuneCrate.Crates.Tests.Architecture;

/// <summary>
/// Draws the rooms of the core from what the code uses: one above the other in their order, lines for what each uses (of several rooms
/// reached through others only the nearest), and beside them the way of the data.
/// </summary>
internal static class RoomsPicture
{
    private const int RowHeight = 34,
        BoxHeight = 26,
        BoxWidth = 210,
        Left = 330,
        Width = 900;

    /// <summary>What happens with a shot, and the room in which it happens.</summary>
    private static readonly (string Room, string Step)[] Way =
    [
        ("Planning.Scene", "1 the scene's items are listed"),
        ("Planning.Edits", "2 layers and passes are planned"),
        ("Planning.Rules", "3 the plan is checked"),
        ("Checking.Intake", "4 files are read once: facts"),
        ("Checking.Matching", "5 facts meet the plan"),
        ("Checking.Rules", "6 rules judge"),
        ("Checking.Reports", "7 reports, maps, lists"),
        ("Crates", "8 files are copied, proved, handed over"),
    ];

    /// <summary>The picture as SVG.</summary>
    public static string Draw()
    {
        ILookup<string, string> uses = Rooms.Uses().Select(u => (u.From, u.To)).Distinct().ToLookup(u => u.From, u => u.To);
        int height = 40 + Rooms.InOrder.Length * RowHeight;
        var svg = new HtmlDocument();
        svg.Add(
            $"<svg xmlns=\"http://www.w3.org/2000/svg\" viewBox=\"0 0 {Width} {height}\" font-family=\"sans-serif\" font-size=\"12\">\n"
        );
        svg.Add($"<title>Rooms of the core, from the ground up, and the way of a shot's data</title>\n");
        svg.Add($"<rect width=\"{Width}\" height=\"{height}\" fill=\"#fbf7ef\"/>\n");
        foreach ((int place, (string room, _)) in Rooms.InOrder.Index())
        {
            foreach (string to in Nearest(room, uses))
            {
                int from = Middle(place),
                    end = Middle(Rooms.PlaceOf(to)),
                    bend = Left - 12 - (place - Rooms.PlaceOf(to)) * 7;
                svg.Add($"<path d=\"M{Left} {from}C{bend} {from} {bend} {end} {Left} {end}\" fill=\"none\" stroke=\"#b9ab8f\"/>\n");
            }
        }

        foreach ((int place, (string room, string purpose)) in Rooms.InOrder.Index())
        {
            int y = Middle(place);
            svg.Add($"<rect x=\"{Left}\" y=\"{y - BoxHeight / 2}\" width=\"{BoxWidth}\" height=\"{BoxHeight}\" rx=\"5\" ");
            svg.Add($"fill=\"#fffdf7\" stroke=\"#1d5f6a\"/>\n<text x=\"{Left + 10}\" y=\"{y + 4}\" font-weight=\"600\">{room}</text>\n");
            svg.Add($"<text x=\"{Left + BoxWidth + 12}\" y=\"{y + 4}\" fill=\"#5f5748\">{purpose}</text>\n");
            foreach ((_, string step) in Way.Where(w => w.Room == room))
            {
                svg.Add($"<text x=\"14\" y=\"{y + 4}\" fill=\"#1d5f6a\">{step}</text>\n");
            }
        }

        svg.Add($"</svg>\n");
        return svg.ToString();
    }

    private static int Middle(int place) => 36 + (Rooms.InOrder.Length - 1 - place) * RowHeight;

    /// <summary>The rooms a room uses that none of the others it uses leads to.</summary>
    private static IEnumerable<string> Nearest(string room, ILookup<string, string> uses)
    {
        string[] direct = [.. uses[room]];
        return direct.Where(to => !direct.Any(other => other != to && Reaches(other, to, uses)));
    }

    private static bool Reaches(string from, string to, ILookup<string, string> uses) =>
        uses[from].Any(next => next == to || Reaches(next, to, uses));
}
