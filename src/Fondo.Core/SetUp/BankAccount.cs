namespace Fondo.Core.SetUp;

/// <summary>An account of the store at a bank.</summary>
/// <param name="Number">As its statements name it.</param>
/// <param name="Name">As people call it; null where the number is enough.</param>
/// <param name="Account">Where in the store's books its lines are posted; null: where the use "bank" says.</param>
public sealed record BankAccount(string Number, string? Name, string? Account);
