global using Fondo.Demo;
global using Fondo.Wording;
