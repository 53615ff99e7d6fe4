using Microsoft.EntityFrameworkCore.Migrations;

#nullable disable

namespace DuneCrate.Store.Migrations;

/// <inheritdoc />
public partial class PictureNotes : Migration
{
    /// <inheritdoc />
    protected override void Up(MigrationBuilder migrationBuilder)
    {
        migrationBuilder.CreateTable(
            name: "picture_notes",
            columns: table => new
            {
                Id = table.Column<int>(type: "INTEGER", nullable: false).Annotation("Sqlite:Autoincrement", true),
                ShotId = table.Column<int>(type: "INTEGER", nullable: false),
                Layer = table.Column<string>(type: "TEXT", nullable: false),
                Pass = table.Column<string>(type: "TEXT", nullable: false),
                Frame = table.Column<int>(type: "INTEGER", nullable: false),
                Shape = table.Column<string>(type: "TEXT", nullable: false),
                X = table.Column<int>(type: "INTEGER", nullable: false),
                Y = table.Column<int>(type: "INTEGER", nullable: false),
                EndX = table.Column<int>(type: "INTEGER", nullable: false),
                EndY = table.Column<int>(type: "INTEGER", nullable: false),
                Words = table.Column<string>(type: "TEXT", nullable: false),
                By = table.Column<string>(type: "TEXT", nullable: false),
                At = table.Column<DateTime>(type: "TEXT", nullable: false),
                AnswersJson = table.Column<string>(type: "TEXT", nullable: false),
                SettledBy = table.Column<string>(type: "TEXT", nullable: true),
                SettledAt = table.Column<DateTime>(type: "TEXT", nullable: true),
            },
            constraints: table => table.PrimaryKey("PK_picture_notes", x => x.Id)
        );
        migrationBuilder.CreateIndex(name: "IX_picture_notes_ShotId", table: "picture_notes", column: "ShotId");
    }

    /// <inheritdoc />
    protected override void Down(MigrationBuilder migrationBuilder) => migrationBuilder.DropTable(name: "picture_notes");
}
