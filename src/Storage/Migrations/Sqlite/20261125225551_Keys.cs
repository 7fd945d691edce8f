using Microsoft.EntityFrameworkCore.Migrations;

#nullable disable

namespace Vellumkeep.Storage.Migrations.Sqlite
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
                    tunnel_id = table.Column<string>(type: "TEXT", nullable: false),
                    version = table.Column<int>(type: "INTEGER", nullable: false),
                    state = table.Column<string>(type: "TEXT", nullable: false),
                    @sealed = table.Column<byte[]>(name: "sealed", type: "BLOB", nullable: false),
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
                name: "keys_seen",
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
