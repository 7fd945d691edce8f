using Microsoft.EntityFrameworkCore.Migrations;

#nullable disable

namespace Vellumkeep.Storage.Migrations.Sqlite
{
    /// <inheritdoc />
    public partial class Listing : Migration
    {
        /// <inheritdoc />
        protected override void Up(MigrationBuilder migrationBuilder)
        {
            migrationBuilder.DropIndex(
                name: "ix_records_kind_owner_id",
                table: "records");

            migrationBuilder.DropIndex(
                name: "ix_findings_code",
                table: "findings");

            migrationBuilder.AddColumn<string>(
                name: "code_key",
                table: "findings",
                type: "TEXT",
                nullable: false,
                defaultValue: "",
                collation: "BINARY");

            migrationBuilder.AddColumn<string>(
                name: "owner_id",
                table: "findings",
                type: "TEXT",
                nullable: false,
                defaultValue: "");

            migrationBuilder.CreateIndex(
                name: "ix_versions_kind_commit_number",
                table: "versions",
                columns: new[] { "kind", "commit_number" });

            migrationBuilder.CreateIndex(
                name: "ix_tunnels_worst",
                table: "tunnels",
                column: "worst");

            migrationBuilder.CreateIndex(
                name: "ix_records_kind_owner_id_code_key",
                table: "records",
                columns: new[] { "kind", "owner_id", "code_key" });

            migrationBuilder.CreateIndex(
                name: "ix_records_kind_state_code_key",
                table: "records",
                columns: new[] { "kind", "state", "code_key" });

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
        }

        /// <inheritdoc />
        protected override void Down(MigrationBuilder migrationBuilder)
        {
            migrationBuilder.DropIndex(
                name: "ix_versions_kind_commit_number",
                table: "versions");

            migrationBuilder.DropIndex(
                name: "ix_tunnels_worst",
                table: "tunnels");

            migrationBuilder.DropIndex(
                name: "ix_records_kind_owner_id_code_key",
                table: "records");

            migrationBuilder.DropIndex(
                name: "ix_records_kind_state_code_key",
                table: "records");

            migrationBuilder.DropIndex(
                name: "ix_findings_code_severity_code_key",
                table: "findings");

            migrationBuilder.DropIndex(
                name: "ix_findings_owner_id_severity_code_key",
                table: "findings");

            migrationBuilder.DropIndex(
                name: "ix_findings_severity_code_key_code_subject",
                table: "findings");

            migrationBuilder.DropIndex(
                name: "ix_findings_tunnel_id_severity",
                table: "findings");

            migrationBuilder.DropColumn(
                name: "code_key",
                table: "findings");

            migrationBuilder.DropColumn(
                name: "owner_id",
                table: "findings");

            migrationBuilder.CreateIndex(
                name: "ix_records_kind_owner_id",
                table: "records",
                columns: new[] { "kind", "owner_id" });

            migrationBuilder.CreateIndex(
                name: "ix_findings_code",
                table: "findings",
                column: "code");
        }
    }
}
