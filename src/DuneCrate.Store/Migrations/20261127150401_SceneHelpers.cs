using Microsoft.EntityFrameworkCore.Migrations;

#nullable disable

namespace DuneCrate.Store.Migrations;

/// <summary>
/// Every table as it was on the day of this name: the steps up to here are one, and a database that took them one by one has the same.
/// </summary>
public partial class SceneHelpers : Migration
{
    /// <inheritdoc />
    protected override void Up(MigrationBuilder migrationBuilder)
    {
        migrationBuilder.CreateTable(
            name: "fact_folders",
            columns: table => new
            {
                Id = table.Column<int>(type: "INTEGER", nullable: false)
                    .Annotation("Sqlite:Autoincrement", true),
                Path = table.Column<string>(type: "TEXT", nullable: false),
                Seen = table.Column<int>(type: "INTEGER", nullable: false)
            },
            constraints: table =>
            {
                table.PrimaryKey("PK_fact_folders", x => x.Id);
            });

        migrationBuilder.CreateTable(
            name: "fact_shapes",
            columns: table => new
            {
                Id = table.Column<int>(type: "INTEGER", nullable: false)
                    .Annotation("Sqlite:Autoincrement", true),
                Facts = table.Column<byte[]>(type: "BLOB", nullable: false),
                Hash = table.Column<long>(type: "INTEGER", nullable: false)
            },
            constraints: table =>
            {
                table.PrimaryKey("PK_fact_shapes", x => x.Id);
            });

        migrationBuilder.CreateTable(
            name: "file_facts",
            columns: table => new
            {
                FolderId = table.Column<int>(type: "INTEGER", nullable: false),
                Name = table.Column<string>(type: "TEXT", nullable: false),
                Bytes = table.Column<long>(type: "INTEGER", nullable: false),
                Content = table.Column<byte[]>(type: "BLOB", nullable: true),
                Modified = table.Column<long>(type: "INTEGER", nullable: false),
                Pixels = table.Column<byte[]>(type: "BLOB", nullable: true),
                RenderSeconds = table.Column<double>(type: "REAL", nullable: true),
                Request = table.Column<long>(type: "INTEGER", nullable: true),
                ShapeId = table.Column<int>(type: "INTEGER", nullable: false)
            },
            constraints: table =>
            {
                table.PrimaryKey("PK_file_facts", x => new { x.FolderId, x.Name });
            });

        migrationBuilder.CreateTable(
            name: "finding_notes",
            columns: table => new
            {
                Id = table.Column<int>(type: "INTEGER", nullable: false)
                    .Annotation("Sqlite:Autoincrement", true),
                At = table.Column<DateTime>(type: "TEXT", nullable: false),
                By = table.Column<string>(type: "TEXT", nullable: false),
                Note = table.Column<string>(type: "TEXT", nullable: false),
                Output = table.Column<string>(type: "TEXT", nullable: false),
                Pass = table.Column<string>(type: "TEXT", nullable: true),
                Rule = table.Column<string>(type: "TEXT", nullable: false),
                ShotId = table.Column<int>(type: "INTEGER", nullable: false),
                To = table.Column<string>(type: "TEXT", nullable: false)
            },
            constraints: table =>
            {
                table.PrimaryKey("PK_finding_notes", x => x.Id);
            });

        migrationBuilder.CreateTable(
            name: "history",
            columns: table => new
            {
                Number = table.Column<long>(type: "INTEGER", nullable: false),
                After = table.Column<string>(type: "TEXT", nullable: true),
                At = table.Column<DateTime>(type: "TEXT", nullable: false),
                Before = table.Column<string>(type: "TEXT", nullable: true),
                Hash = table.Column<string>(type: "TEXT", nullable: false),
                Kind = table.Column<string>(type: "TEXT", nullable: false),
                Previous = table.Column<string>(type: "TEXT", nullable: false),
                Shot = table.Column<string>(type: "TEXT", nullable: true),
                Show = table.Column<string>(type: "TEXT", nullable: true),
                Subject = table.Column<string>(type: "TEXT", nullable: false),
                Who = table.Column<string>(type: "TEXT", nullable: false)
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
                At = table.Column<DateTime>(type: "TEXT", nullable: false),
                Document = table.Column<string>(type: "TEXT", nullable: false),
                Kind = table.Column<string>(type: "TEXT", nullable: false),
                NextAt = table.Column<DateTime>(type: "TEXT", nullable: true),
                Problem = table.Column<string>(type: "TEXT", nullable: true),
                SentAt = table.Column<DateTime>(type: "TEXT", nullable: true),
                Subject = table.Column<string>(type: "TEXT", nullable: false),
                To = table.Column<string>(type: "TEXT", nullable: false),
                Tries = table.Column<int>(type: "INTEGER", nullable: false),
                Way = table.Column<string>(type: "TEXT", nullable: false)
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
                AccessFailedCount = table.Column<int>(type: "INTEGER", nullable: false),
                ClosedAt = table.Column<DateTime>(type: "TEXT", nullable: true),
                ConcurrencyStamp = table.Column<string>(type: "TEXT", nullable: true),
                Email = table.Column<string>(type: "TEXT", maxLength: 256, nullable: true),
                EmailConfirmed = table.Column<bool>(type: "INTEGER", nullable: false),
                IsKeeper = table.Column<bool>(type: "INTEGER", nullable: false),
                JoinedAt = table.Column<DateTime>(type: "TEXT", nullable: false),
                Letters = table.Column<string>(type: "TEXT", nullable: false),
                LockoutEnabled = table.Column<bool>(type: "INTEGER", nullable: false),
                LockoutEnd = table.Column<DateTimeOffset>(type: "TEXT", nullable: true),
                Name = table.Column<string>(type: "TEXT", nullable: false),
                NormalizedEmail = table.Column<string>(type: "TEXT", maxLength: 256, nullable: true),
                NormalizedUserName = table.Column<string>(type: "TEXT", maxLength: 256, nullable: true),
                PasswordHash = table.Column<string>(type: "TEXT", nullable: true),
                PhoneNumber = table.Column<string>(type: "TEXT", nullable: true),
                PhoneNumberConfirmed = table.Column<bool>(type: "INTEGER", nullable: false),
                SecurityStamp = table.Column<string>(type: "TEXT", nullable: true),
                SeenAt = table.Column<DateTime>(type: "TEXT", nullable: true),
                TwoFactorEnabled = table.Column<bool>(type: "INTEGER", nullable: false),
                UserName = table.Column<string>(type: "TEXT", maxLength: 256, nullable: true)
            },
            constraints: table =>
            {
                table.PrimaryKey("PK_people", x => x.Id);
            });

        migrationBuilder.CreateTable(
            name: "picture_notes",
            columns: table => new
            {
                Id = table.Column<int>(type: "INTEGER", nullable: false)
                    .Annotation("Sqlite:Autoincrement", true),
                AnswersJson = table.Column<string>(type: "TEXT", nullable: false),
                At = table.Column<DateTime>(type: "TEXT", nullable: false),
                By = table.Column<string>(type: "TEXT", nullable: false),
                EndX = table.Column<int>(type: "INTEGER", nullable: false),
                EndY = table.Column<int>(type: "INTEGER", nullable: false),
                Frame = table.Column<int>(type: "INTEGER", nullable: false),
                Layer = table.Column<string>(type: "TEXT", nullable: false),
                Pass = table.Column<string>(type: "TEXT", nullable: false),
                SettledAt = table.Column<DateTime>(type: "TEXT", nullable: true),
                SettledBy = table.Column<string>(type: "TEXT", nullable: true),
                Shape = table.Column<string>(type: "TEXT", nullable: false),
                ShotId = table.Column<int>(type: "INTEGER", nullable: false),
                Words = table.Column<string>(type: "TEXT", nullable: false),
                X = table.Column<int>(type: "INTEGER", nullable: false),
                Y = table.Column<int>(type: "INTEGER", nullable: false)
            },
            constraints: table =>
            {
                table.PrimaryKey("PK_picture_notes", x => x.Id);
            });

        migrationBuilder.CreateTable(
            name: "rebuild_facts",
            columns: table => new
            {
                Hash = table.Column<byte[]>(type: "BLOB", nullable: false),
                Facts = table.Column<string>(type: "TEXT", nullable: false),
                FolderId = table.Column<int>(type: "INTEGER", nullable: false)
            },
            constraints: table =>
            {
                table.PrimaryKey("PK_rebuild_facts", x => x.Hash);
            });

        migrationBuilder.CreateTable(
            name: "scene_helpers",
            columns: table => new
            {
                Id = table.Column<int>(type: "INTEGER", nullable: false)
                    .Annotation("Sqlite:Autoincrement", true),
                At = table.Column<DateTime>(type: "TEXT", nullable: false),
                By = table.Column<string>(type: "TEXT", nullable: false),
                Chosen = table.Column<string>(type: "TEXT", nullable: false),
                Offsets = table.Column<string>(type: "TEXT", nullable: false),
                ShotId = table.Column<int>(type: "INTEGER", nullable: false),
                Source = table.Column<string>(type: "TEXT", nullable: false),
                Table = table.Column<string>(type: "TEXT", nullable: false),
                Told = table.Column<string>(type: "TEXT", nullable: false)
            },
            constraints: table =>
            {
                table.PrimaryKey("PK_scene_helpers", x => x.Id);
            });

        migrationBuilder.CreateTable(
            name: "shows",
            columns: table => new
            {
                Id = table.Column<int>(type: "INTEGER", nullable: false)
                    .Annotation("Sqlite:Autoincrement", true),
                ArchivedAt = table.Column<DateTime>(type: "TEXT", nullable: true),
                Code = table.Column<string>(type: "TEXT", nullable: false),
                FrameRate = table.Column<string>(type: "TEXT", nullable: false),
                Height = table.Column<int>(type: "INTEGER", nullable: false),
                Name = table.Column<string>(type: "TEXT", nullable: false),
                SettingsJson = table.Column<string>(type: "TEXT", nullable: true),
                Width = table.Column<int>(type: "INTEGER", nullable: false)
            },
            constraints: table =>
            {
                table.PrimaryKey("PK_shows", x => x.Id);
            });

        migrationBuilder.CreateTable(
            name: "stacks",
            columns: table => new
            {
                Id = table.Column<int>(type: "INTEGER", nullable: false)
                    .Annotation("Sqlite:Autoincrement", true),
                At = table.Column<DateTime>(type: "TEXT", nullable: false),
                Document = table.Column<string>(type: "TEXT", nullable: false),
                FutureJson = table.Column<string>(type: "TEXT", nullable: false),
                Name = table.Column<string>(type: "TEXT", nullable: false),
                PastJson = table.Column<string>(type: "TEXT", nullable: false),
                Revision = table.Column<int>(type: "INTEGER", nullable: false),
                ShotId = table.Column<int>(type: "INTEGER", nullable: false)
            },
            constraints: table =>
            {
                table.PrimaryKey("PK_stacks", x => x.Id);
            });

        migrationBuilder.CreateTable(
            name: "upkeep",
            columns: table => new
            {
                Id = table.Column<int>(type: "INTEGER", nullable: false),
                ChecksKept = table.Column<int>(type: "INTEGER", nullable: false),
                FactsDays = table.Column<int>(type: "INTEGER", nullable: false),
                SupersededDays = table.Column<int>(type: "INTEGER", nullable: false)
            },
            constraints: table =>
            {
                table.PrimaryKey("PK_upkeep", x => x.Id);
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
                ClaimType = table.Column<string>(type: "TEXT", nullable: true),
                ClaimValue = table.Column<string>(type: "TEXT", nullable: true),
                UserId = table.Column<int>(type: "INTEGER", nullable: false)
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
            name: "plan_templates",
            columns: table => new
            {
                Id = table.Column<int>(type: "INTEGER", nullable: false)
                    .Annotation("Sqlite:Autoincrement", true),
                At = table.Column<DateTime>(type: "TEXT", nullable: false),
                Name = table.Column<string>(type: "TEXT", nullable: false),
                PlanJson = table.Column<string>(type: "TEXT", nullable: false),
                ShowId = table.Column<int>(type: "INTEGER", nullable: false)
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
            name: "receivers",
            columns: table => new
            {
                Id = table.Column<int>(type: "INTEGER", nullable: false)
                    .Annotation("Sqlite:Autoincrement", true),
                Contact = table.Column<string>(type: "TEXT", nullable: false),
                Name = table.Column<string>(type: "TEXT", nullable: false),
                Note = table.Column<string>(type: "TEXT", nullable: false),
                Recipe = table.Column<string>(type: "TEXT", nullable: false),
                ShowId = table.Column<int>(type: "INTEGER", nullable: false)
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

        migrationBuilder.CreateTable(
            name: "shots",
            columns: table => new
            {
                Id = table.Column<int>(type: "INTEGER", nullable: false)
                    .Annotation("Sqlite:Autoincrement", true),
                ShowId = table.Column<int>(type: "INTEGER", nullable: false),
                ArchivedAt = table.Column<DateTime>(type: "TEXT", nullable: true),
                Code = table.Column<string>(type: "TEXT", nullable: false),
                Folder = table.Column<string>(type: "TEXT", nullable: false),
                LastEvent = table.Column<string>(type: "TEXT", nullable: false),
                LastEventAt = table.Column<DateTime>(type: "TEXT", nullable: false),
                PlanJson = table.Column<string>(type: "TEXT", nullable: false),
                Revision = table.Column<int>(type: "INTEGER", nullable: false),
                Root = table.Column<string>(type: "TEXT", nullable: true)
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
            name: "tokens",
            columns: table => new
            {
                Id = table.Column<int>(type: "INTEGER", nullable: false)
                    .Annotation("Sqlite:Autoincrement", true),
                ShowId = table.Column<int>(type: "INTEGER", nullable: false),
                At = table.Column<DateTime>(type: "TEXT", nullable: false),
                By = table.Column<string>(type: "TEXT", nullable: false),
                Hash = table.Column<string>(type: "TEXT", nullable: false),
                Name = table.Column<string>(type: "TEXT", nullable: false),
                TakenBackAt = table.Column<DateTime>(type: "TEXT", nullable: true),
                UsedAt = table.Column<DateTime>(type: "TEXT", nullable: true)
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
            name: "checks",
            columns: table => new
            {
                Id = table.Column<int>(type: "INTEGER", nullable: false)
                    .Annotation("Sqlite:Autoincrement", true),
                Asked = table.Column<DateTime>(type: "TEXT", nullable: false),
                ByContent = table.Column<bool>(type: "INTEGER", nullable: false),
                Ended = table.Column<DateTime>(type: "TEXT", nullable: true),
                Pixels = table.Column<bool>(type: "INTEGER", nullable: false),
                Problem = table.Column<string>(type: "TEXT", nullable: true),
                Report = table.Column<byte[]>(type: "BLOB", nullable: true),
                Revision = table.Column<int>(type: "INTEGER", nullable: false),
                ShotId = table.Column<int>(type: "INTEGER", nullable: false),
                State = table.Column<string>(type: "TEXT", nullable: false)
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
                Answer = table.Column<int>(type: "INTEGER", nullable: false),
                Answered = table.Column<DateTime>(type: "TEXT", nullable: true),
                AnsweredBy = table.Column<string>(type: "TEXT", nullable: false),
                Asked = table.Column<DateTime>(type: "TEXT", nullable: false),
                By = table.Column<string>(type: "TEXT", nullable: false),
                Bytes = table.Column<long>(type: "INTEGER", nullable: false),
                Ended = table.Column<DateTime>(type: "TEXT", nullable: true),
                Files = table.Column<int>(type: "INTEGER", nullable: false),
                Gone = table.Column<DateTime>(type: "TEXT", nullable: true),
                Layout = table.Column<string>(type: "TEXT", nullable: false),
                Name = table.Column<string>(type: "TEXT", nullable: true),
                OntoId = table.Column<int>(type: "INTEGER", nullable: true),
                Path = table.Column<string>(type: "TEXT", nullable: true),
                Problem = table.Column<string>(type: "TEXT", nullable: true),
                Receiver = table.Column<string>(type: "TEXT", nullable: true),
                Recipe = table.Column<string>(type: "TEXT", nullable: true),
                SealId = table.Column<Guid>(type: "TEXT", nullable: false),
                ShotId = table.Column<int>(type: "INTEGER", nullable: false),
                State = table.Column<string>(type: "TEXT", nullable: false),
                SumsDigest = table.Column<string>(type: "TEXT", nullable: true),
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
            name: "plan_revisions",
            columns: table => new
            {
                ShotId = table.Column<int>(type: "INTEGER", nullable: false),
                Revision = table.Column<int>(type: "INTEGER", nullable: false),
                At = table.Column<DateTime>(type: "TEXT", nullable: false),
                By = table.Column<string>(type: "TEXT", nullable: false),
                Kind = table.Column<string>(type: "TEXT", nullable: false),
                Plan = table.Column<byte[]>(type: "BLOB", nullable: false),
                Session = table.Column<string>(type: "TEXT", nullable: false),
                What = table.Column<string>(type: "TEXT", nullable: false)
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
            name: "preflight_ticks",
            columns: table => new
            {
                Id = table.Column<int>(type: "INTEGER", nullable: false)
                    .Annotation("Sqlite:Autoincrement", true),
                At = table.Column<DateTime>(type: "TEXT", nullable: false),
                By = table.Column<string>(type: "TEXT", nullable: false),
                Item = table.Column<string>(type: "TEXT", nullable: false),
                ShotId = table.Column<int>(type: "INTEGER", nullable: false)
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

        migrationBuilder.CreateTable(
            name: "waivers",
            columns: table => new
            {
                Id = table.Column<int>(type: "INTEGER", nullable: false)
                    .Annotation("Sqlite:Autoincrement", true),
                At = table.Column<DateTime>(type: "TEXT", nullable: false),
                By = table.Column<string>(type: "TEXT", nullable: false),
                Frames = table.Column<string>(type: "TEXT", nullable: false),
                Output = table.Column<string>(type: "TEXT", nullable: false),
                Pass = table.Column<string>(type: "TEXT", nullable: true),
                Reason = table.Column<string>(type: "TEXT", nullable: false),
                Rule = table.Column<string>(type: "TEXT", nullable: false),
                ShotId = table.Column<int>(type: "INTEGER", nullable: false)
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

        migrationBuilder.CreateTable(
            name: "crate_remarks",
            columns: table => new
            {
                Id = table.Column<int>(type: "INTEGER", nullable: false)
                    .Annotation("Sqlite:Autoincrement", true),
                CrateId = table.Column<int>(type: "INTEGER", nullable: false),
                AnsweredBy = table.Column<string>(type: "TEXT", nullable: true),
                At = table.Column<DateTime>(type: "TEXT", nullable: false),
                By = table.Column<string>(type: "TEXT", nullable: false),
                Frames = table.Column<string>(type: "TEXT", nullable: false),
                Layer = table.Column<string>(type: "TEXT", nullable: false),
                Pass = table.Column<string>(type: "TEXT", nullable: false),
                Words = table.Column<string>(type: "TEXT", nullable: false)
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
            name: "guest_links",
            columns: table => new
            {
                Id = table.Column<int>(type: "INTEGER", nullable: false)
                    .Annotation("Sqlite:Autoincrement", true),
                CrateId = table.Column<int>(type: "INTEGER", nullable: false),
                At = table.Column<DateTime>(type: "TEXT", nullable: false),
                By = table.Column<string>(type: "TEXT", nullable: false),
                Ends = table.Column<DateTime>(type: "TEXT", nullable: false),
                For = table.Column<string>(type: "TEXT", nullable: false),
                Hash = table.Column<string>(type: "TEXT", nullable: false),
                TakenBackAt = table.Column<DateTime>(type: "TEXT", nullable: true),
                UsedAt = table.Column<DateTime>(type: "TEXT", nullable: true),
                Uses = table.Column<int>(type: "INTEGER", nullable: false)
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

        migrationBuilder.CreateIndex(
            name: "IX_checks_ShotId_State",
            table: "checks",
            columns: new[] { "ShotId", "State" });

        migrationBuilder.CreateIndex(
            name: "IX_crate_remarks_CrateId",
            table: "crate_remarks",
            column: "CrateId");

        migrationBuilder.CreateIndex(
            name: "IX_crates_ShotId",
            table: "crates",
            column: "ShotId");

        migrationBuilder.CreateIndex(
            name: "IX_fact_folders_Path",
            table: "fact_folders",
            column: "Path",
            unique: true);

        migrationBuilder.CreateIndex(
            name: "IX_fact_shapes_Hash",
            table: "fact_shapes",
            column: "Hash");

        migrationBuilder.CreateIndex(
            name: "IX_finding_notes_ShotId",
            table: "finding_notes",
            column: "ShotId");

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
            name: "IX_picture_notes_ShotId",
            table: "picture_notes",
            column: "ShotId");

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

        migrationBuilder.CreateIndex(
            name: "IX_rebuild_facts_FolderId",
            table: "rebuild_facts",
            column: "FolderId");

        migrationBuilder.CreateIndex(
            name: "IX_receivers_ShowId_Name",
            table: "receivers",
            columns: new[] { "ShowId", "Name" },
            unique: true);

        migrationBuilder.CreateIndex(
            name: "IX_scene_helpers_ShotId",
            table: "scene_helpers",
            column: "ShotId",
            unique: true);

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
            name: "IX_stacks_ShotId_Name",
            table: "stacks",
            columns: new[] { "ShotId", "Name" },
            unique: true);

        migrationBuilder.CreateIndex(
            name: "IX_tokens_Hash",
            table: "tokens",
            column: "Hash",
            unique: true);

        migrationBuilder.CreateIndex(
            name: "IX_tokens_ShowId",
            table: "tokens",
            column: "ShowId");

        migrationBuilder.CreateIndex(
            name: "IX_waivers_ShotId",
            table: "waivers",
            column: "ShotId");

        // The history is only ever added to.
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
            name: "checks");

        migrationBuilder.DropTable(
            name: "crate_remarks");

        migrationBuilder.DropTable(
            name: "fact_folders");

        migrationBuilder.DropTable(
            name: "fact_shapes");

        migrationBuilder.DropTable(
            name: "file_facts");

        migrationBuilder.DropTable(
            name: "finding_notes");

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
            name: "picture_notes");

        migrationBuilder.DropTable(
            name: "plan_revisions");

        migrationBuilder.DropTable(
            name: "plan_templates");

        migrationBuilder.DropTable(
            name: "preflight_ticks");

        migrationBuilder.DropTable(
            name: "rebuild_facts");

        migrationBuilder.DropTable(
            name: "receivers");

        migrationBuilder.DropTable(
            name: "scene_helpers");

        migrationBuilder.DropTable(
            name: "stacks");

        migrationBuilder.DropTable(
            name: "tokens");

        migrationBuilder.DropTable(
            name: "upkeep");

        migrationBuilder.DropTable(
            name: "waivers");

        migrationBuilder.DropTable(
            name: "crates");

        migrationBuilder.DropTable(
            name: "people");

        migrationBuilder.DropTable(
            name: "shots");

        migrationBuilder.DropTable(
            name: "shows");
    }
}
