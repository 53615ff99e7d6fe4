using Microsoft.EntityFrameworkCore.Migrations;

#nullable disable

namespace DuneCrate.Store.Migrations;

/// <inheritdoc />
public partial class People : Migration
{
    /// <inheritdoc />
    protected override void Up(MigrationBuilder migrationBuilder)
    {
        migrationBuilder.CreateTable(
            name: "guest_links",
            columns: table => new
            {
                Id = table.Column<int>(type: "INTEGER", nullable: false)
                    .Annotation("Sqlite:Autoincrement", true),
                CrateId = table.Column<int>(type: "INTEGER", nullable: false),
                Hash = table.Column<string>(type: "TEXT", nullable: false),
                For = table.Column<string>(type: "TEXT", nullable: false),
                By = table.Column<string>(type: "TEXT", nullable: false),
                At = table.Column<DateTime>(type: "TEXT", nullable: false),
                Ends = table.Column<DateTime>(type: "TEXT", nullable: false),
                TakenBackAt = table.Column<DateTime>(type: "TEXT", nullable: true),
                Uses = table.Column<int>(type: "INTEGER", nullable: false),
                UsedAt = table.Column<DateTime>(type: "TEXT", nullable: true)
            },
            constraints: table =>
            {
                table.PrimaryKey("PK_guest_links", x => x.Id);
                table.ForeignKey(
                    name: "FK_guest_links_crates_CrateId",
                    column: x => x.CrateId,
                    principalTable: "crates",
                    principalColumn: "Id",
                    onDelete: ReferentialAction.Cascade);
            });

        migrationBuilder.CreateTable(
            name: "history",
            columns: table => new
            {
                Number = table.Column<long>(type: "INTEGER", nullable: false),
                At = table.Column<DateTime>(type: "TEXT", nullable: false),
                Who = table.Column<string>(type: "TEXT", nullable: false),
                Kind = table.Column<string>(type: "TEXT", nullable: false),
                Show = table.Column<string>(type: "TEXT", nullable: true),
                Shot = table.Column<string>(type: "TEXT", nullable: true),
                Subject = table.Column<string>(type: "TEXT", nullable: false),
                Before = table.Column<string>(type: "TEXT", nullable: true),
                After = table.Column<string>(type: "TEXT", nullable: true),
                Previous = table.Column<string>(type: "TEXT", nullable: false),
                Hash = table.Column<string>(type: "TEXT", nullable: false)
            },
            constraints: table =>
            {
                table.PrimaryKey("PK_history", x => x.Number);
            });

        migrationBuilder.CreateTable(
            name: "letters",
            columns: table => new
            {
                Id = table.Column<int>(type: "INTEGER", nullable: false)
                    .Annotation("Sqlite:Autoincrement", true),
                Kind = table.Column<string>(type: "TEXT", nullable: false),
                Way = table.Column<string>(type: "TEXT", nullable: false),
                To = table.Column<string>(type: "TEXT", nullable: false),
                Subject = table.Column<string>(type: "TEXT", nullable: false),
                Document = table.Column<string>(type: "TEXT", nullable: false),
                At = table.Column<DateTime>(type: "TEXT", nullable: false),
                Tries = table.Column<int>(type: "INTEGER", nullable: false),
                NextAt = table.Column<DateTime>(type: "TEXT", nullable: true),
                SentAt = table.Column<DateTime>(type: "TEXT", nullable: true),
                Problem = table.Column<string>(type: "TEXT", nullable: true)
            },
            constraints: table =>
            {
                table.PrimaryKey("PK_letters", x => x.Id);
            });

        migrationBuilder.CreateTable(
            name: "people",
            columns: table => new
            {
                Id = table.Column<int>(type: "INTEGER", nullable: false)
                    .Annotation("Sqlite:Autoincrement", true),
                Name = table.Column<string>(type: "TEXT", nullable: false),
                IsKeeper = table.Column<bool>(type: "INTEGER", nullable: false),
                JoinedAt = table.Column<DateTime>(type: "TEXT", nullable: false),
                SeenAt = table.Column<DateTime>(type: "TEXT", nullable: true),
                ClosedAt = table.Column<DateTime>(type: "TEXT", nullable: true),
                Letters = table.Column<string>(type: "TEXT", nullable: false),
                UserName = table.Column<string>(type: "TEXT", maxLength: 256, nullable: true),
                NormalizedUserName = table.Column<string>(type: "TEXT", maxLength: 256, nullable: true),
                Email = table.Column<string>(type: "TEXT", maxLength: 256, nullable: true),
                NormalizedEmail = table.Column<string>(type: "TEXT", maxLength: 256, nullable: true),
                EmailConfirmed = table.Column<bool>(type: "INTEGER", nullable: false),
                PasswordHash = table.Column<string>(type: "TEXT", nullable: true),
                SecurityStamp = table.Column<string>(type: "TEXT", nullable: true),
                ConcurrencyStamp = table.Column<string>(type: "TEXT", nullable: true),
                PhoneNumber = table.Column<string>(type: "TEXT", nullable: true),
                PhoneNumberConfirmed = table.Column<bool>(type: "INTEGER", nullable: false),
                TwoFactorEnabled = table.Column<bool>(type: "INTEGER", nullable: false),
                LockoutEnd = table.Column<DateTimeOffset>(type: "TEXT", nullable: true),
                LockoutEnabled = table.Column<bool>(type: "INTEGER", nullable: false),
                AccessFailedCount = table.Column<int>(type: "INTEGER", nullable: false)
            },
            constraints: table =>
            {
                table.PrimaryKey("PK_people", x => x.Id);
            });

        migrationBuilder.CreateTable(
            name: "tokens",
            columns: table => new
            {
                Id = table.Column<int>(type: "INTEGER", nullable: false)
                    .Annotation("Sqlite:Autoincrement", true),
                ShowId = table.Column<int>(type: "INTEGER", nullable: false),
                Name = table.Column<string>(type: "TEXT", nullable: false),
                Hash = table.Column<string>(type: "TEXT", nullable: false),
                By = table.Column<string>(type: "TEXT", nullable: false),
                At = table.Column<DateTime>(type: "TEXT", nullable: false),
                UsedAt = table.Column<DateTime>(type: "TEXT", nullable: true),
                TakenBackAt = table.Column<DateTime>(type: "TEXT", nullable: true)
            },
            constraints: table =>
            {
                table.PrimaryKey("PK_tokens", x => x.Id);
                table.ForeignKey(
                    name: "FK_tokens_shows_ShowId",
                    column: x => x.ShowId,
                    principalTable: "shows",
                    principalColumn: "Id",
                    onDelete: ReferentialAction.Cascade);
            });

        migrationBuilder.CreateTable(
            name: "memberships",
            columns: table => new
            {
                Id = table.Column<int>(type: "INTEGER", nullable: false)
                    .Annotation("Sqlite:Autoincrement", true),
                PersonId = table.Column<int>(type: "INTEGER", nullable: false),
                ShowId = table.Column<int>(type: "INTEGER", nullable: false),
                Role = table.Column<int>(type: "INTEGER", nullable: false)
            },
            constraints: table =>
            {
                table.PrimaryKey("PK_memberships", x => x.Id);
                table.ForeignKey(
                    name: "FK_memberships_people_PersonId",
                    column: x => x.PersonId,
                    principalTable: "people",
                    principalColumn: "Id",
                    onDelete: ReferentialAction.Cascade);
                table.ForeignKey(
                    name: "FK_memberships_shows_ShowId",
                    column: x => x.ShowId,
                    principalTable: "shows",
                    principalColumn: "Id",
                    onDelete: ReferentialAction.Cascade);
            });

        migrationBuilder.CreateTable(
            name: "passkeys",
            columns: table => new
            {
                CredentialId = table.Column<byte[]>(type: "BLOB", maxLength: 1024, nullable: false),
                UserId = table.Column<int>(type: "INTEGER", nullable: false),
                Data = table.Column<string>(type: "TEXT", nullable: false)
            },
            constraints: table =>
            {
                table.PrimaryKey("PK_passkeys", x => x.CredentialId);
                table.ForeignKey(
                    name: "FK_passkeys_people_UserId",
                    column: x => x.UserId,
                    principalTable: "people",
                    principalColumn: "Id",
                    onDelete: ReferentialAction.Cascade);
            });

        migrationBuilder.CreateTable(
            name: "person_claims",
            columns: table => new
            {
                Id = table.Column<int>(type: "INTEGER", nullable: false)
                    .Annotation("Sqlite:Autoincrement", true),
                UserId = table.Column<int>(type: "INTEGER", nullable: false),
                ClaimType = table.Column<string>(type: "TEXT", nullable: true),
                ClaimValue = table.Column<string>(type: "TEXT", nullable: true)
            },
            constraints: table =>
            {
                table.PrimaryKey("PK_person_claims", x => x.Id);
                table.ForeignKey(
                    name: "FK_person_claims_people_UserId",
                    column: x => x.UserId,
                    principalTable: "people",
                    principalColumn: "Id",
                    onDelete: ReferentialAction.Cascade);
            });

        migrationBuilder.CreateTable(
            name: "person_logins",
            columns: table => new
            {
                LoginProvider = table.Column<string>(type: "TEXT", nullable: false),
                ProviderKey = table.Column<string>(type: "TEXT", nullable: false),
                ProviderDisplayName = table.Column<string>(type: "TEXT", nullable: true),
                UserId = table.Column<int>(type: "INTEGER", nullable: false)
            },
            constraints: table =>
            {
                table.PrimaryKey("PK_person_logins", x => new { x.LoginProvider, x.ProviderKey });
                table.ForeignKey(
                    name: "FK_person_logins_people_UserId",
                    column: x => x.UserId,
                    principalTable: "people",
                    principalColumn: "Id",
                    onDelete: ReferentialAction.Cascade);
            });

        migrationBuilder.CreateTable(
            name: "person_tokens",
            columns: table => new
            {
                UserId = table.Column<int>(type: "INTEGER", nullable: false),
                LoginProvider = table.Column<string>(type: "TEXT", nullable: false),
                Name = table.Column<string>(type: "TEXT", nullable: false),
                Value = table.Column<string>(type: "TEXT", nullable: true)
            },
            constraints: table =>
            {
                table.PrimaryKey("PK_person_tokens", x => new { x.UserId, x.LoginProvider, x.Name });
                table.ForeignKey(
                    name: "FK_person_tokens_people_UserId",
                    column: x => x.UserId,
                    principalTable: "people",
                    principalColumn: "Id",
                    onDelete: ReferentialAction.Cascade);
            });

        migrationBuilder.CreateIndex(
            name: "IX_guest_links_CrateId",
            table: "guest_links",
            column: "CrateId");

        migrationBuilder.CreateIndex(
            name: "IX_guest_links_Hash",
            table: "guest_links",
            column: "Hash",
            unique: true);

        migrationBuilder.CreateIndex(
            name: "IX_history_At",
            table: "history",
            column: "At");

        migrationBuilder.CreateIndex(
            name: "IX_history_Show_Shot",
            table: "history",
            columns: new[] { "Show", "Shot" });

        migrationBuilder.CreateIndex(
            name: "IX_letters_NextAt",
            table: "letters",
            column: "NextAt");

        migrationBuilder.CreateIndex(
            name: "IX_memberships_PersonId_ShowId",
            table: "memberships",
            columns: new[] { "PersonId", "ShowId" },
            unique: true);

        migrationBuilder.CreateIndex(
            name: "IX_memberships_ShowId",
            table: "memberships",
            column: "ShowId");

        migrationBuilder.CreateIndex(
            name: "IX_passkeys_UserId",
            table: "passkeys",
            column: "UserId");

        migrationBuilder.CreateIndex(
            name: "EmailIndex",
            table: "people",
            column: "NormalizedEmail");

        migrationBuilder.CreateIndex(
            name: "UserNameIndex",
            table: "people",
            column: "NormalizedUserName",
            unique: true);

        migrationBuilder.CreateIndex(
            name: "IX_person_claims_UserId",
            table: "person_claims",
            column: "UserId");

        migrationBuilder.CreateIndex(
            name: "IX_person_logins_UserId",
            table: "person_logins",
            column: "UserId");

        migrationBuilder.CreateIndex(
            name: "IX_tokens_Hash",
            table: "tokens",
            column: "Hash",
            unique: true);

        migrationBuilder.CreateIndex(
            name: "IX_tokens_ShowId",
            table: "tokens",
            column: "ShowId");
    
        // What was done stays as it was written down.
        foreach (string act in (string[])["UPDATE", "DELETE"])
        {
            migrationBuilder.Sql(
                $"CREATE TRIGGER history_no_{act.ToLowerInvariant()} BEFORE {act} ON history "
                    + "BEGIN SELECT RAISE(ABORT, 'the history is only ever added to'); END"
            );
        }
    }

    /// <inheritdoc />
    protected override void Down(MigrationBuilder migrationBuilder)
    {
        migrationBuilder.DropTable(
            name: "guest_links");

        migrationBuilder.DropTable(
            name: "history");

        migrationBuilder.DropTable(
            name: "letters");

        migrationBuilder.DropTable(
            name: "memberships");

        migrationBuilder.DropTable(
            name: "passkeys");

        migrationBuilder.DropTable(
            name: "person_claims");

        migrationBuilder.DropTable(
            name: "person_logins");

        migrationBuilder.DropTable(
            name: "person_tokens");

        migrationBuilder.DropTable(
            name: "tokens");

        migrationBuilder.DropTable(
            name: "people");
    }
}
