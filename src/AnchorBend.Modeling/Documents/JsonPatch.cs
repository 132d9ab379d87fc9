using System.Globalization;
using System.Text.Json.Nodes;

namespace AnchorBend.Modeling.Documents;

/// <summary>One operation of a JSON Patch.</summary>
/// <param name="Op">add, remove, replace or test.</param>
/// <param name="Path">JSON Pointer (RFC 6901).</param>
public sealed record PatchOperation(string Op, string Path, JsonNode? Value = null);

/// <summary>
/// Applies edits as JSON Patch (RFC 6902; add, remove, replace, test) and gives the inverse, from which undo is made.
/// The libraries at hand apply patches but do not invert them.
/// </summary>
public static class JsonPatch
{
    /// <summary>Applies all operations to a copy.</summary>
    /// <returns>The new document and the operations that lead back.</returns>
    /// <exception cref="DocumentException">An operation does not fit the document; nothing is changed.</exception>
    public static (JsonNode Result, List<PatchOperation> Inverse) Apply(JsonNode document, IReadOnlyList<PatchOperation> operations)
    {
        var root = document.DeepClone();
        return (root, ApplyInPlace(root, operations));
    }

    /// <summary>Applies all operations to the document itself.</summary>
    /// <returns>The operations that lead back.</returns>
    /// <exception cref="DocumentException">An operation does not fit the document, in which those before it have been applied.</exception>
    public static List<PatchOperation> ApplyInPlace(JsonNode document, IReadOnlyList<PatchOperation> operations)
    {
        var inverse = new List<PatchOperation>();
        foreach (var operation in operations)
        {
            var steps = Steps(operation.Path);
            if (steps.Length == 0)
                throw new DocumentException("An edit cannot replace the whole document.");
            var parent = document;
            for (var i = 0; i < steps.Length - 1; i++)
                parent = Child(parent, steps[i]) ?? throw new DocumentException($"There is nothing at '{operation.Path}'.");
            inverse.Add(ApplyOne(parent, steps[^1], operation));
        }

        inverse.Reverse();
        inverse.RemoveAll(o => o.Op == "test");
        return inverse;
    }

    static PatchOperation ApplyOne(JsonNode parent, string key, PatchOperation operation)
    {
        var path = operation.Path;
        var value = operation.Value?.DeepClone();
        switch (parent, operation.Op)
        {
            case (JsonObject o, "add"):
                var had = o.TryGetPropertyValue(key, out var old);
                o[key] = value;
                return had ? new PatchOperation("replace", path, old?.DeepClone()) : new PatchOperation("remove", path);
            case (JsonObject o, "replace" or "remove" or "test"):
                if (!o.TryGetPropertyValue(key, out old))
                    throw new DocumentException($"There is nothing at '{path}'.");
                if (operation.Op == "test")
                    return JsonNode.DeepEquals(old, value)
                        ? new PatchOperation("test", path)
                        : throw new DocumentException($"'{path}' is not what the edit expects.");
                if (operation.Op == "replace")
                {
                    o[key] = value;
                    return new PatchOperation("replace", path, old?.DeepClone());
                }

                o.Remove(key);
                return new PatchOperation("add", path, old?.DeepClone());
            case (JsonArray a, "add"):
                var index = key == "-" ? a.Count : Index(key, a.Count, path);
                a.Insert(index, value);
                return new PatchOperation("remove", path[..(path.LastIndexOf('/') + 1)] + index.ToString(CultureInfo.InvariantCulture));
            case (JsonArray a, "replace" or "remove" or "test"):
                index = Index(key, a.Count - 1, path);
                old = a[index];
                if (operation.Op == "test")
                    return JsonNode.DeepEquals(old, value)
                        ? new PatchOperation("test", path)
                        : throw new DocumentException($"'{path}' is not what the edit expects.");
                if (operation.Op == "replace")
                {
                    a[index] = value;
                    return new PatchOperation("replace", path, old?.DeepClone());
                }

                a.RemoveAt(index);
                return new PatchOperation("add", path, old?.DeepClone());
            default:
                throw new DocumentException($"The edit '{operation.Op}' at '{path}' is not possible.");
        }
    }

    /// <summary>The steps of a pointer, unescaped.</summary>
    public static string[] Steps(string path)
    {
        if (path.Length == 0)
            return [];
        if (path[0] != '/' || path.Length > 1000)
            throw new DocumentException($"'{path}' is not a place in a document.");
        return
        [
            .. path[1..]
                .Split('/')
                .Select(s => s.Replace("~1", "/", StringComparison.Ordinal).Replace("~0", "~", StringComparison.Ordinal)),
        ];
    }

    /// <summary>Escapes one step of a pointer.</summary>
    public static string Escape(string step) =>
        step.Replace("~", "~0", StringComparison.Ordinal).Replace("/", "~1", StringComparison.Ordinal);

    static JsonNode? Child(JsonNode node, string key) =>
        node switch
        {
            JsonObject o => o.TryGetPropertyValue(key, out var child) ? child : null,
            JsonArray a when int.TryParse(key, NumberStyles.None, CultureInfo.InvariantCulture, out var i) && i < a.Count => a[i],
            _ => null,
        };

    static int Index(string key, int last, string path) =>
        int.TryParse(key, NumberStyles.None, CultureInfo.InvariantCulture, out var i) && i >= 0 && i <= last
            ? i
            : throw new DocumentException($"There is nothing at '{path}'.");
}
