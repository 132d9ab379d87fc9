using System.Net;
using System.Net.Http.Json;
using System.Text;
using System.Text.Json;
using AnchorBend.Server.Storage;
using AnchorBend.Workbench.People;
using Dapper;
using Microsoft.AspNetCore.Mvc.Testing;
using Microsoft.Extensions.DependencyInjection;

namespace AnchorBend.Server.Tests;

/// <summary>What one account may have: room on the disk, and runs under way. Others do not feel it.</summary>
public sealed class AccountBudgetTests : IDisposable
{
    const string Password = "kelp and cold water";

    readonly string folder = Directory.CreateTempSubdirectory("anchor-bend-budget-").FullName;
    readonly WebApplicationFactory<Program> factory;

    public AccountBudgetTests() =>
        factory = new WebApplicationFactory<Program>().WithWebHostBuilder(b =>
            b.UseSetting("data", folder).UseSetting("sign-in", "true").UseSetting("room-per-account", "1")
        );

    public void Dispose()
    {
        factory.Dispose();
        Microsoft.Data.Sqlite.SqliteConnection.ClearAllPools();
        Directory.Delete(folder, true);
    }

    async Task<HttpClient> Signed(string name)
    {
        var browser = factory.CreateClient();
        var code = factory.Services.GetRequiredService<SignInWork>().Invite();
        var first = await browser.PostAsJsonAsync(
            "/api/sign-in/first",
            new
            {
                code,
                name,
                password = Password,
            }
        );
        Assert.True(first.IsSuccessStatusCode, await first.Content.ReadAsStringAsync());
        return browser;
    }

    async Task<HttpClient> Member(HttpClient administrator, string name)
    {
        var made = await administrator.PostAsJsonAsync(
            "/api/people/accounts",
            new
            {
                name,
                password = Password,
                isAdministrator = false,
            }
        );
        Assert.True(made.IsSuccessStatusCode);
        var browser = factory.CreateClient();
        Assert.True((await browser.PostAsJsonAsync("/api/sign-in", new { name, password = Password })).IsSuccessStatusCode);
        return browser;
    }

    /// <summary>A shape of as many triangles, all of them different; packed it takes some 30 bytes each.</summary>
    static Task<HttpResponseMessage> Shape(HttpClient browser, int triangles, int seed)
    {
        var random = new Random(seed);
        var text = new StringBuilder("solid s\n");
        for (var n = 0; n < triangles; n++)
        {
            text.Append("facet normal 0 0 1\nouter loop\n");
            for (var corner = 0; corner < 3; corner++)
                text.Append($"vertex {random.NextDouble():R} {random.NextDouble():R} {random.NextDouble():R}\n");
            text.Append("endloop\nendfacet\n");
        }

        var content = new ByteArrayContent(Encoding.ASCII.GetBytes(text.Append("endsolid s\n").ToString()));
        content.Headers.ContentType = new("application/octet-stream");
        return browser.PostAsync("/api/meshes?name=s.stl", content);
    }

    [Fact]
    public async Task Nobody_fills_the_disk_for_the_others()
    {
        var ines = await Signed("ines");
        var mats = await Member(ines, "mats");
        var count = 0;
        HttpResponseMessage answer;
        do answer = await Shape(mats, 4000, count++);
        while (answer.IsSuccessStatusCode && count < 40);
        Assert.Equal(HttpStatusCode.UnprocessableEntity, answer.StatusCode);
        var said = await answer.Content.ReadFromJsonAsync<JsonElement>();
        Assert.Contains("more than the 1024 KiB that each may keep", said.GetProperty("detail").GetString());
        Assert.Contains("Give up runs that you keep", said.GetProperty("advice").GetString());
        Assert.InRange(count, 3, 39);
        // What is there already takes no more room; others have theirs.
        Assert.True((await Shape(mats, 4000, 0)).IsSuccessStatusCode);
        Assert.True((await Shape(ines, 4000, 1000)).IsSuccessStatusCode);
    }

    [Fact]
    public async Task Runs_that_are_kept_take_room_and_give_it_back()
    {
        var ines = await Signed("ines");
        var model = await ines.Create(new { example = "hatchery-tank" });
        async Task<string> Run() =>
            (await (await ines.PostAsJsonAsync($"/api/models/{model}/runs", new { })).Content.ReadFromJsonAsync<JsonElement>())
                .GetProperty("id")
                .GetString()!;
        async Task<HttpResponseMessage> Keep(string run, bool isPinned)
        {
            await ines.GetAsync($"/api/runs/{run}?wait=true");
            return await ines.PutAsJsonAsync(
                $"/api/runs/{run}/label",
                new
                {
                    name = "kept",
                    note = "",
                    isPinned,
                }
            );
        }

        var runs = new List<string>();
        HttpResponseMessage answer;
        do
        {
            runs.Add(await Run());
            answer = await Keep(runs[^1], true);
        } while (answer.IsSuccessStatusCode && runs.Count < 100);

        Assert.Equal(HttpStatusCode.UnprocessableEntity, answer.StatusCode);
        // What was refused leaves no file, and is kept once there is room.
        Assert.Equal(runs.Count - 1, Directory.GetFiles(Path.Combine(folder, "runs")).Length);
        Assert.True((await Keep(runs[0], false)).IsSuccessStatusCode);
        Assert.True((await Keep(runs[^1], true)).IsSuccessStatusCode);
    }

    /// <summary>A process that ends between taking room and using it leaves no debt.</summary>
    [Fact]
    public void Room_that_was_taken_for_nothing_is_given_back_at_the_next_start()
    {
        var data = Directory.CreateTempSubdirectory("anchor-bend-room-").FullName;
        using (var database = new Database(data))
        {
            database.Write(c => c.Execute("insert into kept_sizes values ('gone', 'a', 5), ('kept', 'a', 7)"));
            database.Write(c => c.Execute("insert into meshes values ('kept', x'00')"));
            _ = new KeptRoom(database, KeptRoom.Mebibyte);
            using var connection = database.Open();
            Assert.Equal(["kept"], connection.Query<string>("select item from kept_sizes"));
        }

        Microsoft.Data.Sqlite.SqliteConnection.ClearAllPools();
        Directory.Delete(data, true);
    }

    [Fact]
    public async Task One_account_has_so_many_runs_under_way()
    {
        var ines = await Signed("ines");
        var mats = await Member(ines, "mats");
        async Task<HttpResponseMessage> Play(HttpClient browser) =>
            await browser.PostAsJsonAsync($"/api/models/{await browser.Create(new { example = "hatchery-tank" })}/plays", new { });
        for (var n = 0; n < 8; n++)
            Assert.True((await Play(ines)).IsSuccessStatusCode);
        var refused = await Play(ines);
        Assert.Equal(HttpStatusCode.UnprocessableEntity, refused.StatusCode);
        Assert.Contains("You have 8 runs under way", await refused.Content.ReadAsStringAsync());
        Assert.True((await Play(mats)).IsSuccessStatusCode);
    }
}
