using System.Net;
using System.Net.Http.Headers;
using System.Net.Http.Json;
using System.Text.Json;
using AnchorBend.Server.Runs;
using AnchorBend.Workbench.People;
using Microsoft.AspNetCore.Http.Connections;
using Microsoft.AspNetCore.Mvc.Testing;
using Microsoft.AspNetCore.SignalR;
using Microsoft.AspNetCore.SignalR.Client;
using Microsoft.Extensions.DependencyInjection;

namespace AnchorBend.Server.Tests;

/// <summary>A server that serves whom it knows: signing in, what one may do, keys, and what is written down of it.</summary>
public sealed class PeopleTests : IDisposable
{
    const string Password = "kelp and cold water";

    readonly string folder = Directory.CreateTempSubdirectory("anchor-bend-people-").FullName;
    readonly WebApplicationFactory<Program> factory;

    public PeopleTests() =>
        factory = new WebApplicationFactory<Program>().WithWebHostBuilder(b => b.UseSetting("data", folder).UseSetting("sign-in", "true"));

    public void Dispose()
    {
        factory.Dispose();
        Microsoft.Data.Sqlite.SqliteConnection.ClearAllPools();
        Directory.Delete(folder, true);
    }

    HttpClient Browser() => factory.CreateClient();

    string Code => factory.Services.GetRequiredService<SignInWork>().Invite();

    /// <summary>A browser in which the first administrator has signed in.</summary>
    async Task<HttpClient> Administrator()
    {
        var browser = Browser();
        var answer = await browser.PostAsJsonAsync(
            "/api/sign-in/first",
            new
            {
                code = Code,
                name = "ines",
                password = Password,
            }
        );
        Assert.Equal(HttpStatusCode.NoContent, answer.StatusCode);
        return browser;
    }

    /// <summary>A browser of somebody whom the administrator has made an account for.</summary>
    async Task<(HttpClient Browser, string Account)> Member(HttpClient administrator, string name = "mats")
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
        Assert.True(made.IsSuccessStatusCode, await made.Content.ReadAsStringAsync());
        var browser = Browser();
        Assert.Equal(HttpStatusCode.NoContent, (await SignIn(browser, name)).StatusCode);
        return (browser, (await made.Content.ReadFromJsonAsync<JsonElement>()).GetProperty("id").GetString()!);
    }

    static Task<HttpResponseMessage> SignIn(HttpClient browser, string name, string password = Password) =>
        browser.PostAsJsonAsync("/api/sign-in", new { name, password });

    static Task<HttpResponseMessage> Grant(HttpClient administrator, string account, string folder, string? may) =>
        administrator.PutAsJsonAsync(
            "/api/people/grants",
            new
            {
                folder,
                account,
                may,
            }
        );

    static async Task<string?> Detail(HttpResponseMessage answer) =>
        (await answer.Content.ReadFromJsonAsync<JsonElement>()).GetProperty("detail").GetString();

    static object Rename(string name) => TestServer.Replace("/definitions/main/name", name);

    [Theory]
    [InlineData("GET", "/api/models")]
    [InlineData("GET", "/api/shelf")]
    [InlineData("POST", "/api/models")]
    [InlineData("GET", "/api/catalog")]
    [InlineData("GET", "/api/people/audit")]
    [InlineData("GET", "/api/nothing")]
    [InlineData("GET", "/openapi/v1.json")]
    [InlineData("POST", "/hub/negotiate")]
    public async Task Nothing_is_served_to_who_is_not_signed_in(string method, string path)
    {
        using var request = new HttpRequestMessage(new HttpMethod(method), path);
        if (method == "POST")
            request.Content = JsonContent.Create(new { name = "Test" });
        Assert.Equal(HttpStatusCode.Unauthorized, (await Browser().SendAsync(request)).StatusCode);
    }

    [Fact]
    public async Task The_page_itself_and_who_one_is_are_open_to_all()
    {
        var me = await Browser().GetFromJsonAsync<JsonElement>("/api/me");
        Assert.True(me.GetProperty("isNeeded").GetBoolean());
        Assert.True(me.GetProperty("isFirst").GetBoolean());
        Assert.Equal(HttpStatusCode.OK, (await Browser().GetAsync("/api/health")).StatusCode);
    }

    [Fact]
    public async Task The_first_administrator_comes_in_by_the_code_of_the_console_and_only_once()
    {
        var wrong = await Browser()
            .PostAsJsonAsync(
                "/api/sign-in/first",
                new
                {
                    code = "AAAA-AAAA-AAAA-AAAA",
                    name = "eve",
                    password = Password,
                }
            );
        Assert.Equal(HttpStatusCode.Unauthorized, wrong.StatusCode);
        var code = Code;
        var browser = await Administrator();
        var me = await browser.GetFromJsonAsync<JsonElement>("/api/me");
        Assert.Equal(("ines", true), (me.GetProperty("name").GetString(), me.GetProperty("isAdministrator").GetBoolean()));
        var again = await Browser()
            .PostAsJsonAsync(
                "/api/sign-in/first",
                new
                {
                    code,
                    name = "eve",
                    password = Password,
                }
            );
        Assert.Equal(HttpStatusCode.Unauthorized, again.StatusCode);
    }

    [Fact]
    public async Task The_cookie_is_out_of_reach_of_scripts_and_of_other_sites()
    {
        using var client = factory.CreateClient(new WebApplicationFactoryClientOptions { HandleCookies = false });
        var answer = await client.PostAsJsonAsync(
            "/api/sign-in/first",
            new
            {
                code = Code,
                name = "ines",
                password = Password,
            }
        );
        var cookie = Assert.Single(answer.Headers.GetValues("Set-Cookie"));
        Assert.Contains("httponly", cookie);
        Assert.Contains("samesite=strict", cookie);

        using var encrypted = factory.CreateClient(
            new WebApplicationFactoryClientOptions { HandleCookies = false, BaseAddress = new Uri("https://localhost") }
        );
        var there = await SignIn(encrypted, "ines");
        Assert.StartsWith("__Host-", Assert.Single(there.Headers.GetValues("Set-Cookie")));
        Assert.Contains("secure", Assert.Single(there.Headers.GetValues("Set-Cookie")));
    }

    [Theory]
    [InlineData("short")]
    [InlineData("aaaaaaaaaaaaaaaaaaaa")]
    [InlineData("my name is mats ok")]
    public async Task Passwords_that_are_easily_guessed_are_not_taken(string password)
    {
        var administrator = await Administrator();
        var made = await administrator.PostAsJsonAsync(
            "/api/people/accounts",
            new
            {
                name = "mats",
                password,
                isAdministrator = false,
            }
        );
        Assert.Equal(HttpStatusCode.UnprocessableEntity, made.StatusCode);
    }

    [Fact]
    public async Task After_wrong_passwords_the_right_one_is_not_taken_for_a_while()
    {
        var (browser, _) = await Member(await Administrator());
        for (var n = 0; n < 5; n++)
            Assert.Equal(HttpStatusCode.Unauthorized, (await SignIn(Browser(), "mats", "not that one at all")).StatusCode);
        var locked = await SignIn(Browser(), "MATS");
        Assert.Equal(HttpStatusCode.Unauthorized, locked.StatusCode);
        // One cannot tell by the answer whether there is such an account.
        var nobody = await SignIn(Browser(), "nobody", "not that one at all");
        Assert.Equal(await Detail(locked), await Detail(nobody));
        // Who is in stays in.
        Assert.Equal(HttpStatusCode.OK, (await browser.GetAsync("/api/shelf")).StatusCode);
    }

    [Fact]
    public async Task Who_tries_too_often_from_one_place_has_to_wait()
    {
        var browser = Browser();
        var answers = new List<HttpStatusCode>();
        for (var n = 0; n < 25; n++)
            answers.Add((await SignIn(browser, $"name{n}", "not that one at all")).StatusCode);
        Assert.Contains(HttpStatusCode.TooManyRequests, answers);
    }

    [Fact]
    public async Task Everybody_may_look_their_own_they_may_change_and_more_is_given_by_folder()
    {
        var administrator = await Administrator();
        var id = await administrator.Create(new { name = "Sluice" });
        await administrator.PutAsJsonAsync($"/api/models/{id}/place", new { folder = "Sea/Trials", tags = Array.Empty<string>() });
        var (mats, account) = await Member(administrator);

        Assert.Equal(HttpStatusCode.OK, (await mats.GetAsync($"/api/models/{id}")).StatusCode);
        Assert.Equal(HttpStatusCode.Forbidden, (await mats.Edit(id, 0, Rename("Mine"))).Status);
        Assert.Equal(HttpStatusCode.Forbidden, (await mats.DeleteAsync($"/api/models/{id}")).StatusCode);
        // A run keeps nothing and changes nothing.
        var example = await administrator.Create(new { example = "hatchery-tank" });
        Assert.Equal(HttpStatusCode.OK, (await mats.PostAsJsonAsync($"/api/models/{example}/runs", new { })).StatusCode);

        var own = await mats.Create(new { name = "Own" });
        Assert.Equal(HttpStatusCode.OK, (await mats.Edit(own, 0, Rename("Own two"))).Status);
        Assert.Equal(HttpStatusCode.NoContent, (await mats.DeleteAsync($"/api/models/{own}")).StatusCode);

        await Grant(administrator, account, "Sea", "edit");
        Assert.Equal(HttpStatusCode.OK, (await mats.Edit(id, 0, Rename("Lock"))).Status);
        Assert.Equal(HttpStatusCode.Forbidden, (await mats.DeleteAsync($"/api/models/{id}")).StatusCode);
        // What is said of the folder itself counts before what is said of the one above.
        await Grant(administrator, account, "Sea/Trials", "none");
        Assert.Equal(HttpStatusCode.NotFound, (await mats.GetAsync($"/api/models/{id}")).StatusCode);
        await Grant(administrator, account, "Sea/Trials", null);
        Assert.Equal(HttpStatusCode.OK, (await mats.GetAsync($"/api/models/{id}")).StatusCode);
    }

    [Fact]
    public async Task What_one_may_not_see_is_found_by_no_way()
    {
        var administrator = await Administrator();
        var id = await administrator.Create(new { example = "hatchery-tank" });
        await administrator.PutAsJsonAsync($"/api/models/{id}/place", new { folder = "Secret", tags = Array.Empty<string>() });
        var run = (await (await administrator.PostAsJsonAsync($"/api/models/{id}/runs", new { })).Content.ReadFromJsonAsync<JsonElement>())
            .GetProperty("id")
            .GetString()!;
        await administrator.Finished(run);
        await Grant(administrator, "", "Secret", "none");
        var (mats, _) = await Member(administrator);

        var shelf = await mats.GetFromJsonAsync<JsonElement>("/api/shelf");
        Assert.DoesNotContain("Secret", shelf.GetProperty("folders").EnumerateArray().Select(f => f.GetString()));
        Assert.DoesNotContain(id, (await mats.GetStringAsync("/api/shelf")));
        Assert.DoesNotContain(id, (await mats.GetStringAsync("/api/models")));
        foreach (
            var path in new[]
            {
                $"/api/models/{id}",
                $"/api/models/{id}/card",
                $"/api/models/{id}/export",
                $"/api/models/{id}/events",
                $"/api/runs/{run}",
                $"/api/runs/{run}/values?at=1",
                $"/api/runs/{run}/traces?signal=tank.y",
            }
        )
            Assert.Equal(HttpStatusCode.NotFound, (await mats.GetAsync(path)).StatusCode);
        // A state is named in the body, not in the address.
        var state = await mats.PostAsJsonAsync("/api/states", new { state = new { model = id }, level = "" });
        Assert.Equal(HttpStatusCode.NotFound, state.StatusCode);
        var difference = new { left = new { model = id }, right = new { model = id } };
        Assert.Equal(HttpStatusCode.NotFound, (await mats.PostAsJsonAsync("/api/differences", difference)).StatusCode);
        Assert.Equal(HttpStatusCode.NotFound, (await mats.PostAsJsonAsync($"/api/models/{id}/copies", new { })).StatusCode);
    }

    [Fact]
    public async Task What_all_models_use_is_changed_only_by_whom_all_is_given()
    {
        var administrator = await Administrator();
        var (mats, account) = await Member(administrator);
        var body = new { text = "block Boost input Real u; output Real y; equation y = 2 * u; end Boost;" };
        Assert.Equal(HttpStatusCode.Forbidden, (await mats.PutAsJsonAsync("/api/package/Boost", body)).StatusCode);
        await Grant(administrator, account, "", "edit");
        Assert.True((await mats.PutAsJsonAsync("/api/package/Boost", body)).IsSuccessStatusCode);
        await Grant(administrator, account, "", null);
        Assert.Equal(HttpStatusCode.Forbidden, (await mats.DeleteAsync("/api/package/Boost")).StatusCode);
    }

    [Fact]
    public async Task A_folder_that_one_does_not_see_is_not_taken_by_another()
    {
        var administrator = await Administrator();
        await administrator.PostAsJsonAsync("/api/folders", new { path = "Secret" });
        await administrator.PostAsJsonAsync("/api/folders", new { path = "Mine" });
        await Grant(administrator, "", "Secret", "none");
        var (mats, account) = await Member(administrator);
        await Grant(administrator, account, "", "edit");
        await Grant(administrator, account, "Mine", "administer");
        var moved = await mats.PostAsJsonAsync("/api/folders/move", new { from = "Mine", to = "Secret" });
        Assert.Equal(HttpStatusCode.UnprocessableEntity, moved.StatusCode);
        // Where something was said of a folder that is gone, what is said of the one that comes holds.
        await Grant(administrator, account, "Later", "view");
        Assert.Equal(
            HttpStatusCode.NoContent,
            (await mats.PostAsJsonAsync("/api/folders/move", new { from = "Mine", to = "Later" })).StatusCode
        );
        Assert.Equal(HttpStatusCode.NoContent, (await mats.DeleteAsync("/api/folders?path=Later")).StatusCode);
    }

    [Fact]
    public async Task A_lesson_is_ones_own()
    {
        var administrator = await Administrator();
        var (mats, _) = await Member(administrator);
        Assert.True((await mats.PostAsJsonAsync("/api/lessons/first-loop", new { })).IsSuccessStatusCode);
        static bool HasBegun(JsonElement lessons) => lessons.EnumerateArray().First().TryGetProperty("model", out _);
        Assert.True(HasBegun(await mats.GetFromJsonAsync<JsonElement>("/api/lessons")));
        Assert.False(HasBegun(await administrator.GetFromJsonAsync<JsonElement>("/api/lessons")));
    }

    [Fact]
    public async Task What_is_typed_into_a_refused_sign_in_does_not_fill_the_log()
    {
        var name = new string('n', 1_000_000);
        await Browser()
            .PostAsJsonAsync(
                "/api/sign-in/first",
                new
                {
                    code = "no",
                    name,
                    password = Password,
                }
            );
        await SignIn(Browser(), name);
        var administrator = await Administrator();
        Assert.True((await administrator.GetStringAsync("/api/people/audit")).Length < 2000);
    }

    /// <summary>A live connection with a script's key.</summary>
    async Task<HubConnection> Live(HttpClient browser)
    {
        var made = await browser.PostAsJsonAsync(
            "/api/me/tokens",
            new
            {
                name = "live",
                mayEdit = false,
                days = 1,
            }
        );
        var key = (await made.Content.ReadFromJsonAsync<JsonElement>()).GetProperty("key").GetString();
        var connection = new HubConnectionBuilder()
            .WithUrl(new Uri(factory.Server.BaseAddress, "hub"), o =>
            {
                o.Transports = HttpTransportType.LongPolling;
                o.HttpMessageHandlerFactory = _ => factory.Server.CreateHandler();
                o.Headers["Authorization"] = $"Bearer {key}";
            })
            .Build();
        await connection.StartAsync();
        return connection;
    }

    static object Where(string window, string name, params string[] selection) =>
        new
        {
            window,
            name,
            level = "",
            selection,
        };

    [Fact]
    public async Task A_live_connection_joins_only_what_one_may_see_and_stops_with_its_key()
    {
        var administrator = await Administrator();
        var id = await administrator.Create();
        await administrator.PutAsJsonAsync($"/api/models/{id}/place", new { folder = "Secret", tags = Array.Empty<string>() });
        var (mats, account) = await Member(administrator);
        await using var live = await Live(mats);
        await live.InvokeAsync("Join", id);
        await Grant(administrator, "", "Secret", "none");
        await Assert.ThrowsAsync<HubException>(() => live.InvokeAsync("Join", id));
        await Assert.ThrowsAsync<HubException>(() => live.InvokeAsync("Where", id, Where("w", "x")));
        await Grant(administrator, "", "Secret", "view");
        await administrator.PutAsJsonAsync($"/api/people/accounts/{account}", new { isOff = true });
        // Refused at the door already, as each request of this connection is.
        await Assert.ThrowsAnyAsync<Exception>(() => live.InvokeAsync("Join", id));
    }

    [Fact]
    public async Task Others_are_seen_by_the_names_of_their_accounts_until_they_leave()
    {
        var administrator = await Administrator();
        var id = await administrator.Create();
        var (mats, _) = await Member(administrator);
        await using var one = await Live(administrator);
        var seen = System.Threading.Channels.Channel.CreateUnbounded<List<PresentWindow>>();
        one.On<List<PresentWindow>>("present", w => seen.Writer.TryWrite(w));
        await one.InvokeAsync("Join", id);
        var other = await Live(mats);
        await other.InvokeAsync("Join", id);
        await other.InvokeAsync("Where", id, Where("w2", "the director", "p1", "p2"));
        var window = Assert.Single(await seen.Reader.ReadAsync());
        Assert.Equal(("mats", "w2"), (window.Name, window.Window));
        Assert.Equal(["p1", "p2"], window.Selection);
        await Assert.ThrowsAsync<HubException>(() => other.InvokeAsync("Where", id, Where("", "x")));
        await other.DisposeAsync();
        Assert.Empty(await seen.Reader.ReadAsync());
    }

    [Fact]
    public async Task The_history_names_who_is_signed_in_whatever_the_request_says()
    {
        var administrator = await Administrator();
        var id = await administrator.Create();
        await administrator.PostAsJsonAsync(
            $"/api/models/{id}/edits",
            new
            {
                basis = 0,
                label = "test",
                operations = new[] { Rename("Other") },
                author = "Somebody else",
            }
        );
        var history = await administrator.GetFromJsonAsync<JsonElement>($"/api/models/{id}/history");
        Assert.Equal("ines", history.GetProperty("entries")[0].GetProperty("author").GetString());
    }

    [Fact]
    public async Task Two_who_edit_one_model_take_back_their_own_and_are_told_where_they_are_at_odds()
    {
        var ines = await Administrator();
        var (mats, account) = await Member(ines);
        Assert.True((await Grant(ines, account, "", "edit")).IsSuccessStatusCode);
        var made = await (await ines.PostAsJsonAsync("/api/models", new { name = "Shared" })).Content.ReadFromJsonAsync<JsonElement>();
        var model = $"/api/models/{made.GetProperty("id").GetString()}";
        Task<HttpResponseMessage> Edit(HttpClient who, int basis, object operation) =>
            who.PostAsJsonAsync(
                $"{model}/edits",
                new
                {
                    basis,
                    label = "Change",
                    operations = new[] { operation },
                }
            );
        Assert.True((await Edit(ines, 0, Rename("One"))).IsSuccessStatusCode);
        Assert.True((await Edit(mats, 1, TestServer.Replace("/settings/end", "7 s"))).IsSuccessStatusCode);

        var late = await Edit(mats, 0, Rename("Two"));
        Assert.Equal(HttpStatusCode.Conflict, late.StatusCode);
        var clash = (await late.Content.ReadFromJsonAsync<JsonElement>()).GetProperty("clash");
        Assert.Equal(("ines", "Change"), (clash.GetProperty("by").GetString(), clash.GetProperty("label").GetString()));
        var apart = await (await Edit(mats, 0, TestServer.Replace("/settings/method", "bdf"))).Content.ReadFromJsonAsync<JsonElement>();
        Assert.Equal(JsonValueKind.Null, apart.GetProperty("clash").ValueKind);

        Assert.True((await ines.PostAsJsonAsync($"{model}/undo", new { basis = 2 })).IsSuccessStatusCode);
        var document = (await ines.GetFromJsonAsync<JsonElement>(model)).GetProperty("document");
        Assert.Equal("Shared", document.GetProperty("definitions").GetProperty("main").GetProperty("name").GetString());
        Assert.Equal("7 s", document.GetProperty("settings").GetProperty("end").GetString());
        var more = await ines.PostAsJsonAsync($"{model}/undo", new { basis = 3 });
        Assert.Equal(HttpStatusCode.UnprocessableEntity, more.StatusCode);
        Assert.Contains("nothing of yours", await Detail(more), StringComparison.Ordinal);
    }

    [Fact]
    public async Task A_key_lets_a_script_in_and_one_that_only_looks_changes_nothing()
    {
        var administrator = await Administrator();
        var id = await administrator.Create();
        async Task<(HttpClient Script, string Id)> Key(bool mayEdit)
        {
            var made = await (
                await administrator.PostAsJsonAsync(
                    "/api/me/tokens",
                    new
                    {
                        name = "nightly",
                        mayEdit,
                        days = 30,
                    }
                )
            ).Content.ReadFromJsonAsync<JsonElement>();
            Assert.True(made.TryGetProperty("key", out _), made.ToString());
            var script = Browser();
            script.DefaultRequestHeaders.Authorization = new AuthenticationHeaderValue("Bearer", made.GetProperty("key").GetString());
            return (script, made.GetProperty("token").GetProperty("id").GetString()!);
        }

        var (editing, editingId) = await Key(true);
        Assert.Equal(HttpStatusCode.OK, (await editing.Edit(id, 0, Rename("By script"))).Status);
        var (looking, _) = await Key(false);
        Assert.Equal(HttpStatusCode.OK, (await looking.GetAsync($"/api/models/{id}")).StatusCode);
        Assert.Equal(HttpStatusCode.Forbidden, (await looking.Edit(id, 1, Rename("No"))).Status);
        Assert.Equal(HttpStatusCode.Forbidden, (await looking.PostAsJsonAsync("/api/models", new { name = "No" })).StatusCode);
        Assert.Equal(HttpStatusCode.Forbidden, (await looking.GetAsync("/api/people/accounts")).StatusCode);

        await administrator.DeleteAsync($"/api/me/tokens/{editingId}");
        Assert.Equal(HttpStatusCode.Unauthorized, (await editing.GetAsync($"/api/models/{id}")).StatusCode);
        // Keys are kept as hashes: the list does not have them.
        Assert.DoesNotContain("ab_", await administrator.GetStringAsync("/api/me/tokens"));
    }

    [Fact]
    public async Task Only_administrators_let_others_in_and_one_has_to_stay()
    {
        var administrator = await Administrator();
        var (mats, account) = await Member(administrator);
        Assert.Equal(HttpStatusCode.Forbidden, (await mats.GetAsync("/api/people/accounts")).StatusCode);
        Assert.Equal(
            HttpStatusCode.Forbidden,
            (await mats.PutAsJsonAsync($"/api/people/accounts/{account}", new { isAdministrator = true })).StatusCode
        );
        var self = (await administrator.GetFromJsonAsync<JsonElement>("/api/me")).GetProperty("account").GetString();
        Assert.Equal(
            HttpStatusCode.UnprocessableEntity,
            (await administrator.PutAsJsonAsync($"/api/people/accounts/{self}", new { isOff = true })).StatusCode
        );
        // Whose account is turned off is out at once.
        await administrator.PutAsJsonAsync($"/api/people/accounts/{account}", new { isOff = true });
        Assert.Equal(HttpStatusCode.Unauthorized, (await mats.GetAsync("/api/shelf")).StatusCode);
        Assert.Equal(HttpStatusCode.Unauthorized, (await SignIn(Browser(), "mats")).StatusCode);
    }

    [Fact]
    public async Task Another_password_ends_the_sessions_in_other_browsers()
    {
        var administrator = await Administrator();
        var elsewhere = Browser();
        await SignIn(elsewhere, "ines");
        const string wanted = "another long enough one";
        Assert.Equal(
            HttpStatusCode.UnprocessableEntity,
            (await administrator.PutAsJsonAsync("/api/me/password", new { present = "not that one at all", wanted })).StatusCode
        );
        await administrator.PutAsJsonAsync("/api/me/password", new { present = Password, wanted });
        Assert.Equal(HttpStatusCode.OK, (await administrator.GetAsync("/api/shelf")).StatusCode);
        Assert.Equal(HttpStatusCode.Unauthorized, (await elsewhere.GetAsync("/api/shelf")).StatusCode);
        Assert.Equal(HttpStatusCode.NoContent, (await SignIn(elsewhere, "ines", wanted)).StatusCode);
        await elsewhere.PostAsync("/api/sign-out", null);
        Assert.Equal(HttpStatusCode.Unauthorized, (await elsewhere.GetAsync("/api/shelf")).StatusCode);
    }

    [Fact]
    public async Task The_audit_log_says_who_did_what()
    {
        var administrator = await Administrator();
        var (mats, account) = await Member(administrator);
        var id = await mats.Create();
        await mats.DeleteAsync($"/api/models/{id}");
        await Grant(administrator, account, "Sea", "edit");
        await SignIn(Browser(), "mats", "not that one at all");
        var log = (await administrator.GetFromJsonAsync<JsonElement>("/api/people/audit"))
            .EnumerateArray()
            .Select(e => $"{e.GetProperty("who").GetString()}: {e.GetProperty("what").GetString()} {e.GetProperty("about").GetString()}")
            .ToList();
        Assert.Equal(
            [
                ": sign-in refused mats",
                "ines: rights changed mats in 'Sea': Edit",
                $"mats: deleteModel {id}",
                "mats: createModel /api/models",
                "mats: signed in mats",
                "ines: account made mats",
                "ines: first administrator ines",
            ],
            log.Where(e => !e.Contains("putGrant", StringComparison.Ordinal) && !e.Contains("makeAccount", StringComparison.Ordinal))
        );
    }
}
