using System;
using Microsoft.EntityFrameworkCore.Migrations;

#nullable disable

namespace Fondo.Store.Migrations
{
    /// <inheritdoc />
    public partial class Trusted : Migration
    {
        /// <inheritdoc />
        protected override void Up(MigrationBuilder migrationBuilder)
        {
            migrationBuilder.DropPrimaryKey(
                name: "PK_CountDrafts",
                table: "CountDrafts");

            migrationBuilder.AddColumn<int>(
                name: "Follows",
                table: "Setups",
                type: "INTEGER",
                nullable: true);

            migrationBuilder.AddColumn<string>(
                name: "Loosens",
                table: "Setups",
                type: "TEXT",
                nullable: true);

            migrationBuilder.AddColumn<string>(
                name: "Person",
                table: "CountDrafts",
                type: "TEXT",
                nullable: false,
                defaultValue: "");

            migrationBuilder.AddColumn<bool>(
                name: "IsOff",
                table: "AspNetUsers",
                type: "INTEGER",
                nullable: false,
                defaultValue: false);

            migrationBuilder.AddColumn<bool>(
                name: "MustChoosePin",
                table: "AspNetUsers",
                type: "INTEGER",
                nullable: false,
                defaultValue: false);

            migrationBuilder.AddColumn<string>(
                name: "PlainKeys",
                table: "AspNetUsers",
                type: "TEXT",
                nullable: false,
                defaultValue: "on");

            migrationBuilder.AddPrimaryKey(
                name: "PK_CountDrafts",
                table: "CountDrafts",
                columns: new[] { "Day", "Drawer", "Person" });

            migrationBuilder.CreateTable(
                name: "Machines",
                columns: table => new
                {
                    Id = table.Column<Guid>(type: "TEXT", nullable: false),
                    Name = table.Column<string>(type: "TEXT", nullable: false),
                    Hash = table.Column<string>(type: "TEXT", nullable: false),
                    PairedBy = table.Column<string>(type: "TEXT", nullable: false),
                    PairedAt = table.Column<long>(type: "INTEGER", nullable: false),
                    EndedBy = table.Column<string>(type: "TEXT", nullable: true),
                    EndedAt = table.Column<long>(type: "INTEGER", nullable: true)
                },
                constraints: table =>
                {
                    table.PrimaryKey("PK_Machines", x => x.Id);
                });

            migrationBuilder.CreateTable(
                name: "OpenIntakes",
                columns: table => new
                {
                    Id = table.Column<int>(type: "INTEGER", nullable: false)
                        .Annotation("Sqlite:Autoincrement", true),
                    Day = table.Column<DateOnly>(type: "TEXT", nullable: false),
                    First = table.Column<long>(type: "INTEGER", nullable: false),
                    Last = table.Column<long>(type: "INTEGER", nullable: false),
                    By = table.Column<string>(type: "TEXT", nullable: false),
                    At = table.Column<long>(type: "INTEGER", nullable: false)
                },
                constraints: table =>
                {
                    table.PrimaryKey("PK_OpenIntakes", x => x.Id);
                });

            migrationBuilder.CreateTable(
                name: "PinTries",
                columns: table => new
                {
                    Person = table.Column<string>(type: "TEXT", nullable: false),
                    Address = table.Column<string>(type: "TEXT", nullable: false),
                    Tries = table.Column<int>(type: "INTEGER", nullable: false),
                    WaitUntil = table.Column<long>(type: "INTEGER", nullable: true),
                    GoodAt = table.Column<long>(type: "INTEGER", nullable: true)
                },
                constraints: table =>
                {
                    table.PrimaryKey("PK_PinTries", x => new { x.Person, x.Address });
                });

            migrationBuilder.CreateTable(
                name: "Seen",
                columns: table => new
                {
                    Day = table.Column<DateOnly>(type: "TEXT", nullable: false),
                    Drawer = table.Column<string>(type: "TEXT", nullable: false),
                    By = table.Column<string>(type: "TEXT", nullable: false),
                    Where = table.Column<string>(type: "TEXT", nullable: false),
                    At = table.Column<long>(type: "INTEGER", nullable: false)
                },
                constraints: table =>
                {
                    table.PrimaryKey("PK_Seen", x => new { x.Day, x.Drawer, x.By });
                    table.ForeignKey(
                        name: "FK_Seen_Days_Day",
                        column: x => x.Day,
                        principalTable: "Days",
                        principalColumn: "Date",
                        onDelete: ReferentialAction.Restrict);
                });

            migrationBuilder.CreateTable(
                name: "Sessions",
                columns: table => new
                {
                    Hash = table.Column<string>(type: "TEXT", nullable: false),
                    Person = table.Column<string>(type: "TEXT", nullable: false),
                    Machine = table.Column<string>(type: "TEXT", nullable: false),
                    Ticket = table.Column<byte[]>(type: "BLOB", nullable: false),
                    BeganAt = table.Column<long>(type: "INTEGER", nullable: false),
                    ActedAt = table.Column<long>(type: "INTEGER", nullable: false),
                    ProvedAt = table.Column<long>(type: "INTEGER", nullable: false)
                },
                constraints: table =>
                {
                    table.PrimaryKey("PK_Sessions", x => x.Hash);
                });

            migrationBuilder.CreateTable(
                name: "SetupApprovalRow",
                columns: table => new
                {
                    SetupId = table.Column<int>(type: "INTEGER", nullable: false),
                    By = table.Column<string>(type: "TEXT", nullable: false),
                    At = table.Column<long>(type: "INTEGER", nullable: false)
                },
                constraints: table =>
                {
                    table.PrimaryKey("PK_SetupApprovalRow", x => x.SetupId);
                    table.ForeignKey(
                        name: "FK_SetupApprovalRow_Setups_SetupId",
                        column: x => x.SetupId,
                        principalTable: "Setups",
                        principalColumn: "Id",
                        onDelete: ReferentialAction.Cascade);
                });

            migrationBuilder.CreateTable(
                name: "Trail",
                columns: table => new
                {
                    Number = table.Column<long>(type: "INTEGER", nullable: false),
                    At = table.Column<long>(type: "INTEGER", nullable: false),
                    By = table.Column<string>(type: "TEXT", nullable: false),
                    Machine = table.Column<string>(type: "TEXT", nullable: false),
                    Act = table.Column<string>(type: "TEXT", nullable: false),
                    On = table.Column<string>(type: "TEXT", nullable: false),
                    Says = table.Column<string>(type: "TEXT", nullable: false),
                    Of = table.Column<string>(type: "TEXT", nullable: false),
                    Content = table.Column<string>(type: "TEXT", nullable: false),
                    Previous = table.Column<string>(type: "TEXT", nullable: false),
                    Hash = table.Column<string>(type: "TEXT", nullable: false)
                },
                constraints: table =>
                {
                    table.PrimaryKey("PK_Trail", x => x.Number);
                });

            migrationBuilder.CreateIndex(
                name: "IX_Machines_Hash",
                table: "Machines",
                column: "Hash",
                unique: true);

            migrationBuilder.CreateIndex(
                name: "IX_Sessions_Person",
                table: "Sessions",
                column: "Person");

            // What is only ever added to is kept from everything else by the database itself.
            foreach (var table in new[] { "Records", "Setups", "SetupApprovalRow", "Gaps", "Entries", "PostingRow", "ApprovalRow", "Excuses", "Closes", "LateTickets", "Seen", "Trail" })
            {
                migrationBuilder.Sql(Never(table, "UPDATE", ""));
                migrationBuilder.Sql(Never(table, "DELETE", table == "Records" ? "WHEN NOT EXISTS (SELECT 1 FROM OpenIntakes AS o WHERE OLD.Id BETWEEN o.First AND o.Last)" : ""));
            }

            foreach (var table in new[] { "RegisterKeys", "Machines", "Aside", "AspNetUsers" })
            {
                migrationBuilder.Sql(Never(table, "DELETE", ""));
            }

            migrationBuilder.Sql(Never("RegisterKeys", "UPDATE", "WHEN OLD.RevokedAt IS NOT NULL OR NEW.Hash <> OLD.Hash OR NEW.Register <> OLD.Register"));
            migrationBuilder.Sql(Never("Machines", "UPDATE", "WHEN OLD.EndedAt IS NOT NULL OR NEW.Hash <> OLD.Hash OR NEW.Name <> OLD.Name"));
            migrationBuilder.Sql(Never("Aside", "UPDATE", "WHEN OLD.Decision IS NOT NULL OR NEW.Json <> OLD.Json OR NEW.Key <> OLD.Key"));
        }

        private static string Never(string table, string what, string when) =>
            $"CREATE TRIGGER Never_{what}_{table} BEFORE {what} ON {table} {when} BEGIN SELECT RAISE(ABORT, '{table} is only ever added to'); END;";

        /// <inheritdoc />
        protected override void Down(MigrationBuilder migrationBuilder)
        {
            migrationBuilder.DropTable(
                name: "Machines");

            migrationBuilder.DropTable(
                name: "OpenIntakes");

            migrationBuilder.DropTable(
                name: "PinTries");

            migrationBuilder.DropTable(
                name: "Seen");

            migrationBuilder.DropTable(
                name: "Sessions");

            migrationBuilder.DropTable(
                name: "SetupApprovalRow");

            migrationBuilder.DropTable(
                name: "Trail");

            migrationBuilder.DropPrimaryKey(
                name: "PK_CountDrafts",
                table: "CountDrafts");

            migrationBuilder.DropColumn(
                name: "Follows",
                table: "Setups");

            migrationBuilder.DropColumn(
                name: "Loosens",
                table: "Setups");

            migrationBuilder.DropColumn(
                name: "Person",
                table: "CountDrafts");

            migrationBuilder.DropColumn(
                name: "IsOff",
                table: "AspNetUsers");

            migrationBuilder.DropColumn(
                name: "MustChoosePin",
                table: "AspNetUsers");

            migrationBuilder.DropColumn(
                name: "PlainKeys",
                table: "AspNetUsers");

            migrationBuilder.AddPrimaryKey(
                name: "PK_CountDrafts",
                table: "CountDrafts",
                columns: new[] { "Day", "Drawer" });
        }
    }
}
