using Microsoft.EntityFrameworkCore;
using Microsoft.EntityFrameworkCore.Metadata.Builders;

namespace Fondo.Store.Model.Tables;

/// <summary>Statements of the bank, their lines, and mail.</summary>
internal sealed class BankStatementRowTable : IEntityTypeConfiguration<BankStatementRow>
{
    public void Configure(EntityTypeBuilder<BankStatementRow> e) => e.HasKey(s => s.Id);
}

internal sealed class BankLineRowTable : IEntityTypeConfiguration<BankLineRow>
{
    public void Configure(EntityTypeBuilder<BankLineRow> e)
    {
        e.HasKey(l => l.Key);
        e.HasOne<BankStatementRow>().WithMany().HasForeignKey(l => l.Statement).OnDelete(DeleteBehavior.Restrict);
        e.HasIndex(l => l.Waits).HasFilter("Waits");
        e.HasIndex(l => l.Booked);
        e.OfDay(l => l.Day);
    }
}

internal sealed class BankDecisionRowTable : IEntityTypeConfiguration<BankDecisionRow>
{
    public void Configure(EntityTypeBuilder<BankDecisionRow> e)
    {
        e.HasKey(d => d.Number);
        e.HasIndex(d => d.Id).IsUnique();
        e.OfDay(d => d.Day);
    }
}

internal sealed class StatementWithdrawalRowTable : IEntityTypeConfiguration<StatementWithdrawalRow>
{
    public void Configure(EntityTypeBuilder<StatementWithdrawalRow> e)
    {
        e.HasKey(w => w.Statement);
        e.HasOne<BankStatementRow>().WithOne().HasForeignKey<StatementWithdrawalRow>(w => w.Statement)
            .OnDelete(DeleteBehavior.Restrict);
    }
}

internal sealed class BankLineDayRowTable : IEntityTypeConfiguration<BankLineDayRow>
{
    public void Configure(EntityTypeBuilder<BankLineDayRow> e)
    {
        e.HasKey(l => l.Key);
        e.HasOne<BankLineRow>().WithOne().HasForeignKey<BankLineDayRow>(l => l.Key).OnDelete(DeleteBehavior.Restrict);
        e.OfDay(l => l.Day);
    }
}

internal sealed class MailServerRowTable : IEntityTypeConfiguration<MailServerRow>
{
    public void Configure(EntityTypeBuilder<MailServerRow> e) => e.HasKey(s => s.Number);
}

internal sealed class MailRowTable : IEntityTypeConfiguration<MailRow>
{
    public void Configure(EntityTypeBuilder<MailRow> e) => e.HasKey(m => m.Id);
}

internal sealed class MailAttemptRowTable : IEntityTypeConfiguration<MailAttemptRow>
{
    public void Configure(EntityTypeBuilder<MailAttemptRow> e)
    {
        e.HasKey(a => a.Number);
        e.HasIndex(a => a.Mail);
        e.HasOne<MailRow>().WithMany().HasForeignKey(a => a.Mail).OnDelete(DeleteBehavior.Restrict);
    }
}
