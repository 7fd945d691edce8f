using Microsoft.EntityFrameworkCore.Migrations;

#nullable disable

namespace Vellumkeep.Storage.Migrations.Postgres
{
    /// <inheritdoc />
    public partial class Lookups : Migration
    {
        /// <inheritdoc />
        protected override void Up(MigrationBuilder migrationBuilder)
        {
            migrationBuilder.AddColumn<string>(
                name: "check_again_on",
                table: "tunnels",
                type: "text",
                nullable: true);

            migrationBuilder.CreateTable(
                name: "lookups",
                columns: table => new
                {
                    tunnel_id = table.Column<string>(type: "text", nullable: false),
                    gateway_id = table.Column<string>(type: "text", nullable: false),
                    key = table.Column<string>(type: "text", nullable: false),
                    held = table.Column<bool>(type: "boolean", nullable: false)
                },
                constraints: table =>
                {
                    table.PrimaryKey("pk_lookups", x => new { x.gateway_id, x.key, x.tunnel_id, x.held });
                });

            migrationBuilder.CreateIndex(
                name: "ix_tunnels_check_again_on",
                table: "tunnels",
                column: "check_again_on");

            migrationBuilder.CreateIndex(
                name: "ix_lookups_tunnel_id",
                table: "lookups",
                column: "tunnel_id");
        }

        /// <inheritdoc />
        protected override void Down(MigrationBuilder migrationBuilder)
        {
            migrationBuilder.DropTable(
                name: "lookups");

            migrationBuilder.DropIndex(
                name: "ix_tunnels_check_again_on",
                table: "tunnels");

            migrationBuilder.DropColumn(
                name: "check_again_on",
                table: "tunnels");
        }
    }
}
