using Complex = System.Numerics.Complex;

namespace AnchorBend.Design;

/// <summary>
/// Counts the roots of a linear system's characteristic equation <c>Δ(s) = det[sI − A, −E; −e^{−sT}G, I − e^{−sT}K]</c> in the right half
/// plane. With n states and no root on the line there are <c>n/2 − (change of arg Δ(jω) from 0 to ∞)/π</c> (Hassard, "Counting roots of the
/// characteristic equation for linear delay-differential systems", J. Differential Equations 136, 1997). Delays are exact.
/// </summary>
public static class RightHalfPlane
{
    /// <summary>Evaluations of Δ that one count may cost.</summary>
    const int Budget = 400_000;

    /// <summary>Roots this far right of the axis, relative to the fastest, count as on it.</summary>
    const double Margin = 1e-9;

    /// <summary>A larger turn between two samples is looked into.</summary>
    const double Turn = 0.6;

    /// <returns>The number of roots; null where it cannot be decided within the budget.</returns>
    public static int? Count(LinearSystem system, CancellationToken cancellation = default)
    {
        var poles = PolesAndZeros.Poles(system);
        var scale = Math.Max(1e-6, poles.Select(p => p.Magnitude).DefaultIfEmpty(0).Max());
        if (system.Delays.Length == 0)
            return poles.Count(p => p.Real >= Margin * scale);
        return new DelayCount(system, poles, cancellation).Run();
    }

    sealed class DelayCount
    {
        readonly LinearSystem system;
        readonly Complex[] poles,
            own;
        readonly CancellationToken cancellation;
        readonly double shift,
            turn;
        readonly Complex[][] turns;
        int evaluations;

        public DelayCount(LinearSystem system, Complex[] poles, CancellationToken cancellation)
        {
            (this.system, this.poles, this.cancellation) = (system, poles, cancellation);
            own = PolesAndZeros.Eigenvalues(system.A);
            turn = system.Delays.Sum();
            shift = Margin * Math.Max(own.Select(p => p.Magnitude).DefaultIfEmpty(0).Max(), 1 / Math.Max(turn, 1e-12));
            turns = Turns(system.Delays.Length);
        }

        /// <summary>Factors e^{−jθ} for the delays: all alike around the circle, and drawn ones where there are several.</summary>
        static Complex[][] Turns(int delays)
        {
            var made = Enumerable
                .Range(0, 24)
                .Select(i => Enumerable.Repeat(Complex.FromPolarCoordinates(1, i * Math.PI / 12), delays).ToArray())
                .ToList();
            var random = new Random(1);
            for (var i = 0; delays > 1 && i < 96; i++)
                made.Add([.. Enumerable.Range(0, delays).Select(_ => Complex.FromPolarCoordinates(1, 2 * Math.PI * random.NextDouble()))]);
            return [.. made];
        }

        public int? Run()
        {
            // Above this frequency nothing that the delays do can move the characteristic equation through zero.
            if (Safe() is not { } end)
                return null;
            if (end < 0)
                return int.MaxValue;
            if (end * turn / 0.25 > Budget)
                return null;
            var change = 0.0;
            var (at, value) = (0.0, Delta(0));
            foreach (var w in Samples(end))
            {
                if (Change(at, value, w, 0) is not { } step)
                    return null;
                change += step.Change;
                (at, value) = (w, step.Value);
            }

            change -= Ratio(end, Shifts(end)).Phase;
            foreach (var root in own)
            {
                var angle = Math.Atan2(end - root.Imaginary, shift - root.Real);
                // A root to the right is passed on the left side.
                if (root.Real > shift && end < root.Imaginary)
                    angle += 2 * Math.PI;
                change += Math.PI / 2 - angle;
            }

            var count = system.Order / 2.0 - change / Math.PI;
            return Math.Abs(count - Math.Round(count)) < 0.05 && count > -0.5 ? (int)Math.Round(count) : null;
        }

        /// <summary>
        /// The lowest frequency from which on |Δ(z)/Δ(0) − 1| is below one for all factors z of modulus one in the places of the delays.
        /// −1 where there is none: the delays alone ring without end.
        /// </summary>
        double? Safe()
        {
            var fastest = own.Select(p => p.Magnitude).Append(1 / turn).Max();
            var gain = Norm(system.E) * Norm(system.G);
            var top = 100 * (fastest + gain + Norm(system.A));
            var bottom = Math.Min(1e-3 / turn, 1e-3 * own.Select(p => p.Magnitude).Where(m => m > 0).DefaultIfEmpty(1).Min());
            var marks = own.Where(p => p.Imaginary > 0).SelectMany(p => (double[])[0.999 * p.Imaginary, p.Imaginary, 1.001 * p.Imaginary]);
            var last = double.NaN;
            foreach (var w in FrequencyGrid.Between(bottom, top, 1 + (int)(25 * Math.Log10(top / bottom))).Concat(marks).OrderDescending())
            {
                cancellation.ThrowIfCancellationRequested();
                if (evaluations > Budget)
                    return null;
                if (!turns.All(z => (Ratio(w, z) - 1).Magnitude < 0.99))
                    break;
                last = w;
            }

            return double.IsNaN(last) ? -1 : last;
        }

        IEnumerable<double> Samples(double end)
        {
            var low = Math.Min(
                end,
                1e-4 * Math.Min(1 / turn, poles.Select(p => p.Magnitude).Where(m => m > 1e-12 * end).DefaultIfEmpty(end).Min())
            );
            var points = FrequencyGrid
                .Between(low, end, 2 + (int)(30 * Math.Log10(end / low)), poles.Select(p => Math.Abs(p.Imaginary)))
                .ToList();
            for (var w = low; w < end; w += 0.25 / turn)
                points.Add(w);
            points.Add(end);
            return points.Where(w => w > 0 && w <= end).Distinct().Order();
        }

        (double Change, (Complex Unit, double Log) Value)? Change(double from, (Complex Unit, double Log) start, double to, int depth)
        {
            cancellation.ThrowIfCancellationRequested();
            if (++evaluations > Budget)
                return null;
            var value = Delta(to);
            var change = (value.Unit / start.Unit).Phase;
            if (Math.Abs(change) < Turn || depth > 60)
                return (change, value);
            var middle = (from + to) / 2;
            if (Change(from, start, middle, depth + 1) is not { } left || Change(middle, left.Value, to, depth + 1) is not { } right)
                return null;
            return (left.Change + right.Change, right.Value);
        }

        Complex[] Shifts(double w) => [.. system.Delays.Select(d => Complex.FromPolarCoordinates(1, -w * d))];

        (Complex Unit, double Log) Delta(double w) => Determinant(w, Shifts(w));

        /// <summary>Δ with the delays replaced by factors, over Δ without what comes through them.</summary>
        Complex Ratio(double w, Complex[] factors)
        {
            evaluations++;
            var (with, without) = (Determinant(w, factors), Determinant(w, new Complex[factors.Length]));
            return with.Unit / without.Unit * Math.Exp(with.Log - without.Log);
        }

        (Complex Unit, double Log) Determinant(double w, Complex[] factors)
        {
            int n = system.Order,
                m = factors.Length;
            var s = new Complex(shift, w);
            var matrix = new Complex[n + m, n + m];
            for (var i = 0; i < n; i++)
            {
                for (var j = 0; j < n; j++)
                    matrix[i, j] = -system.A[i, j];
                matrix[i, i] += s;
                for (var j = 0; j < m; j++)
                    matrix[i, n + j] = -system.E[i, j];
            }

            for (var i = 0; i < m; i++)
            {
                var factor = factors[i] * Math.Exp(-shift * system.Delays[i]);
                for (var j = 0; j < n; j++)
                    matrix[n + i, j] = -factor * system.G[i, j];
                for (var j = 0; j < m; j++)
                    matrix[n + i, n + j] = -factor * system.K[i, j];
                matrix[n + i, n + i] += 1;
            }

            return ComplexLinear.Determinant(matrix);
        }

        static double Norm(double[,] m)
        {
            var sum = 0.0;
            foreach (var v in m)
                sum += v * v;
            return Math.Sqrt(sum);
        }
    }
}
