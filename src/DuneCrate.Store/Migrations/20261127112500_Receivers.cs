using Microsoft.EntityFrameworkCore.Migrations;

#nullable disable

namespace DuneCrate.Store.Migrations;

/// <inheritdoc />
public partial class Receivers : Migration
{
    /// <inheritdoc />
    protected override void Up(MigrationBuilder migrationBuilder)
    {
        migrationBuilder.AddColumn<int>(
            name: "Answer",
            table: "crates",
            type: "INTEGER",
            nullable: false,
            defaultValue: 0);

        migrationBuilder.AddColumn<DateTime>(
            name: "Answered",
            table: "crates",
            type: "TEXT",
            nullable: true);

        migrationBuilder.AddColumn<string>(
            name: "AnsweredBy",
            table: "crates",
            type: "TEXT",
            nullable: false,
            defaultValue: "");

        migrationBuilder.AddColumn<int>(
            name: "OntoId",
            table: "crates",
            type: "INTEGER",
            nullable: true);

        migrationBuilder.AddColumn<string>(
            name: "Receiver",
            table: "crates",
            type: "TEXT",
            nullable: true);

        migrationBuilder.AddColumn<string>(
            name: "Recipe",
            table: "crates",
            type: "TEXT",
            nullable: true);

        migrationBuilder.CreateTable(
            name: "crate_remarks",
            columns: table => new
            {
                Id = table.Column<int>(type: "INTEGER", nullable: false)
                    .Annotation("Sqlite:Autoincrement", true),
                CrateId = table.Column<int>(type: "INTEGER", nullable: false),
                Layer = table.Column<string>(type: "TEXT", nullable: false),
                Pass = table.Column<string>(type: "TEXT", nullable: false),
                Frames = table.Column<string>(type: "TEXT", nullable: false),
                Words = table.Column<string>(type: "TEXT", nullable: false),
                By = table.Column<string>(type: "TEXT", nullable: false),
                At = table.Column<DateTime>(type: "TEXT", nullable: false),
                AnsweredBy = table.Column<string>(type: "TEXT", nullable: true)
            },
            constraints: table =>
            {
                table.PrimaryKey("PK_crate_remarks", x => x.Id);
                table.ForeignKey(
                    name: "FK_crate_remarks_crates_CrateId",
                    column: x => x.CrateId,
                    principalTable: "crates",
                    principalColumn: "Id",
                    onDelete: ReferentialAction.Cascade);
            });

        migrationBuilder.CreateTable(
            name: "receivers",
            columns: table => new
            {
                Id = table.Column<int>(type: "INTEGER", nullable: false)
                    .Annotation("Sqlite:Autoincrement", true),
                ShowId = table.Column<int>(type: "INTEGER", nullable: false),
                Name = table.Column<string>(type: "TEXT", nullable: false),
                Contact = table.Column<string>(type: "TEXT", nullable: false),
                Note = table.Column<string>(type: "TEXT", nullable: false),
                Recipe = table.Column<string>(type: "TEXT", nullable: false)
            },
            constraints: table =>
            {
                table.PrimaryKey("PK_receivers", x => x.Id);
                table.ForeignKey(
                    name: "FK_receivers_shows_ShowId",
                    column: x => x.ShowId,
                    principalTable: "shows",
                    principalColumn: "Id",
                    onDelete: ReferentialAction.Cascade);
            });

        migrationBuilder.CreateIndex(
            name: "IX_crate_remarks_CrateId",
            table: "crate_remarks",
            column: "CrateId");

        migrationBuilder.CreateIndex(
            name: "IX_receivers_ShowId_Name",
            table: "receivers",
            columns: new[] { "ShowId", "Name" },
            unique: true);
    }

    /// <inheritdoc />
    protected override void Down(MigrationBuilder migrationBuilder)
    {
        migrationBuilder.DropTable(
            name: "crate_remarks");

        migrationBuilder.DropTable(
            name: "receivers");

        migrationBuilder.DropColumn(
            name: "Answer",
            table: "crates");

        migrationBuilder.DropColumn(
            name: "Answered",
            table: "crates");

        migrationBuilder.DropColumn(
            name: "AnsweredBy",
            table: "crates");

        migrationBuilder.DropColumn(
            name: "OntoId",
            table: "crates");

        migrationBuilder.DropColumn(
            name: "Receiver",
            table: "crates");

        migrationBuilder.DropColumn(
            name: "Recipe",
            table: "crates");
    }
}
