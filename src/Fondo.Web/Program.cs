using Fondo.Web.Hosting;

return await StoreServer.Run(args);
