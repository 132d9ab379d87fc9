namespace AnchorBend.Language.Terms;

/// <summary>
/// A unit that computes outside of the equations and whose states they integrate. It is looked at at points: a time, parameters, inputs and
/// states. Between events its values depend on the point alone.
/// </summary>
public interface IOutsideFlow : IOutsideUnit
{
    /// <summary>The point that it is looked at next; what is not set stays as it was.</summary>
    double[] Point { get; }

    /// <returns>A state at the start with the parameters of the point.</returns>
    double Begin(double time, int state);

    double Value(double time, int place);

    double Slope(double time, int place, int by);

    /// <summary>Decides at the point. The same point again is the same event.</summary>
    double Event(double time);

    double After(int what);
}

/// <summary>
/// Points that equations hand to units outside: a time with numbers put to it one by one. Each is known by a number of its own and never
/// changes, so that they can be made in any order; the last ones made are kept, many more than one evaluation makes.
/// </summary>
public static class OutsidePoints
{
    const int Kept = 1 << 16;

    readonly record struct Node(double Value, int Index, long Before);

    [ThreadStatic]
    static Node[]? nodes;

    [ThreadStatic]
    static long made;

    /// <summary>A point with nothing but its time.</summary>
    public static double At(double time) => Add(new Node(time, -1, -1));

    /// <summary>The same point with a number put to it.</summary>
    public static double With(double index, double value, double point) => Add(new Node(value, (int)index, (long)point));

    static double Add(Node node)
    {
        nodes ??= new Node[Kept];
        nodes[made % Kept] = node;
        return made++;
    }

    /// <summary>Puts the numbers of a point where they belong.</summary>
    /// <returns>Its time; no number where it is not known any more.</returns>
    public static double Read(double point, double[] into)
    {
        if (nodes is null || !(point >= 0) || point >= made || made - point > Kept)
            return double.NaN;
        var node = nodes[(long)point % Kept];
        if (node.Index < 0)
            return node.Value;
        // What was put later counts, so what is before it is read first.
        var time = Read(node.Before, into);
        into[node.Index] = node.Value;
        return time;
    }
}
