using Microsoft.EntityFrameworkCore.Migrations;

#nullable disable

namespace DuneCrate.Store.Migrations;

/// <inheritdoc />
public partial class SoundAgain : Migration
{
    /// <inheritdoc />
    protected override void Up(MigrationBuilder migrationBuilder)
    {
        migrationBuilder.CreateTable(
            name: "ended_sessions",
            columns: table => new
            {
                Id = table.Column<string>(type: "TEXT", nullable: false),
                EndedAt = table.Column<DateTime>(type: "TEXT", nullable: false)
            },
            constraints: table =>
            {
                table.PrimaryKey("PK_ended_sessions", x => x.Id);
            });

        migrationBuilder.CreateTable(
            name: "holder",
            columns: table => new
            {
                Id = table.Column<int>(type: "INTEGER", nullable: false),
                Hold = table.Column<string>(type: "TEXT", nullable: false),
                Machine = table.Column<string>(type: "TEXT", nullable: false),
                Process = table.Column<int>(type: "INTEGER", nullable: false),
                Started = table.Column<long>(type: "INTEGER", nullable: false),
                Seen = table.Column<DateTime>(type: "TEXT", nullable: false)
            },
            constraints: table =>
            {
                table.PrimaryKey("PK_holder", x => x.Id);
            });

        migrationBuilder.CreateTable(
            name: "show_folders",
            columns: table => new
            {
                Id = table.Column<int>(type: "INTEGER", nullable: false)
                    .Annotation("Sqlite:Autoincrement", true),
                ShowId = table.Column<int>(type: "INTEGER", nullable: false),
                Root = table.Column<string>(type: "TEXT", nullable: false),
                Folder = table.Column<string>(type: "TEXT", nullable: false)
            },
            constraints: table =>
            {
                table.PrimaryKey("PK_show_folders", x => x.Id);
                table.ForeignKey(
                    name: "FK_show_folders_shows_ShowId",
                    column: x => x.ShowId,
                    principalTable: "shows",
                    principalColumn: "Id",
                    onDelete: ReferentialAction.Cascade);
            });

        migrationBuilder.CreateIndex(
            name: "IX_show_folders_ShowId_Root_Folder",
            table: "show_folders",
            columns: new[] { "ShowId", "Root", "Folder" },
            unique: true);

        // Shows keep the folders that they use: those of their shots, and those that plates of their stacks lie in.
        migrationBuilder.Sql(
            """
            INSERT OR IGNORE INTO show_folders (ShowId, Root, Folder)
            SELECT DISTINCT ShowId, Root, Folder FROM shots WHERE Root IS NOT NULL
            """);
        migrationBuilder.Sql(
            """
            INSERT OR IGNORE INTO show_folders (ShowId, Root, Folder)
            SELECT DISTINCT
                shots.ShowId,
                json_extract(strip.value, '$.root'),
                rtrim(rtrim(json_extract(strip.value, '$.source'), replace(json_extract(strip.value, '$.source'), '/', '')), '/')
            FROM stacks
            JOIN shots ON shots.Id = stacks.ShotId
            JOIN json_each(stacks.Document, '$.strips') AS strip
            WHERE json_valid(stacks.Document) AND json_extract(strip.value, '$.root') IS NOT NULL
            """);
    }

    /// <inheritdoc />
    protected override void Down(MigrationBuilder migrationBuilder)
    {
        migrationBuilder.DropTable(
            name: "ended_sessions");

        migrationBuilder.DropTable(
            name: "holder");

        migrationBuilder.DropTable(
            name: "show_folders");
    }
}
