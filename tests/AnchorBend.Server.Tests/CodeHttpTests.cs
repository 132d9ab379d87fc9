using System.Net;
using System.Net.Http.Json;
using System.Text.Json;

namespace AnchorBend.Server.Tests;

/// <summary>Parts as C code over HTTP.</summary>
public sealed class CodeHttpTests : ServerTest
{
    [Fact]
    public async Task A_controller_is_written_and_its_lines_lead_back()
    {
        var id = await Client.Create(new { example = "plankton-winch" });
        var response = await Client.PostAsJsonAsync($"/api/models/{id}/code", new { part = "p9", step = "1 ms" });
        Assert.True(response.IsSuccessStatusCode, await response.Content.ReadAsStringAsync());
        var written = await response.Content.ReadFromJsonAsync<JsonElement>();
        Assert.Equal("Controller", written.GetProperty("name").GetString());
        var source = written.GetProperty("files")[1];
        Assert.Equal("controller.c", source.GetProperty("name").GetString());
        Assert.Contains(source.GetProperty("lines").EnumerateArray(), l => l.GetProperty("part").GetString() == "Speed controller");
        Assert.Equal(3, written.GetProperty("inputs").GetArrayLength());
    }

    [Theory]
    [InlineData("""{"part":"nobody","step":"1 ms"}""", HttpStatusCode.UnprocessableEntity)]
    [InlineData("""{"part":"p9","step":"never"}""", HttpStatusCode.UnprocessableEntity)]
    [InlineData("""{"part":"p9"}""", HttpStatusCode.BadRequest)]
    [InlineData("""{"part":"p9","step":"1 ms","tunable":[null]}""", HttpStatusCode.BadRequest)]
    public async Task What_is_no_order_is_told(string body, HttpStatusCode status)
    {
        var id = await Client.Create(new { example = "plankton-winch" });
        var content = new StringContent(body, System.Text.Encoding.UTF8, "application/json");
        var response = await Client.PostAsync($"/api/models/{id}/code", content);
        Assert.Equal(status, response.StatusCode);
        Assert.Equal("application/problem+json", response.Content.Headers.ContentType?.MediaType);
    }
}
