using System.Diagnostics;
using System.Numerics;
using AnchorBend.Compiler.Preparation;
using AnchorBend.Language.Binding;
using AnchorBend.Language.Terms;
using AnchorBend.Modeling.Flat;

namespace AnchorBend.Design;

/// <summary>The poles of a model with one value of a parameter; null where there is no operating point with it.</summary>
public sealed record LocusPoint(double Value, Complex[]? Poles);

/// <summary>How a pole moves with a parameter.</summary>
/// <param name="Parameter">Its path.</param>
/// <param name="Frequency">Relative change of the natural frequency over that of the parameter.</param>
/// <param name="Damping">Change of the damping ratio over the relative change of the parameter.</param>
public sealed record PoleMover(string Parameter, double Frequency, double Damping)
{
    public double Size => Math.Sqrt(Frequency * Frequency + Damping * Damping);
}

/// <summary>The poles of a whole model over the values of a parameter, about the operating point that each value has (Evans, Trans. AIEE
/// 67, 1948, for any parameter).</summary>
public static class RootLocus
{
    /// <summary>A relative change that is small and yet far above rounding.</summary>
    const double Small = 1e-4;

    /// <param name="pointOf">The operating point with given parameters.</param>
    /// <exception cref="DesignException">It is no such parameter, or samples lie in the model's loops.</exception>
    public static IReadOnlyList<LocusPoint> Of(
        PreparedModel prepared,
        string parameter,
        IReadOnlyList<double> values,
        Func<ParameterSet, OperatingPoint> pointOf,
        CancellationToken cancellation = default
    )
    {
        var variable = prepared.Find(parameter) ?? throw Linearizer.Unknown(prepared.Model, parameter);
        if (!IsFree(variable))
            throw new DesignException(
                "parameter",
                $"'{parameter}' is no parameter whose value can be changed on its own.",
                "Take a real parameter that follows from no other one and on which the model's structure does not depend."
            );
        RefuseSamples(prepared);
        var points = new LocusPoint[values.Count];
        Parallel.For(0, points.Length, new ParallelOptions { CancellationToken = cancellation }, i =>
            points[i] = new LocusPoint(values[i], Poles(prepared, variable, values[i], pointOf))
        );
        Complex[]? before = null;
        for (var i = 0; i < points.Length; i++)
            if (points[i].Poles is { } poles)
                points[i] = points[i] with { Poles = before = before is null ? poles : Followed(before, poles) };
        return points;
    }

    /// <summary>The parameters that move a pole most, those first.</summary>
    /// <param name="pole">A pole of the model with its present values, or one near by.</param>
    /// <param name="most">After this time the parameters that are left are not looked at.</param>
    /// <returns>With how many parameters were looked at, of how many.</returns>
    /// <exception cref="DesignException">Samples lie in the model's loops.</exception>
    public static (IReadOnlyList<PoleMover> Movers, int Looked, int All) Movers(
        PreparedModel prepared,
        Complex pole,
        Func<ParameterSet, OperatingPoint> pointOf,
        TimeSpan most,
        CancellationToken cancellation = default
    )
    {
        RefuseSamples(prepared);
        var present = new ParameterSet(prepared.Model).Values;
        // The signs of a sum are no quantities.
        List<FlatVariable> free =
        [
            .. prepared.Model.Variables.Where(v =>
                IsFree(v)
                && double.IsFinite(present[v.Index])
                && present[v.Index] != 0
                && !(v.Name.EndsWith(']') && Math.Abs(present[v.Index]) == 1)
            ),
        ];
        var movers = new List<PoleMover>();
        var looked = 0;
        var begun = Stopwatch.GetTimestamp();
        foreach (var parameter in free)
        {
            cancellation.ThrowIfCancellationRequested();
            if (Stopwatch.GetElapsedTime(begun) > most)
                break;
            looked++;
            var value = present[parameter.Index];
            // To both sides, so that a bend does not count.
            if (
                Near(Poles(prepared, parameter, value * (1 + Small), pointOf), pole) is { } more
                && Near(Poles(prepared, parameter, value * (1 - Small), pointOf), pole) is { } less
            )
                movers.Add(
                    new PoleMover(
                        parameter.Name,
                        pole == Complex.Zero ? 0 : (more.Magnitude - less.Magnitude) / (2 * Small * pole.Magnitude),
                        (Damping(more) - Damping(less)) / (2 * Small)
                    )
                );
        }

        return ([.. movers.Where(m => m.Size > 1e-6).OrderByDescending(m => m.Size)], looked, free.Count);
    }

    static double Damping(Complex pole) => pole.Magnitude > 0 ? -pole.Real / pole.Magnitude : 0;

    static Complex? Near(Complex[]? poles, Complex pole) => poles is { Length: > 0 } ? poles.MinBy(p => (p - pole).Magnitude) : null;

    static bool IsFree(FlatVariable v) =>
        v is { Role: VariableRole.Parameter, Type: ScalarType.Real, IsStructural: false }
        && (v.Binding is null || !TermBuilder.Any(v.Binding, t => t is VariableTerm));

    static Complex[]? Poles(PreparedModel prepared, FlatVariable variable, double value, Func<ParameterSet, OperatingPoint> pointOf)
    {
        try
        {
            var set = new ParameterSet(prepared.Model, new Dictionary<int, double> { [variable.Index] = value });
            return [.. PolesAndZeros.Poles(Linearizer.Whole(prepared, pointOf(set)))];
        }
        catch (Exception e) when (e is DesignException or ArgumentException or Simulation.SimulationException)
        {
            return null;
        }
    }

    /// <summary>Poles in the order of those before them: each takes the nearest that is left, the nearest pairs first.</summary>
    static Complex[] Followed(Complex[] before, Complex[] poles)
    {
        var result = new Complex?[poles.Length];
        var left = Enumerable.Range(0, poles.Length).ToHashSet();
        var pairs = before
            .Take(poles.Length)
            .SelectMany((b, i) => poles.Select((p, j) => (i, j, Distance: (b - p).Magnitude)))
            .OrderBy(p => p.Distance);
        foreach (var (i, j, _) in pairs)
            if (result[i] is null && left.Remove(j))
                result[i] = poles[j];
        var rest = new Queue<int>(left);
        return [.. result.Select(p => p ?? poles[rest.Dequeue()])];
    }

    /// <summary>What samples keep is held in a linear model, so a loop through them would be open in its poles.</summary>
    static void RefuseSamples(PreparedModel prepared)
    {
        if (prepared.Model.Clocks.Select(c => c.Owner).FirstOrDefault() is { } owner)
            throw new DesignException(
                "sampled",
                $"The model has samples ('{owner}'), through which its poles are not those of a continuous system.",
                "Look at the linear system between two signals, which has the samples in it."
            );
    }
}
