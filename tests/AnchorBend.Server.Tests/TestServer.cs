using System.Net;
using System.Net.Http.Json;
using System.Text.Json;

namespace AnchorBend.Server.Tests;

/// <summary>Requests that several tests make.</summary>
static class TestServer
{
    public static async Task<string> Create(this HttpClient client, object? body = null)
    {
        var response = await client.PostAsJsonAsync("/api/models", body ?? new { name = "Test" });
        response.EnsureSuccessStatusCode();
        return (await response.Content.ReadFromJsonAsync<JsonElement>()).GetProperty("id").GetString()!;
    }

    public static object Add(string id, string type, string name, object? parameters = null) =>
        new
        {
            op = "add",
            path = $"/definitions/main/parts/{id}",
            value = new
            {
                type,
                name,
                x = 0,
                y = 0,
                parameters = parameters ?? new { },
            },
        };

    public static object Replace(string path, object value) =>
        new
        {
            op = "replace",
            path,
            value,
        };

    public static async Task<(HttpStatusCode Status, JsonElement Body)> Edit(
        this HttpClient client,
        string id,
        long basis,
        params object[] operations
    )
    {
        var response = await client.PostAsJsonAsync(
            $"/api/models/{id}/edits",
            new
            {
                basis,
                label = "test",
                operations,
                client = "t",
            }
        );
        return (response.StatusCode, await response.Content.ReadFromJsonAsync<JsonElement>());
    }

    /// <summary>A model of one part with a text of its own.</summary>
    public static object WithPart(string text) =>
        new
        {
            document = new
            {
                format = "anchor-bend-model/1",
                name = "Own",
                parts = new
                {
                    p = new
                    {
                        type = "Own",
                        name = "Own part",
                        x = 0,
                        y = 0,
                        parameters = new { },
                    },
                },
                classes = new Dictionary<string, object> { ["Own"] = new { text } },
                settings = new { live = true, end = "1 s" },
            },
        };

    /// <summary>What an answer says of the view: the whole of it where a model is opened, what became different after an edit.</summary>
    public static JsonElement View(this JsonElement answer) =>
        answer.TryGetProperty("view", out var view) ? view : answer.GetProperty("change");

    /// <summary>The root's diagram of an opened model.</summary>
    public static JsonElement Root(this JsonElement opened) =>
        opened.GetProperty("document").GetProperty("definitions").GetProperty("main");

    public static async Task<JsonElement> Finished(this HttpClient client, string run)
    {
        JsonElement view;
        do view = await client.GetFromJsonAsync<JsonElement>($"/api/runs/{run}?wait=true");
        while (view.GetProperty("state").GetString() == "running");
        return view;
    }
}
