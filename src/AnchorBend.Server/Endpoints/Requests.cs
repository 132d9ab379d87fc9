using AnchorBend.Modeling.Documents;

namespace AnchorBend.Server.Endpoints;

/// <summary>The request cannot be understood; the message says what of it.</summary>
public sealed class RequestException(string message) : Exception("The request cannot be understood: " + message);

/// <summary>Reads what requests say.</summary>
static class Requests
{
    /// <exception cref="RequestException">It is missing.</exception>
    public static T Needed<T>(T? value, string name)
        where T : class => value ?? throw new RequestException($"$.{name} is missing.");

    /// <exception cref="RequestException">They are more than that.</exception>
    public static void AtMost<T>(int most, IReadOnlyCollection<T> items, string what)
    {
        if (items.Count > most)
            throw new RequestException($"ask for at most {most} {what} at once.");
    }

    /// <summary>A path of parts; none is the root.</summary>
    /// <exception cref="RequestException">It is no path.</exception>
    public static PartPath Path(string? text) =>
        PartPath.TryParse(text ?? "", out var path) ? path : throw new RequestException("a part is named by ids, as in p1/p2.");
}
