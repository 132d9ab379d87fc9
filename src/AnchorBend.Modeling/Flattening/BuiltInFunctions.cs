using AnchorBend.Language.Terms;
using AnchorBend.Media;

namespace AnchorBend.Modeling.Flattening;

/// <summary>The functions that texts declare by <c>external "builtin"</c> and the tool computes under their names.</summary>
public static class BuiltInFunctions
{
    /// <summary>So many times a function has slopes of its slopes: equations are differentiated where constraints tie states.</summary>
    const int Depth = 2;

    static readonly Dictionary<string, Intrinsic> ByName = FluidFunctions
        .All.Select(f => Added(f.Name, f.Arity, f.Value, f.Slopes, Depth))
        .ToDictionary(i => i.Name);

    /// <summary>The function of a name; null where there is none.</summary>
    public static Intrinsic? Find(string name) => ByName.GetValueOrDefault(name);

    /// <param name="slopes">Exact ones by operand; null for an operand without one.</param>
    static Intrinsic Added(
        string name,
        int arity,
        Func<double, double, double, double, double> value,
        IReadOnlyList<Func<double, double, double, double, double>?> slopes,
        int depth
    )
    {
        var own = new Intrinsic?[arity];
        for (var i = 0; depth > 0 && i < arity; i++)
            if (slopes[i] is { } slope)
                own[i] = Added(
                    $"{name}'{i + 1}",
                    arity,
                    slope,
                    [.. slopes.Select((s, j) => s is null ? null : FluidFunctions.Difference(slope, j))],
                    depth - 1
                );
        return Intrinsics.Add(name, arity, value, own);
    }
}
