using Fondo.Core.Amounts;
using Fondo.Core.Cash;
using Fondo.Core.Cells;
using Fondo.Core.Checks;
using Fondo.Core.Closing;
using Fondo.Core.Days;
using Fondo.Core.Entries;
using Fondo.Core.Journal;
using Fondo.Core.Leads;
using Fondo.Core.Matching;
using Fondo.Core.Proof;
using Fondo.Core.Reconciling;
using Fondo.Core.SetUp;
using Fondo.Core.Sheets;

namespace Fondo.Cli;

/// <summary>What every command answers to words it does not understand: exit status 2.</summary>
internal static class Usage
{
    public const int Refused = 2;

    public static int Fail(TextWriter error, string sentence)
    {
        error.WriteLine($"fondo: {sentence}");
        return Refused;
    }
}
