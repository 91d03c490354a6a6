using Fondo.Files.Reading;
using Microsoft.EntityFrameworkCore;
using Microsoft.EntityFrameworkCore.Metadata.Builders;

namespace Fondo.Store.Model.Tables;

/// <summary>What came in, and what waits of it.</summary>
internal sealed class SetupRowTable : IEntityTypeConfiguration<SetupRow>
{
    public void Configure(EntityTypeBuilder<SetupRow> e)
    {
        e.HasIndex(s => s.From);
        e.HasOne(s => s.Approval).WithOne().HasForeignKey<SetupApprovalRow>(a => a.SetupId);
    }
}

internal sealed class SetupApprovalRowTable : IEntityTypeConfiguration<SetupApprovalRow>
{
    public void Configure(EntityTypeBuilder<SetupApprovalRow> e)
    {
        e.HasKey(a => a.SetupId);
        e.Property(a => a.SetupId).ValueGeneratedNever();
    }
}

internal sealed class RegisterKeyRowTable : IEntityTypeConfiguration<RegisterKeyRow>
{
    public void Configure(EntityTypeBuilder<RegisterKeyRow> e) => e.HasIndex(k => k.Hash).IsUnique();
}

internal sealed class AsideRowTable : IEntityTypeConfiguration<AsideRow>
{
    public void Configure(EntityTypeBuilder<AsideRow> e)
    {
        e.Property(a => a.Kind).HasDefaultValue(RecordKind.Event).HasSentinel((RecordKind)(-1));
        e.HasIndex(a => a.Key);
        e.HasIndex(a => a.Register);
        e.HasIndex(a => a.WaitsFor).HasFilter("WaitsFor IS NOT NULL");
        e.HasIndex(a => a.Id, "IX_Aside_Undecided").HasFilter("Decision IS NULL");
    }
}

internal sealed class GapRowTable : IEntityTypeConfiguration<GapRow>
{
    public void Configure(EntityTypeBuilder<GapRow> e) => e.HasIndex(g => g.Register);
}

internal sealed class LateTicketRowTable : IEntityTypeConfiguration<LateTicketRow>
{
    public void Configure(EntityTypeBuilder<LateTicketRow> e)
    {
        e.HasKey(t => t.Ticket);
        e.HasIndex(t => t.RungOn);
        e.OfDay(t => t.CountsOn);
    }
}

internal sealed class MappingRowTable : IEntityTypeConfiguration<MappingRow>
{
    public void Configure(EntityTypeBuilder<MappingRow> e) => e.HasIndex(m => m.Name);
}

internal sealed class HeldFilesRowTable : IEntityTypeConfiguration<HeldFilesRow>
{
    public void Configure(EntityTypeBuilder<HeldFilesRow> e) => e.Property(h => h.Id).ValueGeneratedNever();
}

internal sealed class HeldAgreementRowTable : IEntityTypeConfiguration<HeldAgreementRow>
{
    public void Configure(EntityTypeBuilder<HeldAgreementRow> e)
    {
        e.HasKey(a => a.Number);
        e.HasOne<HeldFilesRow>().WithMany().HasForeignKey(a => a.Held).OnDelete(DeleteBehavior.Restrict);
    }
}

internal sealed class HeldEndRowTable : IEntityTypeConfiguration<HeldEndRow>
{
    public void Configure(EntityTypeBuilder<HeldEndRow> e)
    {
        e.HasKey(h => h.Held);
        e.Property(h => h.Held).ValueGeneratedNever();
        e.HasOne<HeldFilesRow>().WithOne().HasForeignKey<HeldEndRow>(h => h.Held).OnDelete(DeleteBehavior.Restrict);
    }
}

internal sealed class FileChangeRowTable : IEntityTypeConfiguration<FileChangeRow>
{
    public void Configure(EntityTypeBuilder<FileChangeRow> e)
    {
        e.HasKey(c => c.Number);
        e.OfDay(c => c.Day);
    }
}
