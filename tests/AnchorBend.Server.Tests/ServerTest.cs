using System.Net.Http.Json;
using System.Text.Json;
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

    /// <summary>The answer to a body that is taken.</summary>
    protected async Task<JsonElement> Post(string path, object body)
    {
        var response = await Client.PostAsJsonAsync(path, body);
        Assert.True(response.IsSuccessStatusCode, await response.Content.ReadAsStringAsync());
        return await response.Content.ReadFromJsonAsync<JsonElement>();
    }

    protected Task<JsonElement> Get(string path) => Client.GetFromJsonAsync<JsonElement>(path);

    public void Dispose()
    {
        Client.Dispose();
        factory.Dispose();
        Microsoft.Data.Sqlite.SqliteConnection.ClearAllPools();
        Directory.Delete(folder, true);
        GC.SuppressFinalize(this);
    }
}
