using DuneCrate.Checking.Pictures;
using DuneCrate.Planning.Scene;

namespace DuneCrate.Checking.Tests.Pictures;

/// <summary>Ids at a pixel are told by name.</summary>
public sealed class ItemNamesTests
{
    private static readonly SceneItem[] Items =
    [
        new()
        {
            Name = "lamp",
            Id = 3,
            Colour = "#ff0066",
        },
        new()
        {
            Name = "hull",
            Id = 4,
            Colour = "#00cc33",
        },
    ];

    private static string? At(string pass, params float[] samples) =>
        ItemNames.At(
            PassCatalogue.Shipped.Find(pass),
            samples,
            Items,
            new Dictionary<float, string> { [1.5f] = "kelp_02", [2.5f] = "rope" }
        );

    [Fact]
    public void Object_ids_and_flat_colours_are_those_of_the_plan()
    {
        Assert.Equal("hull", At("object_id", 4));
        Assert.Null(At("object_id", 0));
        Assert.Null(At("object_id", 4.5f));
        Assert.Equal("lamp", At("material_id", 1, 0, 0.4f));
        Assert.Null(At("material_id", 1, 0, 0));
        Assert.Null(At("depth", 4));
        Assert.Null(At("object_id"));
    }

    [Fact]
    public void Mattes_are_told_with_their_coverage_the_largest_first()
    {
        Assert.Equal("rope 0.7, kelp_02 0.25", At("cryptomatte.object", 1.5f, 0.25f, 2.5f, 0.7f, 9, 0.05f));
        Assert.Null(At("cryptomatte.object", 1.5f, 0, 0, 0));
    }
}
