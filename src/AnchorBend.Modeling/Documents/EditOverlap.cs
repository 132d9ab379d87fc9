using System.Globalization;

namespace AnchorBend.Modeling.Documents;

/// <summary>Whether two edits are about the same things of a document.</summary>
public static class EditOverlap
{
    /// <summary>
    /// True where a place of one lies at, above or below a place of the other: who removes a part and who changes its gain are at odds, who
    /// changes two parts are not. What stands in a list by its number is the list.
    /// </summary>
    public static bool IsBetween(IReadOnlyList<PatchOperation> one, IReadOnlyList<PatchOperation> other)
    {
        var places = other.Select(o => Place(o.Path)).ToList();
        return one.Select(o => Place(o.Path)).Any(p => places.Any(q => Holds(p, q) || Holds(q, p)));
    }

    /// <summary>The steps to what a path is about, down to the first list.</summary>
    static string[] Place(string path) => [.. path.Split('/').Skip(1).TakeWhile(s => s != "-" && !IsNumber(s))];

    static bool IsNumber(string step) => int.TryParse(step, NumberStyles.None, CultureInfo.InvariantCulture, out _);

    static bool Holds(string[] above, string[] below) => below.AsSpan().StartsWith(above);
}
