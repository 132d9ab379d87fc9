using System.Text;
using System.Text.Json;
using Microsoft.Net.Http.Headers;

namespace AnchorBend.Server.Security;

/// <summary>
/// Reads the body of a request before anybody else does and refuses what a reader further in would trip over: other content than JSON in
/// UTF-8, values nested too deep, names given twice, text that is no Unicode. The answer is 400 with the place.
/// </summary>
sealed class JsonGate(RequestDelegate next)
{
    const int Deepest = 48;

    public async Task InvokeAsync(HttpContext context)
    {
        var request = context.Request;
        if (
            !request.Path.StartsWithSegments("/api")
            || HttpMethods.IsGet(request.Method)
            || HttpMethods.IsHead(request.Method)
            || TakesFile(context)
        )
        {
            await next(context);
            return;
        }

        var body = new MemoryStream();
        await request.Body.CopyToAsync(body, context.RequestAborted);
        if (body.Length > 0 && Problem(request.ContentType, body.GetBuffer().AsSpan(0, (int)body.Length)) is { } problem)
        {
            await Endpoints.Problems.BadRequest(problem).ExecuteAsync(context);
            return;
        }

        body.Position = 0;
        request.Body = body;
        await next(context);
    }

    /// <summary>Whether the endpoint reads a file as it is, whatever is in it.</summary>
    static bool TakesFile(HttpContext context) =>
        context.GetEndpoint()?.Metadata.GetMetadata<Microsoft.AspNetCore.Http.Metadata.IAcceptsMetadata>()
            is { ContentTypes: ["application/octet-stream"] };

    /// <summary>What is wrong with a body; null where it can be read.</summary>
    internal static string? Problem(string? contentType, ReadOnlySpan<byte> body)
    {
        if (
            !MediaTypeHeaderValue.TryParse(contentType, out var type)
            || !type.MediaType.Equals("application/json", StringComparison.OrdinalIgnoreCase)
        )
            return $"The content type is '{Shown(contentType ?? "")}', but must be application/json.";
        if (type.Charset.HasValue && !type.Charset.Value!.Trim('"').Equals("utf-8", StringComparison.OrdinalIgnoreCase))
            return $"The character set is '{Shown(type.Charset.Value!)}', but JSON is UTF-8.";
        var reader = new Utf8JsonReader(body, new JsonReaderOptions { MaxDepth = Deepest });
        var path = new List<Place>();
        try
        {
            while (reader.Read())
                Visit(ref reader, path);
            return null;
        }
        catch (JsonException e)
        {
            return $"This is no JSON that can be read: line {e.LineNumber + 1}, byte {e.BytePositionInLine + 1}, at "
                + $"{Print(path)}. {Reason(e)}";
        }
        catch (InvalidOperationException)
        {
            return $"A text at {Print(path)} is no Unicode.";
        }
        catch (DuplicateNameException e)
        {
            return $"'{Shown(e.Name)}' is given twice at {Print(path)}.";
        }
    }

    static string Reason(JsonException e) =>
        e.Message.Contains("depth", StringComparison.Ordinal) ? $"It is nested deeper than {Deepest} levels." : "";

    sealed class DuplicateNameException(string name) : Exception
    {
        public string Name { get; } = name;
    }

    /// <summary>A container on the way: its names so far, or the number of its elements.</summary>
    sealed class Place(bool isObject)
    {
        public readonly HashSet<string>? Names = isObject ? [] : null;
        public string? Name;
        public int Index = -1;
    }

    static void Visit(ref Utf8JsonReader reader, List<Place> path)
    {
        switch (reader.TokenType)
        {
            case JsonTokenType.PropertyName:
                var name = reader.GetString()!;
                path[^1].Name = name;
                if (!path[^1].Names!.Add(name))
                    throw new DuplicateNameException(name);
                return;
            case JsonTokenType.EndObject or JsonTokenType.EndArray:
                path.RemoveAt(path.Count - 1);
                return;
        }

        if (path.Count > 0 && path[^1].Names is null)
            path[^1].Index++;
        if (reader.TokenType is JsonTokenType.StartObject or JsonTokenType.StartArray)
            path.Add(new Place(reader.TokenType == JsonTokenType.StartObject));
        else if (reader.TokenType == JsonTokenType.String)
            _ = reader.GetString();
    }

    static string Print(List<Place> path)
    {
        var text = new StringBuilder("$");
        foreach (var place in path)
        {
            if (place.Names is not null && place.Name is not null)
                text.Append('.').Append(Shown(place.Name));
            else if (place.Names is null && place.Index >= 0)
                text.Append('[').Append(place.Index).Append(']');
        }

        return text.ToString();
    }

    static string Shown(string text) => new([.. text.Take(60).Select(c => char.IsControl(c) || char.IsSurrogate(c) ? '?' : c)]);
}
