using Fondo.Demo;
using Fondo.Web.Hosting;

return await StoreServer.Run(args, new DemoParts());
