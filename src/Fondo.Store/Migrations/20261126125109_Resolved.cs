using System;
using Microsoft.EntityFrameworkCore.Migrations;

#nullable disable

namespace Fondo.Store.Migrations
{
    /// <inheritdoc />
    public partial class Resolved : Migration
    {
        /// <inheritdoc />
        protected override void Up(MigrationBuilder migrationBuilder)
        {
            migrationBuilder.DropIndex(
                name: "IX_Closes_Day",
                table: "Closes");

            migrationBuilder.AddColumn<string>(
                name: "Detail",
                table: "Entries",
                type: "TEXT",
                nullable: true);

            migrationBuilder.AddColumn<Guid>(
                name: "Together",
                table: "Entries",
                type: "TEXT",
                nullable: true);

            migrationBuilder.AddColumn<string>(
                name: "By",
                table: "Closes",
                type: "TEXT",
                nullable: true);

            migrationBuilder.CreateTable(
                name: "Answers",
                columns: table => new
                {
                    Number = table.Column<long>(type: "INTEGER", nullable: false)
                        .Annotation("Sqlite:Autoincrement", true),
                    Day = table.Column<DateOnly>(type: "TEXT", nullable: false),
                    Ticket = table.Column<string>(type: "TEXT", nullable: false),
                    Code = table.Column<string>(type: "TEXT", nullable: false),
                    Amount = table.Column<long>(type: "INTEGER", nullable: false),
                    Remedy = table.Column<string>(type: "TEXT", nullable: false),
                    Reason = table.Column<string>(type: "TEXT", nullable: false),
                    By = table.Column<string>(type: "TEXT", nullable: false),
                    At = table.Column<long>(type: "INTEGER", nullable: false)
                },
                constraints: table =>
                {
                    table.PrimaryKey("PK_Answers", x => x.Number);
                    table.ForeignKey(
                        name: "FK_Answers_Days_Day",
                        column: x => x.Day,
                        principalTable: "Days",
                        principalColumn: "Date",
                        onDelete: ReferentialAction.Restrict);
                });

            migrationBuilder.CreateTable(
                name: "Attachments",
                columns: table => new
                {
                    Id = table.Column<Guid>(type: "TEXT", nullable: false),
                    Day = table.Column<DateOnly>(type: "TEXT", nullable: false),
                    EntryId = table.Column<Guid>(type: "TEXT", nullable: false),
                    Name = table.Column<string>(type: "TEXT", nullable: false),
                    Type = table.Column<string>(type: "TEXT", nullable: false),
                    Size = table.Column<long>(type: "INTEGER", nullable: false),
                    Hash = table.Column<string>(type: "TEXT", nullable: false),
                    By = table.Column<string>(type: "TEXT", nullable: false),
                    At = table.Column<long>(type: "INTEGER", nullable: false)
                },
                constraints: table =>
                {
                    table.PrimaryKey("PK_Attachments", x => x.Id);
                    table.ForeignKey(
                        name: "FK_Attachments_Days_Day",
                        column: x => x.Day,
                        principalTable: "Days",
                        principalColumn: "Date",
                        onDelete: ReferentialAction.Restrict);
                    table.ForeignKey(
                        name: "FK_Attachments_Entries_EntryId",
                        column: x => x.EntryId,
                        principalTable: "Entries",
                        principalColumn: "Id",
                        onDelete: ReferentialAction.Restrict);
                });

            migrationBuilder.CreateTable(
                name: "CarryChanges",
                columns: table => new
                {
                    Number = table.Column<long>(type: "INTEGER", nullable: false)
                        .Annotation("Sqlite:Autoincrement", true),
                    Day = table.Column<DateOnly>(type: "TEXT", nullable: false),
                    Close = table.Column<int>(type: "INTEGER", nullable: false),
                    Says = table.Column<string>(type: "TEXT", nullable: false),
                    At = table.Column<long>(type: "INTEGER", nullable: false)
                },
                constraints: table =>
                {
                    table.PrimaryKey("PK_CarryChanges", x => x.Number);
                    table.ForeignKey(
                        name: "FK_CarryChanges_Days_Day",
                        column: x => x.Day,
                        principalTable: "Days",
                        principalColumn: "Date",
                        onDelete: ReferentialAction.Restrict);
                });

            migrationBuilder.CreateTable(
                name: "Pairings",
                columns: table => new
                {
                    Number = table.Column<long>(type: "INTEGER", nullable: false)
                        .Annotation("Sqlite:Autoincrement", true),
                    Id = table.Column<Guid>(type: "TEXT", nullable: false),
                    Day = table.Column<DateOnly>(type: "TEXT", nullable: false),
                    Kind = table.Column<string>(type: "TEXT", nullable: false),
                    Journal = table.Column<string>(type: "TEXT", nullable: false),
                    Rows = table.Column<string>(type: "TEXT", nullable: false),
                    Seen = table.Column<string>(type: "TEXT", nullable: false),
                    Reason = table.Column<string>(type: "TEXT", nullable: false),
                    By = table.Column<string>(type: "TEXT", nullable: false),
                    At = table.Column<long>(type: "INTEGER", nullable: false)
                },
                constraints: table =>
                {
                    table.PrimaryKey("PK_Pairings", x => x.Number);
                    table.ForeignKey(
                        name: "FK_Pairings_Days_Day",
                        column: x => x.Day,
                        principalTable: "Days",
                        principalColumn: "Date",
                        onDelete: ReferentialAction.Restrict);
                });

            migrationBuilder.CreateTable(
                name: "Reopenings",
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
                    table.PrimaryKey("PK_Reopenings", x => x.Number);
                    table.ForeignKey(
                        name: "FK_Reopenings_Closes_Number",
                        column: x => x.Number,
                        principalTable: "Closes",
                        principalColumn: "Number",
                        onDelete: ReferentialAction.Restrict);
                });

            migrationBuilder.CreateTable(
                name: "SignOffs",
                columns: table => new
                {
                    Number = table.Column<long>(type: "INTEGER", nullable: false)
                        .Annotation("Sqlite:Autoincrement", true),
                    Day = table.Column<DateOnly>(type: "TEXT", nullable: false),
                    Register = table.Column<string>(type: "TEXT", nullable: false),
                    Figures = table.Column<string>(type: "TEXT", nullable: false),
                    By = table.Column<string>(type: "TEXT", nullable: false),
                    At = table.Column<long>(type: "INTEGER", nullable: false)
                },
                constraints: table =>
                {
                    table.PrimaryKey("PK_SignOffs", x => x.Number);
                    table.ForeignKey(
                        name: "FK_SignOffs_Days_Day",
                        column: x => x.Day,
                        principalTable: "Days",
                        principalColumn: "Date",
                        onDelete: ReferentialAction.Restrict);
                });

            migrationBuilder.CreateIndex(
                name: "IX_Closes_Day",
                table: "Closes",
                column: "Day");

            migrationBuilder.CreateIndex(
                name: "IX_Answers_Day",
                table: "Answers",
                column: "Day");

            migrationBuilder.CreateIndex(
                name: "IX_Attachments_Day",
                table: "Attachments",
                column: "Day");

            migrationBuilder.CreateIndex(
                name: "IX_Attachments_EntryId",
                table: "Attachments",
                column: "EntryId");

            migrationBuilder.CreateIndex(
                name: "IX_CarryChanges_Day",
                table: "CarryChanges",
                column: "Day");

            migrationBuilder.CreateIndex(
                name: "IX_Pairings_Day",
                table: "Pairings",
                column: "Day");

            migrationBuilder.CreateIndex(
                name: "IX_Pairings_Id",
                table: "Pairings",
                column: "Id",
                unique: true);

            migrationBuilder.CreateIndex(
                name: "IX_SignOffs_Day",
                table: "SignOffs",
                column: "Day");

            foreach (var table in new[] { "Pairings", "Answers", "SignOffs", "Reopenings", "CarryChanges", "Attachments" })
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
                name: "Answers");

            migrationBuilder.DropTable(
                name: "Attachments");

            migrationBuilder.DropTable(
                name: "CarryChanges");

            migrationBuilder.DropTable(
                name: "Pairings");

            migrationBuilder.DropTable(
                name: "Reopenings");

            migrationBuilder.DropTable(
                name: "SignOffs");

            migrationBuilder.DropIndex(
                name: "IX_Closes_Day",
                table: "Closes");

            migrationBuilder.DropColumn(
                name: "Detail",
                table: "Entries");

            migrationBuilder.DropColumn(
                name: "Together",
                table: "Entries");

            migrationBuilder.DropColumn(
                name: "By",
                table: "Closes");

            migrationBuilder.CreateIndex(
                name: "IX_Closes_Day",
                table: "Closes",
                column: "Day",
                unique: true);
        }
    }
}
