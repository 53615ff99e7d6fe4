using Microsoft.EntityFrameworkCore.Migrations;

#nullable disable

namespace DuneCrate.Store.Migrations;

/// <inheritdoc />
public partial class Archive : Migration
{
    /// <inheritdoc />
    protected override void Up(MigrationBuilder migrationBuilder)
    {
        migrationBuilder.AddColumn<DateTime>(name: "ArchivedAt", table: "shots", type: "TEXT", nullable: true);
        migrationBuilder.AddColumn<DateTime>(name: "ArchivedAt", table: "shows", type: "TEXT", nullable: true);
    }

    /// <inheritdoc />
    protected override void Down(MigrationBuilder migrationBuilder)
    {
        migrationBuilder.DropColumn(name: "ArchivedAt", table: "shots");
        migrationBuilder.DropColumn(name: "ArchivedAt", table: "shows");
    }
}
