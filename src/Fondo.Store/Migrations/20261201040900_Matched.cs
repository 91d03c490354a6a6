using System;
using Microsoft.EntityFrameworkCore.Migrations;

#nullable disable

namespace Fondo.Store.Migrations
{
    /// <inheritdoc />
    public partial class Matched : Migration
    {
        /// <inheritdoc />
        protected override void Up(MigrationBuilder migrationBuilder)
        {
            migrationBuilder.AddColumn<string>(
                name: "Details",
                table: "BankLines",
                type: "TEXT",
                nullable: true);

            migrationBuilder.AddColumn<bool>(
                name: "IsReversal",
                table: "BankLines",
                type: "INTEGER",
                nullable: false,
                defaultValue: false);

            migrationBuilder.CreateTable(
                name: "BankDecisions",
                columns: table => new
                {
                    Number = table.Column<long>(type: "INTEGER", nullable: false)
                        .Annotation("Sqlite:Autoincrement", true),
                    Id = table.Column<Guid>(type: "TEXT", nullable: false),
                    Day = table.Column<DateOnly>(type: "TEXT", nullable: false),
                    Line = table.Column<string>(type: "TEXT", nullable: false),
                    Kind = table.Column<string>(type: "TEXT", nullable: false),
                    Target = table.Column<string>(type: "TEXT", nullable: true),
                    Reason = table.Column<string>(type: "TEXT", nullable: false),
                    By = table.Column<string>(type: "TEXT", nullable: false),
                    At = table.Column<long>(type: "INTEGER", nullable: false)
                },
                constraints: table =>
                {
                    table.PrimaryKey("PK_BankDecisions", x => x.Number);
                    table.ForeignKey(
                        name: "FK_BankDecisions_Days_Day",
                        column: x => x.Day,
                        principalTable: "Days",
                        principalColumn: "Date",
                        onDelete: ReferentialAction.Restrict);
                });

            migrationBuilder.CreateTable(
                name: "StatementWithdrawals",
                columns: table => new
                {
                    Statement = table.Column<string>(type: "TEXT", nullable: false),
                    Reason = table.Column<string>(type: "TEXT", nullable: false),
                    By = table.Column<string>(type: "TEXT", nullable: false),
                    Witness = table.Column<string>(type: "TEXT", nullable: false),
                    At = table.Column<long>(type: "INTEGER", nullable: false)
                },
                constraints: table =>
                {
                    table.PrimaryKey("PK_StatementWithdrawals", x => x.Statement);
                    table.ForeignKey(
                        name: "FK_StatementWithdrawals_BankStatements_Statement",
                        column: x => x.Statement,
                        principalTable: "BankStatements",
                        principalColumn: "Id",
                        onDelete: ReferentialAction.Restrict);
                });

            migrationBuilder.CreateIndex(
                name: "IX_BankLines_Booked",
                table: "BankLines",
                column: "Booked");

            migrationBuilder.CreateIndex(
                name: "IX_BankDecisions_Day",
                table: "BankDecisions",
                column: "Day");

            migrationBuilder.CreateIndex(
                name: "IX_BankDecisions_Id",
                table: "BankDecisions",
                column: "Id",
                unique: true);

            foreach (var table in new[] { "BankDecisions", "StatementWithdrawals" })
            {
                migrationBuilder.Sql(Never(table, "UPDATE"));
                migrationBuilder.Sql(Never(table, "DELETE"));
            }
        }

        private static string Never(string table, string what) => $"CREATE TRIGGER Never_{what}_{table} BEFORE {what} ON {table} BEGIN SELECT RAISE(ABORT, '{table} is only ever added to'); END;";

        /// <inheritdoc />
        protected override void Down(MigrationBuilder migrationBuilder)
        {
            migrationBuilder.DropTable(
                name: "BankDecisions");

            migrationBuilder.DropTable(
                name: "StatementWithdrawals");

            migrationBuilder.DropIndex(
                name: "IX_BankLines_Booked",
                table: "BankLines");

            migrationBuilder.DropColumn(
                name: "Details",
                table: "BankLines");

            migrationBuilder.DropColumn(
                name: "IsReversal",
                table: "BankLines");
        }
    }
}
