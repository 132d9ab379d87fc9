namespace AnchorBend.Language.Terms;

/// <summary>A function of up to four numbers that is computed in C# and has slopes.</summary>
/// <param name="Number">Its place among all of them, by which generated code calls it.</param>
/// <param name="Value">Is given four numbers; those beyond its own are not to be looked at.</param>
/// <param name="Slopes">By operand the function of its slope; null where it has none and counts as constant.</param>
public sealed record Intrinsic(
    int Number,
    string Name,
    int Arity,
    Func<double, double, double, double, double> Value,
    IReadOnlyList<Intrinsic?> Slopes
)
{
    /// <summary>For a function whose operands stand for more than their numbers: what a call depends on, each with its slope; null where
    /// the slopes by operand say all.</summary>
    public Func<CallTerm, IEnumerable<(Term On, Term Slope)>>? Directions { get; init; }
}

/// <summary>All functions that are computed outside of the equations, by number.</summary>
public static class Intrinsics
{
    static readonly Lock Guard = new();

    // Read by running code while others may be added: what is there never moves.
    static Func<double, double, double, double, double>[] values = new Func<double, double, double, double, double>[64];
    static int count;

    /// <summary>Adds a function with functions for its slopes that were added before.</summary>
    public static Intrinsic Add(
        string name,
        int arity,
        Func<double, double, double, double, double> value,
        IReadOnlyList<Intrinsic?> slopes
    )
    {
        lock (Guard)
        {
            if (count == values.Length)
            {
                var more = new Func<double, double, double, double, double>[2 * count];
                values.CopyTo(more, 0);
                values = more;
            }

            values[count] = value;
            return new Intrinsic(count++, name, arity, value, slopes);
        }
    }

    /// <summary>Calls a function by its number; operands beyond its own are not looked at.</summary>
    public static double Invoke(int number, double a, double b, double c, double d) => values[number](a, b, c, d);
}
