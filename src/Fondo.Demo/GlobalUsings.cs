global using Fondo.Core;
global using Fondo.Wording;
