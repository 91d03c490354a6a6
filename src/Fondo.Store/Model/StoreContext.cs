using System.Collections.Frozen;
using Fondo.Core.Checks;
using Fondo.Core.Closing;
using Fondo.Core.Custody;
using Fondo.Core.Days;
using Fondo.Core.Entries;
using Fondo.Core.Journal;
using Fondo.Core.SetUp;
using Fondo.Files.Reading;
using Fondo.Store.Model.Tables;
using Fondo.Store.Trails;
using Microsoft.AspNetCore.Identity.EntityFrameworkCore;
using Microsoft.EntityFrameworkCore;
using Microsoft.EntityFrameworkCore.Storage.ValueConversion;
using Microsoft.Extensions.Logging;
using Microsoft.Extensions.Logging.Abstractions;

namespace Fondo.Store.Model;

public sealed class StoreContext : IdentityUserContext<StorePerson>
{
    private readonly RequestOrigin _here;
    private readonly WritersInLine _queue;
    private readonly TimeProvider _clock;
    private readonly ILogger _security;

    /// <summary>The name under which what concerns security is logged.</summary>
    public const string Security = "Fondo.Security";

    public StoreContext(DbContextOptions<StoreContext> options)
        : this(options, new(), WritersInLine.Alone, TimeProvider.System, NullLoggerFactory.Instance)
    {
    }

    /// <param name="here">From where, and by whom, this is written: the trail says so.</param>
    /// <param name="queue">The line in which those who write stand.</param>
    public StoreContext(DbContextOptions<StoreContext> options, RequestOrigin here, WritersInLine queue, TimeProvider clock,
        ILoggerFactory logs)
        : base(options) => (_here, _queue, _clock, _security) = (here, queue, clock, logs.CreateLogger(Security));

    public DbSet<DayRow> Days => Set<DayRow>();

    public DbSet<RecordRow> Records => Set<RecordRow>();

    /// <summary>The records that count: of each key the latest version, unless that is empty because a person set it aside or took its file
    /// back.</summary>
    public IQueryable<RecordRow> StandingRecords => Records.AsNoTracking().Where(r => r.Json != ""
        && !Records.Any(later => later.Day == r.Day && later.Kind == r.Kind && later.Key == r.Key && later.Version > r.Version));

    public DbSet<OpenIntakeRow> OpenIntakes => Set<OpenIntakeRow>();

    public DbSet<SetupRow> Setups => Set<SetupRow>();

    public DbSet<EventRow> Events => Set<EventRow>();

    public DbSet<TenderRow> Tenders => Set<TenderRow>();

    public DbSet<RegisterKeyRow> RegisterKeys => Set<RegisterKeyRow>();

    public DbSet<AsideRow> Aside => Set<AsideRow>();

    public DbSet<GapRow> Gaps => Set<GapRow>();

    public DbSet<CountDraft> CountDrafts => Set<CountDraft>();

    public DbSet<EntryRow> Entries => Set<EntryRow>();

    public DbSet<ExcuseRow> Excuses => Set<ExcuseRow>();

    public DbSet<CloseRow> Closes => Set<CloseRow>();

    /// <summary>The closes that were not opened again: at most one of a day.</summary>
    public IQueryable<CloseRow> StandingCloses => Closes.Where(c => !Reopenings.Any(r => r.Number == c.Number));

    public DbSet<ReopeningRow> Reopenings => Set<ReopeningRow>();

    public DbSet<PairingRow> Pairings => Set<PairingRow>();

    public DbSet<AnswerRow> Answers => Set<AnswerRow>();

    public DbSet<SignOffRow> SignOffs => Set<SignOffRow>();

    public DbSet<CarryChangeRow> CarryChanges => Set<CarryChangeRow>();

    public DbSet<AttachmentRow> Attachments => Set<AttachmentRow>();

    public DbSet<SafeMovementRow> SafeMovements => Set<SafeMovementRow>();

    public DbSet<ChangeOrderRow> ChangeOrders => Set<ChangeOrderRow>();

    public DbSet<DepositRow> Deposits => Set<DepositRow>();

    public DbSet<HandOverRow> HandOvers => Set<HandOverRow>();

    public DbSet<UnsealingRow> Unsealings => Set<UnsealingRow>();

    public DbSet<BankStatementRow> BankStatements => Set<BankStatementRow>();

    public DbSet<BankLineRow> BankLines => Set<BankLineRow>();

    public DbSet<MailServerRow> MailServers => Set<MailServerRow>();

    public DbSet<MailRow> Mails => Set<MailRow>();

    public DbSet<MailAttemptRow> MailAttempts => Set<MailAttemptRow>();

    public DbSet<BankDecisionRow> BankDecisions => Set<BankDecisionRow>();

    public DbSet<StatementWithdrawalRow> StatementWithdrawals => Set<StatementWithdrawalRow>();

    public DbSet<BankLineDayRow> BankLineDays => Set<BankLineDayRow>();

    public DbSet<CustomerMovementRow> CustomerMovements => Set<CustomerMovementRow>();

    public DbSet<HeldFilesRow> HeldFiles => Set<HeldFilesRow>();

    public DbSet<HeldAgreementRow> HeldAgreements => Set<HeldAgreementRow>();

    public DbSet<HeldEndRow> HeldEnds => Set<HeldEndRow>();

    public DbSet<FileChangeRow> FileChanges => Set<FileChangeRow>();

    public DbSet<CorrectionRow> Corrections => Set<CorrectionRow>();

    public DbSet<LateTicketRow> LateTickets => Set<LateTicketRow>();

    public DbSet<SeenRow> Seen => Set<SeenRow>();

    public DbSet<MachineReadingRow> MachineReadings => Set<MachineReadingRow>();

    public DbSet<SettlementRow> Settlements => Set<SettlementRow>();

    public DbSet<SettlementStepRow> SettlementSteps => Set<SettlementStepRow>();

    public DbSet<MappingRow> Mappings => Set<MappingRow>();

    public DbSet<TrailRow> Trail => Set<TrailRow>();

    public DbSet<SessionRow> Sessions => Set<SessionRow>();

    public DbSet<MachineRow> Machines => Set<MachineRow>();

    public DbSet<PinTryRow> PinTries => Set<PinTryRow>();

    public static void Configure(DbContextOptionsBuilder options, string connection) => options
        // A list of keys goes as one value: with a parameter for each, the time of thousands grows by their square.
        .UseSqlite(connection, sqlite => sqlite.UseParameterizedCollectionMode(ParameterTranslationMode.Parameter))
        .AddInterceptors(new SqlitePragmas(), new CommitInterceptor());

    /// <summary>Begins to write, once it is one's turn: persons wait for what is under way, and for nobody else.</summary>
    public async Task<Writing> BeginWriting(CancellationToken cancel = default)
    {
        var turn = await _queue.Enter(_here.IsPerson);
        try
        {
            return new(turn, await Database.BeginTransactionAsync(cancel));
        }
        catch
        {
            turn.Dispose();
            throw;
        }
    }

    /// <summary>One small thing that is written by itself.</summary>
    public async Task<T> InTurn<T>(Func<Task<T>> write)
    {
        await using var own = Database.CurrentTransaction is null ? await BeginWriting() : null;
        var result = await write();
        if (own is not null)
        {
            await own.CommitAsync();
        }

        return result;
    }

    /// <summary>Rows that days do not look at, or that count by the revision of their day.</summary>
    private static readonly FrozenSet<Type> _beside =
    [
        typeof(RecordRow), typeof(EventRow), typeof(TenderRow), typeof(DayRow), typeof(OpenIntakeRow), typeof(AsideRow), typeof(CountDraft),
        typeof(TrailRow), typeof(SeenRow),
        typeof(SessionRow), typeof(PinTryRow), typeof(RegisterKeyRow), typeof(MachineReadingRow), typeof(SettlementRow),
        typeof(SettlementStepRow), typeof(AttachmentRow), typeof(HeldFilesRow), typeof(HeldAgreementRow), typeof(HeldEndRow),
    ];

    private bool _isSaidOtherwise;

    /// <summary>What was written is there for all.</summary>
    internal void Committed()
    {
        if (_isSaidOtherwise)
        {
            _isSaidOtherwise = false;
            _queue.Commits.Note();
        }
    }

    /// <summary>Everything that is added goes into the trail within the same transaction.</summary>
    public override async Task<int> SaveChangesAsync(bool acceptAllChangesOnSuccess, CancellationToken cancellationToken = default)
    {
        ChangeTracker.DetectChanges();
        var written = TrailTables.Acts(ChangeTracker);
        _isSaidOtherwise |= ChangeTracker.Entries()
            .Any(e => e.State is EntityState.Added or EntityState.Modified or EntityState.Deleted && !_beside.Contains(e.Metadata.ClrType));
        if (written.Count == 0)
        {
            var plain = await base.SaveChangesAsync(acceptAllChangesOnSuccess, cancellationToken);
            if (Database.CurrentTransaction is null)
            {
                Committed();
            }

            return plain;
        }

        await using var own = Database.CurrentTransaction is null ? await BeginWriting(cancellationToken) : null;
        var saved = await base.SaveChangesAsync(acceptAllChangesOnSuccess, cancellationToken);
        await Note([.. written.Select(w => w())]);
        if (own is not null)
        {
            await own.CommitAsync(cancellationToken);
        }

        return saved;
    }

    /// <summary>Appends acts to the trail, within the transaction that is there or one of their own.</summary>
    public async Task Note(params IReadOnlyList<Act> acts)
    {
        await using var own = Database.CurrentTransaction is null ? await BeginWriting() : null;
        await TrailWriter.Append(this, acts, _here, _clock.GetUtcNow());
        foreach (var act in acts.Where(a => _concernsSecurity.Contains(a.What)))
        {
            _security.LogInformation("{Act}: {By} at {Machine}, on {On}: {Says}", act.What.Written(), act.By ?? _here.By, _here.Machine,
                act.On, act.Says);
        }

        if (own is not null)
        {
            await own.CommitAsync();
        }
    }

    private static readonly FrozenSet<TrailAct> _concernsSecurity =
    [
        TrailAct.SignIn, TrailAct.SignOut, TrailAct.Refused, TrailAct.Person, TrailAct.Pin, TrailAct.Machine, TrailAct.Key,
        TrailAct.RevokeKey, TrailAct.Setup, TrailAct.ApproveSetup,
    ];

    protected override void ConfigureConventions(ModelConfigurationBuilder configurationBuilder)
    {
        configurationBuilder.Properties<DateTimeOffset>().HaveConversion<UtcTicks>();
        configurationBuilder.Properties<RecordKind>().HaveConversion<WrittenName<RecordKind>>();
        configurationBuilder.Properties<EventKind>().HaveConversion<WrittenName<EventKind>>();
        configurationBuilder.Properties<EntryKind>().HaveConversion<WrittenName<EntryKind>>();
        configurationBuilder.Properties<GateId>().HaveConversion<WrittenName<GateId>>();
        configurationBuilder.Properties<Role>().HaveConversion<WrittenName<Role>>();
        configurationBuilder.Properties<TrailAct>().HaveConversion<WrittenName<TrailAct>>();
        configurationBuilder.Properties<SettlementState>().HaveConversion<WrittenName<SettlementState>>();
        configurationBuilder.Properties<MailSecurity>().HaveConversion<WrittenName<MailSecurity>>();
        configurationBuilder.Properties<Core.Banking.BankDecisionKind>().HaveConversion<WrittenName<Core.Banking.BankDecisionKind>>();
        configurationBuilder.Properties<PairingKind>().HaveConversion<WrittenName<PairingKind>>();
        configurationBuilder.Properties<Remedy>().HaveConversion<WrittenName<Remedy>>();
        configurationBuilder.Properties<FindingCode>().HaveConversion<WrittenName<FindingCode>>();
        configurationBuilder.Properties<SafeMovementKind>().HaveConversion<WrittenName<SafeMovementKind>>();
        configurationBuilder.Properties<PlainKeys>().HaveConversion<WrittenName<PlainKeys>>();
    }

    protected override void OnModelCreating(ModelBuilder builder)
    {
        base.OnModelCreating(builder);
        builder.ApplyConfigurationsFromAssembly(typeof(StoreContext).Assembly);
        // These leave out what an unfinished import wrote, and ask this context for it.
        builder.Entity<RecordRow>(e =>
        {
            e.HasQueryFilter(r => !OpenIntakes.Any(o => r.Id >= o.First && r.Id <= o.Last));
            e.HasIndex(r => new { r.Day, r.Kind, r.Key, r.Version }).IsUnique();
            e.HasIndex(r => new { r.Day, r.TakenBy, r.File }, "IX_Records_Files").HasFilter("File IS NOT NULL");
            e.HasIndex(r => r.Day, "IX_Records_Later").HasFilter("Version > 1");
            e.Property(r => r.Version).HasDefaultValue(1);
            e.OfDay(r => r.Day);
        });
        builder.Entity<EventRow>(e =>
        {
            e.HasQueryFilter(x => !OpenIntakes.Any(o => x.Id >= o.First && x.Id <= o.Last));
            e.Property(x => x.Id).ValueGeneratedNever();
            e.HasIndex(x => x.Key).IsUnique();
            e.HasOne<RecordRow>().WithOne().HasForeignKey<EventRow>(x => x.Id).OnDelete(DeleteBehavior.Restrict);
            e.HasIndex(x => new { x.Register, x.At });
            e.HasIndex(x => x.At);
            e.HasIndex(x => new { x.Day, x.Drawer, x.At });
            e.HasIndex(x => new { x.Day, x.Drawer }, "IX_Events_Opens").HasFilter("Kind = 'open'");
            e.HasIndex(x => new { x.Day, x.Drawer, x.At }, "IX_Events_Closes").HasFilter("Kind = 'close'");
            e.HasIndex(x => new { x.Number, x.Register });
            e.HasIndex(x => x.Amount);
            e.HasIndex(x => x.Cashier);
            e.HasIndex(x => x.Original).HasFilter("Original IS NOT NULL");
        });
        builder.Entity<TenderRow>(e =>
        {
            e.HasQueryFilter(t =>
                !OpenIntakes.Any(o => t.Id / TenderRow.PlacesOfATicket >= o.First && t.Id / TenderRow.PlacesOfATicket <= o.Last));
            e.Property(x => x.Id).ValueGeneratedNever();
            e.HasIndex(x => x.Amount);
            e.HasIndex(x => x.LastFour).HasFilter("LastFour IS NOT NULL");
            e.HasIndex(x => x.Approval).HasFilter("Approval IS NOT NULL");
            e.HasIndex(x => x.Name).HasFilter("Name IS NOT NULL");
            e.HasIndex(x => x.Number).HasFilter("Number IS NOT NULL");
        });
    }
}

/// <summary>Times as UTC ticks: sortable and comparable in the database.</summary>
public sealed class UtcTicks() : ValueConverter<DateTimeOffset, long>(at => at.UtcTicks, ticks => new DateTimeOffset(ticks, TimeSpan.Zero));
