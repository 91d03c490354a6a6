using System;
using Microsoft.EntityFrameworkCore.Migrations;

#nullable disable

namespace Fondo.Store.Migrations
{
    /// <inheritdoc />
    public partial class Chained : Migration
    {
        /// <inheritdoc />
        protected override void Up(MigrationBuilder migrationBuilder)
        {
            migrationBuilder.AddColumn<string>(
                name: "Witness",
                table: "Unsealings",
                type: "TEXT",
                nullable: true);

            migrationBuilder.AddColumn<int>(
                name: "Order",
                table: "SafeMovements",
                type: "INTEGER",
                nullable: true);

            migrationBuilder.AddColumn<string>(
                name: "Pieces",
                table: "SafeMovements",
                type: "TEXT",
                nullable: false,
                defaultValue: "");

            migrationBuilder.AddColumn<string>(
                name: "Register",
                table: "SafeMovements",
                type: "TEXT",
                nullable: true);

            migrationBuilder.AddColumn<string>(
                name: "Witness",
                table: "SafeMovements",
                type: "TEXT",
                nullable: true);

            migrationBuilder.AddColumn<bool>(
                name: "HasTrade",
                table: "Days",
                type: "INTEGER",
                nullable: false,
                defaultValue: false);

            migrationBuilder.AddColumn<int>(
                name: "Corrects",
                table: "Closes",
                type: "INTEGER",
                nullable: true);

            migrationBuilder.AddColumn<int>(
                name: "Follows",
                table: "Closes",
                type: "INTEGER",
                nullable: true);

            migrationBuilder.AddColumn<bool>(
                name: "Waits",
                table: "BankLines",
                type: "INTEGER",
                nullable: false,
                defaultValue: false);

            migrationBuilder.CreateTable(
                name: "BankLineDays",
                columns: table => new
                {
                    Key = table.Column<string>(type: "TEXT", nullable: false),
                    Day = table.Column<DateOnly>(type: "TEXT", nullable: false)
                },
                constraints: table =>
                {
                    table.PrimaryKey("PK_BankLineDays", x => x.Key);
                    table.ForeignKey(
                        name: "FK_BankLineDays_BankLines_Key",
                        column: x => x.Key,
                        principalTable: "BankLines",
                        principalColumn: "Key",
                        onDelete: ReferentialAction.Restrict);
                    table.ForeignKey(
                        name: "FK_BankLineDays_Days_Day",
                        column: x => x.Day,
                        principalTable: "Days",
                        principalColumn: "Date",
                        onDelete: ReferentialAction.Restrict);
                });

            migrationBuilder.CreateTable(
                name: "ChangeOrders",
                columns: table => new
                {
                    Number = table.Column<int>(type: "INTEGER", nullable: false),
                    Id = table.Column<Guid>(type: "TEXT", nullable: false),
                    Day = table.Column<DateOnly>(type: "TEXT", nullable: false),
                    Pieces = table.Column<string>(type: "TEXT", nullable: false),
                    By = table.Column<string>(type: "TEXT", nullable: false),
                    At = table.Column<long>(type: "INTEGER", nullable: false)
                },
                constraints: table =>
                {
                    table.PrimaryKey("PK_ChangeOrders", x => x.Number);
                    table.ForeignKey(
                        name: "FK_ChangeOrders_Days_Day",
                        column: x => x.Day,
                        principalTable: "Days",
                        principalColumn: "Date",
                        onDelete: ReferentialAction.Restrict);
                });

            migrationBuilder.CreateTable(
                name: "Corrections",
                columns: table => new
                {
                    Close = table.Column<int>(type: "INTEGER", nullable: false),
                    Day = table.Column<DateOnly>(type: "TEXT", nullable: false)
                },
                constraints: table =>
                {
                    table.PrimaryKey("PK_Corrections", x => x.Close);
                    table.ForeignKey(
                        name: "FK_Corrections_Closes_Close",
                        column: x => x.Close,
                        principalTable: "Closes",
                        principalColumn: "Number",
                        onDelete: ReferentialAction.Restrict);
                    table.ForeignKey(
                        name: "FK_Corrections_Days_Day",
                        column: x => x.Day,
                        principalTable: "Days",
                        principalColumn: "Date",
                        onDelete: ReferentialAction.Restrict);
                });

            migrationBuilder.CreateIndex(
                name: "IX_Closes_Corrects",
                table: "Closes",
                column: "Corrects",
                filter: "Corrects IS NOT NULL");

            migrationBuilder.CreateIndex(
                name: "IX_BankLines_Waits",
                table: "BankLines",
                column: "Waits",
                filter: "Waits");

            migrationBuilder.CreateIndex(
                name: "IX_BankLineDays_Day",
                table: "BankLineDays",
                column: "Day");

            migrationBuilder.CreateIndex(
                name: "IX_ChangeOrders_Day",
                table: "ChangeOrders",
                column: "Day");

            migrationBuilder.CreateIndex(
                name: "IX_ChangeOrders_Id",
                table: "ChangeOrders",
                column: "Id",
                unique: true);

            migrationBuilder.CreateIndex(
                name: "IX_Corrections_Day",
                table: "Corrections",
                column: "Day");

            migrationBuilder.Sql("""
                UPDATE Days SET HasTrade = 1 WHERE EXISTS (SELECT 1 FROM Closes AS c WHERE c.Day = Days.Date)
                  OR EXISTS (SELECT 1 FROM Records AS r WHERE r.Day = Days.Date AND r.Kind NOT IN ('setup', 'carried'));
                """);
            foreach (var table in new[] { "BankLineDays", "ChangeOrders", "Corrections" })
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
                name: "BankLineDays");

            migrationBuilder.DropTable(
                name: "ChangeOrders");

            migrationBuilder.DropTable(
                name: "Corrections");

            migrationBuilder.DropIndex(
                name: "IX_Closes_Corrects",
                table: "Closes");

            migrationBuilder.DropIndex(
                name: "IX_BankLines_Waits",
                table: "BankLines");

            migrationBuilder.DropColumn(
                name: "Witness",
                table: "Unsealings");

            migrationBuilder.DropColumn(
                name: "Order",
                table: "SafeMovements");

            migrationBuilder.DropColumn(
                name: "Pieces",
                table: "SafeMovements");

            migrationBuilder.DropColumn(
                name: "Register",
                table: "SafeMovements");

            migrationBuilder.DropColumn(
                name: "Witness",
                table: "SafeMovements");

            migrationBuilder.DropColumn(
                name: "HasTrade",
                table: "Days");

            migrationBuilder.DropColumn(
                name: "Corrects",
                table: "Closes");

            migrationBuilder.DropColumn(
                name: "Follows",
                table: "Closes");

            migrationBuilder.DropColumn(
                name: "Waits",
                table: "BankLines");
        }
    }
}
