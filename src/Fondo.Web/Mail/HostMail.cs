namespace Fondo.Web.Mail;

/// <summary>The mail server that the host brings along: used where the store has none of its own.</summary>
public sealed class HostMail
{
    /// <summary>Null where it brings none.</summary>
    public MailServer? Server { get; set; }
}
