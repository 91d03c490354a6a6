global using Fondo.Wording;
