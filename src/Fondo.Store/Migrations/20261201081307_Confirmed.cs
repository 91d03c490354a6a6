using Microsoft.EntityFrameworkCore.Migrations;

#nullable disable

namespace Fondo.Store.Migrations
{
    /// <inheritdoc />
    public partial class Confirmed : Migration
    {
        /// <inheritdoc />
        protected override void Up(MigrationBuilder migrationBuilder)
        {
            migrationBuilder.AddColumn<string>(
                name: "ConfirmedBy",
                table: "AspNetUsers",
                type: "TEXT",
                nullable: true);

            migrationBuilder.AddColumn<string>(
                name: "GivenBy",
                table: "AspNetUsers",
                type: "TEXT",
                nullable: true);
        }

        /// <inheritdoc />
        protected override void Down(MigrationBuilder migrationBuilder)
        {
            migrationBuilder.DropColumn(
                name: "ConfirmedBy",
                table: "AspNetUsers");

            migrationBuilder.DropColumn(
                name: "GivenBy",
                table: "AspNetUsers");
        }
    }
}
