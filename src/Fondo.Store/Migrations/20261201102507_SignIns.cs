using Microsoft.EntityFrameworkCore.Migrations;

#nullable disable

namespace Fondo.Store.Migrations
{
    /// <inheritdoc />
    public partial class SignIns : Migration
    {
        /// <inheritdoc />
        protected override void Up(MigrationBuilder migrationBuilder)
        {
            migrationBuilder.CreateIndex(
                name: "IX_Trail_SignIns",
                table: "Trail",
                columns: new[] { "By", "Act", "Number" },
                filter: "Act IN ('sign-in', 'refused')");
        }

        /// <inheritdoc />
        protected override void Down(MigrationBuilder migrationBuilder)
        {
            migrationBuilder.DropIndex(
                name: "IX_Trail_SignIns",
                table: "Trail");
        }
    }
}
