using System;
using Microsoft.EntityFrameworkCore.Migrations;

#nullable disable

namespace Fondo.Store.Migrations
{
    /// <inheritdoc />
    public partial class Held : Migration
    {
        /// <inheritdoc />
        protected override void Up(MigrationBuilder migrationBuilder)
        {
            migrationBuilder.AddColumn<string>(
                name: "Witness",
                table: "RegisterKeys",
                type: "TEXT",
                nullable: true);

            migrationBuilder.CreateTable(
                name: "FileChanges",
                columns: table => new
                {
                    Number = table.Column<long>(type: "INTEGER", nullable: false)
                        .Annotation("Sqlite:Autoincrement", true),
                    Day = table.Column<DateOnly>(type: "TEXT", nullable: false),
                    Register = table.Column<string>(type: "TEXT", nullable: true),
                    Drawer = table.Column<string>(type: "TEXT", nullable: true),
                    Tender = table.Column<string>(type: "TEXT", nullable: false),
                    Amount = table.Column<long>(type: "INTEGER", nullable: false),
                    File = table.Column<string>(type: "TEXT", nullable: false),
                    By = table.Column<string>(type: "TEXT", nullable: false),
                    Witness = table.Column<string>(type: "TEXT", nullable: true),
                    At = table.Column<long>(type: "INTEGER", nullable: false)
                },
                constraints: table =>
                {
                    table.PrimaryKey("PK_FileChanges", x => x.Number);
                    table.ForeignKey(
                        name: "FK_FileChanges_Days_Day",
                        column: x => x.Day,
                        principalTable: "Days",
                        principalColumn: "Date",
                        onDelete: ReferentialAction.Restrict);
                });

            migrationBuilder.CreateTable(
                name: "HeldFiles",
                columns: table => new
                {
                    Id = table.Column<Guid>(type: "TEXT", nullable: false),
                    Day = table.Column<DateOnly>(type: "TEXT", nullable: true),
                    IsStatement = table.Column<bool>(type: "INTEGER", nullable: false),
                    Files = table.Column<string>(type: "TEXT", nullable: false),
                    Changes = table.Column<string>(type: "TEXT", nullable: false),
                    NeedsSecond = table.Column<bool>(type: "INTEGER", nullable: false),
                    Named = table.Column<string>(type: "TEXT", nullable: false),
                    By = table.Column<string>(type: "TEXT", nullable: false),
                    At = table.Column<long>(type: "INTEGER", nullable: false)
                },
                constraints: table =>
                {
                    table.PrimaryKey("PK_HeldFiles", x => x.Id);
                });

            migrationBuilder.CreateTable(
                name: "HeldAgreements",
                columns: table => new
                {
                    Number = table.Column<long>(type: "INTEGER", nullable: false)
                        .Annotation("Sqlite:Autoincrement", true),
                    Held = table.Column<Guid>(type: "TEXT", nullable: false),
                    By = table.Column<string>(type: "TEXT", nullable: false),
                    At = table.Column<long>(type: "INTEGER", nullable: false)
                },
                constraints: table =>
                {
                    table.PrimaryKey("PK_HeldAgreements", x => x.Number);
                    table.ForeignKey(
                        name: "FK_HeldAgreements_HeldFiles_Held",
                        column: x => x.Held,
                        principalTable: "HeldFiles",
                        principalColumn: "Id",
                        onDelete: ReferentialAction.Restrict);
                });

            migrationBuilder.CreateTable(
                name: "HeldEnds",
                columns: table => new
                {
                    Held = table.Column<Guid>(type: "TEXT", nullable: false),
                    IsTaken = table.Column<bool>(type: "INTEGER", nullable: false),
                    By = table.Column<string>(type: "TEXT", nullable: false),
                    At = table.Column<long>(type: "INTEGER", nullable: false)
                },
                constraints: table =>
                {
                    table.PrimaryKey("PK_HeldEnds", x => x.Held);
                    table.ForeignKey(
                        name: "FK_HeldEnds_HeldFiles_Held",
                        column: x => x.Held,
                        principalTable: "HeldFiles",
                        principalColumn: "Id",
                        onDelete: ReferentialAction.Restrict);
                });

            migrationBuilder.CreateIndex(
                name: "IX_FileChanges_Day",
                table: "FileChanges",
                column: "Day");

            migrationBuilder.CreateIndex(
                name: "IX_HeldAgreements_Held",
                table: "HeldAgreements",
                column: "Held");

            migrationBuilder.CreateIndex(
                name: "IX_Records_Files",
                table: "Records",
                columns: new[] { "Day", "TakenBy", "File" },
                filter: "File IS NOT NULL");

            foreach (var table in new[] { "FileChanges", "HeldFiles", "HeldAgreements", "HeldEnds" })
            {
                migrationBuilder.Sql(Never(table, "UPDATE"));
                migrationBuilder.Sql(Never(table, "DELETE"));
            }
        }

        /// <inheritdoc />
        protected override void Down(MigrationBuilder migrationBuilder)
        {
            migrationBuilder.DropIndex(
                name: "IX_Records_Files",
                table: "Records");

            migrationBuilder.DropTable(
                name: "FileChanges");

            migrationBuilder.DropTable(
                name: "HeldAgreements");

            migrationBuilder.DropTable(
                name: "HeldEnds");

            migrationBuilder.DropTable(
                name: "HeldFiles");

            migrationBuilder.DropColumn(
                name: "Witness",
                table: "RegisterKeys");
        }

        private static string Never(string table, string act) =>
            $"CREATE TRIGGER Never_{act}_{table} BEFORE {act} ON {table} BEGIN SELECT RAISE(ABORT, '{table} is only ever added to'); END;";
    }
}
