using Microsoft.EntityFrameworkCore;
using Microsoft.EntityFrameworkCore.Metadata.Builders;

namespace Fondo.Store.Model.Tables;

/// <summary>Entries and what persons say of a day.</summary>
internal sealed class EntryRowTable : IEntityTypeConfiguration<EntryRow>
{
    public void Configure(EntityTypeBuilder<EntryRow> e)
    {
        e.OfDay(x => x.Day);
        e.HasIndex(x => x.Reverses).IsUnique();
        e.HasOne<EntryRow>().WithMany().HasForeignKey(x => x.Reverses).OnDelete(DeleteBehavior.Restrict);
        e.HasMany(x => x.Postings).WithOne().HasForeignKey(p => p.EntryId);
        e.Navigation(x => x.Postings).AutoInclude();
        e.HasOne(x => x.Approval).WithOne().HasForeignKey<ApprovalRow>(a => a.EntryId);
    }
}

internal sealed class PostingRowTable : IEntityTypeConfiguration<PostingRow>
{
    public void Configure(EntityTypeBuilder<PostingRow> e)
    {
        e.HasKey(p => new { p.EntryId, p.Place });
        e.ComplexProperty(p => p.Amount, a => a.Property(m => m.Minor).HasColumnName("Amount"));
    }
}

internal sealed class ApprovalRowTable : IEntityTypeConfiguration<ApprovalRow>
{
    public void Configure(EntityTypeBuilder<ApprovalRow> e) => e.HasKey(a => a.EntryId);
}

internal sealed class AttachmentRowTable : IEntityTypeConfiguration<AttachmentRow>
{
    public void Configure(EntityTypeBuilder<AttachmentRow> e)
    {
        e.Property(a => a.Id).ValueGeneratedNever();
        e.HasOne<EntryRow>().WithMany().HasForeignKey(a => a.EntryId).OnDelete(DeleteBehavior.Restrict);
        e.OfDay(a => a.Day);
    }
}

internal sealed class PairingRowTable : IEntityTypeConfiguration<PairingRow>
{
    public void Configure(EntityTypeBuilder<PairingRow> e)
    {
        e.HasKey(p => p.Number);
        e.HasIndex(p => p.Id).IsUnique();
        e.OfDay(p => p.Day);
    }
}

internal sealed class AnswerRowTable : IEntityTypeConfiguration<AnswerRow>
{
    public void Configure(EntityTypeBuilder<AnswerRow> e)
    {
        e.HasKey(a => a.Number);
        e.OfDay(a => a.Day);
    }
}

internal sealed class ExcuseRowTable : IEntityTypeConfiguration<ExcuseRow>
{
    public void Configure(EntityTypeBuilder<ExcuseRow> e)
    {
        e.HasKey(x => new { x.Day, x.Gate, x.Item, x.Seen });
        e.OfDay(x => x.Day);
    }
}

internal sealed class SignOffRowTable : IEntityTypeConfiguration<SignOffRow>
{
    public void Configure(EntityTypeBuilder<SignOffRow> e)
    {
        e.HasKey(s => s.Number);
        e.OfDay(s => s.Day);
    }
}
