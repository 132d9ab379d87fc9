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
        .Concat(Outside())
        .ToDictionary(i => i.Name);

    /// <summary>Calls of units that compute outside (<see cref="OutsideUnits"/>); what they hold counts as constant.</summary>
    static IEnumerable<Intrinsic> Outside() =>
        [
            Intrinsics.Add("outsidePut", 4, OutsideUnits.Put, [null, null, null, null]),
            Intrinsics.Add("outsideStep", 3, (number, time, order, _) => OutsideUnits.Step(number, time, order), [null, null, null]),
            Intrinsics.Add("outsideGet", 3, (number, output, order, _) => OutsideUnits.Get(number, output, order), [null, null, null]),
        ];

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
