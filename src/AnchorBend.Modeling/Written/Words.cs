namespace AnchorBend.Modeling.Written;

/// <summary>Types of charts that are words in braces, such as <c>{manual, track}</c>.</summary>
public static class Words
{
    /// <summary>The words in their order; none for another type.</summary>
    public static IReadOnlyList<string> Of(string type) =>
        type.Trim() is ['{', .. var inner, '}']
            ? inner.Split(',', StringSplitOptions.TrimEntries | StringSplitOptions.RemoveEmptyEntries)
            : [];
}
