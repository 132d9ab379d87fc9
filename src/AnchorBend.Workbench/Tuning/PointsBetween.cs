using AnchorBend.Compiler.Preparation;
using AnchorBend.Language.Binding;
using AnchorBend.Modeling.Documents;
using AnchorBend.Simulation;
using AnchorBend.Workbench.Models;

namespace AnchorBend.Workbench.Tuning;

/// <summary>Operating points halfway between two saved ones: where a schedule is looked at that was filled at those.</summary>
static class PointsBetween
{
    /// <summary>With the mean of each parameter that both set, and of each state that both keep; the search for rest begins
    /// there.</summary>
    /// <exception cref="DesignException">They differ in what has no mean.</exception>
    public static OperatingPointNode Of(ModelSession session, string first, string second, CancellationToken wanted)
    {
        var (one, document) = SavedPoints.Model(session, first, wanted);
        var (other, _) = SavedPoints.Model(session, second, wanted);
        var (begin, end) = (document.OperatingPoints[first], document.OperatingPoints[second]);
        if (begin.Rests != end.Rests || begin.At != end.At)
            throw NoMean("one of them is at rest and the other is not, or their instants differ");
        var states = end.States.ToDictionary(s => s.Target, s => s.Value);
        return begin with
        {
            Name = $"between {begin.Name} and {end.Name}",
            Parameters = [.. Parameters(one, other, document, begin, end)],
            States =
            [
                .. begin.States.Where(s => states.ContainsKey(s.Target)).Select(s => s with { Value = (s.Value + states[s.Target]) / 2 }),
            ],
        };
    }

    static IEnumerable<PointValueNode> Parameters(
        PreparedModel one,
        PreparedModel other,
        ModelDocument document,
        OperatingPointNode begin,
        OperatingPointNode end
    )
    {
        var (low, high) = (new ParameterSet(one.Model).Values, new ParameterSet(other.Model).Values);
        var texts = end.Parameters.ToDictionary(p => p.Target, p => p.Value);
        if (!texts.Keys.ToHashSet().SetEquals(begin.Parameters.Select(p => p.Target)))
            throw NoMean("they set different parameters");
        foreach (var set in begin.Parameters)
        {
            if (texts[set.Target] == set.Value)
            {
                yield return set;
                continue;
            }

            var name = document.NameOf(set.Target) ?? set.Target;
            if (one.Model.Find(name) is not { Type: ScalarType.Real } a || other.Model.Find(name) is not { } b)
                throw NoMean($"{name} has no mean");
            yield return set with
            {
                Value = TypedValue.InUnitOf(set.Value, (low[a.Index] + high[b.Index]) / 2, a.Unit),
            };
        }
    }

    static Design.DesignException NoMean(string why) =>
        new("between", $"There is nothing halfway between these points: {why}.", "Save a point between them, and look at the loop there.");
}
