using Microsoft.EntityFrameworkCore.Migrations;

#nullable disable

namespace DuneCrate.Store.Migrations;

/// <summary>Passes that got other keys keep their waivers and notes.</summary>
public partial class PassKeys : Migration
{
    private static readonly (string Former, string Key)[] Renamed =
    [
        ("diffuse_direct", "direct_diffuse"),
        ("diffuse_indirect", "indirect_diffuse"),
        ("specular_direct", "direct_specular"),
        ("specular_indirect", "indirect_specular"),
        ("transmission", "refraction"),
        ("subsurface", "scattering"),
        ("lighting", "direct_light"),
        ("gi", "indirect_light"),
    ];

    /// <inheritdoc />
    protected override void Up(MigrationBuilder migrationBuilder)
    {
        foreach ((string former, string key) in Renamed)
        {
            Rename(migrationBuilder, former, key);
        }
    }

    /// <inheritdoc />
    protected override void Down(MigrationBuilder migrationBuilder)
    {
        foreach ((string former, string key) in Renamed)
        {
            Rename(migrationBuilder, key, former);
        }
    }

    private static void Rename(MigrationBuilder migrationBuilder, string from, string to)
    {
        foreach (string table in (string[])["waivers", "finding_notes"])
        {
            migrationBuilder.Sql($"UPDATE {table} SET Pass = '{to}' WHERE Pass = '{from}';");
        }
    }
}
