using System;
using Microsoft.EntityFrameworkCore.Migrations;

#nullable disable

namespace Fondo.Store.Migrations
{
    /// <inheritdoc />
    public partial class Customers : Migration
    {
        /// <inheritdoc />
        protected override void Up(MigrationBuilder migrationBuilder)
        {
            migrationBuilder.AddColumn<string>(
                name: "ReceiptTo",
                table: "MailServers",
                type: "TEXT",
                nullable: false,
                defaultValue: "");

            migrationBuilder.CreateTable(
                name: "CustomerMovements",
                columns: table => new
                {
                    Number = table.Column<long>(type: "INTEGER", nullable: false)
                        .Annotation("Sqlite:Autoincrement", true),
                    Close = table.Column<int>(type: "INTEGER", nullable: false),
                    Day = table.Column<DateOnly>(type: "TEXT", nullable: false),
                    Account = table.Column<string>(type: "TEXT", nullable: false),
                    Reference = table.Column<string>(type: "TEXT", nullable: false),
                    Name = table.Column<string>(type: "TEXT", nullable: true),
                    What = table.Column<string>(type: "TEXT", nullable: false),
                    Amount = table.Column<long>(type: "INTEGER", nullable: false),
                    Ticket = table.Column<string>(type: "TEXT", nullable: false)
                },
                constraints: table =>
                {
                    table.PrimaryKey("PK_CustomerMovements", x => x.Number);
                    table.ForeignKey(
                        name: "FK_CustomerMovements_Closes_Close",
                        column: x => x.Close,
                        principalTable: "Closes",
                        principalColumn: "Number",
                        onDelete: ReferentialAction.Restrict);
                });

            migrationBuilder.CreateIndex(
                name: "IX_CustomerMovements_Close",
                table: "CustomerMovements",
                column: "Close");

            migrationBuilder.CreateIndex(
                name: "IX_CustomerMovements_Reference",
                table: "CustomerMovements",
                column: "Reference");

            migrationBuilder.Sql(Never("CustomerMovements", "UPDATE"));
            migrationBuilder.Sql(Never("CustomerMovements", "DELETE"));
        }

        /// <inheritdoc />
        protected override void Down(MigrationBuilder migrationBuilder)
        {
            migrationBuilder.DropTable(
                name: "CustomerMovements");

            migrationBuilder.DropColumn(
                name: "ReceiptTo",
                table: "MailServers");
        }

        private static string Never(string table, string act) =>
            $"CREATE TRIGGER Never_{act}_{table} BEFORE {act} ON {table} BEGIN SELECT RAISE(ABORT, '{table} is only ever added to'); END;";
    }
}
