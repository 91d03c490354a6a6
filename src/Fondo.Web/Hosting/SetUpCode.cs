using System.Globalization;
using System.Security.Cryptography;
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

namespace Fondo.Web.Hosting;

/// <summary>The one-time code that proves the person at the set-up page also sees the console.</summary>
internal sealed class SetUpCode
{
    public string Value { get; } = RandomNumberGenerator.GetInt32(100_000_000).ToString("0000 0000", CultureInfo.InvariantCulture);

    public bool Fits(string? typed) => string.Equals(typed?.Replace(" ", "", StringComparison.Ordinal), Value.Replace(" ", "", StringComparison.Ordinal), StringComparison.Ordinal);
}
