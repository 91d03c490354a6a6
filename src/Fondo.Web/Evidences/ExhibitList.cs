using Fondo.Core.Evidence;
using Fondo.Core.SetUp;

namespace Fondo.Web.Evidences;

/// <summary>Things laid beside each other.</summary>
/// <param name="Named">How many there are; more than are shown, where there are very many.</param>
public sealed record ExhibitList(Setup Setup, IReadOnlyList<Exhibit> Shown, int Named);
