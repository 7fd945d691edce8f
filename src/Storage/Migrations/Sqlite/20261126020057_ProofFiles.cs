using Microsoft.EntityFrameworkCore.Migrations;

#nullable disable

namespace Vellumkeep.Storage.Migrations.Sqlite
{
    /// <inheritdoc />
    public partial class ProofFiles : Migration
    {
        /// <inheritdoc />
        protected override void Up(MigrationBuilder migrationBuilder)
        {
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
        }

        /// <inheritdoc />
        protected override void Down(MigrationBuilder migrationBuilder)
        {
            migrationBuilder.DropTable(
                name: "proof_files");
        }
    }
}
