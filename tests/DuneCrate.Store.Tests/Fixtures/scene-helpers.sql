PRAGMA foreign_keys=OFF;
BEGIN TRANSACTION;
CREATE TABLE IF NOT EXISTS "__EFMigrationsLock" (
    "Id" INTEGER NOT NULL CONSTRAINT "PK___EFMigrationsLock" PRIMARY KEY,
    "Timestamp" TEXT NOT NULL
);
CREATE TABLE IF NOT EXISTS "__EFMigrationsHistory" (
    "MigrationId" TEXT NOT NULL CONSTRAINT "PK___EFMigrationsHistory" PRIMARY KEY,
    "ProductVersion" TEXT NOT NULL
);
INSERT INTO __EFMigrationsHistory VALUES('20261124040358_Initial','10.0.15');
INSERT INTO __EFMigrationsHistory VALUES('20261124235253_Planning','10.0.15');
INSERT INTO __EFMigrationsHistory VALUES('20261125033129_CompactFacts','10.0.15');
INSERT INTO __EFMigrationsHistory VALUES('20261125091443_HandedFindings','10.0.15');
INSERT INTO __EFMigrationsHistory VALUES('20261126103812_Sound','10.0.15');
INSERT INTO __EFMigrationsHistory VALUES('20261126141500_PassKeys','10.0.15');
INSERT INTO __EFMigrationsHistory VALUES('20261126201000_Archive','10.0.15');
INSERT INTO __EFMigrationsHistory VALUES('20261126233000_PictureNotes','10.0.15');
INSERT INTO __EFMigrationsHistory VALUES('20261127033911_Stacks','10.0.15');
INSERT INTO __EFMigrationsHistory VALUES('20261127070356_People','10.0.15');
INSERT INTO __EFMigrationsHistory VALUES('20261127112500_Receivers','10.0.15');
INSERT INTO __EFMigrationsHistory VALUES('20261127142156_SupersededCrates','10.0.15');
INSERT INTO __EFMigrationsHistory VALUES('20261127150401_SceneHelpers','10.0.15');
CREATE TABLE IF NOT EXISTS "shows" (
    "Id" INTEGER NOT NULL CONSTRAINT "PK_shows" PRIMARY KEY AUTOINCREMENT,
    "Code" TEXT NOT NULL,
    "Name" TEXT NOT NULL,
    "FrameRate" TEXT NOT NULL,
    "Width" INTEGER NOT NULL,
    "Height" INTEGER NOT NULL
, "SettingsJson" TEXT NULL, "ArchivedAt" TEXT NULL);
INSERT INTO shows VALUES(1,'code','name','framerate',1,1,'{}','2026-11-27 15:04:01');
CREATE TABLE IF NOT EXISTS "shots" (
    "Id" INTEGER NOT NULL CONSTRAINT "PK_shots" PRIMARY KEY AUTOINCREMENT,
    "ShowId" INTEGER NOT NULL,
    "Code" TEXT NOT NULL,
    "PlanJson" TEXT NOT NULL,
    "Revision" INTEGER NOT NULL,
    "Root" TEXT NULL,
    "Folder" TEXT NOT NULL,
    "LastEvent" TEXT NOT NULL,
    "LastEventAt" TEXT NOT NULL, "ArchivedAt" TEXT NULL,
    CONSTRAINT "FK_shots_shows_ShowId" FOREIGN KEY ("ShowId") REFERENCES "shows" ("Id") ON DELETE CASCADE
);
INSERT INTO shots VALUES(1,1,'code','{}',1,'root','folder','lastevent','2026-11-27 15:04:01','2026-11-27 15:04:01');
CREATE TABLE IF NOT EXISTS "checks" (
    "Id" INTEGER NOT NULL CONSTRAINT "PK_checks" PRIMARY KEY AUTOINCREMENT,
    "ShotId" INTEGER NOT NULL,
    "State" TEXT NOT NULL,
    "Pixels" INTEGER NOT NULL,
    "Revision" INTEGER NOT NULL,
    "Asked" TEXT NOT NULL,
    "Ended" TEXT NULL,
    "Problem" TEXT NULL,
    "Report" BLOB NULL, "ByContent" INTEGER NOT NULL DEFAULT 0,
    CONSTRAINT "FK_checks_shots_ShotId" FOREIGN KEY ("ShotId") REFERENCES "shots" ("Id") ON DELETE CASCADE
);
INSERT INTO checks VALUES(1,1,'state',1,1,'2026-11-27 15:04:01','2026-11-27 15:04:01','problem',X'0102',1);
CREATE TABLE IF NOT EXISTS "crates" (
    "Id" INTEGER NOT NULL CONSTRAINT "PK_crates" PRIMARY KEY AUTOINCREMENT,
    "ShotId" INTEGER NOT NULL,
    "State" TEXT NOT NULL,
    "Layout" TEXT NOT NULL,
    "Name" TEXT NULL,
    "Path" TEXT NULL,
    "By" TEXT NOT NULL,
    "Asked" TEXT NOT NULL,
    "Ended" TEXT NULL,
    "Files" INTEGER NOT NULL,
    "Bytes" INTEGER NOT NULL,
    "Problem" TEXT NULL,
    "Verified" TEXT NULL,
    "VerifyProblems" TEXT NOT NULL, "SealId" TEXT NOT NULL DEFAULT '00000000-0000-0000-0000-000000000000', "SumsDigest" TEXT NULL, "Answer" INTEGER NOT NULL DEFAULT 0, "Answered" TEXT NULL, "AnsweredBy" TEXT NOT NULL DEFAULT '', "OntoId" INTEGER NULL, "Receiver" TEXT NULL, "Recipe" TEXT NULL, "Gone" TEXT NULL,
    CONSTRAINT "FK_crates_shots_ShotId" FOREIGN KEY ("ShotId") REFERENCES "shots" ("Id") ON DELETE CASCADE
);
INSERT INTO crates VALUES(1,1,'state','layout','name','path','by','2026-11-27 15:04:01','2026-11-27 15:04:01',1,1,'problem','2026-11-27 15:04:01','verifyproblems','00000000-0000-0000-0000-000000000001','sumsdigest',1,'2026-11-27 15:04:01','answeredby',1,'receiver','recipe','2026-11-27 15:04:01');
CREATE TABLE IF NOT EXISTS "waivers" (
    "Id" INTEGER NOT NULL CONSTRAINT "PK_waivers" PRIMARY KEY AUTOINCREMENT,
    "ShotId" INTEGER NOT NULL,
    "Rule" TEXT NOT NULL,
    "Output" TEXT NOT NULL,
    "Pass" TEXT NULL,
    "Frames" TEXT NOT NULL,
    "By" TEXT NOT NULL,
    "Reason" TEXT NOT NULL,
    "At" TEXT NOT NULL,
    CONSTRAINT "FK_waivers_shots_ShotId" FOREIGN KEY ("ShotId") REFERENCES "shots" ("Id") ON DELETE CASCADE
);
INSERT INTO waivers VALUES(1,1,'rule','output','pass','frames','by','reason','2026-11-27 15:04:01');
CREATE TABLE IF NOT EXISTS "plan_revisions" (
    "ShotId" INTEGER NOT NULL,
    "Revision" INTEGER NOT NULL,
    "Plan" BLOB NOT NULL,
    "What" TEXT NOT NULL,
    "Kind" TEXT NOT NULL,
    "Session" TEXT NOT NULL,
    "By" TEXT NOT NULL,
    "At" TEXT NOT NULL,
    CONSTRAINT "PK_plan_revisions" PRIMARY KEY ("ShotId", "Revision"),
    CONSTRAINT "FK_plan_revisions_shots_ShotId" FOREIGN KEY ("ShotId") REFERENCES "shots" ("Id") ON DELETE CASCADE
);
INSERT INTO plan_revisions VALUES(1,1,X'0102','what','kind','session','by','2026-11-27 15:04:01');
CREATE TABLE IF NOT EXISTS "plan_templates" (
    "Id" INTEGER NOT NULL CONSTRAINT "PK_plan_templates" PRIMARY KEY AUTOINCREMENT,
    "ShowId" INTEGER NOT NULL,
    "Name" TEXT NOT NULL,
    "PlanJson" TEXT NOT NULL,
    "At" TEXT NOT NULL,
    CONSTRAINT "FK_plan_templates_shows_ShowId" FOREIGN KEY ("ShowId") REFERENCES "shows" ("Id") ON DELETE CASCADE
);
INSERT INTO plan_templates VALUES(1,1,'name','{}','2026-11-27 15:04:01');
CREATE TABLE IF NOT EXISTS "preflight_ticks" (
    "Id" INTEGER NOT NULL CONSTRAINT "PK_preflight_ticks" PRIMARY KEY AUTOINCREMENT,
    "ShotId" INTEGER NOT NULL,
    "Item" TEXT NOT NULL,
    "By" TEXT NOT NULL,
    "At" TEXT NOT NULL,
    CONSTRAINT "FK_preflight_ticks_shots_ShotId" FOREIGN KEY ("ShotId") REFERENCES "shots" ("Id") ON DELETE CASCADE
);
INSERT INTO preflight_ticks VALUES(1,1,'item','by','2026-11-27 15:04:01');
CREATE TABLE IF NOT EXISTS "file_facts" (
    "FolderId" INTEGER NOT NULL,
    "Name" TEXT NOT NULL,
    "Bytes" INTEGER NOT NULL,
    "Modified" INTEGER NOT NULL,
    "ShapeId" INTEGER NOT NULL,
    "RenderSeconds" REAL NULL,
    "Request" INTEGER NULL,
    "Pixels" BLOB NULL,
    "Content" BLOB NULL,
    CONSTRAINT "PK_file_facts" PRIMARY KEY ("FolderId", "Name")
);
INSERT INTO file_facts VALUES(1,'name',1,1,1,0.5,1,X'0102',X'0102');
CREATE TABLE IF NOT EXISTS "fact_folders" (
    "Id" INTEGER NOT NULL CONSTRAINT "PK_fact_folders" PRIMARY KEY AUTOINCREMENT,
    "Path" TEXT NOT NULL
, "Seen" INTEGER NOT NULL DEFAULT 0);
INSERT INTO fact_folders VALUES(1,'path',1);
CREATE TABLE IF NOT EXISTS "fact_shapes" (
    "Id" INTEGER NOT NULL CONSTRAINT "PK_fact_shapes" PRIMARY KEY AUTOINCREMENT,
    "Hash" INTEGER NOT NULL,
    "Facts" BLOB NOT NULL
);
INSERT INTO fact_shapes VALUES(1,1,X'0102');
CREATE TABLE IF NOT EXISTS "finding_notes" (
    "Id" INTEGER NOT NULL CONSTRAINT "PK_finding_notes" PRIMARY KEY AUTOINCREMENT,
    "ShotId" INTEGER NOT NULL,
    "Rule" TEXT NOT NULL,
    "Output" TEXT NOT NULL,
    "Pass" TEXT NULL,
    "To" TEXT NOT NULL,
    "By" TEXT NOT NULL,
    "Note" TEXT NOT NULL,
    "At" TEXT NOT NULL
);
INSERT INTO finding_notes VALUES(1,1,'rule','output','pass','to','by','note','2026-11-27 15:04:01');
CREATE TABLE IF NOT EXISTS "rebuild_facts" (
    "Hash" BLOB NOT NULL CONSTRAINT "PK_rebuild_facts" PRIMARY KEY,
    "FolderId" INTEGER NOT NULL,
    "Facts" TEXT NOT NULL
);
INSERT INTO rebuild_facts VALUES(X'0102',1,'facts');
CREATE TABLE IF NOT EXISTS "upkeep" (
    "Id" INTEGER NOT NULL CONSTRAINT "PK_upkeep" PRIMARY KEY,
    "ChecksKept" INTEGER NOT NULL,
    "FactsDays" INTEGER NOT NULL
, "SupersededDays" INTEGER NOT NULL DEFAULT 0);
INSERT INTO upkeep VALUES(1,1,1,1);
CREATE TABLE IF NOT EXISTS "picture_notes" (
    "Id" INTEGER NOT NULL CONSTRAINT "PK_picture_notes" PRIMARY KEY AUTOINCREMENT,
    "ShotId" INTEGER NOT NULL,
    "Layer" TEXT NOT NULL,
    "Pass" TEXT NOT NULL,
    "Frame" INTEGER NOT NULL,
    "Shape" TEXT NOT NULL,
    "X" INTEGER NOT NULL,
    "Y" INTEGER NOT NULL,
    "EndX" INTEGER NOT NULL,
    "EndY" INTEGER NOT NULL,
    "Words" TEXT NOT NULL,
    "By" TEXT NOT NULL,
    "At" TEXT NOT NULL,
    "AnswersJson" TEXT NOT NULL,
    "SettledBy" TEXT NULL,
    "SettledAt" TEXT NULL
);
INSERT INTO picture_notes VALUES(1,1,'layer','pass',1,'shape',1,1,1,1,'words','by','2026-11-27 15:04:01','{}','settledby','2026-11-27 15:04:01');
CREATE TABLE IF NOT EXISTS "stacks" (
    "Id" INTEGER NOT NULL CONSTRAINT "PK_stacks" PRIMARY KEY AUTOINCREMENT,
    "ShotId" INTEGER NOT NULL,
    "Name" TEXT NOT NULL,
    "Document" TEXT NOT NULL,
    "Revision" INTEGER NOT NULL,
    "PastJson" TEXT NOT NULL,
    "FutureJson" TEXT NOT NULL,
    "At" TEXT NOT NULL
);
INSERT INTO stacks VALUES(1,1,'name','{}',1,'{}','{}','2026-11-27 15:04:01');
CREATE TABLE IF NOT EXISTS "guest_links" (
    "Id" INTEGER NOT NULL CONSTRAINT "PK_guest_links" PRIMARY KEY AUTOINCREMENT,
    "CrateId" INTEGER NOT NULL,
    "Hash" TEXT NOT NULL,
    "For" TEXT NOT NULL,
    "By" TEXT NOT NULL,
    "At" TEXT NOT NULL,
    "Ends" TEXT NOT NULL,
    "TakenBackAt" TEXT NULL,
    "Uses" INTEGER NOT NULL,
    "UsedAt" TEXT NULL,
    CONSTRAINT "FK_guest_links_crates_CrateId" FOREIGN KEY ("CrateId") REFERENCES "crates" ("Id") ON DELETE CASCADE
);
INSERT INTO guest_links VALUES(1,1,'hash','for','by','2026-11-27 15:04:01','ends','2026-11-27 15:04:01',1,'2026-11-27 15:04:01');
CREATE TABLE IF NOT EXISTS "history" (
    "Number" INTEGER NOT NULL CONSTRAINT "PK_history" PRIMARY KEY,
    "At" TEXT NOT NULL,
    "Who" TEXT NOT NULL,
    "Kind" TEXT NOT NULL,
    "Show" TEXT NULL,
    "Shot" TEXT NULL,
    "Subject" TEXT NOT NULL,
    "Before" TEXT NULL,
    "After" TEXT NULL,
    "Previous" TEXT NOT NULL,
    "Hash" TEXT NOT NULL
);
INSERT INTO history VALUES(1,'2026-11-27 15:04:01','who','kind','show','shot','subject','before','after','previous','hash');
CREATE TABLE IF NOT EXISTS "letters" (
    "Id" INTEGER NOT NULL CONSTRAINT "PK_letters" PRIMARY KEY AUTOINCREMENT,
    "Kind" TEXT NOT NULL,
    "Way" TEXT NOT NULL,
    "To" TEXT NOT NULL,
    "Subject" TEXT NOT NULL,
    "Document" TEXT NOT NULL,
    "At" TEXT NOT NULL,
    "Tries" INTEGER NOT NULL,
    "NextAt" TEXT NULL,
    "SentAt" TEXT NULL,
    "Problem" TEXT NULL
);
INSERT INTO letters VALUES(1,'kind','way','to','subject','{}','2026-11-27 15:04:01',1,'2026-11-27 15:04:01','2026-11-27 15:04:01','problem');
CREATE TABLE IF NOT EXISTS "people" (
    "Id" INTEGER NOT NULL CONSTRAINT "PK_people" PRIMARY KEY AUTOINCREMENT,
    "Name" TEXT NOT NULL,
    "IsKeeper" INTEGER NOT NULL,
    "JoinedAt" TEXT NOT NULL,
    "SeenAt" TEXT NULL,
    "ClosedAt" TEXT NULL,
    "Letters" TEXT NOT NULL,
    "UserName" TEXT NULL,
    "NormalizedUserName" TEXT NULL,
    "Email" TEXT NULL,
    "NormalizedEmail" TEXT NULL,
    "EmailConfirmed" INTEGER NOT NULL,
    "PasswordHash" TEXT NULL,
    "SecurityStamp" TEXT NULL,
    "ConcurrencyStamp" TEXT NULL,
    "PhoneNumber" TEXT NULL,
    "PhoneNumberConfirmed" INTEGER NOT NULL,
    "TwoFactorEnabled" INTEGER NOT NULL,
    "LockoutEnd" TEXT NULL,
    "LockoutEnabled" INTEGER NOT NULL,
    "AccessFailedCount" INTEGER NOT NULL
);
INSERT INTO people VALUES(1,'name',1,'2026-11-27 15:04:01','2026-11-27 15:04:01','2026-11-27 15:04:01','letters','username','normalizedusername','email','normalizedemail',1,'passwordhash','securitystamp','concurrencystamp','phonenumber',1,1,'lockoutend',1,1);
CREATE TABLE IF NOT EXISTS "tokens" (
    "Id" INTEGER NOT NULL CONSTRAINT "PK_tokens" PRIMARY KEY AUTOINCREMENT,
    "ShowId" INTEGER NOT NULL,
    "Name" TEXT NOT NULL,
    "Hash" TEXT NOT NULL,
    "By" TEXT NOT NULL,
    "At" TEXT NOT NULL,
    "UsedAt" TEXT NULL,
    "TakenBackAt" TEXT NULL,
    CONSTRAINT "FK_tokens_shows_ShowId" FOREIGN KEY ("ShowId") REFERENCES "shows" ("Id") ON DELETE CASCADE
);
INSERT INTO tokens VALUES(1,1,'name','hash','by','2026-11-27 15:04:01','2026-11-27 15:04:01','2026-11-27 15:04:01');
CREATE TABLE IF NOT EXISTS "memberships" (
    "Id" INTEGER NOT NULL CONSTRAINT "PK_memberships" PRIMARY KEY AUTOINCREMENT,
    "PersonId" INTEGER NOT NULL,
    "ShowId" INTEGER NOT NULL,
    "Role" INTEGER NOT NULL,
    CONSTRAINT "FK_memberships_people_PersonId" FOREIGN KEY ("PersonId") REFERENCES "people" ("Id") ON DELETE CASCADE,
    CONSTRAINT "FK_memberships_shows_ShowId" FOREIGN KEY ("ShowId") REFERENCES "shows" ("Id") ON DELETE CASCADE
);
INSERT INTO memberships VALUES(1,1,1,1);
CREATE TABLE IF NOT EXISTS "passkeys" (
    "CredentialId" BLOB NOT NULL CONSTRAINT "PK_passkeys" PRIMARY KEY,
    "UserId" INTEGER NOT NULL,
    "Data" TEXT NOT NULL,
    CONSTRAINT "FK_passkeys_people_UserId" FOREIGN KEY ("UserId") REFERENCES "people" ("Id") ON DELETE CASCADE
);
INSERT INTO passkeys VALUES(X'0102',1,'data');
CREATE TABLE IF NOT EXISTS "person_claims" (
    "Id" INTEGER NOT NULL CONSTRAINT "PK_person_claims" PRIMARY KEY AUTOINCREMENT,
    "UserId" INTEGER NOT NULL,
    "ClaimType" TEXT NULL,
    "ClaimValue" TEXT NULL,
    CONSTRAINT "FK_person_claims_people_UserId" FOREIGN KEY ("UserId") REFERENCES "people" ("Id") ON DELETE CASCADE
);
INSERT INTO person_claims VALUES(1,1,'claimtype','claimvalue');
CREATE TABLE IF NOT EXISTS "person_logins" (
    "LoginProvider" TEXT NOT NULL,
    "ProviderKey" TEXT NOT NULL,
    "ProviderDisplayName" TEXT NULL,
    "UserId" INTEGER NOT NULL,
    CONSTRAINT "PK_person_logins" PRIMARY KEY ("LoginProvider", "ProviderKey"),
    CONSTRAINT "FK_person_logins_people_UserId" FOREIGN KEY ("UserId") REFERENCES "people" ("Id") ON DELETE CASCADE
);
INSERT INTO person_logins VALUES('loginprovider','providerkey','providerdisplayname',1);
CREATE TABLE IF NOT EXISTS "person_tokens" (
    "UserId" INTEGER NOT NULL,
    "LoginProvider" TEXT NOT NULL,
    "Name" TEXT NOT NULL,
    "Value" TEXT NULL,
    CONSTRAINT "PK_person_tokens" PRIMARY KEY ("UserId", "LoginProvider", "Name"),
    CONSTRAINT "FK_person_tokens_people_UserId" FOREIGN KEY ("UserId") REFERENCES "people" ("Id") ON DELETE CASCADE
);
INSERT INTO person_tokens VALUES(1,'loginprovider','name','value');
CREATE TABLE IF NOT EXISTS "crate_remarks" (
    "Id" INTEGER NOT NULL CONSTRAINT "PK_crate_remarks" PRIMARY KEY AUTOINCREMENT,
    "CrateId" INTEGER NOT NULL,
    "Layer" TEXT NOT NULL,
    "Pass" TEXT NOT NULL,
    "Frames" TEXT NOT NULL,
    "Words" TEXT NOT NULL,
    "By" TEXT NOT NULL,
    "At" TEXT NOT NULL,
    "AnsweredBy" TEXT NULL,
    CONSTRAINT "FK_crate_remarks_crates_CrateId" FOREIGN KEY ("CrateId") REFERENCES "crates" ("Id") ON DELETE CASCADE
);
INSERT INTO crate_remarks VALUES(1,1,'layer','pass','frames','words','by','2026-11-27 15:04:01','answeredby');
CREATE TABLE IF NOT EXISTS "receivers" (
    "Id" INTEGER NOT NULL CONSTRAINT "PK_receivers" PRIMARY KEY AUTOINCREMENT,
    "ShowId" INTEGER NOT NULL,
    "Name" TEXT NOT NULL,
    "Contact" TEXT NOT NULL,
    "Note" TEXT NOT NULL,
    "Recipe" TEXT NOT NULL,
    CONSTRAINT "FK_receivers_shows_ShowId" FOREIGN KEY ("ShowId") REFERENCES "shows" ("Id") ON DELETE CASCADE
);
INSERT INTO receivers VALUES(1,1,'name','contact','note','recipe');
CREATE TABLE IF NOT EXISTS "scene_helpers" (
    "Id" INTEGER NOT NULL CONSTRAINT "PK_scene_helpers" PRIMARY KEY AUTOINCREMENT,
    "ShotId" INTEGER NOT NULL,
    "Source" TEXT NOT NULL,
    "Table" TEXT NOT NULL,
    "Told" TEXT NOT NULL,
    "Chosen" TEXT NOT NULL,
    "Offsets" TEXT NOT NULL,
    "By" TEXT NOT NULL,
    "At" TEXT NOT NULL
);
INSERT INTO scene_helpers VALUES(1,1,'source','table','told','chosen','offsets','by','2026-11-27 15:04:01');
DELETE FROM sqlite_sequence;
INSERT INTO sqlite_sequence VALUES('checks',1);
INSERT INTO sqlite_sequence VALUES('crate_remarks',1);
INSERT INTO sqlite_sequence VALUES('crates',1);
INSERT INTO sqlite_sequence VALUES('fact_folders',1);
INSERT INTO sqlite_sequence VALUES('fact_shapes',1);
INSERT INTO sqlite_sequence VALUES('finding_notes',1);
INSERT INTO sqlite_sequence VALUES('guest_links',1);
INSERT INTO sqlite_sequence VALUES('letters',1);
INSERT INTO sqlite_sequence VALUES('memberships',1);
INSERT INTO sqlite_sequence VALUES('people',1);
INSERT INTO sqlite_sequence VALUES('person_claims',1);
INSERT INTO sqlite_sequence VALUES('picture_notes',1);
INSERT INTO sqlite_sequence VALUES('plan_templates',1);
INSERT INTO sqlite_sequence VALUES('preflight_ticks',1);
INSERT INTO sqlite_sequence VALUES('receivers',1);
INSERT INTO sqlite_sequence VALUES('scene_helpers',1);
INSERT INTO sqlite_sequence VALUES('shots',1);
INSERT INTO sqlite_sequence VALUES('shows',1);
INSERT INTO sqlite_sequence VALUES('stacks',1);
INSERT INTO sqlite_sequence VALUES('tokens',1);
INSERT INTO sqlite_sequence VALUES('waivers',1);
CREATE INDEX "IX_crates_ShotId" ON "crates" ("ShotId");
CREATE UNIQUE INDEX "IX_shots_ShowId_Code" ON "shots" ("ShowId", "Code");
CREATE UNIQUE INDEX "IX_shows_Code" ON "shows" ("Code");
CREATE INDEX "IX_waivers_ShotId" ON "waivers" ("ShotId");
CREATE UNIQUE INDEX "IX_plan_templates_ShowId_Name" ON "plan_templates" ("ShowId", "Name");
CREATE UNIQUE INDEX "IX_preflight_ticks_ShotId_Item" ON "preflight_ticks" ("ShotId", "Item");
CREATE UNIQUE INDEX "IX_fact_folders_Path" ON "fact_folders" ("Path");
CREATE INDEX "IX_fact_shapes_Hash" ON "fact_shapes" ("Hash");
CREATE INDEX "IX_finding_notes_ShotId" ON "finding_notes" ("ShotId");
CREATE INDEX "IX_checks_ShotId_State" ON "checks" ("ShotId", "State");
CREATE INDEX "IX_rebuild_facts_FolderId" ON "rebuild_facts" ("FolderId");
CREATE INDEX "IX_picture_notes_ShotId" ON "picture_notes" ("ShotId");
CREATE UNIQUE INDEX "IX_stacks_ShotId_Name" ON "stacks" ("ShotId", "Name");
CREATE INDEX "IX_guest_links_CrateId" ON "guest_links" ("CrateId");
CREATE UNIQUE INDEX "IX_guest_links_Hash" ON "guest_links" ("Hash");
CREATE INDEX "IX_history_At" ON "history" ("At");
CREATE INDEX "IX_history_Show_Shot" ON "history" ("Show", "Shot");
CREATE INDEX "IX_letters_NextAt" ON "letters" ("NextAt");
CREATE UNIQUE INDEX "IX_memberships_PersonId_ShowId" ON "memberships" ("PersonId", "ShowId");
CREATE INDEX "IX_memberships_ShowId" ON "memberships" ("ShowId");
CREATE INDEX "IX_passkeys_UserId" ON "passkeys" ("UserId");
CREATE INDEX "EmailIndex" ON "people" ("NormalizedEmail");
CREATE UNIQUE INDEX "UserNameIndex" ON "people" ("NormalizedUserName");
CREATE INDEX "IX_person_claims_UserId" ON "person_claims" ("UserId");
CREATE INDEX "IX_person_logins_UserId" ON "person_logins" ("UserId");
CREATE UNIQUE INDEX "IX_tokens_Hash" ON "tokens" ("Hash");
CREATE INDEX "IX_tokens_ShowId" ON "tokens" ("ShowId");
CREATE TRIGGER history_no_update BEFORE UPDATE ON history BEGIN SELECT RAISE(ABORT, 'the history is only ever added to'); END;
CREATE TRIGGER history_no_delete BEFORE DELETE ON history BEGIN SELECT RAISE(ABORT, 'the history is only ever added to'); END;
CREATE INDEX "IX_crate_remarks_CrateId" ON "crate_remarks" ("CrateId");
CREATE UNIQUE INDEX "IX_receivers_ShowId_Name" ON "receivers" ("ShowId", "Name");
CREATE UNIQUE INDEX "IX_scene_helpers_ShotId" ON "scene_helpers" ("ShotId");
COMMIT;
