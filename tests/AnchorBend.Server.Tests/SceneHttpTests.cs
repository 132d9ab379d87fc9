using System.Net;
using System.Net.Http.Headers;
using System.Net.Http.Json;
using System.Text.Json;

namespace AnchorBend.Server.Tests;

/// <summary>Scenes and their meshes over HTTP.</summary>
public sealed class SceneHttpTests : ServerTest
{
    static readonly byte[] Plate = "solid\nfacet\nvertex 0 0 0\nvertex 2 0 0\nvertex 0 1 0\nendfacet\nendsolid\n"u8.ToArray();

    Task<HttpResponseMessage> Send(string name, byte[] file, string type = "application/octet-stream")
    {
        var content = new ByteArrayContent(file);
        content.Headers.ContentType = new MediaTypeHeaderValue(type);
        return Client.PostAsync($"/api/meshes?name={Uri.EscapeDataString(name)}", content);
    }

    [Fact]
    public async Task A_mesh_is_taken_once_and_given_as_triangles()
    {
        var first = await (await Send("plate.stl", Plate)).Content.ReadFromJsonAsync<JsonElement>();
        var hash = first.GetProperty("hash").GetString();
        Assert.Equal((1, 2.0), (first.GetProperty("triangles").GetInt32(), first.GetProperty("extent").GetProperty("x").GetDouble()));
        Assert.Equal(
            hash,
            (await (await Send("again.stl", Plate)).Content.ReadFromJsonAsync<JsonElement>()).GetProperty("hash").GetString()
        );
        var bytes = await Client.GetByteArrayAsync($"/api/meshes/{hash}");
        Assert.Equal((3, 1), (BitConverter.ToInt32(bytes, 0), BitConverter.ToInt32(bytes, 4)));
        Assert.Equal(HttpStatusCode.NotFound, (await Client.GetAsync("/api/meshes/none")).StatusCode);
    }

    [Fact]
    public async Task What_is_no_mesh_is_refused_with_the_reason()
    {
        var refused = await Send("plate.stl", Plate[..30]);
        Assert.Equal(HttpStatusCode.UnprocessableEntity, refused.StatusCode);
        Assert.Contains("plate.stl cannot be shown", await refused.Content.ReadAsStringAsync(), StringComparison.Ordinal);
        Assert.Equal(HttpStatusCode.BadRequest, (await Client.PostAsync("/api/meshes", new ByteArrayContent(Plate))).StatusCode);
        Assert.Equal(HttpStatusCode.BadRequest, (await Send("plate.stl", Plate, "text/plain")).StatusCode);
    }

    [Fact]
    public async Task A_scene_tells_the_bodies_of_a_model()
    {
        var model = (await Post("/api/models", new { example = "quay-crane" })).GetProperty("id").GetString();
        var scene = await Get($"/api/models/{model}/scene");
        var bodies = scene.GetProperty("bodies").EnumerateArray().ToList();
        Assert.Contains(bodies, b => b.GetProperty("kind").GetString() == "strut");
        Assert.All(bodies, b => Assert.True(b.TryGetProperty("x", out _) && b.TryGetProperty("shapes", out _)));
        Assert.Equal(HttpStatusCode.NotFound, (await Client.GetAsync("/api/models/none/scene")).StatusCode);
    }
}
