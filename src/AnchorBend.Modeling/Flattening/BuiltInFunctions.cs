using AnchorBend.Language.Terms;
using AnchorBend.Media;

namespace AnchorBend.Modeling.Flattening;

/// <summary>The functions that texts declare by <c>external "builtin"</c> and the tool computes under their names.</summary>
public static class BuiltInFunctions
{
    /// <summary>So many times a function has slopes of its slopes: equations are differentiated where constraints tie states.</summary>
    const int Depth = 2;

    // What the table below names stands above it.
    static readonly Intrinsic OutsideAt = Intrinsics.Add("outsideAt", 1, (time, _, _, _) => OutsidePoints.At(time), [null]),
        OutsideWith = Intrinsics.Add(
            "outsideWith",
            3,
            (index, value, point, _) => OutsidePoints.With(index, value, point),
            [null, null, null]
        ),
        OutsideSlope = Intrinsics.Add("outsideValue'", 4, OutsideUnits.Slope, [null, null, null, null]);

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
            OutsideAt,
            OutsideWith,
            Intrinsics.Add("outsideBegin", 3, (number, state, point, _) => OutsideUnits.Begin(number, state, point), [null, null, null]),
            Intrinsics.Add(
                "outsideValue",
                3,
                (number, place, point, _) => OutsideUnits.Value(number, place, point),
                [null, null, null]
            ) with
            {
                Directions = Directions,
            },
            Intrinsics.Add("outsideEvent", 2, (number, point, _, _) => OutsideUnits.Event(number, point), [null, null]),
            Intrinsics.Add("outsideAfter", 3, (number, what, order, _) => OutsideUnits.After(number, what, order), [null, null, null]),
        ];

    /// <summary>A value of a unit outside changes with each number of its point, and with time.</summary>
    static IEnumerable<(Term On, Term Slope)> Directions(CallTerm value)
    {
        var (unit, place, point) = (value.Operands[0], value.Operands[1], value.Operands[2]);
        for (var at = point as CallTerm; at is not null; at = at.Operands[^1] as CallTerm)
            if (at.Function == OutsideWith)
                yield return (at.Operands[1], Slope(at.Operands[0]));
            else if (at.Function == OutsideAt)
                yield return (at.Operands[0], Slope(Term.Of(-1)));
        CallTerm Slope(Term by) => new(OutsideSlope, [unit, place, by, point]);
    }

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
