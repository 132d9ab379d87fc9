using System.Net;
using System.Net.Http.Json;
using System.Text.Json;

namespace AnchorBend.Server.Tests;

/// <summary>Texts of parts over HTTP: the catalog's, the model's, the user's package.</summary>
public sealed class PartTests : ServerTest
{
    async Task<string> Create(object body) =>
        (await (await Client.PostAsJsonAsync("/api/models", body)).Content.ReadFromJsonAsync<JsonElement>()).GetProperty("id").GetString()!;

    const string Twice = "block Twice \"Twice the input\" input Real u \"In\"; output Real y \"Out\"; equation y = 2 * u; end Twice;";

    [Fact]
    public async Task The_text_of_a_catalog_part_comes_with_counts()
    {
        var id = await Create(new { name = "Test" });
        var part = await Client.GetFromJsonAsync<JsonElement>($"/api/models/{id}/parts/Resistor");
        Assert.Contains("model Resistor", part.GetProperty("text").GetString(), StringComparison.Ordinal);
        Assert.Equal("catalog", part.GetProperty("home").GetString());
        var review = part.GetProperty("review");
        Assert.Equal(review.GetProperty("unknowns").GetInt32(), review.GetProperty("equations").GetInt32());
        Assert.Equal(HttpStatusCode.NotFound, (await Client.GetAsync($"/api/models/{id}/parts/Nothing")).StatusCode);
    }

    [Theory]
    [InlineData("", "holds no model")]
    [InlineData("block A Real x; equation x = ; end A;", "an expression is expected")]
    [InlineData("block A Real x, y; equation x = 1; end A;", "No equation is left")]
    [InlineData("block A Real x; equation x = 1; x = 2; end A;", "an equation too many")]
    public async Task A_text_with_errors_is_told_where(string text, string message)
    {
        var id = await Create(new { name = "Test" });
        var review = await (
            await Client.PostAsJsonAsync($"/api/models/{id}/parts/check", new { text })
        ).Content.ReadFromJsonAsync<JsonElement>();
        Assert.Contains(review.GetProperty("findings").EnumerateArray(), f =>
            f.GetProperty("message").GetString()!.Contains(message, StringComparison.Ordinal) && f.GetProperty("line").GetInt32() >= 1
        );
    }

    [Fact]
    public async Task A_part_of_the_package_serves_every_model_and_a_change_reaches_them()
    {
        Assert.Equal(HttpStatusCode.OK, (await Client.PutAsJsonAsync("/api/package/Twice", new { text = Twice })).StatusCode);
        var id = await Create(new { name = "Uses it" });
        var operations = new[]
        {
            new
            {
                op = "add",
                path = "/definitions/main/parts/a",
                value = new
                {
                    type = "Twice",
                    name = "T",
                    x = 0,
                    y = 0,
                    parameters = new { },
                },
            },
        };
        var answer = await (
            await Client.PostAsJsonAsync(
                $"/api/models/{id}/edits",
                new
                {
                    basis = 0,
                    label = "t",
                    operations,
                    client = "t",
                }
            )
        ).Content.ReadFromJsonAsync<JsonElement>();
        Assert.True(answer.View().GetProperty("canRun").GetBoolean());
        Assert.Contains(answer.View().GetProperty("ownParts").EnumerateArray(), p => p.GetProperty("name").GetString() == "Twice");
        // What leaves brings the part along, and opens where there is no such package.
        var exported = await Client.GetFromJsonAsync<JsonElement>($"/api/models/{id}/export");
        Assert.Contains(
            "block Twice",
            exported.GetProperty("definitions").GetProperty("Twice").GetProperty("text").GetString(),
            StringComparison.Ordinal
        );
        Assert.Contains("block Twice", await Client.GetStringAsync($"/api/models/{id}/text"), StringComparison.Ordinal);
        await Client.PutAsJsonAsync(
            "/api/package/Twice",
            new
            {
                text = Twice
                    .Replace("input Real u", "input Real w", StringComparison.Ordinal)
                    .Replace("* u", "* w", StringComparison.Ordinal),
            }
        );
        var ports = (await Client.GetFromJsonAsync<JsonElement>($"/api/models/{id}"))
            .View()
            .GetProperty("parts")
            .GetProperty("a")
            .GetProperty("ports");
        Assert.Contains(ports.EnumerateArray(), p => p.GetProperty("name").GetString() == "w");
        Assert.Equal(HttpStatusCode.NoContent, (await Client.DeleteAsync("/api/package/Twice")).StatusCode);
        Assert.False((await Client.GetFromJsonAsync<JsonElement>($"/api/models/{id}")).View().GetProperty("canRun").GetBoolean());
    }

    [Theory]
    [InlineData("Gain", Twice)]
    [InlineData("no name", Twice)]
    [InlineData("Other", Twice)]
    [InlineData("Twice", "block Twice")]
    public async Task The_package_refuses_what_it_cannot_name(string name, string text) =>
        Assert.Equal(
            HttpStatusCode.UnprocessableEntity,
            (await Client.PutAsJsonAsync($"/api/package/{Uri.EscapeDataString(name)}", new { text })).StatusCode
        );

    [Fact]
    public async Task A_model_goes_out_as_text_and_comes_back()
    {
        var id = await Create(new { example = "tide-gate" });
        var text = await Client.GetStringAsync($"/api/models/{id}/text");
        var copy = await Create(new { text });
        Assert.Equal(await Client.GetStringAsync($"/api/models/{id}/export"), await Client.GetStringAsync($"/api/models/{copy}/export"));
        Assert.Equal(
            HttpStatusCode.UnprocessableEntity,
            (await Client.PostAsJsonAsync("/api/models", new { text = "model A" })).StatusCode
        );
    }
}
