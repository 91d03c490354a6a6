using System;
using Microsoft.EntityFrameworkCore.Migrations;

#nullable disable

namespace Fondo.Store.Migrations
{
    /// <inheritdoc />
    public partial class Banked : Migration
    {
        /// <inheritdoc />
        protected override void Up(MigrationBuilder migrationBuilder)
        {
            migrationBuilder.CreateTable(
                name: "BankStatements",
                columns: table => new
                {
                    Id = table.Column<string>(type: "TEXT", nullable: false),
                    Account = table.Column<string>(type: "TEXT", nullable: false),
                    Currency = table.Column<string>(type: "TEXT", nullable: false),
                    From = table.Column<DateOnly>(type: "TEXT", nullable: false),
                    To = table.Column<DateOnly>(type: "TEXT", nullable: false),
                    Opening = table.Column<long>(type: "INTEGER", nullable: false),
                    Closing = table.Column<long>(type: "INTEGER", nullable: false),
                    File = table.Column<string>(type: "TEXT", nullable: false),
                    By = table.Column<string>(type: "TEXT", nullable: false),
                    At = table.Column<long>(type: "INTEGER", nullable: false)
                },
                constraints: table =>
                {
                    table.PrimaryKey("PK_BankStatements", x => x.Id);
                });

            migrationBuilder.CreateTable(
                name: "Deposits",
                columns: table => new
                {
                    Number = table.Column<int>(type: "INTEGER", nullable: false),
                    Id = table.Column<Guid>(type: "TEXT", nullable: false),
                    Day = table.Column<DateOnly>(type: "TEXT", nullable: false),
                    Bag = table.Column<string>(type: "TEXT", nullable: false),
                    Pieces = table.Column<string>(type: "TEXT", nullable: false),
                    Checks = table.Column<string>(type: "TEXT", nullable: false),
                    By = table.Column<string>(type: "TEXT", nullable: false),
                    Witness = table.Column<string>(type: "TEXT", nullable: false),
                    At = table.Column<long>(type: "INTEGER", nullable: false)
                },
                constraints: table =>
                {
                    table.PrimaryKey("PK_Deposits", x => x.Number);
                    table.ForeignKey(
                        name: "FK_Deposits_Days_Day",
                        column: x => x.Day,
                        principalTable: "Days",
                        principalColumn: "Date",
                        onDelete: ReferentialAction.Restrict);
                });

            migrationBuilder.CreateTable(
                name: "SafeMovements",
                columns: table => new
                {
                    Id = table.Column<Guid>(type: "TEXT", nullable: false),
                    Day = table.Column<DateOnly>(type: "TEXT", nullable: false),
                    Kind = table.Column<string>(type: "TEXT", nullable: false),
                    Amount = table.Column<long>(type: "INTEGER", nullable: false),
                    Reason = table.Column<string>(type: "TEXT", nullable: false),
                    By = table.Column<string>(type: "TEXT", nullable: false),
                    At = table.Column<long>(type: "INTEGER", nullable: false)
                },
                constraints: table =>
                {
                    table.PrimaryKey("PK_SafeMovements", x => x.Id);
                    table.ForeignKey(
                        name: "FK_SafeMovements_Days_Day",
                        column: x => x.Day,
                        principalTable: "Days",
                        principalColumn: "Date",
                        onDelete: ReferentialAction.Restrict);
                });

            migrationBuilder.CreateTable(
                name: "BankLines",
                columns: table => new
                {
                    Key = table.Column<string>(type: "TEXT", nullable: false),
                    Statement = table.Column<string>(type: "TEXT", nullable: false),
                    Place = table.Column<int>(type: "INTEGER", nullable: false),
                    Day = table.Column<DateOnly>(type: "TEXT", nullable: false),
                    Booked = table.Column<DateOnly>(type: "TEXT", nullable: false),
                    Amount = table.Column<long>(type: "INTEGER", nullable: false),
                    Text = table.Column<string>(type: "TEXT", nullable: false),
                    Items = table.Column<int>(type: "INTEGER", nullable: true)
                },
                constraints: table =>
                {
                    table.PrimaryKey("PK_BankLines", x => x.Key);
                    table.ForeignKey(
                        name: "FK_BankLines_BankStatements_Statement",
                        column: x => x.Statement,
                        principalTable: "BankStatements",
                        principalColumn: "Id",
                        onDelete: ReferentialAction.Restrict);
                    table.ForeignKey(
                        name: "FK_BankLines_Days_Day",
                        column: x => x.Day,
                        principalTable: "Days",
                        principalColumn: "Date",
                        onDelete: ReferentialAction.Restrict);
                });

            migrationBuilder.CreateTable(
                name: "HandOvers",
                columns: table => new
                {
                    Number = table.Column<int>(type: "INTEGER", nullable: false),
                    To = table.Column<string>(type: "TEXT", nullable: false),
                    Seal = table.Column<string>(type: "TEXT", nullable: false),
                    By = table.Column<string>(type: "TEXT", nullable: false),
                    At = table.Column<long>(type: "INTEGER", nullable: false)
                },
                constraints: table =>
                {
                    table.PrimaryKey("PK_HandOvers", x => x.Number);
                    table.ForeignKey(
                        name: "FK_HandOvers_Deposits_Number",
                        column: x => x.Number,
                        principalTable: "Deposits",
                        principalColumn: "Number",
                        onDelete: ReferentialAction.Restrict);
                });

            migrationBuilder.CreateTable(
                name: "Unsealings",
                columns: table => new
                {
                    Number = table.Column<int>(type: "INTEGER", nullable: false),
                    Day = table.Column<DateOnly>(type: "TEXT", nullable: false),
                    Reason = table.Column<string>(type: "TEXT", nullable: false),
                    By = table.Column<string>(type: "TEXT", nullable: false),
                    At = table.Column<long>(type: "INTEGER", nullable: false)
                },
                constraints: table =>
                {
                    table.PrimaryKey("PK_Unsealings", x => x.Number);
                    table.ForeignKey(
                        name: "FK_Unsealings_Days_Day",
                        column: x => x.Day,
                        principalTable: "Days",
                        principalColumn: "Date",
                        onDelete: ReferentialAction.Restrict);
                    table.ForeignKey(
                        name: "FK_Unsealings_Deposits_Number",
                        column: x => x.Number,
                        principalTable: "Deposits",
                        principalColumn: "Number",
                        onDelete: ReferentialAction.Restrict);
                });

            migrationBuilder.CreateIndex(
                name: "IX_BankLines_Day",
                table: "BankLines",
                column: "Day");

            migrationBuilder.CreateIndex(
                name: "IX_BankLines_Statement",
                table: "BankLines",
                column: "Statement");

            migrationBuilder.CreateIndex(
                name: "IX_Deposits_Bag",
                table: "Deposits",
                column: "Bag",
                unique: true);

            migrationBuilder.CreateIndex(
                name: "IX_Deposits_Day",
                table: "Deposits",
                column: "Day");

            migrationBuilder.CreateIndex(
                name: "IX_Deposits_Id",
                table: "Deposits",
                column: "Id",
                unique: true);

            migrationBuilder.CreateIndex(
                name: "IX_SafeMovements_Day",
                table: "SafeMovements",
                column: "Day");

            migrationBuilder.CreateIndex(
                name: "IX_Unsealings_Day",
                table: "Unsealings",
                column: "Day");

            foreach (var table in new[] { "SafeMovements", "Deposits", "HandOvers", "Unsealings", "BankStatements", "BankLines" })
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
                name: "BankLines");

            migrationBuilder.DropTable(
                name: "HandOvers");

            migrationBuilder.DropTable(
                name: "SafeMovements");

            migrationBuilder.DropTable(
                name: "Unsealings");

            migrationBuilder.DropTable(
                name: "BankStatements");

            migrationBuilder.DropTable(
                name: "Deposits");
        }
    }
}
