using Microsoft.AspNetCore.Mvc.Testing;

namespace AnchorBend.Server.Tests;

/// <summary>A server of its own with an empty folder for each test.</summary>
public abstract class ServerTest : IDisposable
{
    readonly string folder = Directory.CreateTempSubdirectory("anchor-bend-server-").FullName;
    readonly WebApplicationFactory<Program> factory;

    protected ServerTest()
    {
        factory = new WebApplicationFactory<Program>().WithWebHostBuilder(b => b.UseSetting("data", folder));
        Client = factory.CreateClient();
    }

    protected HttpClient Client { get; }

    public void Dispose()
    {
        Client.Dispose();
        factory.Dispose();
        Microsoft.Data.Sqlite.SqliteConnection.ClearAllPools();
        Directory.Delete(folder, true);
        GC.SuppressFinalize(this);
    }
}
