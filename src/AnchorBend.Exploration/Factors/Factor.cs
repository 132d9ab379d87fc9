namespace AnchorBend.Exploration.Factors;

/// <summary>One value of a factor: a number, or one of a list by its place.</summary>
/// <param name="Number">In the unit that the factor's values are given in; null for one of a list.</param>
/// <param name="Place">Of the list; −1 for a number.</param>
public readonly record struct FactorLevel(double? Number, int Place)
{
    public static FactorLevel Of(double number) => new(number, -1);

    public static FactorLevel Listed(int place) => new(null, place);
}

/// <summary>What varies in a study.</summary>
/// <param name="Name">By which its column is called.</param>
public sealed record Factor(string Name, FactorSpread Spread);

/// <summary>The values that a factor can have, and how likely they are.</summary>
public abstract record FactorSpread
{
    /// <summary>The value below which a share of all values lies.</summary>
    /// <param name="share">At least 0, below 1.</param>
    public abstract FactorLevel At(double share);

    /// <summary>The values that are gone through in turn; null where there is no end of them.</summary>
    public abstract IReadOnlyList<FactorLevel>? Levels { get; }

    /// <exception cref="ExplorationException">The figures make no spread.</exception>
    public abstract void Check(string name);

    protected static ExplorationException Wrong(string name, string what, string advice) => new("factor", $"'{name}': {what}", advice);
}
