using Microsoft.EntityFrameworkCore.Migrations;

#nullable disable

namespace DuneCrate.Store.Migrations;

/// <inheritdoc />
public partial class Initial : Migration
{
    /// <inheritdoc />
    protected override void Up(MigrationBuilder migrationBuilder)
    {
        migrationBuilder.CreateTable(
            name: "facts",
            columns: table => new
            {
                Path = table.Column<string>(type: "TEXT", nullable: false),
                Bytes = table.Column<long>(type: "INTEGER", nullable: false),
                Modified = table.Column<long>(type: "INTEGER", nullable: false),
                Pixels = table.Column<bool>(type: "INTEGER", nullable: false),
                Signature = table.Column<string>(type: "TEXT", nullable: false),
                Facts = table.Column<byte[]>(type: "BLOB", nullable: false)
            },
            constraints: table =>
            {
                table.PrimaryKey("PK_facts", x => x.Path);
            });

        migrationBuilder.CreateTable(
            name: "shows",
            columns: table => new
            {
                Id = table.Column<int>(type: "INTEGER", nullable: false)
                    .Annotation("Sqlite:Autoincrement", true),
                Code = table.Column<string>(type: "TEXT", nullable: false),
                Name = table.Column<string>(type: "TEXT", nullable: false),
                FrameRate = table.Column<string>(type: "TEXT", nullable: false),
                Width = table.Column<int>(type: "INTEGER", nullable: false),
                Height = table.Column<int>(type: "INTEGER", nullable: false)
            },
            constraints: table =>
            {
                table.PrimaryKey("PK_shows", x => x.Id);
            });

        migrationBuilder.CreateTable(
            name: "shots",
            columns: table => new
            {
                Id = table.Column<int>(type: "INTEGER", nullable: false)
                    .Annotation("Sqlite:Autoincrement", true),
                ShowId = table.Column<int>(type: "INTEGER", nullable: false),
                Code = table.Column<string>(type: "TEXT", nullable: false),
                PlanJson = table.Column<string>(type: "TEXT", nullable: false),
                Revision = table.Column<int>(type: "INTEGER", nullable: false),
                Root = table.Column<string>(type: "TEXT", nullable: true),
                Folder = table.Column<string>(type: "TEXT", nullable: false),
                LastEvent = table.Column<string>(type: "TEXT", nullable: false),
                LastEventAt = table.Column<DateTime>(type: "TEXT", nullable: false)
            },
            constraints: table =>
            {
                table.PrimaryKey("PK_shots", x => x.Id);
                table.ForeignKey(
                    name: "FK_shots_shows_ShowId",
                    column: x => x.ShowId,
                    principalTable: "shows",
                    principalColumn: "Id",
                    onDelete: ReferentialAction.Cascade);
            });

        migrationBuilder.CreateTable(
            name: "checks",
            columns: table => new
            {
                Id = table.Column<int>(type: "INTEGER", nullable: false)
                    .Annotation("Sqlite:Autoincrement", true),
                ShotId = table.Column<int>(type: "INTEGER", nullable: false),
                State = table.Column<string>(type: "TEXT", nullable: false),
                Pixels = table.Column<bool>(type: "INTEGER", nullable: false),
                Revision = table.Column<int>(type: "INTEGER", nullable: false),
                Asked = table.Column<DateTime>(type: "TEXT", nullable: false),
                Ended = table.Column<DateTime>(type: "TEXT", nullable: true),
                Problem = table.Column<string>(type: "TEXT", nullable: true),
                Report = table.Column<byte[]>(type: "BLOB", nullable: true)
            },
            constraints: table =>
            {
                table.PrimaryKey("PK_checks", x => x.Id);
                table.ForeignKey(
                    name: "FK_checks_shots_ShotId",
                    column: x => x.ShotId,
                    principalTable: "shots",
                    principalColumn: "Id",
                    onDelete: ReferentialAction.Cascade);
            });

        migrationBuilder.CreateTable(
            name: "crates",
            columns: table => new
            {
                Id = table.Column<int>(type: "INTEGER", nullable: false)
                    .Annotation("Sqlite:Autoincrement", true),
                ShotId = table.Column<int>(type: "INTEGER", nullable: false),
                State = table.Column<string>(type: "TEXT", nullable: false),
                Layout = table.Column<string>(type: "TEXT", nullable: false),
                Name = table.Column<string>(type: "TEXT", nullable: true),
                Path = table.Column<string>(type: "TEXT", nullable: true),
                By = table.Column<string>(type: "TEXT", nullable: false),
                Asked = table.Column<DateTime>(type: "TEXT", nullable: false),
                Ended = table.Column<DateTime>(type: "TEXT", nullable: true),
                Files = table.Column<int>(type: "INTEGER", nullable: false),
                Bytes = table.Column<long>(type: "INTEGER", nullable: false),
                Problem = table.Column<string>(type: "TEXT", nullable: true),
                Verified = table.Column<DateTime>(type: "TEXT", nullable: true),
                VerifyProblems = table.Column<string>(type: "TEXT", nullable: false)
            },
            constraints: table =>
            {
                table.PrimaryKey("PK_crates", x => x.Id);
                table.ForeignKey(
                    name: "FK_crates_shots_ShotId",
                    column: x => x.ShotId,
                    principalTable: "shots",
                    principalColumn: "Id",
                    onDelete: ReferentialAction.Cascade);
            });

        migrationBuilder.CreateTable(
            name: "waivers",
            columns: table => new
            {
                Id = table.Column<int>(type: "INTEGER", nullable: false)
                    .Annotation("Sqlite:Autoincrement", true),
                ShotId = table.Column<int>(type: "INTEGER", nullable: false),
                Rule = table.Column<string>(type: "TEXT", nullable: false),
                Output = table.Column<string>(type: "TEXT", nullable: false),
                Pass = table.Column<string>(type: "TEXT", nullable: true),
                Frames = table.Column<string>(type: "TEXT", nullable: false),
                By = table.Column<string>(type: "TEXT", nullable: false),
                Reason = table.Column<string>(type: "TEXT", nullable: false),
                At = table.Column<DateTime>(type: "TEXT", nullable: false)
            },
            constraints: table =>
            {
                table.PrimaryKey("PK_waivers", x => x.Id);
                table.ForeignKey(
                    name: "FK_waivers_shots_ShotId",
                    column: x => x.ShotId,
                    principalTable: "shots",
                    principalColumn: "Id",
                    onDelete: ReferentialAction.Cascade);
            });

        migrationBuilder.CreateIndex(
            name: "IX_checks_ShotId",
            table: "checks",
            column: "ShotId");

        migrationBuilder.CreateIndex(
            name: "IX_crates_ShotId",
            table: "crates",
            column: "ShotId");

        migrationBuilder.CreateIndex(
            name: "IX_shots_ShowId_Code",
            table: "shots",
            columns: new[] { "ShowId", "Code" },
            unique: true);

        migrationBuilder.CreateIndex(
            name: "IX_shows_Code",
            table: "shows",
            column: "Code",
            unique: true);

        migrationBuilder.CreateIndex(
            name: "IX_waivers_ShotId",
            table: "waivers",
            column: "ShotId");
    }

    /// <inheritdoc />
    protected override void Down(MigrationBuilder migrationBuilder)
    {
        migrationBuilder.DropTable(
            name: "checks");

        migrationBuilder.DropTable(
            name: "crates");

        migrationBuilder.DropTable(
            name: "facts");

        migrationBuilder.DropTable(
            name: "waivers");

        migrationBuilder.DropTable(
            name: "shots");

        migrationBuilder.DropTable(
            name: "shows");
    }
}
