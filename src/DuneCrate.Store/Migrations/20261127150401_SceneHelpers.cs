using Microsoft.EntityFrameworkCore.Migrations;

#nullable disable

namespace DuneCrate.Store.Migrations;

/// <inheritdoc />
public partial class SceneHelpers : Migration
{
    /// <inheritdoc />
    protected override void Up(MigrationBuilder migrationBuilder)
    {
        migrationBuilder.CreateTable(
            name: "scene_helpers",
            columns: table => new
            {
                Id = table.Column<int>(type: "INTEGER", nullable: false)
                    .Annotation("Sqlite:Autoincrement", true),
                ShotId = table.Column<int>(type: "INTEGER", nullable: false),
                Source = table.Column<string>(type: "TEXT", nullable: false),
                Table = table.Column<string>(type: "TEXT", nullable: false),
                Told = table.Column<string>(type: "TEXT", nullable: false),
                Chosen = table.Column<string>(type: "TEXT", nullable: false),
                Offsets = table.Column<string>(type: "TEXT", nullable: false),
                By = table.Column<string>(type: "TEXT", nullable: false),
                At = table.Column<DateTime>(type: "TEXT", nullable: false)
            },
            constraints: table =>
            {
                table.PrimaryKey("PK_scene_helpers", x => x.Id);
            });

        migrationBuilder.CreateIndex(
            name: "IX_scene_helpers_ShotId",
            table: "scene_helpers",
            column: "ShotId",
            unique: true);
    }

    /// <inheritdoc />
    protected override void Down(MigrationBuilder migrationBuilder)
    {
        migrationBuilder.DropTable(
            name: "scene_helpers");
    }
}
