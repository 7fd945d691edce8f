using Microsoft.EntityFrameworkCore.Migrations;
using Npgsql.EntityFrameworkCore.PostgreSQL.Metadata;

#nullable disable

namespace Vellumkeep.Storage.Migrations.Postgres
{
    /// <inheritdoc />
    public partial class Keys : Migration
    {
        /// <inheritdoc />
        protected override void Up(MigrationBuilder migrationBuilder)
        {
            migrationBuilder.CreateTable(
                name: "keys",
                columns: table => new
                {
                    tunnel_id = table.Column<string>(type: "text", nullable: false),
                    version = table.Column<int>(type: "integer", nullable: false),
                    state = table.Column<string>(type: "text", nullable: false),
                    @sealed = table.Column<byte[]>(name: "sealed", type: "bytea", nullable: false),
                    under = table.Column<string>(type: "text", nullable: false),
                    check_code = table.Column<string>(type: "text", nullable: false),
                    bits = table.Column<int>(type: "integer", nullable: false),
                    length = table.Column<int>(type: "integer", nullable: false),
                    made_by = table.Column<string>(type: "text", nullable: false),
                    made_at = table.Column<string>(type: "text", nullable: false),
                    change_id = table.Column<string>(type: "text", nullable: true)
                },
                constraints: table =>
                {
                    table.PrimaryKey("pk_keys", x => new { x.tunnel_id, x.version });
                });

            migrationBuilder.CreateTable(
                name: "keys_seen",
                columns: table => new
                {
                    id = table.Column<long>(type: "bigint", nullable: false)
                        .Annotation("Npgsql:ValueGenerationStrategy", NpgsqlValueGenerationStrategy.IdentityByDefaultColumn),
                    tunnel_id = table.Column<string>(type: "text", nullable: false),
                    version = table.Column<int>(type: "integer", nullable: false),
                    who = table.Column<string>(type: "text", nullable: false),
                    at = table.Column<string>(type: "text", nullable: false),
                    why = table.Column<string>(type: "text", nullable: false),
                    from = table.Column<string>(type: "text", nullable: false)
                },
                constraints: table =>
                {
                    table.PrimaryKey("pk_keys_seen", x => x.id);
                });

            migrationBuilder.CreateIndex(
                name: "ix_keys_seen_tunnel_id_version",
                table: "keys_seen",
                columns: new[] { "tunnel_id", "version" });

            migrationBuilder.CreateIndex(
                name: "ix_keys_seen_who",
                table: "keys_seen",
                column: "who");
        }

        /// <inheritdoc />
        protected override void Down(MigrationBuilder migrationBuilder)
        {
            migrationBuilder.DropTable(
                name: "keys");

            migrationBuilder.DropTable(
                name: "keys_seen");
        }
    }
}
