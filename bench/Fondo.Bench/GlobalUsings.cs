global using Fondo.Core;
