using Microsoft.EntityFrameworkCore.Migrations;

#nullable disable

namespace DuneCrate.Store.Migrations;

/// <summary>Remembered facts in a smaller form. Old ones are read again from the files.</summary>
public partial class CompactFacts : Migration
{
    /// <inheritdoc />
    protected override void Up(MigrationBuilder migrationBuilder)
    {
        migrationBuilder.DropTable(name: "facts");
        migrationBuilder.AddColumn<bool>(name: "ByContent", table: "checks", type: "INTEGER", nullable: false, defaultValue: false);
        migrationBuilder.CreateTable(
            name: "file_facts",
            columns: table => new
            {
                FolderId = table.Column<int>(type: "INTEGER", nullable: false),
                Name = table.Column<string>(type: "TEXT", nullable: false),
                Bytes = table.Column<long>(type: "INTEGER", nullable: false),
                Modified = table.Column<long>(type: "INTEGER", nullable: false),
                ShapeId = table.Column<int>(type: "INTEGER", nullable: false),
                RenderSeconds = table.Column<double>(type: "REAL", nullable: true),
                Request = table.Column<long>(type: "INTEGER", nullable: true),
                Pixels = table.Column<byte[]>(type: "BLOB", nullable: true),
                Content = table.Column<byte[]>(type: "BLOB", nullable: true),
            },
            constraints: table => table.PrimaryKey("PK_file_facts", x => new { x.FolderId, x.Name }));
        migrationBuilder.CreateTable(
            name: "fact_folders",
            columns: table => new
            {
                Id = table.Column<int>(type: "INTEGER", nullable: false).Annotation("Sqlite:Autoincrement", true),
                Path = table.Column<string>(type: "TEXT", nullable: false),
            },
            constraints: table => table.PrimaryKey("PK_fact_folders", x => x.Id));
        migrationBuilder.CreateTable(
            name: "fact_shapes",
            columns: table => new
            {
                Id = table.Column<int>(type: "INTEGER", nullable: false).Annotation("Sqlite:Autoincrement", true),
                Hash = table.Column<long>(type: "INTEGER", nullable: false),
                Facts = table.Column<byte[]>(type: "BLOB", nullable: false),
            },
            constraints: table => table.PrimaryKey("PK_fact_shapes", x => x.Id));
        migrationBuilder.CreateIndex(name: "IX_fact_folders_Path", table: "fact_folders", column: "Path", unique: true);
        migrationBuilder.CreateIndex(name: "IX_fact_shapes_Hash", table: "fact_shapes", column: "Hash");
    }

    /// <inheritdoc />
    protected override void Down(MigrationBuilder migrationBuilder)
    {
        migrationBuilder.DropTable(name: "file_facts");
        migrationBuilder.DropTable(name: "fact_folders");
        migrationBuilder.DropTable(name: "fact_shapes");
        migrationBuilder.DropColumn(name: "ByContent", table: "checks");
        migrationBuilder.CreateTable(
            name: "facts",
            columns: table => new
            {
                Path = table.Column<string>(type: "TEXT", nullable: false),
                Bytes = table.Column<long>(type: "INTEGER", nullable: false),
                Modified = table.Column<long>(type: "INTEGER", nullable: false),
                Pixels = table.Column<bool>(type: "INTEGER", nullable: false),
                Signature = table.Column<string>(type: "TEXT", nullable: false),
                Facts = table.Column<byte[]>(type: "BLOB", nullable: false),
            },
            constraints: table => table.PrimaryKey("PK_facts", x => x.Path));
    }
}
