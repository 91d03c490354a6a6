using System.Security.Cryptography;
using System.Text;
using Fondo.Core.Entries;
using Fondo.Core.Journal;

namespace Fondo.Core.Closing;

/// <summary>A register that somebody signed off in the course of the evening, with its figures as they were then.</summary>
/// <param name="Figures">As <see cref="FiguresOf"/> said.</param>
public sealed record SignOff(RegisterId Register, string Figures, PersonId By, DateTimeOffset At)
{
    /// <summary>What a register's cells come to, as one text: any change of a figure, a state or an entry makes it another. SHA-256,
    /// lower-case hexadecimal.</summary>
    public static string FiguresOf(RegisterId register, IEnumerable<Bridge> bridges)
    {
        var text = new StringBuilder();
        foreach (var bridge in bridges.Where(b => b.Cell.Key.Register == register).OrderBy(b => b.Cell.Key))
        {
            text.Append(System.Globalization.CultureInfo.InvariantCulture,
                $"{bridge.Cell.Key} {bridge.Cell.Expected.Minor} {bridge.Cell.ExpectedCount} {bridge.Cell.Proof?.Minor} "
                    + $"{bridge.Cell.ProofCount} {bridge.Explained.Minor} {bridge.Pending.Minor} {bridge.Cell.State.Written()}\n");
        }

        return Convert.ToHexStringLower(SHA256.HashData(Encoding.UTF8.GetBytes(text.ToString())));
    }
}
