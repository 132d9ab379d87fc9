using System.Net;
using System.Net.Http.Json;
using System.Text.Json;

namespace AnchorBend.Server.Tests;

/// <summary>Where models lie, and their cards.</summary>
public sealed class ShelfTests : ServerTest
{
    async Task<List<string>> Names(string query = "")
    {
        var shelf = await Get("/api/shelf" + query);
        return [.. shelf.GetProperty("models").EnumerateArray().Select(m => m.GetProperty("name").GetString()!)];
    }

    async Task<List<string>> Folders() =>
        [.. (await Get("/api/shelf")).GetProperty("folders").EnumerateArray().Select(f => f.GetString()!)];

    Task<HttpResponseMessage> Place(string id, string folder, params string[] tags) =>
        Client.PutAsJsonAsync($"/api/models/{id}/place", new { folder, tags });

    [Fact]
    public async Task A_new_store_has_demos_in_folders()
    {
        var shelf = await Get("/api/shelf");
        Assert.Contains("Kittiwake Sound/Tide and water", await Folders());
        // The folder above is there though nothing lies in it itself.
        Assert.Contains("Kittiwake Sound", await Folders());
        Assert.All(shelf.GetProperty("models").EnumerateArray(), m =>
            Assert.StartsWith("Kittiwake Sound/", m.GetProperty("folder").GetString())
        );
    }

    [Fact]
    public async Task A_model_lies_in_a_folder_and_carries_tags()
    {
        var id = await Client.Create(new { name = "Sluice" });
        Assert.Equal(HttpStatusCode.NoContent, (await Place(id, " Trials / Spring ", "to review", "cascade", "cascade")).StatusCode);
        var shelf = await Get("/api/shelf?search=sluice");
        var model = shelf.GetProperty("models")[0];
        Assert.Equal("Trials/Spring", model.GetProperty("folder").GetString());
        Assert.Equal(["cascade", "to review"], model.GetProperty("tags").EnumerateArray().Select(t => t.GetString()!));
        Assert.Contains("Trials", await Folders());
    }

    [Fact]
    public async Task Words_are_looked_for_in_names_tags_folders_and_once_a_card_is_made_in_parts()
    {
        var id = await Client.Create(new { example = "tide-gate" });
        await Place(id, "Trials", "urgent");
        Assert.Equal(["Tide gate"], await Names("?search=trials%20urgent"));
        Assert.Empty(await Names("?search=trials%20nowhere"));
        await Get($"/api/models/{id}/card");
        Assert.Equal(["Tide gate"], await Names("?search=trials%20relief%20valve"));
    }

    [Fact]
    public async Task Folders_are_made_renamed_with_all_in_them_and_removed_without_their_models()
    {
        var id = await Client.Create(new { name = "Sluice" });
        await Place(id, "Trials/Spring");
        Assert.Equal(HttpStatusCode.NoContent, (await Client.PostAsJsonAsync("/api/folders", new { path = "Trials/Autumn" })).StatusCode);
        // One whose name only begins alike stays.
        await Client.PostAsJsonAsync("/api/folders", new { path = "Trials 2" });
        Assert.Equal(
            HttpStatusCode.NoContent,
            (await Client.PostAsJsonAsync("/api/folders/move", new { from = "Trials", to = "Sea trials" })).StatusCode
        );
        var folders = await Folders();
        Assert.Contains("Sea trials/Spring", folders);
        Assert.Contains("Sea trials/Autumn", folders);
        Assert.Contains("Trials 2", folders);
        Assert.DoesNotContain("Trials", folders);
        Assert.Equal(HttpStatusCode.NoContent, (await Client.DeleteAsync("/api/folders?path=Sea%20trials")).StatusCode);
        Assert.Equal("", (await Get("/api/shelf?search=sluice")).GetProperty("models")[0].GetProperty("folder").GetString());
    }

    [Theory]
    [InlineData("Trials", "Trials/Within", HttpStatusCode.UnprocessableEntity)]
    [InlineData("Trials", " / ", HttpStatusCode.UnprocessableEntity)]
    [InlineData("Trials", "Kittiwake Sound", HttpStatusCode.UnprocessableEntity)]
    [InlineData("Nowhere", "Else", HttpStatusCode.NotFound)]
    public async Task A_folder_is_not_moved_where_it_cannot_be(string from, string to, HttpStatusCode answer)
    {
        await Client.PostAsJsonAsync("/api/folders", new { path = "Trials" });
        Assert.Equal(answer, (await Client.PostAsJsonAsync("/api/folders/move", new { from, to })).StatusCode);
        Assert.Contains("Trials", await Folders());
    }

    [Fact]
    public async Task What_is_in_the_trash_is_not_listed_and_can_be_taken_out_until_it_is_emptied()
    {
        var id = await Client.Create(new { name = "Sluice" });
        await Client.PostAsync($"/api/models/{id}/trash", null);
        Assert.DoesNotContain("Sluice", await Names());
        Assert.DoesNotContain("Sluice", (await Client.GetStringAsync("/api/models")));
        Assert.Equal(["Sluice"], await Names("?trash=true"));
        Assert.Equal(1, (await Get("/api/shelf")).GetProperty("inTrash").GetInt32());
        await Client.DeleteAsync($"/api/models/{id}/trash");
        Assert.Contains("Sluice", await Names());

        await Client.PostAsync($"/api/models/{id}/trash", null);
        var emptied = await (await Client.DeleteAsync("/api/trash")).Content.ReadFromJsonAsync<JsonElement>();
        Assert.Equal(1, emptied.GetProperty("deleted").GetInt32());
        Assert.Equal(HttpStatusCode.NotFound, (await Client.GetAsync($"/api/models/{id}")).StatusCode);
    }

    [Fact]
    public async Task A_model_is_renamed_by_an_edit_that_can_be_taken_back()
    {
        var id = await Client.Create(new { name = "Sluice" });
        await Post($"/api/models/{id}/name", new { name = "  Lock gate ", author = "Ines" });
        var model = (await Get("/api/shelf?search=lock")).GetProperty("models")[0];
        Assert.Equal(("Lock gate", "Ines"), (model.GetProperty("name").GetString(), model.GetProperty("author").GetString()));
        await Post($"/api/models/{id}/undo", new { basis = 1 });
        Assert.Contains("Sluice", await Names());
        Assert.Equal(
            HttpStatusCode.UnprocessableEntity,
            (await Client.PostAsJsonAsync($"/api/models/{id}/name", new { name = " " })).StatusCode
        );
    }

    [Fact]
    public async Task A_card_shows_the_level_the_course_and_the_verdicts_of_the_present_revision()
    {
        var id = await Client.Create(new { example = "hatchery-tank" });
        var card = await Get($"/api/models/{id}/card");
        Assert.Equal(0, card.GetProperty("revision").GetInt64());
        Assert.Equal(7, card.GetProperty("parts").GetInt32());
        Assert.Equal(7, card.GetProperty("picture").GetProperty("parts").EnumerateObject().Count());
        Assert.Equal(["met", "met"], card.GetProperty("verdicts").EnumerateArray().Select(v => v.GetString()!));
        var course = card.GetProperty("course");
        Assert.Equal(("temperature", "°C"), (course.GetProperty("label").GetString(), course.GetProperty("unit").GetString()));
        // The tank ends at its set-point.
        Assert.Equal(18, course.GetProperty("points").EnumerateArray().Last().GetDouble(), 0.1);

        // A gain that is much too small misses what the controller is there for.
        await Client.Edit(id, 0, TestServer.Replace("/definitions/main/parts/pi/parameters/k", "1 W/K"));
        var later = await Get($"/api/models/{id}/card");
        Assert.Equal(1, later.GetProperty("revision").GetInt64());
        Assert.Contains("missed", later.GetProperty("verdicts").EnumerateArray().Select(v => v.GetString()!));
    }

    [Fact]
    public async Task A_model_that_does_not_run_has_a_card_that_says_why()
    {
        var id = await Client.Create();
        await Client.Edit(id, 0, TestServer.Add("p1", "Gain", "Boost", new { k = "nowhere" }));
        var card = await Get($"/api/models/{id}/card");
        Assert.Contains("nowhere", card.GetProperty("problem").GetString());
        Assert.False(card.TryGetProperty("course", out _));
    }

    [Theory]
    [InlineData("/api/models/nothing/place", "PUT")]
    [InlineData("/api/models/nothing/trash", "POST")]
    [InlineData("/api/models/nothing/card", "GET")]
    [InlineData("/api/examples/nothing/card", "GET")]
    public async Task Of_what_is_not_there_it_is_said(string path, string method)
    {
        using var request = new HttpRequestMessage(new HttpMethod(method), path);
        if (method == "PUT")
            request.Content = JsonContent.Create(new { folder = "", tags = Array.Empty<string>() });
        Assert.Equal(HttpStatusCode.NotFound, (await Client.SendAsync(request)).StatusCode);
    }

    [Fact]
    public async Task Examples_are_found_by_the_parts_they_use_and_say_what_to_try()
    {
        var found = (await Get("/api/examples?search=relief%20valve")).EnumerateArray().ToList();
        Assert.Contains(found, e => e.GetProperty("key").GetString() == "tide-gate");
        var all = (await Get("/api/examples")).EnumerateArray().ToList();
        Assert.True(found.Count < all.Count);
        Assert.All(all, e => Assert.False(string.IsNullOrWhiteSpace(e.GetProperty("try").GetString())));
        Assert.All(all, e => Assert.False(string.IsNullOrWhiteSpace(e.GetProperty("description").GetString())));
    }
}
