namespace Fondo.Core.SetUp;

/// <summary>What a person may do.</summary>
public enum Right
{
    /// <summary>Open registers, count drawers.</summary>
    Count,

    /// <summary>See what should be there, and what was found.</summary>
    Read,

    /// <summary>Take in, correct, resolve, approve, excuse, close, set up.</summary>
    Supervise,

    /// <summary>Make and change supervisors and managers.</summary>
    Manage,
}

/// <summary>Who may do what: the one table, asked by pages and by everything that writes.</summary>
public static class Rights
{
    private static readonly ImmutableArray<(Right Right, ImmutableArray<Role> Roles)> _table =
    [
        (Right.Count, [Role.Cashier, Role.Supervisor, Role.Manager]),
        (Right.Read, [Role.Supervisor, Role.Manager, Role.Auditor]),
        (Right.Supervise, [Role.Supervisor, Role.Manager]),
        (Right.Manage, [Role.Manager]),
    ];

    /// <summary>The roles that have a right.</summary>
    public static ImmutableArray<Role> Of(Right right) => _table.First(t => t.Right == right).Roles;

    public static bool May(this Person person, Right right) => Of(right).Contains(person.Role);
}
