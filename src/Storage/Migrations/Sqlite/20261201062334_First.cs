using Microsoft.EntityFrameworkCore.Migrations;

#nullable disable

namespace Vellumkeep.Storage.Migrations.Sqlite
{
    /// <inheritdoc />
    public partial class First : Migration
    {
        /// <inheritdoc />
        protected override void Up(MigrationBuilder migrationBuilder)
        {
            migrationBuilder.CreateTable(
                name: "answered",
                columns: table => new
                {
                    person = table.Column<string>(type: "TEXT", nullable: false),
                    key = table.Column<string>(type: "TEXT", nullable: false),
                    asked = table.Column<string>(type: "TEXT", nullable: false),
                    at = table.Column<string>(type: "TEXT", nullable: false),
                    status = table.Column<int>(type: "INTEGER", nullable: false),
                    commit_number = table.Column<long>(type: "INTEGER", nullable: true)
                },
                constraints: table =>
                {
                    table.PrimaryKey("pk_answered", x => new { x.person, x.key });
                });

            migrationBuilder.CreateTable(
                name: "audit",
                columns: table => new
                {
                    id = table.Column<long>(type: "INTEGER", nullable: false)
                        .Annotation("Sqlite:Autoincrement", true),
                    at = table.Column<string>(type: "TEXT", nullable: false, collation: "BINARY"),
                    who = table.Column<string>(type: "TEXT", nullable: false),
                    what = table.Column<string>(type: "TEXT", nullable: false),
                    about = table.Column<string>(type: "TEXT", nullable: false),
                    outcome = table.Column<string>(type: "TEXT", nullable: false),
                    from = table.Column<string>(type: "TEXT", nullable: false)
                },
                constraints: table =>
                {
                    table.PrimaryKey("pk_audit", x => x.id);
                });

            migrationBuilder.CreateTable(
                name: "commits",
                columns: table => new
                {
                    number = table.Column<long>(type: "INTEGER", nullable: false),
                    at = table.Column<string>(type: "TEXT", nullable: false, collation: "BINARY"),
                    who = table.Column<string>(type: "TEXT", nullable: false),
                    act = table.Column<string>(type: "TEXT", nullable: false),
                    reason = table.Column<string>(type: "TEXT", nullable: true),
                    change_id = table.Column<string>(type: "TEXT", nullable: true),
                    before = table.Column<string>(type: "TEXT", nullable: false),
                    digest = table.Column<string>(type: "TEXT", nullable: false)
                },
                constraints: table =>
                {
                    table.PrimaryKey("pk_commits", x => x.number);
                });

            migrationBuilder.CreateTable(
                name: "cookie_keys",
                columns: table => new
                {
                    id = table.Column<int>(type: "INTEGER", nullable: false)
                        .Annotation("Sqlite:Autoincrement", true),
                    name = table.Column<string>(type: "TEXT", nullable: false),
                    under = table.Column<string>(type: "TEXT", nullable: false),
                    ciphertext = table.Column<byte[]>(type: "BLOB", nullable: false)
                },
                constraints: table =>
                {
                    table.PrimaryKey("pk_cookie_keys", x => x.id);
                });

            migrationBuilder.CreateTable(
                name: "due",
                columns: table => new
                {
                    record_id = table.Column<string>(type: "TEXT", nullable: false),
                    kind = table.Column<string>(type: "TEXT", nullable: false),
                    path = table.Column<string>(type: "TEXT", nullable: false),
                    on = table.Column<string>(type: "TEXT", nullable: false, collation: "BINARY")
                },
                constraints: table =>
                {
                    table.PrimaryKey("pk_due", x => new { x.record_id, x.kind, x.path });
                });

            migrationBuilder.CreateTable(
                name: "findings",
                columns: table => new
                {
                    tunnel_id = table.Column<string>(type: "TEXT", nullable: false),
                    code = table.Column<string>(type: "TEXT", nullable: false),
                    subject = table.Column<string>(type: "TEXT", nullable: false),
                    severity = table.Column<int>(type: "INTEGER", nullable: false),
                    digest = table.Column<string>(type: "TEXT", nullable: false),
                    since = table.Column<string>(type: "TEXT", nullable: false),
                    body = table.Column<byte[]>(type: "BLOB", nullable: false),
                    place = table.Column<int>(type: "INTEGER", nullable: false),
                    code_key = table.Column<string>(type: "TEXT", nullable: false, collation: "BINARY"),
                    owner_id = table.Column<string>(type: "TEXT", nullable: false)
                },
                constraints: table =>
                {
                    table.PrimaryKey("pk_findings", x => new { x.tunnel_id, x.code, x.subject });
                });

            migrationBuilder.CreateTable(
                name: "held",
                columns: table => new
                {
                    tunnel_id = table.Column<string>(type: "TEXT", nullable: false),
                    gateway_id = table.Column<string>(type: "TEXT", nullable: false),
                    part = table.Column<string>(type: "TEXT", nullable: false)
                },
                constraints: table =>
                {
                    table.PrimaryKey("pk_held", x => new { x.gateway_id, x.part, x.tunnel_id });
                });

            migrationBuilder.CreateTable(
                name: "key_views",
                columns: table => new
                {
                    id = table.Column<long>(type: "INTEGER", nullable: false)
                        .Annotation("Sqlite:Autoincrement", true),
                    tunnel_id = table.Column<string>(type: "TEXT", nullable: false),
                    version = table.Column<int>(type: "INTEGER", nullable: false),
                    who = table.Column<string>(type: "TEXT", nullable: false),
                    at = table.Column<string>(type: "TEXT", nullable: false),
                    why = table.Column<string>(type: "TEXT", nullable: false),
                    from = table.Column<string>(type: "TEXT", nullable: false)
                },
                constraints: table =>
                {
                    table.PrimaryKey("pk_key_views", x => x.id);
                });

            migrationBuilder.CreateTable(
                name: "keys",
                columns: table => new
                {
                    tunnel_id = table.Column<string>(type: "TEXT", nullable: false),
                    version = table.Column<int>(type: "INTEGER", nullable: false),
                    state = table.Column<string>(type: "TEXT", nullable: false),
                    ciphertext = table.Column<byte[]>(type: "BLOB", nullable: false),
                    under = table.Column<string>(type: "TEXT", nullable: false),
                    check_code = table.Column<string>(type: "TEXT", nullable: false),
                    bits = table.Column<int>(type: "INTEGER", nullable: false),
                    length = table.Column<int>(type: "INTEGER", nullable: false),
                    made_by = table.Column<string>(type: "TEXT", nullable: false),
                    made_at = table.Column<string>(type: "TEXT", nullable: false),
                    change_id = table.Column<string>(type: "TEXT", nullable: true)
                },
                constraints: table =>
                {
                    table.PrimaryKey("pk_keys", x => new { x.tunnel_id, x.version });
                });

            migrationBuilder.CreateTable(
                name: "known_addresses",
                columns: table => new
                {
                    person = table.Column<string>(type: "TEXT", nullable: false),
                    address = table.Column<string>(type: "TEXT", nullable: false),
                    last_at = table.Column<string>(type: "TEXT", nullable: false)
                },
                constraints: table =>
                {
                    table.PrimaryKey("pk_known_addresses", x => new { x.person, x.address });
                });

            migrationBuilder.CreateTable(
                name: "links",
                columns: table => new
                {
                    from_id = table.Column<string>(type: "TEXT", nullable: false),
                    to_id = table.Column<string>(type: "TEXT", nullable: false),
                    role = table.Column<string>(type: "TEXT", nullable: false)
                },
                constraints: table =>
                {
                    table.PrimaryKey("pk_links", x => new { x.from_id, x.to_id, x.role });
                });

            migrationBuilder.CreateTable(
                name: "lookups",
                columns: table => new
                {
                    tunnel_id = table.Column<string>(type: "TEXT", nullable: false),
                    gateway_id = table.Column<string>(type: "TEXT", nullable: false),
                    key = table.Column<string>(type: "TEXT", nullable: false),
                    held = table.Column<bool>(type: "INTEGER", nullable: false)
                },
                constraints: table =>
                {
                    table.PrimaryKey("pk_lookups", x => new { x.gateway_id, x.key, x.tunnel_id, x.held });
                });

            migrationBuilder.CreateTable(
                name: "people",
                columns: table => new
                {
                    name = table.Column<string>(type: "TEXT", nullable: false),
                    record_id = table.Column<string>(type: "TEXT", nullable: false),
                    display = table.Column<string>(type: "TEXT", nullable: false),
                    grants = table.Column<string>(type: "TEXT", nullable: false),
                    password_hash = table.Column<string>(type: "TEXT", nullable: false),
                    must_replace = table.Column<bool>(type: "INTEGER", nullable: false),
                    disabled = table.Column<bool>(type: "INTEGER", nullable: false)
                },
                constraints: table =>
                {
                    table.PrimaryKey("pk_people", x => x.name);
                });

            migrationBuilder.CreateTable(
                name: "prefixes",
                columns: table => new
                {
                    id = table.Column<long>(type: "INTEGER", nullable: false)
                        .Annotation("Sqlite:Autoincrement", true),
                    record_id = table.Column<string>(type: "TEXT", nullable: false),
                    gateway_id = table.Column<string>(type: "TEXT", nullable: true),
                    role = table.Column<string>(type: "TEXT", nullable: false),
                    family = table.Column<int>(type: "INTEGER", nullable: false),
                    low = table.Column<string>(type: "TEXT", nullable: false, collation: "BINARY"),
                    high = table.Column<string>(type: "TEXT", nullable: false, collation: "BINARY")
                },
                constraints: table =>
                {
                    table.PrimaryKey("pk_prefixes", x => x.id);
                });

            migrationBuilder.CreateTable(
                name: "proof_files",
                columns: table => new
                {
                    change_id = table.Column<string>(type: "TEXT", nullable: false),
                    digest = table.Column<string>(type: "TEXT", nullable: false),
                    bytes = table.Column<byte[]>(type: "BLOB", nullable: false)
                },
                constraints: table =>
                {
                    table.PrimaryKey("pk_proof_files", x => new { x.change_id, x.digest });
                });

            migrationBuilder.CreateTable(
                name: "records",
                columns: table => new
                {
                    id = table.Column<string>(type: "TEXT", nullable: false),
                    kind = table.Column<int>(type: "INTEGER", nullable: false),
                    code = table.Column<string>(type: "TEXT", nullable: false),
                    code_key = table.Column<string>(type: "TEXT", nullable: false, collation: "BINARY"),
                    owner_id = table.Column<string>(type: "TEXT", nullable: true),
                    name = table.Column<string>(type: "TEXT", nullable: false),
                    state = table.Column<string>(type: "TEXT", nullable: true),
                    version = table.Column<int>(type: "INTEGER", nullable: false),
                    commit_number = table.Column<long>(type: "INTEGER", nullable: false),
                    body = table.Column<byte[]>(type: "BLOB", nullable: false)
                },
                constraints: table =>
                {
                    table.PrimaryKey("pk_records", x => x.id);
                });

            migrationBuilder.CreateTable(
                name: "saved_filters",
                columns: table => new
                {
                    id = table.Column<string>(type: "TEXT", nullable: false),
                    person = table.Column<string>(type: "TEXT", nullable: false),
                    name = table.Column<string>(type: "TEXT", nullable: false),
                    list = table.Column<string>(type: "TEXT", nullable: false),
                    filter = table.Column<string>(type: "TEXT", nullable: false),
                    shared = table.Column<bool>(type: "INTEGER", nullable: false)
                },
                constraints: table =>
                {
                    table.PrimaryKey("pk_saved_filters", x => x.id);
                });

            migrationBuilder.CreateTable(
                name: "sessions",
                columns: table => new
                {
                    id = table.Column<string>(type: "TEXT", nullable: false),
                    person = table.Column<string>(type: "TEXT", nullable: false),
                    began_at = table.Column<string>(type: "TEXT", nullable: false),
                    active_at = table.Column<string>(type: "TEXT", nullable: false),
                    from = table.Column<string>(type: "TEXT", nullable: false)
                },
                constraints: table =>
                {
                    table.PrimaryKey("pk_sessions", x => x.id);
                });

            migrationBuilder.CreateTable(
                name: "sign_in_tries",
                columns: table => new
                {
                    key = table.Column<string>(type: "TEXT", nullable: false),
                    of_name = table.Column<string>(type: "TEXT", nullable: true),
                    of_address = table.Column<string>(type: "TEXT", nullable: true),
                    count = table.Column<int>(type: "INTEGER", nullable: false),
                    since = table.Column<string>(type: "TEXT", nullable: false)
                },
                constraints: table =>
                {
                    table.PrimaryKey("pk_sign_in_tries", x => x.key);
                });

            migrationBuilder.CreateTable(
                name: "tunnels",
                columns: table => new
                {
                    id = table.Column<string>(type: "TEXT", nullable: false),
                    worst = table.Column<int>(type: "INTEGER", nullable: false),
                    verdict = table.Column<byte[]>(type: "BLOB", nullable: false),
                    end_a = table.Column<string>(type: "TEXT", nullable: false),
                    end_b = table.Column<string>(type: "TEXT", nullable: false),
                    check_again_on = table.Column<string>(type: "TEXT", nullable: true),
                    checked_by = table.Column<int>(type: "INTEGER", nullable: false)
                },
                constraints: table =>
                {
                    table.PrimaryKey("pk_tunnels", x => x.id);
                });

            migrationBuilder.CreateTable(
                name: "version_links",
                columns: table => new
                {
                    to_id = table.Column<string>(type: "TEXT", nullable: false),
                    record_id = table.Column<string>(type: "TEXT", nullable: false),
                    version = table.Column<int>(type: "INTEGER", nullable: false)
                },
                constraints: table =>
                {
                    table.PrimaryKey("pk_version_links", x => new { x.to_id, x.record_id, x.version });
                });

            migrationBuilder.CreateTable(
                name: "words",
                columns: table => new
                {
                    word = table.Column<string>(type: "TEXT", nullable: false, collation: "BINARY"),
                    record_id = table.Column<string>(type: "TEXT", nullable: false),
                    field = table.Column<string>(type: "TEXT", nullable: false)
                },
                constraints: table =>
                {
                    table.PrimaryKey("pk_words", x => new { x.word, x.record_id, x.field });
                });

            migrationBuilder.CreateTable(
                name: "versions",
                columns: table => new
                {
                    record_id = table.Column<string>(type: "TEXT", nullable: false),
                    version = table.Column<int>(type: "INTEGER", nullable: false),
                    kind = table.Column<int>(type: "INTEGER", nullable: false),
                    commit_number = table.Column<long>(type: "INTEGER", nullable: false),
                    body = table.Column<byte[]>(type: "BLOB", nullable: false),
                    code_key = table.Column<string>(type: "TEXT", nullable: false, collation: "BINARY"),
                    name = table.Column<string>(type: "TEXT", nullable: false),
                    state = table.Column<string>(type: "TEXT", nullable: true),
                    owner_id = table.Column<string>(type: "TEXT", nullable: true)
                },
                constraints: table =>
                {
                    table.PrimaryKey("pk_versions", x => new { x.record_id, x.version });
                    table.ForeignKey(
                        name: "fk_versions_commits_commit_number",
                        column: x => x.commit_number,
                        principalTable: "commits",
                        principalColumn: "number",
                        onDelete: ReferentialAction.Cascade);
                });

            migrationBuilder.CreateTable(
                name: "tokens",
                columns: table => new
                {
                    id = table.Column<string>(type: "TEXT", nullable: false),
                    person = table.Column<string>(type: "TEXT", nullable: false),
                    name = table.Column<string>(type: "TEXT", nullable: false),
                    hash = table.Column<string>(type: "TEXT", nullable: false),
                    most = table.Column<string>(type: "TEXT", nullable: false),
                    made_at = table.Column<string>(type: "TEXT", nullable: false),
                    used_at = table.Column<string>(type: "TEXT", nullable: true),
                    expires_at = table.Column<string>(type: "TEXT", nullable: false)
                },
                constraints: table =>
                {
                    table.PrimaryKey("pk_tokens", x => x.id);
                    table.ForeignKey(
                        name: "fk_tokens_people_person",
                        column: x => x.person,
                        principalTable: "people",
                        principalColumn: "name",
                        onDelete: ReferentialAction.Cascade);
                });

            migrationBuilder.CreateIndex(
                name: "ix_audit_at",
                table: "audit",
                column: "at");

            migrationBuilder.CreateIndex(
                name: "ix_audit_who_id",
                table: "audit",
                columns: new[] { "who", "id" });

            migrationBuilder.CreateIndex(
                name: "ix_commits_at",
                table: "commits",
                column: "at");

            migrationBuilder.CreateIndex(
                name: "ix_commits_change_id",
                table: "commits",
                column: "change_id");

            migrationBuilder.CreateIndex(
                name: "ix_commits_who_number",
                table: "commits",
                columns: new[] { "who", "number" });

            migrationBuilder.CreateIndex(
                name: "ix_due_on",
                table: "due",
                column: "on");

            migrationBuilder.CreateIndex(
                name: "ix_findings_code_severity_code_key",
                table: "findings",
                columns: new[] { "code", "severity", "code_key" });

            migrationBuilder.CreateIndex(
                name: "ix_findings_owner_id_severity_code_key",
                table: "findings",
                columns: new[] { "owner_id", "severity", "code_key" });

            migrationBuilder.CreateIndex(
                name: "ix_findings_severity_code_key_code_subject",
                table: "findings",
                columns: new[] { "severity", "code_key", "code", "subject" });

            migrationBuilder.CreateIndex(
                name: "ix_findings_tunnel_id_severity",
                table: "findings",
                columns: new[] { "tunnel_id", "severity" });

            migrationBuilder.CreateIndex(
                name: "ix_held_tunnel_id",
                table: "held",
                column: "tunnel_id");

            migrationBuilder.CreateIndex(
                name: "ix_key_views_tunnel_id_version",
                table: "key_views",
                columns: new[] { "tunnel_id", "version" });

            migrationBuilder.CreateIndex(
                name: "ix_key_views_who",
                table: "key_views",
                column: "who");

            migrationBuilder.CreateIndex(
                name: "ix_links_to_id_role",
                table: "links",
                columns: new[] { "to_id", "role" });

            migrationBuilder.CreateIndex(
                name: "ix_lookups_tunnel_id",
                table: "lookups",
                column: "tunnel_id");

            migrationBuilder.CreateIndex(
                name: "ix_prefixes_family_low",
                table: "prefixes",
                columns: new[] { "family", "low" });

            migrationBuilder.CreateIndex(
                name: "ix_prefixes_gateway_id_family_low",
                table: "prefixes",
                columns: new[] { "gateway_id", "family", "low" });

            migrationBuilder.CreateIndex(
                name: "ix_prefixes_record_id",
                table: "prefixes",
                column: "record_id");

            migrationBuilder.CreateIndex(
                name: "ix_records_kind_code_key",
                table: "records",
                columns: new[] { "kind", "code_key" },
                unique: true);

            migrationBuilder.CreateIndex(
                name: "ix_records_kind_owner_id_code_key",
                table: "records",
                columns: new[] { "kind", "owner_id", "code_key" });

            migrationBuilder.CreateIndex(
                name: "ix_records_kind_state_code_key",
                table: "records",
                columns: new[] { "kind", "state", "code_key" });

            migrationBuilder.CreateIndex(
                name: "ix_saved_filters_person",
                table: "saved_filters",
                column: "person");

            migrationBuilder.CreateIndex(
                name: "ix_sessions_person",
                table: "sessions",
                column: "person");

            migrationBuilder.CreateIndex(
                name: "ix_sign_in_tries_since",
                table: "sign_in_tries",
                column: "since");

            migrationBuilder.CreateIndex(
                name: "ix_tokens_hash",
                table: "tokens",
                column: "hash",
                unique: true);

            migrationBuilder.CreateIndex(
                name: "ix_tokens_person",
                table: "tokens",
                column: "person");

            migrationBuilder.CreateIndex(
                name: "ix_tunnels_check_again_on",
                table: "tunnels",
                column: "check_again_on");

            migrationBuilder.CreateIndex(
                name: "ix_tunnels_checked_by",
                table: "tunnels",
                column: "checked_by");

            migrationBuilder.CreateIndex(
                name: "ix_tunnels_worst",
                table: "tunnels",
                column: "worst");

            migrationBuilder.CreateIndex(
                name: "ix_version_links_record_id",
                table: "version_links",
                column: "record_id");

            migrationBuilder.CreateIndex(
                name: "ix_versions_commit_number",
                table: "versions",
                column: "commit_number");

            migrationBuilder.CreateIndex(
                name: "ix_versions_kind_code_key",
                table: "versions",
                columns: new[] { "kind", "code_key" });

            migrationBuilder.CreateIndex(
                name: "ix_versions_kind_commit_number",
                table: "versions",
                columns: new[] { "kind", "commit_number" });

            migrationBuilder.CreateIndex(
                name: "ix_versions_owner_id_commit_number",
                table: "versions",
                columns: new[] { "owner_id", "commit_number" });

            migrationBuilder.CreateIndex(
                name: "ix_words_record_id",
                table: "words",
                column: "record_id");
        }

        /// <inheritdoc />
        protected override void Down(MigrationBuilder migrationBuilder)
        {
            migrationBuilder.DropTable(
                name: "answered");

            migrationBuilder.DropTable(
                name: "audit");

            migrationBuilder.DropTable(
                name: "cookie_keys");

            migrationBuilder.DropTable(
                name: "due");

            migrationBuilder.DropTable(
                name: "findings");

            migrationBuilder.DropTable(
                name: "held");

            migrationBuilder.DropTable(
                name: "key_views");

            migrationBuilder.DropTable(
                name: "keys");

            migrationBuilder.DropTable(
                name: "known_addresses");

            migrationBuilder.DropTable(
                name: "links");

            migrationBuilder.DropTable(
                name: "lookups");

            migrationBuilder.DropTable(
                name: "prefixes");

            migrationBuilder.DropTable(
                name: "proof_files");

            migrationBuilder.DropTable(
                name: "records");

            migrationBuilder.DropTable(
                name: "saved_filters");

            migrationBuilder.DropTable(
                name: "sessions");

            migrationBuilder.DropTable(
                name: "sign_in_tries");

            migrationBuilder.DropTable(
                name: "tokens");

            migrationBuilder.DropTable(
                name: "tunnels");

            migrationBuilder.DropTable(
                name: "version_links");

            migrationBuilder.DropTable(
                name: "versions");

            migrationBuilder.DropTable(
                name: "words");

            migrationBuilder.DropTable(
                name: "people");

            migrationBuilder.DropTable(
                name: "commits");
        }
    }
}
