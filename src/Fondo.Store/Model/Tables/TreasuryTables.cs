using Microsoft.EntityFrameworkCore;
using Microsoft.EntityFrameworkCore.Metadata.Builders;

namespace Fondo.Store.Model.Tables;

/// <summary>Safe, deposits and change.</summary>
internal sealed class SafeMovementRowTable : IEntityTypeConfiguration<SafeMovementRow>
{
    public void Configure(EntityTypeBuilder<SafeMovementRow> e)
    {
        e.Property(m => m.Id).ValueGeneratedNever();
        e.Property(m => m.Pieces).HasDefaultValue("");
        e.OfDay(m => m.Day);
    }
}

internal sealed class ChangeOrderRowTable : IEntityTypeConfiguration<ChangeOrderRow>
{
    public void Configure(EntityTypeBuilder<ChangeOrderRow> e)
    {
        e.HasKey(o => o.Number);
        e.Property(o => o.Number).ValueGeneratedNever();
        e.HasIndex(o => o.Id).IsUnique();
        e.OfDay(o => o.Day);
    }
}

internal sealed class DepositRowTable : IEntityTypeConfiguration<DepositRow>
{
    public void Configure(EntityTypeBuilder<DepositRow> e)
    {
        e.HasKey(d => d.Number);
        e.Property(d => d.Number).ValueGeneratedNever();
        e.HasIndex(d => d.Id).IsUnique();
        e.HasIndex(d => d.Bag).IsUnique();
        e.OfDay(d => d.Day);
    }
}

internal sealed class HandOverRowTable : IEntityTypeConfiguration<HandOverRow>
{
    public void Configure(EntityTypeBuilder<HandOverRow> e)
    {
        e.HasKey(h => h.Number);
        e.Property(h => h.Number).ValueGeneratedNever();
        e.HasOne<DepositRow>().WithOne().HasForeignKey<HandOverRow>(h => h.Number).OnDelete(DeleteBehavior.Restrict);
    }
}

internal sealed class UnsealingRowTable : IEntityTypeConfiguration<UnsealingRow>
{
    public void Configure(EntityTypeBuilder<UnsealingRow> e)
    {
        e.HasKey(u => u.Number);
        e.Property(u => u.Number).ValueGeneratedNever();
        e.HasOne<DepositRow>().WithOne().HasForeignKey<UnsealingRow>(u => u.Number).OnDelete(DeleteBehavior.Restrict);
        e.OfDay(u => u.Day);
    }
}
