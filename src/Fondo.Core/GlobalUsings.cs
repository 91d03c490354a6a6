global using System.Collections.Immutable;
global using Fondo.Core.Amounts;
