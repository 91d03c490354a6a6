global using System.Globalization;
global using System.Net;
