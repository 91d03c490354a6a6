using Microsoft.EntityFrameworkCore;
using Microsoft.EntityFrameworkCore.Metadata.Builders;

namespace Fondo.Store.Model.Tables;

/// <summary>Days, closes and what they hand on.</summary>
internal sealed class DayRowTable : IEntityTypeConfiguration<DayRow>
{
    public void Configure(EntityTypeBuilder<DayRow> e) => e.HasKey(d => d.Date);
}

internal sealed class CloseRowTable : IEntityTypeConfiguration<CloseRow>
{
    public void Configure(EntityTypeBuilder<CloseRow> e)
    {
        e.HasKey(c => c.Number);
        e.Property(c => c.Number).ValueGeneratedNever();
        e.HasIndex(c => c.Day);
        e.HasIndex(c => c.Corrects).HasFilter("Corrects IS NOT NULL");
        e.OfDay(c => c.Day);
    }
}

internal sealed class ReopeningRowTable : IEntityTypeConfiguration<ReopeningRow>
{
    public void Configure(EntityTypeBuilder<ReopeningRow> e)
    {
        e.HasKey(r => r.Number);
        e.Property(r => r.Number).ValueGeneratedNever();
        e.HasOne<CloseRow>().WithOne().HasForeignKey<ReopeningRow>(r => r.Number).OnDelete(DeleteBehavior.Restrict);
    }
}

internal sealed class CarryChangeRowTable : IEntityTypeConfiguration<CarryChangeRow>
{
    public void Configure(EntityTypeBuilder<CarryChangeRow> e)
    {
        e.HasKey(c => c.Number);
        e.OfDay(c => c.Day);
    }
}

internal sealed class CorrectionRowTable : IEntityTypeConfiguration<CorrectionRow>
{
    public void Configure(EntityTypeBuilder<CorrectionRow> e)
    {
        e.HasKey(c => c.Close);
        e.Property(c => c.Close).ValueGeneratedNever();
        e.HasOne<CloseRow>().WithOne().HasForeignKey<CorrectionRow>(c => c.Close).OnDelete(DeleteBehavior.Restrict);
        e.OfDay(c => c.Day);
    }
}

internal sealed class CustomerMovementRowTable : IEntityTypeConfiguration<CustomerMovementRow>
{
    public void Configure(EntityTypeBuilder<CustomerMovementRow> e)
    {
        e.HasKey(m => m.Number);
        e.Ignore(m => m.Key);
        e.HasIndex(m => m.Reference);
        e.HasOne<CloseRow>().WithMany().HasForeignKey(m => m.Close).OnDelete(DeleteBehavior.Restrict);
    }
}
