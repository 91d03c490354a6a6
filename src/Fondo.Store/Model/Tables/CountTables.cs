using Microsoft.EntityFrameworkCore;
using Microsoft.EntityFrameworkCore.Metadata.Builders;

namespace Fondo.Store.Model.Tables;

/// <summary>Counts, machines and terminals.</summary>
internal sealed class CountDraftTable : IEntityTypeConfiguration<CountDraft>
{
    public void Configure(EntityTypeBuilder<CountDraft> e)
    {
        e.HasKey(d => new { d.Day, d.Drawer, d.Person });
        e.OfDay(d => d.Day);
    }
}

internal sealed class SeenRowTable : IEntityTypeConfiguration<SeenRow>
{
    public void Configure(EntityTypeBuilder<SeenRow> e)
    {
        e.HasKey(s => new { s.Day, s.Drawer, s.By });
        e.OfDay(s => s.Day);
    }
}

internal sealed class MachineReadingRowTable : IEntityTypeConfiguration<MachineReadingRow>
{
    public void Configure(EntityTypeBuilder<MachineReadingRow> e)
    {
        e.HasIndex(r => new { r.Device, r.Number }).IsUnique();
        e.HasIndex(r => new { r.Day, r.Target });
    }
}

internal sealed class SettlementRowTable : IEntityTypeConfiguration<SettlementRow>
{
    public void Configure(EntityTypeBuilder<SettlementRow> e)
    {
        e.Property(s => s.Id).ValueGeneratedNever();
        e.HasIndex(s => new { s.Day, s.Terminal });
    }
}

internal sealed class SettlementStepRowTable : IEntityTypeConfiguration<SettlementStepRow>
{
    public void Configure(EntityTypeBuilder<SettlementStepRow> e)
    {
        e.HasKey(s => new { s.SettlementId, s.Number });
        e.HasOne<SettlementRow>().WithMany().HasForeignKey(s => s.SettlementId).OnDelete(DeleteBehavior.Restrict);
        e.HasIndex(s => s.NextAt).HasFilter("NextAt IS NOT NULL");
    }
}
