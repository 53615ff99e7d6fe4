namespace DuneCrate.Crates.Tests.Architecture;

/// <summary>The core has one direction: what stands higher in the list of rooms knows nothing of what stands lower.</summary>
public class RoomsTests
{
    [Fact]
    public void No_room_uses_one_that_stands_after_it()
    {
        string[] wrong =
        [
            .. Rooms
                .Uses()
                .Where(u => Rooms.PlaceOf(u.To) > Rooms.PlaceOf(u.From))
                .Select(u => $"{u.Type} uses {u.Used}")
                .Distinct()
                .Order(StringComparer.Ordinal),
        ];
        Assert.True(wrong.Length == 0, string.Join("\n", wrong));
    }

    [Fact]
    public void Every_type_is_in_a_room() => Assert.Empty(Rooms.Homeless());

    [Fact]
    public void The_loader_sees_what_the_code_uses() =>
        Assert.Contains(Rooms.Uses(), u => u is { From: "Crates", To: "Foundation.Frames" });

    /// <summary>docs/architecture/draw writes the picture anew.</summary>
    [Fact]
    public void The_picture_in_the_docs_is_the_codes()
    {
        string file = Path.Combine(Repository.Root, "docs", "architecture", "rooms.svg");
        if (Environment.GetEnvironmentVariable("DUNE_DRAW") is not null)
        {
            File.WriteAllText(file, RoomsPicture.Draw());
        }

        Assert.Equal(RoomsPicture.Draw(), File.ReadAllText(file));
    }
}
