using AnchorBend.Compiler.Preparation;
using AnchorBend.Modeling.Flat;
using AnchorBend.Simulation;
using MathNet.Numerics.LinearAlgebra;

namespace AnchorBend.Design;

/// <summary>A signal that is to have a value at rest, or one between two.</summary>
/// <param name="Signal">Name of a variable of the flat model.</param>
/// <param name="Low">In the unit that the model computes in; minus infinity for any.</param>
public sealed record WantedValue(string Signal, double Low, double High)
{
    public WantedValue(string signal, double value)
        : this(signal, value, value) { }

    public bool IsFixed => Low == High;

    /// <summary>How far a value lies outside.</summary>
    internal double Missing(double value) =>
        value < Low ? value - Low
        : value > High ? value - High
        : 0;

    /// <summary>The bound that a value lies beyond, as what is wanted; the same where it lies between them.</summary>
    internal WantedValue Nearest(double value) =>
        value < Low ? new WantedValue(Signal, Low)
        : value > High ? new WantedValue(Signal, High)
        : this;

    internal double Size => Math.Max(double.IsFinite(Low) ? Math.Abs(Low) : 0, double.IsFinite(High) ? Math.Abs(High) : 0);
}

/// <summary>A parameter that may take any value between two.</summary>
/// <param name="Guess">Where to begin; null for what the model has.</param>
public sealed record FreeParameter(
    string Parameter,
    double? Guess = null,
    double Low = double.NegativeInfinity,
    double High = double.PositiveInfinity
);

/// <summary>A state at rest with wanted values, or the nearest one that was found.</summary>
/// <param name="Prepared">The model with the found values of its free parameters.</param>
/// <param name="Reached">What the wanted signals have.</param>
/// <param name="Found">The free parameters' values.</param>
/// <param name="AtBounds">Names of the free parameters and bounded signals that came to stand at a bound.</param>
/// <param name="IsMet">Whether all wanted values are met.</param>
public sealed record SteadySearch(
    PreparedModel Prepared,
    OperatingPoint Point,
    IReadOnlyList<double> Reached,
    IReadOnlyList<double> Found,
    IReadOnlyList<string> AtBounds,
    bool IsMet
)
{
    const int MostRounds = 60;

    /// <summary>Wanted values are met to this share of their size.</summary>
    const double Tolerance = 1e-9;

    /// <summary>
    /// Searches values of the free parameters by the Levenberg–Marquardt method with steps cut at the bounds (Nocedal and Wright,
    /// "Numerical Optimization", chapter 10; bounds by projection, Kanzow, Yamashita and Fukushima, J. Comput. Appl. Math. 172, 2004)
    /// around the search for rest. With more free parameters than wanted values, the nearest ones to where it began are taken; where the
    /// values cannot be met, the squares of what is missing, each over the size of its value, are least.
    /// </summary>
    /// <param name="begin">How each state of rest is searched for; null for from the start values.</param>
    /// <exception cref="DesignException">A name is unknown, a parameter cannot be changed, or there is no rest to begin with.</exception>
    public static SteadySearch Of(
        PreparedModel prepared,
        IReadOnlyList<WantedValue> wanted,
        IReadOnlyList<FreeParameter> free,
        RestSearch? begin = null,
        CancellationToken cancellation = default
    )
    {
        begin ??= new RestSearch();
        // What moves and is wanted at a value simply stands there.
        var held = wanted.Where(w => w.IsFixed && begin.Moving.Contains(prepared.Find(w.Signal)?.Name)).ToList();
        if (held.Count > 0)
            begin = begin with
            {
                From = (begin.From ?? new StartValues("", new Dictionary<string, double>())).With(
                    held.Select(w => (prepared.Find(w.Signal)!.Name, w.Low))
                ),
            };
        if (wanted.Any(w => !(w.Low <= w.High)))
            throw new DesignException("wanted", "The bounds of a signal leave nothing between them.", "Give the lower one first.");
        if (wanted.Count > held.Count && free.Count == 0 && wanted.Except(held).Any(w => w.IsFixed))
            throw new DesignException("free", "Values are wanted, but nothing may change for them.", "Say which parameters are free.");
        var targets = wanted.Select(w => Named(prepared, w.Signal)).ToArray();
        var own = prepared.Model.ParameterValues();
        var start = free.Select(f =>
            {
                var parameter = Named(prepared, f.Parameter);
                if (parameter.Role != VariableRole.Parameter)
                    throw new DesignException(
                        "free",
                        $"'{f.Parameter}' is no parameter, so it cannot be free.",
                        "Free the value of a source, or another parameter."
                    );
                if (!(f.Low <= f.High))
                    throw new DesignException(
                        "free",
                        $"The bounds of '{f.Parameter}' leave nothing between them.",
                        "Give the lower one first."
                    );
                return Math.Clamp(f.Guess ?? own[parameter.Index], f.Low, f.High);
            })
            .ToArray();
        if (At(prepared, free, begin, start) is not { } first)
            throw new DesignException(
                "free",
                $"With {string.Join(", ", free.Select((f, i) => $"{f.Parameter} = {start[i]:G6}"))} there is no state at rest, "
                    + "or the model would have other equations.",
                "Begin at other values, or free other parameters."
            );
        // The nearest way to a bound that is passed ends at it.
        var bent = wanted.Select((w, i) => w.IsFixed ? w : w.Nearest(first.Point.Values[targets[i].Index])).ToList();
        var passed = bent.Where((w, i) => w != wanted[i]).Select(w => w.Signal).ToList();
        if (free.Count > 0 && passed.Count > 0 && Of(prepared, bent, free, begin, cancellation) is { IsMet: true } found)
            return found with { AtBounds = [.. found.AtBounds.Concat(passed).Distinct()] };
        var sizes = wanted.Select((w, i) => Math.Max(w.Size, 1e-3 * Math.Max(1, Math.Abs(first.Point.Values[targets[i].Index])))).ToArray();
        Vector<double> Missing(OperatingPoint point) =>
            Vector<double>.Build.Dense([.. targets.Select((t, i) => wanted[i].Missing(point.Values[t.Index]) / sizes[i])]);
        var (x, here, missing) = (start, first, Missing(first.Point));
        var scale = free.Select(
                (f, i) => Math.Max(Math.Abs(x[i]), double.IsFinite(f.High - f.Low) ? 0.1 * (f.High - f.Low) : 0) is > 0 and var s ? s : 1
            )
            .ToArray();
        var damping = 1e-6;
        for (var round = 0; round < MostRounds && free.Count > 0 && missing.Count > 0 && missing.InfinityNorm() > Tolerance; round++)
        {
            cancellation.ThrowIfCancellationRequested();
            var jacobian = Slopes(values => At(prepared, free, begin, values), free, x, scale, Missing, missing);
            var moved = false;
            for (var tries = 0; tries < 12 && !moved; tries++)
            {
                // (JᵀJ + λ) s = −Jᵀ r, of those that no bound holds.
                var step = Step(jacobian, missing, damping, free, x, scale);
                double[] next = [.. x.Select((v, i) => Math.Clamp(v + scale[i] * step[i], free[i].Low, free[i].High))];
                if (At(prepared, free, begin, next) is { } there && Missing(there.Point) is var left && left.L2Norm() < missing.L2Norm())
                {
                    (x, here, missing, moved) = (next, there, left, true);
                    damping = Math.Max(1e-14, damping / 10);
                }
                else
                    damping = Math.Max(1e-8, damping * 10);
            }

            if (!moved)
                break;
        }

        return new SteadySearch(
            here.Model,
            here.Point,
            [.. targets.Select(t => here.Point.Values[t.Index])],
            x,
            [
                .. free.Where((f, i) => x[i] == f.Low || x[i] == f.High).Select(f => f.Parameter),
                .. wanted.Where((w, i) => !w.IsFixed && IsAt(w, here.Point.Values[targets[i].Index], sizes[i])).Select(w => w.Signal),
            ],
            missing.Count == 0 || missing.InfinityNorm() <= 1e-6
        );
    }

    static bool IsAt(WantedValue bounds, double value, double size) =>
        Math.Min(Math.Abs(value - bounds.Low), Math.Abs(value - bounds.High)) <= 1e-6 * size;

    static FlatVariable Named(PreparedModel prepared, string name) =>
        prepared.Find(name)
        ?? throw new DesignException(
            "unknown-name",
            $"There is no signal or parameter '{name}'.",
            Language.Nearest.Of(name, prepared.Model.Variables.Select(v => v.Name)) is { } near
                ? $"Did you mean '{near}'?"
                : "Names are paths such as Drive.y."
        );

    /// <summary>The rest at given values; null where there is none, or the model would have other equations.</summary>
    static (PreparedModel Model, OperatingPoint Point)? At(
        PreparedModel prepared,
        IReadOnlyList<FreeParameter> free,
        RestSearch begin,
        double[] values
    )
    {
        if (ValueChange.Apply(prepared, [.. free.Select((f, i) => (prepared.Find(f.Parameter)!.Name, values[i]))]) is not { } changed)
            return null;
        try
        {
            return (changed, OperatingPoint.Steady(changed, new ParameterSet(changed.Model), begin));
        }
        catch (DesignException) when (free.Count > 0)
        {
            return null;
        }
    }

    static Matrix<double> Slopes(
        Func<double[], (PreparedModel, OperatingPoint Point)?> at,
        IReadOnlyList<FreeParameter> free,
        double[] x,
        double[] scale,
        Func<OperatingPoint, Vector<double>> missing,
        Vector<double> here
    )
    {
        // The cube root of rounding balances it against the curvature of central differences.
        const double share = 6e-6;
        var jacobian = Matrix<double>.Build.Dense(here.Count, x.Length);
        for (var j = 0; j < x.Length; j++)
        {
            double[] up = [.. x],
                down = [.. x];
            up[j] = Math.Min(free[j].High, x[j] + share * scale[j]);
            down[j] = Math.Max(free[j].Low, x[j] - share * scale[j]);
            var above = at(up) is { } a ? missing(a.Point) : here;
            var below = at(down) is { } b ? missing(b.Point) : here;
            var width = (up[j] - down[j]) / scale[j];
            if (width > 0)
                jacobian.SetColumn(j, (above - below) / width);
        }

        return jacobian;
    }

    static double[] Step(
        Matrix<double> jacobian,
        Vector<double> missing,
        double damping,
        IReadOnlyList<FreeParameter> free,
        double[] x,
        double[] scale
    )
    {
        var step = new double[x.Length];
        var open = Enumerable.Range(0, x.Length).ToList();
        while (open.Count > 0)
        {
            var part = Matrix<double>.Build.DenseOfColumns(open.Select(jacobian.Column));
            var normal = part.TransposeThisAndMultiply(part);
            var size = Math.Max(normal.Diagonal().AbsoluteMaximum(), 1e-300);
            for (var i = 0; i < open.Count; i++)
                normal[i, i] += damping * size;
            var solved = normal.Solve(-part.TransposeThisAndMultiply(missing));
            // What would go beyond a bound that it stands at stays there.
            var held = open.Where(
                    (j, i) => x[j] <= free[j].Low && solved[i] * scale[j] < 0 || x[j] >= free[j].High && solved[i] * scale[j] > 0
                )
                .ToList();
            if (held.Count == 0)
            {
                for (var i = 0; i < open.Count; i++)
                    step[open[i]] = double.IsFinite(solved[i]) ? solved[i] : 0;
                return step;
            }

            open.RemoveAll(held.Contains);
        }

        return step;
    }
}
