using System;
using Microsoft.EntityFrameworkCore.Migrations;

#nullable disable

namespace Fondo.Store.Migrations
{
    /// <inheritdoc />
    public partial class Wired : Migration
    {
        /// <inheritdoc />
        protected override void Up(MigrationBuilder migrationBuilder)
        {
            migrationBuilder.CreateTable(
                name: "MachineReadings",
                columns: table => new
                {
                    Id = table.Column<long>(type: "INTEGER", nullable: false)
                        .Annotation("Sqlite:Autoincrement", true),
                    Day = table.Column<DateOnly>(type: "TEXT", nullable: false),
                    Target = table.Column<string>(type: "TEXT", nullable: false),
                    Device = table.Column<string>(type: "TEXT", nullable: false),
                    Number = table.Column<string>(type: "TEXT", nullable: false),
                    Json = table.Column<string>(type: "TEXT", nullable: false),
                    From = table.Column<string>(type: "TEXT", nullable: false),
                    At = table.Column<long>(type: "INTEGER", nullable: false)
                },
                constraints: table =>
                {
                    table.PrimaryKey("PK_MachineReadings", x => x.Id);
                });

            migrationBuilder.CreateTable(
                name: "Mappings",
                columns: table => new
                {
                    Id = table.Column<int>(type: "INTEGER", nullable: false)
                        .Annotation("Sqlite:Autoincrement", true),
                    Name = table.Column<string>(type: "TEXT", nullable: false),
                    Json = table.Column<string>(type: "TEXT", nullable: false),
                    By = table.Column<string>(type: "TEXT", nullable: false),
                    At = table.Column<long>(type: "INTEGER", nullable: false)
                },
                constraints: table =>
                {
                    table.PrimaryKey("PK_Mappings", x => x.Id);
                });

            migrationBuilder.CreateTable(
                name: "Settlements",
                columns: table => new
                {
                    Id = table.Column<Guid>(type: "TEXT", nullable: false),
                    Day = table.Column<DateOnly>(type: "TEXT", nullable: false),
                    Terminal = table.Column<string>(type: "TEXT", nullable: false),
                    By = table.Column<string>(type: "TEXT", nullable: false),
                    At = table.Column<long>(type: "INTEGER", nullable: false)
                },
                constraints: table =>
                {
                    table.PrimaryKey("PK_Settlements", x => x.Id);
                });

            migrationBuilder.CreateTable(
                name: "SettlementSteps",
                columns: table => new
                {
                    SettlementId = table.Column<Guid>(type: "TEXT", nullable: false),
                    Number = table.Column<int>(type: "INTEGER", nullable: false),
                    State = table.Column<string>(type: "TEXT", nullable: false),
                    Says = table.Column<string>(type: "TEXT", nullable: false),
                    Batch = table.Column<string>(type: "TEXT", nullable: true),
                    NextAt = table.Column<long>(type: "INTEGER", nullable: true),
                    At = table.Column<long>(type: "INTEGER", nullable: false)
                },
                constraints: table =>
                {
                    table.PrimaryKey("PK_SettlementSteps", x => new { x.SettlementId, x.Number });
                    table.ForeignKey(
                        name: "FK_SettlementSteps_Settlements_SettlementId",
                        column: x => x.SettlementId,
                        principalTable: "Settlements",
                        principalColumn: "Id",
                        onDelete: ReferentialAction.Restrict);
                });

            migrationBuilder.CreateIndex(
                name: "IX_MachineReadings_Day_Target",
                table: "MachineReadings",
                columns: new[] { "Day", "Target" });

            migrationBuilder.CreateIndex(
                name: "IX_MachineReadings_Device_Number",
                table: "MachineReadings",
                columns: new[] { "Device", "Number" },
                unique: true);

            migrationBuilder.CreateIndex(
                name: "IX_Mappings_Name",
                table: "Mappings",
                column: "Name");

            migrationBuilder.CreateIndex(
                name: "IX_Settlements_Day_Terminal",
                table: "Settlements",
                columns: new[] { "Day", "Terminal" });

            migrationBuilder.CreateIndex(
                name: "IX_SettlementSteps_NextAt",
                table: "SettlementSteps",
                column: "NextAt",
                filter: "NextAt IS NOT NULL");

            foreach (var table in new[] { "MachineReadings", "Settlements", "SettlementSteps", "Mappings" })
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
                name: "MachineReadings");

            migrationBuilder.DropTable(
                name: "Mappings");

            migrationBuilder.DropTable(
                name: "SettlementSteps");

            migrationBuilder.DropTable(
                name: "Settlements");
        }
    }
}
