using System;
using Microsoft.EntityFrameworkCore.Migrations;

#nullable disable

namespace Fondo.Store.Migrations
{
    /// <inheritdoc />
    public partial class Intake : Migration
    {
        /// <inheritdoc />
        protected override void Up(MigrationBuilder migrationBuilder)
        {
            migrationBuilder.DropIndex(
                name: "IX_Records_Day_Kind_Key",
                table: "Records");

            migrationBuilder.AddColumn<int>(
                name: "Version",
                table: "Records",
                type: "INTEGER",
                nullable: false,
                defaultValue: 1);

            migrationBuilder.CreateTable(
                name: "Aside",
                columns: table => new
                {
                    Id = table.Column<long>(type: "INTEGER", nullable: false)
                        .Annotation("Sqlite:Autoincrement", true),
                    Register = table.Column<string>(type: "TEXT", nullable: false),
                    Key = table.Column<string>(type: "TEXT", nullable: false),
                    Json = table.Column<string>(type: "TEXT", nullable: false),
                    Why = table.Column<string>(type: "TEXT", nullable: false),
                    IsConflict = table.Column<bool>(type: "INTEGER", nullable: false),
                    From = table.Column<string>(type: "TEXT", nullable: false),
                    At = table.Column<long>(type: "INTEGER", nullable: false),
                    Decision = table.Column<string>(type: "TEXT", nullable: true),
                    Reason = table.Column<string>(type: "TEXT", nullable: true),
                    DecidedBy = table.Column<string>(type: "TEXT", nullable: true),
                    DecidedAt = table.Column<long>(type: "INTEGER", nullable: true)
                },
                constraints: table =>
                {
                    table.PrimaryKey("PK_Aside", x => x.Id);
                });

            migrationBuilder.CreateTable(
                name: "Events",
                columns: table => new
                {
                    Id = table.Column<long>(type: "INTEGER", nullable: false),
                    Day = table.Column<DateOnly>(type: "TEXT", nullable: false),
                    Key = table.Column<string>(type: "TEXT", nullable: false),
                    Number = table.Column<long>(type: "INTEGER", nullable: true),
                    Register = table.Column<string>(type: "TEXT", nullable: false),
                    Drawer = table.Column<string>(type: "TEXT", nullable: true),
                    Cashier = table.Column<string>(type: "TEXT", nullable: true),
                    At = table.Column<long>(type: "INTEGER", nullable: false),
                    Kind = table.Column<string>(type: "TEXT", nullable: false),
                    Amount = table.Column<long>(type: "INTEGER", nullable: true),
                    Original = table.Column<string>(type: "TEXT", nullable: true)
                },
                constraints: table =>
                {
                    table.PrimaryKey("PK_Events", x => x.Id);
                });

            migrationBuilder.CreateTable(
                name: "Gaps",
                columns: table => new
                {
                    Id = table.Column<int>(type: "INTEGER", nullable: false)
                        .Annotation("Sqlite:Autoincrement", true),
                    Register = table.Column<string>(type: "TEXT", nullable: false),
                    First = table.Column<long>(type: "INTEGER", nullable: false),
                    Last = table.Column<long>(type: "INTEGER", nullable: false),
                    Reason = table.Column<string>(type: "TEXT", nullable: false),
                    By = table.Column<string>(type: "TEXT", nullable: false),
                    At = table.Column<long>(type: "INTEGER", nullable: false)
                },
                constraints: table =>
                {
                    table.PrimaryKey("PK_Gaps", x => x.Id);
                });

            migrationBuilder.CreateTable(
                name: "RegisterKeys",
                columns: table => new
                {
                    Id = table.Column<Guid>(type: "TEXT", nullable: false),
                    Register = table.Column<string>(type: "TEXT", nullable: false),
                    Hash = table.Column<string>(type: "TEXT", nullable: false),
                    MadeBy = table.Column<string>(type: "TEXT", nullable: false),
                    MadeAt = table.Column<long>(type: "INTEGER", nullable: false),
                    RevokedBy = table.Column<string>(type: "TEXT", nullable: true),
                    RevokedAt = table.Column<long>(type: "INTEGER", nullable: true)
                },
                constraints: table =>
                {
                    table.PrimaryKey("PK_RegisterKeys", x => x.Id);
                });

            migrationBuilder.CreateTable(
                name: "Setups",
                columns: table => new
                {
                    Id = table.Column<int>(type: "INTEGER", nullable: false)
                        .Annotation("Sqlite:Autoincrement", true),
                    From = table.Column<DateOnly>(type: "TEXT", nullable: false),
                    Json = table.Column<string>(type: "TEXT", nullable: false),
                    By = table.Column<string>(type: "TEXT", nullable: false),
                    At = table.Column<long>(type: "INTEGER", nullable: false)
                },
                constraints: table =>
                {
                    table.PrimaryKey("PK_Setups", x => x.Id);
                });

            migrationBuilder.CreateTable(
                name: "Tenders",
                columns: table => new
                {
                    Id = table.Column<long>(type: "INTEGER", nullable: false),
                    Type = table.Column<string>(type: "TEXT", nullable: false),
                    Amount = table.Column<long>(type: "INTEGER", nullable: false),
                    LastFour = table.Column<string>(type: "TEXT", nullable: true),
                    Approval = table.Column<string>(type: "TEXT", nullable: true),
                    Name = table.Column<string>(type: "TEXT", nullable: true),
                    Number = table.Column<string>(type: "TEXT", nullable: true)
                },
                constraints: table =>
                {
                    table.PrimaryKey("PK_Tenders", x => x.Id);
                });

            migrationBuilder.CreateIndex(
                name: "IX_Records_Day_Kind_Key_Version",
                table: "Records",
                columns: new[] { "Day", "Kind", "Key", "Version" },
                unique: true);

            migrationBuilder.CreateIndex(
                name: "IX_Events_Amount",
                table: "Events",
                column: "Amount");

            migrationBuilder.CreateIndex(
                name: "IX_Events_At",
                table: "Events",
                column: "At");

            migrationBuilder.CreateIndex(
                name: "IX_Events_Cashier",
                table: "Events",
                column: "Cashier");

            migrationBuilder.CreateIndex(
                name: "IX_Events_Day_Drawer_Kind",
                table: "Events",
                columns: new[] { "Day", "Drawer", "Kind" });

            migrationBuilder.CreateIndex(
                name: "IX_Events_Key",
                table: "Events",
                column: "Key");

            migrationBuilder.CreateIndex(
                name: "IX_Events_Number",
                table: "Events",
                column: "Number");

            migrationBuilder.CreateIndex(
                name: "IX_Events_Original",
                table: "Events",
                column: "Original",
                filter: "Original IS NOT NULL");

            migrationBuilder.CreateIndex(
                name: "IX_Events_Register_At",
                table: "Events",
                columns: new[] { "Register", "At" });

            migrationBuilder.CreateIndex(
                name: "IX_RegisterKeys_Hash",
                table: "RegisterKeys",
                column: "Hash",
                unique: true);

            migrationBuilder.CreateIndex(
                name: "IX_Setups_From",
                table: "Setups",
                column: "From");

            migrationBuilder.CreateIndex(
                name: "IX_Tenders_Amount",
                table: "Tenders",
                column: "Amount");

            migrationBuilder.CreateIndex(
                name: "IX_Tenders_Approval",
                table: "Tenders",
                column: "Approval",
                filter: "Approval IS NOT NULL");

            migrationBuilder.CreateIndex(
                name: "IX_Tenders_LastFour",
                table: "Tenders",
                column: "LastFour",
                filter: "LastFour IS NOT NULL");

            migrationBuilder.CreateIndex(
                name: "IX_Tenders_Name",
                table: "Tenders",
                column: "Name",
                filter: "Name IS NOT NULL");

            migrationBuilder.CreateIndex(
                name: "IX_Tenders_Number",
                table: "Tenders",
                column: "Number",
                filter: "Number IS NOT NULL");
        }

        /// <inheritdoc />
        protected override void Down(MigrationBuilder migrationBuilder)
        {
            migrationBuilder.DropTable(
                name: "Aside");

            migrationBuilder.DropTable(
                name: "Events");

            migrationBuilder.DropTable(
                name: "Gaps");

            migrationBuilder.DropTable(
                name: "RegisterKeys");

            migrationBuilder.DropTable(
                name: "Setups");

            migrationBuilder.DropTable(
                name: "Tenders");

            migrationBuilder.DropIndex(
                name: "IX_Records_Day_Kind_Key_Version",
                table: "Records");

            migrationBuilder.DropColumn(
                name: "Version",
                table: "Records");

            migrationBuilder.CreateIndex(
                name: "IX_Records_Day_Kind_Key",
                table: "Records",
                columns: new[] { "Day", "Kind", "Key" },
                unique: true);
        }
    }
}
