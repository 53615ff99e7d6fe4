using Microsoft.EntityFrameworkCore.Migrations;

#nullable disable

namespace DuneCrate.Store.Migrations;

/// <inheritdoc />
public partial class Sound : Migration
{
    /// <inheritdoc />
    protected override void Up(MigrationBuilder migrationBuilder)
    {
        migrationBuilder.DropIndex(
            name: "IX_checks_ShotId",
            table: "checks");

        migrationBuilder.AddColumn<int>(
            name: "Seen",
            table: "fact_folders",
            type: "INTEGER",
            nullable: false,
            defaultValue: 0);

        // What is remembered counts as asked for today.
        migrationBuilder.Sql("UPDATE fact_folders SET Seen = CAST(strftime('%s', 'now') AS INTEGER) / 86400");

        migrationBuilder.AddColumn<Guid>(
            name: "SealId",
            table: "crates",
            type: "TEXT",
            nullable: false,
            defaultValue: new Guid("00000000-0000-0000-0000-000000000000"));

        migrationBuilder.AddColumn<string>(
            name: "SumsDigest",
            table: "crates",
            type: "TEXT",
            nullable: true);

        migrationBuilder.CreateTable(
            name: "rebuild_facts",
            columns: table => new
            {
                Hash = table.Column<byte[]>(type: "BLOB", nullable: false),
                FolderId = table.Column<int>(type: "INTEGER", nullable: false),
                Facts = table.Column<string>(type: "TEXT", nullable: false)
            },
            constraints: table =>
            {
                table.PrimaryKey("PK_rebuild_facts", x => x.Hash);
            });

        migrationBuilder.CreateTable(
            name: "upkeep",
            columns: table => new
            {
                Id = table.Column<int>(type: "INTEGER", nullable: false),
                ChecksKept = table.Column<int>(type: "INTEGER", nullable: false),
                FactsDays = table.Column<int>(type: "INTEGER", nullable: false)
            },
            constraints: table =>
            {
                table.PrimaryKey("PK_upkeep", x => x.Id);
            });

        migrationBuilder.CreateIndex(
            name: "IX_checks_ShotId_State",
            table: "checks",
            columns: new[] { "ShotId", "State" });

        migrationBuilder.CreateIndex(
            name: "IX_rebuild_facts_FolderId",
            table: "rebuild_facts",
            column: "FolderId");
    }

    /// <inheritdoc />
    protected override void Down(MigrationBuilder migrationBuilder)
    {
        migrationBuilder.DropTable(
            name: "rebuild_facts");

        migrationBuilder.DropTable(
            name: "upkeep");

        migrationBuilder.DropIndex(
            name: "IX_checks_ShotId_State",
            table: "checks");

        migrationBuilder.DropColumn(
            name: "Seen",
            table: "fact_folders");

        migrationBuilder.DropColumn(
            name: "SealId",
            table: "crates");

        migrationBuilder.DropColumn(
            name: "SumsDigest",
            table: "crates");

        migrationBuilder.CreateIndex(
            name: "IX_checks_ShotId",
            table: "checks",
            column: "ShotId");
    }
}
