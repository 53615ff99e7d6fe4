using Microsoft.EntityFrameworkCore.Migrations;

#nullable disable

namespace DuneCrate.Store.Migrations;

/// <inheritdoc />
public partial class Planning : Migration
{
    /// <inheritdoc />
    protected override void Up(MigrationBuilder migrationBuilder)
    {
        migrationBuilder.AddColumn<string>(
            name: "SettingsJson",
            table: "shows",
            type: "TEXT",
            nullable: true);

        migrationBuilder.CreateTable(
            name: "plan_revisions",
            columns: table => new
            {
                ShotId = table.Column<int>(type: "INTEGER", nullable: false),
                Revision = table.Column<int>(type: "INTEGER", nullable: false),
                Plan = table.Column<byte[]>(type: "BLOB", nullable: false),
                What = table.Column<string>(type: "TEXT", nullable: false),
                Kind = table.Column<string>(type: "TEXT", nullable: false),
                Session = table.Column<string>(type: "TEXT", nullable: false),
                By = table.Column<string>(type: "TEXT", nullable: false),
                At = table.Column<DateTime>(type: "TEXT", nullable: false)
            },
            constraints: table =>
            {
                table.PrimaryKey("PK_plan_revisions", x => new { x.ShotId, x.Revision });
                table.ForeignKey(
                    name: "FK_plan_revisions_shots_ShotId",
                    column: x => x.ShotId,
                    principalTable: "shots",
                    principalColumn: "Id",
                    onDelete: ReferentialAction.Cascade);
            });

        migrationBuilder.CreateTable(
            name: "plan_templates",
            columns: table => new
            {
                Id = table.Column<int>(type: "INTEGER", nullable: false)
                    .Annotation("Sqlite:Autoincrement", true),
                ShowId = table.Column<int>(type: "INTEGER", nullable: false),
                Name = table.Column<string>(type: "TEXT", nullable: false),
                PlanJson = table.Column<string>(type: "TEXT", nullable: false),
                At = table.Column<DateTime>(type: "TEXT", nullable: false)
            },
            constraints: table =>
            {
                table.PrimaryKey("PK_plan_templates", x => x.Id);
                table.ForeignKey(
                    name: "FK_plan_templates_shows_ShowId",
                    column: x => x.ShowId,
                    principalTable: "shows",
                    principalColumn: "Id",
                    onDelete: ReferentialAction.Cascade);
            });

        migrationBuilder.CreateTable(
            name: "preflight_ticks",
            columns: table => new
            {
                Id = table.Column<int>(type: "INTEGER", nullable: false)
                    .Annotation("Sqlite:Autoincrement", true),
                ShotId = table.Column<int>(type: "INTEGER", nullable: false),
                Item = table.Column<string>(type: "TEXT", nullable: false),
                By = table.Column<string>(type: "TEXT", nullable: false),
                At = table.Column<DateTime>(type: "TEXT", nullable: false)
            },
            constraints: table =>
            {
                table.PrimaryKey("PK_preflight_ticks", x => x.Id);
                table.ForeignKey(
                    name: "FK_preflight_ticks_shots_ShotId",
                    column: x => x.ShotId,
                    principalTable: "shots",
                    principalColumn: "Id",
                    onDelete: ReferentialAction.Cascade);
            });

        migrationBuilder.CreateIndex(
            name: "IX_plan_templates_ShowId_Name",
            table: "plan_templates",
            columns: new[] { "ShowId", "Name" },
            unique: true);

        migrationBuilder.CreateIndex(
            name: "IX_preflight_ticks_ShotId_Item",
            table: "preflight_ticks",
            columns: new[] { "ShotId", "Item" },
            unique: true);
    }

    /// <inheritdoc />
    protected override void Down(MigrationBuilder migrationBuilder)
    {
        migrationBuilder.DropTable(
            name: "plan_revisions");

        migrationBuilder.DropTable(
            name: "plan_templates");

        migrationBuilder.DropTable(
            name: "preflight_ticks");

        migrationBuilder.DropColumn(
            name: "SettingsJson",
            table: "shows");
    }
}
