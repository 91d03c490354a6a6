using Microsoft.EntityFrameworkCore;
using Microsoft.EntityFrameworkCore.Metadata.Builders;

namespace Fondo.Store.Model.Tables;

/// <summary>People, their sessions, and the audit trail.</summary>
internal sealed class StorePersonTable : IEntityTypeConfiguration<StorePerson>
{
    public void Configure(EntityTypeBuilder<StorePerson> e)
    {
        e.HasIndex(p => p.PersonId).IsUnique();
        e.Property(p => p.PlainKeys).HasDefaultValue(PlainKeys.On).HasSentinel((PlainKeys)(-1));
    }
}

internal sealed class SessionRowTable : IEntityTypeConfiguration<SessionRow>
{
    public void Configure(EntityTypeBuilder<SessionRow> e)
    {
        e.HasKey(s => s.Hash);
        e.HasIndex(s => s.Person);
    }
}

internal sealed class MachineRowTable : IEntityTypeConfiguration<MachineRow>
{
    public void Configure(EntityTypeBuilder<MachineRow> e) => e.HasIndex(m => m.Hash).IsUnique();
}

internal sealed class PinTryRowTable : IEntityTypeConfiguration<PinTryRow>
{
    public void Configure(EntityTypeBuilder<PinTryRow> e) => e.HasKey(t => new { t.Person, t.Address });
}

internal sealed class TrailRowTable : IEntityTypeConfiguration<TrailRow>
{
    public void Configure(EntityTypeBuilder<TrailRow> e)
    {
        e.HasKey(t => t.Number);
        e.Property(t => t.Number).ValueGeneratedNever();
        e.HasIndex(t => new { t.By, t.Act, t.Number }, "IX_Trail_SignIns").HasFilter("Act IN ('sign-in', 'refused')");
    }
}
