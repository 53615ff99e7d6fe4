using Microsoft.EntityFrameworkCore.Migrations;

#nullable disable

namespace DuneCrate.Store.Migrations;

/// <inheritdoc />
public partial class SupersededCrates : Migration
{
    /// <inheritdoc />
    protected override void Up(MigrationBuilder migrationBuilder)
    {
        migrationBuilder.AddColumn<int>(
            name: "SupersededDays",
            table: "upkeep",
            type: "INTEGER",
            nullable: false,
            defaultValue: 0);

        migrationBuilder.AddColumn<DateTime>(
            name: "Gone",
            table: "crates",
            type: "TEXT",
            nullable: true);
    }

    /// <inheritdoc />
    protected override void Down(MigrationBuilder migrationBuilder)
    {
        migrationBuilder.DropColumn(
            name: "SupersededDays",
            table: "upkeep");

        migrationBuilder.DropColumn(
            name: "Gone",
            table: "crates");
    }
}
