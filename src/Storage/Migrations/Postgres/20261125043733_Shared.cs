using Microsoft.EntityFrameworkCore.Migrations;
using Npgsql.EntityFrameworkCore.PostgreSQL.Metadata;

#nullable disable

namespace Vellumkeep.Storage.Migrations.Postgres
{
    /// <inheritdoc />
    public partial class Shared : Migration
    {
        /// <inheritdoc />
        protected override void Up(MigrationBuilder migrationBuilder)
        {
            migrationBuilder.DropColumn(
                name: "search_text",
                table: "tunnels");

            migrationBuilder.AddColumn<string>(name: "record_id", table: "people", type: "text", nullable: false, defaultValue: "");
            migrationBuilder.AddColumn<string>(name: "grants", table: "people", type: "text", nullable: false, defaultValue: "");
            // Roles and customers become grants; the records of the people themselves are made at the next start.
            migrationBuilder.Sql("update people set grants = case when customers = '*' then replace(roles, ',', ';') else replace(roles, ',', ' for ' || customers || ';') || ' for ' || customers end");
            migrationBuilder.DropColumn(name: "roles", table: "people");
            migrationBuilder.DropColumn(name: "customers", table: "people");

            migrationBuilder.AddColumn<string>(
                name: "code_key",
                table: "versions",
                type: "text",
                nullable: false,
                defaultValue: "",
                collation: "C");

            migrationBuilder.AddColumn<string>(
                name: "name",
                table: "versions",
                type: "text",
                nullable: false,
                defaultValue: "");

            migrationBuilder.AddColumn<string>(
                name: "owner_id",
                table: "versions",
                type: "text",
                nullable: true);

            migrationBuilder.AddColumn<string>(
                name: "state",
                table: "versions",
                type: "text",
                nullable: true);

            migrationBuilder.AddColumn<string>(
                name: "made_at",
                table: "tokens",
                type: "text",
                nullable: false,
                defaultValue: "");

            migrationBuilder.AddColumn<string>(
                name: "most",
                table: "tokens",
                type: "text",
                nullable: false,
                defaultValue: "lead");

            migrationBuilder.AddColumn<string>(
                name: "used_at",
                table: "tokens",
                type: "text",
                nullable: true);

            migrationBuilder.AlterColumn<string>(
                name: "code_key",
                table: "records",
                type: "text",
                nullable: false,
                collation: "C",
                oldClrType: typeof(string),
                oldType: "text");

            migrationBuilder.AddColumn<bool>(
                name: "must_replace",
                table: "people",
                type: "boolean",
                nullable: false,
                defaultValue: false);

            migrationBuilder.AlterColumn<string>(
                name: "at",
                table: "commits",
                type: "text",
                nullable: false,
                collation: "C",
                oldClrType: typeof(string),
                oldType: "text");

            migrationBuilder.CreateTable(
                name: "answered",
                columns: table => new
                {
                    person = table.Column<string>(type: "text", nullable: false),
                    key = table.Column<string>(type: "text", nullable: false),
                    asked = table.Column<string>(type: "text", nullable: false),
                    at = table.Column<string>(type: "text", nullable: false),
                    status = table.Column<int>(type: "integer", nullable: false),
                    body = table.Column<byte[]>(type: "bytea", nullable: false)
                },
                constraints: table =>
                {
                    table.PrimaryKey("pk_answered", x => new { x.person, x.key });
                });

            migrationBuilder.CreateTable(
                name: "cookie_keys",
                columns: table => new
                {
                    id = table.Column<int>(type: "integer", nullable: false)
                        .Annotation("Npgsql:ValueGenerationStrategy", NpgsqlValueGenerationStrategy.IdentityByDefaultColumn),
                    name = table.Column<string>(type: "text", nullable: false),
                    xml = table.Column<string>(type: "text", nullable: false)
                },
                constraints: table =>
                {
                    table.PrimaryKey("pk_cookie_keys", x => x.id);
                });

            migrationBuilder.CreateTable(
                name: "kept_lists",
                columns: table => new
                {
                    id = table.Column<string>(type: "text", nullable: false),
                    person = table.Column<string>(type: "text", nullable: false),
                    name = table.Column<string>(type: "text", nullable: false),
                    list = table.Column<string>(type: "text", nullable: false),
                    filter = table.Column<string>(type: "text", nullable: false),
                    shared = table.Column<bool>(type: "boolean", nullable: false)
                },
                constraints: table =>
                {
                    table.PrimaryKey("pk_kept_lists", x => x.id);
                });

            migrationBuilder.CreateTable(
                name: "sessions",
                columns: table => new
                {
                    id = table.Column<string>(type: "text", nullable: false),
                    person = table.Column<string>(type: "text", nullable: false),
                    began_at = table.Column<string>(type: "text", nullable: false),
                    seen_at = table.Column<string>(type: "text", nullable: false),
                    from = table.Column<string>(type: "text", nullable: false)
                },
                constraints: table =>
                {
                    table.PrimaryKey("pk_sessions", x => x.id);
                });

            migrationBuilder.CreateTable(
                name: "version_links",
                columns: table => new
                {
                    to_id = table.Column<string>(type: "text", nullable: false),
                    record_id = table.Column<string>(type: "text", nullable: false),
                    version = table.Column<int>(type: "integer", nullable: false)
                },
                constraints: table =>
                {
                    table.PrimaryKey("pk_version_links", x => new { x.to_id, x.record_id, x.version });
                });

            migrationBuilder.CreateTable(
                name: "words",
                columns: table => new
                {
                    word = table.Column<string>(type: "text", nullable: false, collation: "C"),
                    record_id = table.Column<string>(type: "text", nullable: false),
                    field = table.Column<string>(type: "text", nullable: false)
                },
                constraints: table =>
                {
                    table.PrimaryKey("pk_words", x => new { x.word, x.record_id, x.field });
                });

            migrationBuilder.CreateIndex(
                name: "ix_versions_kind_code_key",
                table: "versions",
                columns: new[] { "kind", "code_key" });

            migrationBuilder.CreateIndex(
                name: "ix_versions_owner_id_commit_number",
                table: "versions",
                columns: new[] { "owner_id", "commit_number" });

            migrationBuilder.CreateIndex(
                name: "ix_commits_at",
                table: "commits",
                column: "at");

            migrationBuilder.CreateIndex(
                name: "ix_commits_who_number",
                table: "commits",
                columns: new[] { "who", "number" });

            migrationBuilder.CreateIndex(
                name: "ix_kept_lists_person",
                table: "kept_lists",
                column: "person");

            migrationBuilder.CreateIndex(
                name: "ix_sessions_person",
                table: "sessions",
                column: "person");

            migrationBuilder.CreateIndex(
                name: "ix_version_links_record_id",
                table: "version_links",
                column: "record_id");

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
                name: "cookie_keys");

            migrationBuilder.DropTable(
                name: "kept_lists");

            migrationBuilder.DropTable(
                name: "sessions");

            migrationBuilder.DropTable(
                name: "version_links");

            migrationBuilder.DropTable(
                name: "words");

            migrationBuilder.DropIndex(
                name: "ix_versions_kind_code_key",
                table: "versions");

            migrationBuilder.DropIndex(
                name: "ix_versions_owner_id_commit_number",
                table: "versions");

            migrationBuilder.DropIndex(
                name: "ix_commits_at",
                table: "commits");

            migrationBuilder.DropIndex(
                name: "ix_commits_who_number",
                table: "commits");

            migrationBuilder.DropColumn(
                name: "code_key",
                table: "versions");

            migrationBuilder.DropColumn(
                name: "name",
                table: "versions");

            migrationBuilder.DropColumn(
                name: "owner_id",
                table: "versions");

            migrationBuilder.DropColumn(
                name: "state",
                table: "versions");

            migrationBuilder.DropColumn(
                name: "made_at",
                table: "tokens");

            migrationBuilder.DropColumn(
                name: "most",
                table: "tokens");

            migrationBuilder.DropColumn(
                name: "used_at",
                table: "tokens");

            migrationBuilder.DropColumn(
                name: "must_replace",
                table: "people");

            migrationBuilder.DropColumn(name: "record_id", table: "people");
            migrationBuilder.DropColumn(name: "grants", table: "people");
            migrationBuilder.AddColumn<string>(name: "roles", table: "people", type: "text", nullable: false, defaultValue: "reader");
            migrationBuilder.AddColumn<string>(name: "customers", table: "people", type: "text", nullable: false, defaultValue: "");

            migrationBuilder.AddColumn<string>(
                name: "search_text",
                table: "tunnels",
                type: "text",
                nullable: false,
                defaultValue: "");

            migrationBuilder.AlterColumn<string>(
                name: "code_key",
                table: "records",
                type: "text",
                nullable: false,
                oldClrType: typeof(string),
                oldType: "text",
                oldCollation: "C");

            migrationBuilder.AlterColumn<string>(
                name: "at",
                table: "commits",
                type: "text",
                nullable: false,
                oldClrType: typeof(string),
                oldType: "text",
                oldCollation: "C");
        }
    }
}
