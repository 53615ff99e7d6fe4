using Microsoft.EntityFrameworkCore.Migrations;

#nullable disable

namespace DuneCrate.Store.Migrations;

/// <inheritdoc />
public partial class Stacks : Migration
{
    /// <inheritdoc />
    protected override void Up(MigrationBuilder migrationBuilder)
    {
        migrationBuilder.CreateTable(
            name: "stacks",
            columns: table => new
            {
                Id = table.Column<int>(type: "INTEGER", nullable: false)
                    .Annotation("Sqlite:Autoincrement", true),
                ShotId = table.Column<int>(type: "INTEGER", nullable: false),
                Name = table.Column<string>(type: "TEXT", nullable: false),
                Document = table.Column<string>(type: "TEXT", nullable: false),
                Revision = table.Column<int>(type: "INTEGER", nullable: false),
                PastJson = table.Column<string>(type: "TEXT", nullable: false),
                FutureJson = table.Column<string>(type: "TEXT", nullable: false),
                At = table.Column<DateTime>(type: "TEXT", nullable: false)
            },
            constraints: table =>
            {
                table.PrimaryKey("PK_stacks", x => x.Id);
            });

        migrationBuilder.CreateIndex(
            name: "IX_stacks_ShotId_Name",
            table: "stacks",
            columns: new[] { "ShotId", "Name" },
            unique: true);
    }

    /// <inheritdoc />
    protected override void Down(MigrationBuilder migrationBuilder)
    {
        migrationBuilder.DropTable(
            name: "stacks");
    }
}
