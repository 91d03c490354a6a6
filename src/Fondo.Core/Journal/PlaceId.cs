namespace Fondo.Core.Journal;

/// <summary>Where the store's money is, outside of what registers took: these stand where a tender's id stands, and begin with a sign that
/// no tender's id can have.</summary>
public static class PlaceId
{
    public static readonly TenderId Safe = new("@safe"), Bag = new("@bag"), Float = new("@float"), Deposit = new("@deposit"),
        BankLine = new("@bank"), Funding = new("@funding");

    public static bool IsPlace(this TenderId id) => id.Value.StartsWith('@');
}
