using System;
using Microsoft.EntityFrameworkCore.Migrations;

#nullable disable

namespace Fondo.Store.Migrations
{
    /// <inheritdoc />
    public partial class Judged : Migration
    {
        /// <inheritdoc />
        protected override void Up(MigrationBuilder migrationBuilder)
        {
            // Words instead of the order of an enum; a column of numbers takes them before it becomes one of text.
            migrationBuilder.Sql(Words("Records", "Kind", "setup", "event", "row", "total", "ledger", "count", "carried"));
            migrationBuilder.Sql(Words("Entries", "Kind", "reclassify", "record", "accept", "reverse"));
            migrationBuilder.Sql(Words("AspNetUsers", "Role", "cashier", "supervisor", "manager", "auditor"));
            // What one searches by is derived: of an event that is there twice, the first one counts.
            migrationBuilder.Sql("DELETE FROM Tenders WHERE Id / 1024 IN (SELECT Id FROM Events WHERE Id NOT IN (SELECT MIN(Id) FROM Events GROUP BY Key));");
            migrationBuilder.Sql("DELETE FROM Events WHERE Id NOT IN (SELECT MIN(Id) FROM Events GROUP BY Key);");

            migrationBuilder.DropPrimaryKey(
                name: "PK_Excuses",
                table: "Excuses");

            migrationBuilder.DropIndex(
                name: "IX_Events_Day_Drawer_Kind",
                table: "Events");

            migrationBuilder.DropIndex(
                name: "IX_Events_Key",
                table: "Events");

            migrationBuilder.DropIndex(
                name: "IX_Events_Number",
                table: "Events");

            migrationBuilder.AlterColumn<string>(
                name: "Kind",
                table: "Records",
                type: "TEXT",
                nullable: false,
                oldClrType: typeof(int),
                oldType: "INTEGER");

            migrationBuilder.AddColumn<string>(
                name: "File",
                table: "Records",
                type: "TEXT",
                nullable: true);

            migrationBuilder.AddColumn<int>(
                name: "Line",
                table: "Records",
                type: "INTEGER",
                nullable: false,
                defaultValue: 0);

            migrationBuilder.AddColumn<string>(
                name: "Seen",
                table: "Excuses",
                type: "TEXT",
                nullable: false,
                defaultValue: "");

            migrationBuilder.AlterColumn<string>(
                name: "Kind",
                table: "Entries",
                type: "TEXT",
                nullable: false,
                oldClrType: typeof(int),
                oldType: "INTEGER");

            migrationBuilder.AddColumn<long>(
                name: "At",
                table: "Closes",
                type: "INTEGER",
                nullable: false,
                defaultValue: 0L);

            migrationBuilder.AlterColumn<string>(
                name: "Role",
                table: "AspNetUsers",
                type: "TEXT",
                nullable: false,
                oldClrType: typeof(int),
                oldType: "INTEGER");

            migrationBuilder.AddColumn<string>(
                name: "Kind",
                table: "Aside",
                type: "TEXT",
                nullable: false,
                defaultValue: "event");

            migrationBuilder.AddColumn<int>(
                name: "Line",
                table: "Aside",
                type: "INTEGER",
                nullable: false,
                defaultValue: 0);

            migrationBuilder.AddColumn<string>(
                name: "WaitsFor",
                table: "Aside",
                type: "TEXT",
                nullable: true);

            migrationBuilder.Sql("UPDATE Closes SET At = (CAST(strftime('%s', json_extract(Content, '$.ClosedAt')) AS INTEGER) + 62135596800) * 10000000;");

            migrationBuilder.AddPrimaryKey(
                name: "PK_Excuses",
                table: "Excuses",
                columns: new[] { "Day", "Gate", "Item", "Seen" });

            migrationBuilder.CreateTable(
                name: "LateTickets",
                columns: table => new
                {
                    Ticket = table.Column<string>(type: "TEXT", nullable: false),
                    RungOn = table.Column<DateOnly>(type: "TEXT", nullable: false),
                    CountsOn = table.Column<DateOnly>(type: "TEXT", nullable: false)
                },
                constraints: table =>
                {
                    table.PrimaryKey("PK_LateTickets", x => x.Ticket);
                    table.ForeignKey(
                        name: "FK_LateTickets_Days_CountsOn",
                        column: x => x.CountsOn,
                        principalTable: "Days",
                        principalColumn: "Date",
                        onDelete: ReferentialAction.Restrict);
                });

            migrationBuilder.CreateIndex(
                name: "IX_Gaps_Register",
                table: "Gaps",
                column: "Register");

            migrationBuilder.CreateIndex(
                name: "IX_Events_Closes",
                table: "Events",
                columns: new[] { "Day", "Drawer", "At" },
                filter: "Kind = 'close'");

            migrationBuilder.CreateIndex(
                name: "IX_Events_Day_Drawer_At",
                table: "Events",
                columns: new[] { "Day", "Drawer", "At" });

            migrationBuilder.CreateIndex(
                name: "IX_Events_Key",
                table: "Events",
                column: "Key",
                unique: true);

            migrationBuilder.CreateIndex(
                name: "IX_Events_Number_Register",
                table: "Events",
                columns: new[] { "Number", "Register" });

            migrationBuilder.CreateIndex(
                name: "IX_Events_Opens",
                table: "Events",
                columns: new[] { "Day", "Drawer" },
                filter: "Kind = 'open'");

            migrationBuilder.CreateIndex(
                name: "IX_Aside_Key",
                table: "Aside",
                column: "Key");

            migrationBuilder.CreateIndex(
                name: "IX_Aside_Register",
                table: "Aside",
                column: "Register");

            migrationBuilder.CreateIndex(
                name: "IX_Aside_Undecided",
                table: "Aside",
                column: "Id",
                filter: "Decision IS NULL");

            migrationBuilder.CreateIndex(
                name: "IX_Aside_WaitsFor",
                table: "Aside",
                column: "WaitsFor",
                filter: "WaitsFor IS NOT NULL");

            migrationBuilder.CreateIndex(
                name: "IX_LateTickets_CountsOn",
                table: "LateTickets",
                column: "CountsOn");

            migrationBuilder.CreateIndex(
                name: "IX_LateTickets_RungOn",
                table: "LateTickets",
                column: "RungOn");

            migrationBuilder.AddForeignKey(
                name: "FK_Closes_Days_Day",
                table: "Closes",
                column: "Day",
                principalTable: "Days",
                principalColumn: "Date",
                onDelete: ReferentialAction.Restrict);

            migrationBuilder.AddForeignKey(
                name: "FK_CountDrafts_Days_Day",
                table: "CountDrafts",
                column: "Day",
                principalTable: "Days",
                principalColumn: "Date",
                onDelete: ReferentialAction.Restrict);

            migrationBuilder.AddForeignKey(
                name: "FK_Entries_Days_Day",
                table: "Entries",
                column: "Day",
                principalTable: "Days",
                principalColumn: "Date",
                onDelete: ReferentialAction.Restrict);

            migrationBuilder.AddForeignKey(
                name: "FK_Entries_Entries_Reverses",
                table: "Entries",
                column: "Reverses",
                principalTable: "Entries",
                principalColumn: "Id",
                onDelete: ReferentialAction.Restrict);

            migrationBuilder.AddForeignKey(
                name: "FK_Events_Records_Id",
                table: "Events",
                column: "Id",
                principalTable: "Records",
                principalColumn: "Id",
                onDelete: ReferentialAction.Restrict);

            migrationBuilder.AddForeignKey(
                name: "FK_Excuses_Days_Day",
                table: "Excuses",
                column: "Day",
                principalTable: "Days",
                principalColumn: "Date",
                onDelete: ReferentialAction.Restrict);

            migrationBuilder.AddForeignKey(
                name: "FK_Records_Days_Day",
                table: "Records",
                column: "Day",
                principalTable: "Days",
                principalColumn: "Date",
                onDelete: ReferentialAction.Restrict);
        }

        private static string Words(string table, string column, params string[] words) =>
            $"UPDATE {table} SET {column} = CASE {column} {string.Concat(words.Select((word, order) => $"WHEN {order} THEN '{word}' "))}ELSE {column} END;";

        /// <inheritdoc />
        protected override void Down(MigrationBuilder migrationBuilder)
        {
            migrationBuilder.DropForeignKey(
                name: "FK_Closes_Days_Day",
                table: "Closes");

            migrationBuilder.DropForeignKey(
                name: "FK_CountDrafts_Days_Day",
                table: "CountDrafts");

            migrationBuilder.DropForeignKey(
                name: "FK_Entries_Days_Day",
                table: "Entries");

            migrationBuilder.DropForeignKey(
                name: "FK_Entries_Entries_Reverses",
                table: "Entries");

            migrationBuilder.DropForeignKey(
                name: "FK_Events_Records_Id",
                table: "Events");

            migrationBuilder.DropForeignKey(
                name: "FK_Excuses_Days_Day",
                table: "Excuses");

            migrationBuilder.DropForeignKey(
                name: "FK_Records_Days_Day",
                table: "Records");

            migrationBuilder.DropTable(
                name: "LateTickets");

            migrationBuilder.DropIndex(
                name: "IX_Gaps_Register",
                table: "Gaps");

            migrationBuilder.DropPrimaryKey(
                name: "PK_Excuses",
                table: "Excuses");

            migrationBuilder.DropIndex(
                name: "IX_Events_Closes",
                table: "Events");

            migrationBuilder.DropIndex(
                name: "IX_Events_Day_Drawer_At",
                table: "Events");

            migrationBuilder.DropIndex(
                name: "IX_Events_Key",
                table: "Events");

            migrationBuilder.DropIndex(
                name: "IX_Events_Number_Register",
                table: "Events");

            migrationBuilder.DropIndex(
                name: "IX_Events_Opens",
                table: "Events");

            migrationBuilder.DropIndex(
                name: "IX_Aside_Key",
                table: "Aside");

            migrationBuilder.DropIndex(
                name: "IX_Aside_Register",
                table: "Aside");

            migrationBuilder.DropIndex(
                name: "IX_Aside_Undecided",
                table: "Aside");

            migrationBuilder.DropIndex(
                name: "IX_Aside_WaitsFor",
                table: "Aside");

            migrationBuilder.DropColumn(
                name: "File",
                table: "Records");

            migrationBuilder.DropColumn(
                name: "Line",
                table: "Records");

            migrationBuilder.DropColumn(
                name: "Seen",
                table: "Excuses");

            migrationBuilder.DropColumn(
                name: "At",
                table: "Closes");

            migrationBuilder.DropColumn(
                name: "Kind",
                table: "Aside");

            migrationBuilder.DropColumn(
                name: "Line",
                table: "Aside");

            migrationBuilder.DropColumn(
                name: "WaitsFor",
                table: "Aside");

            migrationBuilder.AlterColumn<int>(
                name: "Kind",
                table: "Records",
                type: "INTEGER",
                nullable: false,
                oldClrType: typeof(string),
                oldType: "TEXT");

            migrationBuilder.AlterColumn<int>(
                name: "Kind",
                table: "Entries",
                type: "INTEGER",
                nullable: false,
                oldClrType: typeof(string),
                oldType: "TEXT");

            migrationBuilder.AlterColumn<int>(
                name: "Role",
                table: "AspNetUsers",
                type: "INTEGER",
                nullable: false,
                oldClrType: typeof(string),
                oldType: "TEXT");

            migrationBuilder.AddPrimaryKey(
                name: "PK_Excuses",
                table: "Excuses",
                columns: new[] { "Day", "Gate", "Item" });

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
        }
    }
}
