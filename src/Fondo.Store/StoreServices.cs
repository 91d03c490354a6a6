using Fondo.Store.Days;
using Fondo.Store.Intake;
using Fondo.Store.Keeping;
using Fondo.Store.Mappings;
using Fondo.Store.Model;
using Fondo.Store.People;
using Fondo.Store.Search;
using Fondo.Store.Settling;
using Fondo.Store.SetUp;
using Fondo.Store.Trails;
using Fondo.Store.Treasury;
using Microsoft.Extensions.DependencyInjection;
using Microsoft.Extensions.DependencyInjection.Extensions;

namespace Fondo.Store;

public static class StoreServices
{
    /// <summary>Everything of the store, on the SQLite database that the connection names.</summary>
    public static IServiceCollection AddFondoStore(this IServiceCollection services, string connection)
    {
        services.TryAddSingleton(TimeProvider.System);
        services.AddSingleton<WritersInLine>().AddSingleton(s => s.GetRequiredService<WritersInLine>().Commits).AddScoped<RequestOrigin>()
            .AddScoped<TrailBeginning>().AddScoped<Verification>().AddScoped<TrailReading>().AddSingleton<PairingCodes>()
            .AddScoped<Machines>();
        services.AddDbContext<StoreContext>(o => StoreContext.Configure(o, connection));
        services.AddSingleton(_ => new DayCache()).AddSingleton<ClosedDocuments>().AddSingleton<DayRefresh>();
        services.AddScoped<StoredRecords>().AddScoped<LateTickets>().AddScoped<DayStore>().AddScoped<DayLock>().AddScoped<DayIntake>()
            .AddScoped<Opening>().AddScoped<Floats>().AddScoped<Sightings>().AddScoped<MappingBook>().AddScoped<MappedIntake>()
            .AddScoped<MachineDesk>().AddScoped<SettlementDesk>().AddScoped<BatchIntake>().AddScoped<PrintedDesk>().AddScoped<Counting>()
            .AddScoped<Resolving>().AddScoped<ClosingDesk>().AddScoped<CarryOver>().AddScoped<CarriedRecords>().AddScoped<CloseOrder>()
            .AddScoped<TradeBegins>().AddScoped<MoneyBook>().AddScoped<CustomerBook>().AddScoped<CustomerList>().AddScoped<SpanBook>()
            .AddScoped<SafeDesk>().AddScoped<DepositDesk>().AddScoped<BankDesk>().AddScoped<StatementBook>().AddScoped<StatementIntake>()
            .AddScoped<PairingDesk>().AddScoped<Attachments>();
        services.AddScoped<SetupBook>().AddScoped<JournalIntake>().AddScoped<EventIndex>().AddScoped<Numbering>().AddScoped<TicketSearch>()
            .AddScoped<BatchSearch>().AddScoped<Referrals>().AddScoped<Waiting>()
            .AddScoped<ImportedFiles>().AddScoped<RegisterKeys>().AddScoped<PersonsWord>()
            .AddScoped<Sources>().AddScoped<HeldFiles>().AddScoped<PersonsFiles>();
        services.AddSingleton<TriesOnFullDisk>().AddScoped<PinSignIn>().AddScoped<PeopleRegister>()
            .AddScoped<NewPeople>().AddScoped<LastCame>();
        services.AddIdentityCore<StorePerson>(o => o.User.RequireUniqueEmail = false).AddEntityFrameworkStores<StoreContext>();
        return services;
    }
}
