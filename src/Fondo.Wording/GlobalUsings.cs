global using Fondo.Core;
global using Fondo.Core.Amounts;
