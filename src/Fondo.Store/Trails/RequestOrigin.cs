namespace Fondo.Store.Trails;

/// <summary>From where something is done, and by whom where the rows themselves do not say so.</summary>
public sealed class RequestOrigin
{
    /// <summary>What Fondo does by itself is done by it, on its own machine.</summary>
    public const string Itself = "fondo";

    public string Machine { get; set; } = Itself;

    public string By { get; set; } = Itself;

    /// <summary>Whether a person waits for it.</summary>
    public bool IsPerson { get; set; }

    /// <summary>The network address; that of the machine itself where Fondo runs.</summary>
    public string Address { get; set; } = Itself;

    /// <summary>Whether the store knows this machine: its own one, or one that was paired.</summary>
    public bool IsPaired { get; set; } = true;
}
