using Microsoft.EntityFrameworkCore.Migrations;

#nullable disable

namespace Fondo.Store.Migrations
{
    /// <inheritdoc />
    public partial class RowReferences : Migration
    {
        /// <inheritdoc />
        protected override void Up(MigrationBuilder migrationBuilder)
        {
            // A transaction that another day has already is found by its reference.
            migrationBuilder.Sql(
                "CREATE INDEX IX_Records_Reference ON Records (json_extract(Json, '$.rrn')) WHERE Kind = 'row' AND Json <> ''");
            // One card is looked for over many months.
            migrationBuilder.Sql(
                "CREATE INDEX IX_Records_Card ON Records (json_extract(Json, '$.card')) WHERE Kind = 'row' AND Json <> ''");
        }

        /// <inheritdoc />
        protected override void Down(MigrationBuilder migrationBuilder)
        {
            migrationBuilder.Sql("DROP INDEX IX_Records_Card");
            migrationBuilder.Sql("DROP INDEX IX_Records_Reference");
        }
    }
}
