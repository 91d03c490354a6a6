global using Fondo.Core.Amounts;
global using Fondo.Core.Days;
global using Fondo.Core.Journal;
global using Fondo.Core.Proof;
global using Fondo.Core.SetUp;
global using Fondo.Core;
global using Fondo.Wording;
global using System.Collections.Immutable;
