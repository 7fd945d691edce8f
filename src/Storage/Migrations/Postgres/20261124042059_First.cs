using Microsoft.EntityFrameworkCore.Migrations;
using Npgsql.EntityFrameworkCore.PostgreSQL.Metadata;

#nullable disable

namespace Vellumkeep.Storage.Migrations.Postgres
{
    /// <inheritdoc />
    public partial class First : Migration
    {
        /// <inheritdoc />
        protected override void Up(MigrationBuilder migrationBuilder)
        {
            migrationBuilder.CreateTable(
                name: "commits",
                columns: table => new
                {
                    number = table.Column<long>(type: "bigint", nullable: false),
                    at = table.Column<string>(type: "text", nullable: false),
                    who = table.Column<string>(type: "text", nullable: false),
                    act = table.Column<string>(type: "text", nullable: false),
                    reason = table.Column<string>(type: "text", nullable: true),
                    change_id = table.Column<string>(type: "text", nullable: true),
                    before = table.Column<string>(type: "text", nullable: false),
                    digest = table.Column<string>(type: "text", nullable: false)
                },
                constraints: table =>
                {
                    table.PrimaryKey("pk_commits", x => x.number);
                });

            migrationBuilder.CreateTable(
                name: "held",
                columns: table => new
                {
                    tunnel_id = table.Column<string>(type: "text", nullable: false),
                    gateway_id = table.Column<string>(type: "text", nullable: false),
                    part = table.Column<string>(type: "text", nullable: false)
                },
                constraints: table =>
                {
                    table.PrimaryKey("pk_held", x => new { x.gateway_id, x.part, x.tunnel_id });
                });

            migrationBuilder.CreateTable(
                name: "people",
                columns: table => new
                {
                    name = table.Column<string>(type: "text", nullable: false),
                    display = table.Column<string>(type: "text", nullable: false),
                    roles = table.Column<string>(type: "text", nullable: false),
                    customers = table.Column<string>(type: "text", nullable: false),
                    password_hash = table.Column<string>(type: "text", nullable: false),
                    disabled = table.Column<bool>(type: "boolean", nullable: false),
                    wrong_tries = table.Column<int>(type: "integer", nullable: false),
                    locked_until = table.Column<string>(type: "text", nullable: true)
                },
                constraints: table =>
                {
                    table.PrimaryKey("pk_people", x => x.name);
                });

            migrationBuilder.CreateTable(
                name: "records",
                columns: table => new
                {
                    id = table.Column<string>(type: "text", nullable: false),
                    kind = table.Column<int>(type: "integer", nullable: false),
                    code = table.Column<string>(type: "text", nullable: false),
                    code_key = table.Column<string>(type: "text", nullable: false),
                    owner_id = table.Column<string>(type: "text", nullable: true),
                    name = table.Column<string>(type: "text", nullable: false),
                    state = table.Column<string>(type: "text", nullable: true),
                    version = table.Column<int>(type: "integer", nullable: false),
                    commit_number = table.Column<long>(type: "bigint", nullable: false),
                    body = table.Column<byte[]>(type: "bytea", nullable: false)
                },
                constraints: table =>
                {
                    table.PrimaryKey("pk_records", x => x.id);
                });

            migrationBuilder.CreateTable(
                name: "versions",
                columns: table => new
                {
                    record_id = table.Column<string>(type: "text", nullable: false),
                    version = table.Column<int>(type: "integer", nullable: false),
                    kind = table.Column<int>(type: "integer", nullable: false),
                    commit_number = table.Column<long>(type: "bigint", nullable: false),
                    body = table.Column<byte[]>(type: "bytea", nullable: false)
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
                    id = table.Column<string>(type: "text", nullable: false),
                    person = table.Column<string>(type: "text", nullable: false),
                    name = table.Column<string>(type: "text", nullable: false),
                    hash = table.Column<string>(type: "text", nullable: false),
                    expires_at = table.Column<string>(type: "text", nullable: false)
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

            migrationBuilder.CreateTable(
                name: "findings",
                columns: table => new
                {
                    tunnel_id = table.Column<string>(type: "text", nullable: false),
                    code = table.Column<string>(type: "text", nullable: false),
                    subject = table.Column<string>(type: "text", nullable: false),
                    severity = table.Column<int>(type: "integer", nullable: false),
                    digest = table.Column<string>(type: "text", nullable: false),
                    first_seen = table.Column<string>(type: "text", nullable: false),
                    body = table.Column<byte[]>(type: "bytea", nullable: false)
                },
                constraints: table =>
                {
                    table.PrimaryKey("pk_findings", x => new { x.tunnel_id, x.code, x.subject });
                    table.ForeignKey(
                        name: "fk_findings_records_tunnel_id",
                        column: x => x.tunnel_id,
                        principalTable: "records",
                        principalColumn: "id",
                        onDelete: ReferentialAction.Cascade);
                });

            migrationBuilder.CreateTable(
                name: "links",
                columns: table => new
                {
                    from_id = table.Column<string>(type: "text", nullable: false),
                    to_id = table.Column<string>(type: "text", nullable: false),
                    role = table.Column<string>(type: "text", nullable: false)
                },
                constraints: table =>
                {
                    table.PrimaryKey("pk_links", x => new { x.from_id, x.to_id, x.role });
                    table.ForeignKey(
                        name: "fk_links_records_from_id",
                        column: x => x.from_id,
                        principalTable: "records",
                        principalColumn: "id",
                        onDelete: ReferentialAction.Cascade);
                    table.ForeignKey(
                        name: "fk_links_records_to_id",
                        column: x => x.to_id,
                        principalTable: "records",
                        principalColumn: "id",
                        onDelete: ReferentialAction.Cascade);
                });

            migrationBuilder.CreateTable(
                name: "prefixes",
                columns: table => new
                {
                    id = table.Column<long>(type: "bigint", nullable: false)
                        .Annotation("Npgsql:ValueGenerationStrategy", NpgsqlValueGenerationStrategy.IdentityByDefaultColumn),
                    record_id = table.Column<string>(type: "text", nullable: false),
                    gateway_id = table.Column<string>(type: "text", nullable: true),
                    role = table.Column<string>(type: "text", nullable: false),
                    family = table.Column<int>(type: "integer", nullable: false),
                    low = table.Column<string>(type: "text", nullable: false, collation: "C"),
                    high = table.Column<string>(type: "text", nullable: false, collation: "C")
                },
                constraints: table =>
                {
                    table.PrimaryKey("pk_prefixes", x => x.id);
                    table.ForeignKey(
                        name: "fk_prefixes_records_record_id",
                        column: x => x.record_id,
                        principalTable: "records",
                        principalColumn: "id",
                        onDelete: ReferentialAction.Cascade);
                });

            migrationBuilder.CreateTable(
                name: "tunnels",
                columns: table => new
                {
                    id = table.Column<string>(type: "text", nullable: false),
                    worst = table.Column<int>(type: "integer", nullable: false),
                    verdict = table.Column<byte[]>(type: "bytea", nullable: false),
                    search_text = table.Column<string>(type: "text", nullable: false),
                    end_a = table.Column<string>(type: "text", nullable: false),
                    end_b = table.Column<string>(type: "text", nullable: false)
                },
                constraints: table =>
                {
                    table.PrimaryKey("pk_tunnels", x => x.id);
                    table.ForeignKey(
                        name: "fk_tunnels_records_id",
                        column: x => x.id,
                        principalTable: "records",
                        principalColumn: "id",
                        onDelete: ReferentialAction.Cascade);
                });

            migrationBuilder.CreateIndex(
                name: "ix_commits_change_id",
                table: "commits",
                column: "change_id");

            migrationBuilder.CreateIndex(
                name: "ix_findings_code",
                table: "findings",
                column: "code");

            migrationBuilder.CreateIndex(
                name: "ix_held_tunnel_id",
                table: "held",
                column: "tunnel_id");

            migrationBuilder.CreateIndex(
                name: "ix_links_to_id_role",
                table: "links",
                columns: new[] { "to_id", "role" });

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
                name: "ix_records_kind_owner_id",
                table: "records",
                columns: new[] { "kind", "owner_id" });

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
                name: "ix_versions_commit_number",
                table: "versions",
                column: "commit_number");
        }

        /// <inheritdoc />
        protected override void Down(MigrationBuilder migrationBuilder)
        {
            migrationBuilder.DropTable(
                name: "findings");

            migrationBuilder.DropTable(
                name: "held");

            migrationBuilder.DropTable(
                name: "links");

            migrationBuilder.DropTable(
                name: "prefixes");

            migrationBuilder.DropTable(
                name: "tokens");

            migrationBuilder.DropTable(
                name: "tunnels");

            migrationBuilder.DropTable(
                name: "versions");

            migrationBuilder.DropTable(
                name: "people");

            migrationBuilder.DropTable(
                name: "records");

            migrationBuilder.DropTable(
                name: "commits");
        }
    }
}
