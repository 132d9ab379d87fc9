using System.Numerics;
using AnchorBend.Compiler.Preparation;

namespace AnchorBend.Design;

/// <summary>
/// A linear system with samples in it, exactly: what goes on between the samples by the matrix exponential, what they do by exact
/// derivatives. From one period of all its samples to the next it is a discrete system; a sine comes through it as that sine and others,
/// of which the first is its frequency response (Åström and Wittenmark, "Computer-Controlled Systems", chapters 2 and 7).
/// </summary>
/// <remarks>The state z is that of the model, then what its samples keep, n in all: between samples z' = F z + b u, y = c z + d u; at a
/// sample z becomes J z + j u.</remarks>
public sealed class SampledSystem
{
    readonly double[,] flow;
    readonly double[] input,
        output;
    readonly double direct;
    readonly List<(double Time, double[,] State, double[] Input)> ticks;

    SampledSystem(
        double[,] flow,
        double[] input,
        double[] output,
        double direct,
        List<(double Time, double[,] State, double[] Input)> ticks,
        double period,
        IReadOnlyList<string> states
    ) =>
        (this.flow, this.input, this.output, this.direct, this.ticks, Period, States) = (
            flow,
            input,
            output,
            direct,
            ticks,
            period,
            states
        );

    /// <summary>After it all samples are taken again at the same instants, s.</summary>
    public double Period { get; }

    public IReadOnlyList<string> States { get; }

    /// <summary>Whether what is sampled lies between two signals.</summary>
    /// <exception cref="DesignException">A name is unknown or the cut cannot be made.</exception>
    public static bool IsBetween(PreparedModel prepared, string from, string to, string? open) =>
        IsBetween(prepared, from, to, Linearizer.Cuts(open));

    /// <inheritdoc cref="IsBetween(PreparedModel, string, string, string?)"/>
    public static bool IsBetween(PreparedModel prepared, string from, string to, IReadOnlyList<string> open)
    {
        var (plan, source, target) = Linearizer.Opened(prepared, from, to, open);
        return SampledPath.Between(plan, source, target).Count > 0;
    }

    /// <summary>The system from one signal to another about an operating point.</summary>
    /// <param name="from">Where the small input is added: a variable's name.</param>
    /// <param name="to">The output: a variable's name.</param>
    /// <param name="open">A signal at which the loop is cut; null for none.</param>
    /// <exception cref="DesignException">What is sampled there repeats after no common period, or not by samples alone.</exception>
    public static SampledSystem Between(PreparedModel prepared, OperatingPoint point, string from, string to, string? open = null) =>
        Between(prepared, point, from, to, Linearizer.Cuts(open));

    /// <param name="open">Signals at which loops are cut.</param>
    /// <inheritdoc cref="Between(PreparedModel, OperatingPoint, string, string, string?)"/>
    public static SampledSystem Between(PreparedModel prepared, OperatingPoint point, string from, string to, IReadOnlyList<string> open)
    {
        var (opened, source, target) = Linearizer.Opened(prepared, from, to, open);
        var (plan, values) = PlanValues.At(opened, prepared, point);
        var memory = SampledPath.Between(plan, source, target);
        var clocks = SampledPath.Clocks(plan, source, target, memory, values);
        var begin = clocks.Find(c => open.Any(o => o.StartsWith(c.Owner + ".", StringComparison.Ordinal))) ?? clocks[0];
        var (period, instants) = ClockBase.Of(clocks, begin.Start);
        int n = plan.States.Length,
            all = n + memory.Count;
        double[][] At(IEnumerable<int> flags, IEnumerable<int> wanted)
        {
            foreach (var clock in plan.Model.Clocks)
                values[clock.Flag] = 0;
            foreach (var flag in flags)
                values[flag] = 1;
            return Linearizer.Gradients(plan, values, source, memory, wanted);
        }

        // A row of gradients has the input between the states and the memory.
        double Entry(double[] row, int j) => row[j < n ? j : j + 1];
        var rates = At([], [.. plan.Derivatives, target]);
        if (rates.Any(r => r.Any(v => !double.IsFinite(v))))
            throw new DesignException(
                "singular",
                "The model has no derivative at this operating point.",
                "Choose another instant, or look for an operation at the edge of its range."
            );
        var (flow, input) = (new double[all, all], new double[all]);
        for (var i = 0; i < n; i++)
        {
            for (var j = 0; j < all; j++)
                flow[i, j] = Entry(rates[i], j);
            input[i] = rates[i][n];
        }

        var ticks = new List<(double, double[,], double[])>();
        var known = new Dictionary<string, (double[,], double[])>();
        foreach (var (time, flags) in instants)
        {
            var key = string.Join(' ', flags);
            if (!known.TryGetValue(key, out var change))
            {
                var rows = At(flags, memory);
                var (state, entering) = (new double[all, all], new double[all]);
                for (var i = 0; i < all; i++)
                {
                    for (var j = 0; j < all; j++)
                        state[i, j] = i < n ? (i == j ? 1 : 0) : Entry(rows[i - n], j);
                    entering[i] = i < n ? 0 : rows[i - n][n];
                }

                known[key] = change = (state, entering);
            }

            ticks.Add((time, change.Item1, change.Item2));
        }

        return new SampledSystem(
            flow,
            input,
            [.. Enumerable.Range(0, all).Select(j => Entry(rates[^1], j))],
            rates[^1][n],
            ticks,
            period,
            [.. plan.States.Concat(memory).Select(plan.Model.NameOf)]
        );
    }

    /// <summary>The discrete system from period to period, with an input that is held over each, and the output just after the samples
    /// at its begin.</summary>
    public LinearSystem Held()
    {
        var n = States.Count;
        // Over (z, u).
        var whole = Identity(n + 1);
        var rate = new double[n + 1, n + 1];
        for (var i = 0; i < n; i++)
        {
            for (var j = 0; j < n; j++)
                rate[i, j] = flow[i, j];
            rate[i, n] = input[i];
        }

        var (c, d) = ((double[])output.Clone(), direct);
        var passed = new Dictionary<double, double[,]>();
        for (var k = 0; k < ticks.Count; k++)
        {
            var (time, state, entering) = ticks[k];
            var change = Identity(n + 1);
            for (var i = 0; i < n; i++)
            {
                for (var j = 0; j < n; j++)
                    change[i, j] = state[i, j];
                change[i, n] = entering[i];
            }

            if (time == 0)
            {
                c = [.. Enumerable.Range(0, n).Select(j => output.Select((v, i) => v * state[i, j]).Sum())];
                d = direct + output.Select((v, i) => v * entering[i]).Sum();
            }

            var length = (k + 1 < ticks.Count ? ticks[k + 1].Time : Period) - time;
            if (!passed.TryGetValue(length, out var pass))
                passed[length] = pass = StepResponse.Exponential(Scaled(rate, length));
            whole = StepResponse.Multiply(pass, StepResponse.Multiply(change, whole));
        }

        var (a, b) = (new double[n, n], new double[n]);
        for (var i = 0; i < n; i++)
        {
            for (var j = 0; j < n; j++)
                a[i, j] = whole[i, j];
            b[i] = whole[i, n];
        }

        return LinearSystem.Of(a, b, c, d, States);
    }

    /// <summary>What of a sine at the input is that sine at the output, as a factor: the first of all the frequencies that samples make
    /// of it.</summary>
    /// <param name="frequency">rad/s.</param>
    public Complex At(double frequency)
    {
        var n = States.Count;
        var all = n + 2;
        // Over (z, v, q): v' = jω v drives, and q' = jω q + y gathers the output's part, turned along.
        var rate = new Complex[all, all];
        for (var i = 0; i < n; i++)
        {
            for (var j = 0; j < n; j++)
                rate[i, j] = flow[i, j];
            rate[i, n] = input[i];
            rate[n + 1, i] = output[i];
        }

        rate[n, n] = rate[n + 1, n + 1] = new Complex(0, frequency);
        rate[n + 1, n] = direct;
        var whole = new Complex[all, all];
        for (var i = 0; i < all; i++)
            whole[i, i] = 1;
        var passed = new Dictionary<double, Complex[,]>();
        for (var k = 0; k < ticks.Count; k++)
        {
            var (time, state, entering) = ticks[k];
            var change = new Complex[all, all];
            for (var i = 0; i < n; i++)
            {
                for (var j = 0; j < n; j++)
                    change[i, j] = state[i, j];
                change[i, n] = entering[i];
            }

            change[n, n] = change[n + 1, n + 1] = 1;
            var length = (k + 1 < ticks.Count ? ticks[k + 1].Time : Period) - time;
            if (!passed.TryGetValue(length, out var pass))
                passed[length] = pass = ComplexLinear.Exponential(rate, length);
            whole = ComplexLinear.Multiply(pass, ComplexLinear.Multiply(change, whole));
        }

        // In the steady oscillation z comes back turned as the sine is: (e^(jωT) − Φ) z = g.
        var turn = Complex.Exp(new Complex(0, frequency * Period));
        var (matrix, right) = (new Complex[n, n], new Complex[n]);
        for (var i = 0; i < n; i++)
        {
            for (var j = 0; j < n; j++)
                matrix[i, j] = (i == j ? turn : 0) - whole[i, j];
            right[i] = whole[i, n];
        }

        if (!ComplexLinear.Solve(matrix, right))
            return new Complex(double.NaN, double.NaN);
        var gathered = whole[n + 1, n];
        for (var i = 0; i < n; i++)
            gathered += whole[n + 1, i] * right[i];
        return gathered / turn / Period;
    }

    static double[,] Identity(int n)
    {
        var m = new double[n, n];
        for (var i = 0; i < n; i++)
            m[i, i] = 1;
        return m;
    }

    static double[,] Scaled(double[,] m, double factor)
    {
        var result = (double[,])m.Clone();
        for (var i = 0; i < m.GetLength(0); i++)
        for (var j = 0; j < m.GetLength(1); j++)
            result[i, j] *= factor;
        return result;
    }
}
