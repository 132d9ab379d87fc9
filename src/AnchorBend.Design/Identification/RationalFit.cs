using MathNet.Numerics.LinearAlgebra;
using Complex = System.Numerics.Complex;

namespace AnchorBend.Design.Identification;

/// <summary>The form of a model that is fitted.</summary>
/// <param name="Numerator">Order of the numerator.</param>
/// <param name="Denominator">Order of the denominator, integrators left out.</param>
/// <param name="Integrators">Poles at zero.</param>
/// <param name="HasDelay">Whether a dead time is looked for.</param>
public sealed record FitForm(int Numerator, int Denominator, int Integrators, bool HasDelay)
{
    public int Parameters => Numerator + 1 + Denominator + (HasDelay ? 1 : 0);
}

/// <summary>
/// A transfer function fitted to a measured frequency response: B(s)/(sᵏ A(s)) e^(−Ls), coefficients in descending powers of s, A monic at
/// s⁰ = 1. Least squares of the logarithm of the ratio, |ln(Ĝ/G)|, which is the relative error where that is small and takes nothing at all
/// for no model: the iteration of Sanathanan and Koerner (IEEE Trans. Autom. Control 8, 1963)
/// in powers of a scaled frequency, for dead times on a grid, gives starts, from the best of which the method of Levenberg and Marquardt
/// goes on with all coefficients and the dead time (Marquardt, J. SIAM 11, 1963).
/// </summary>
/// <param name="Quality">1 less the root of the mean squared relative error: 1 where all points are met.</param>
/// <param name="IsStable">Whether no pole, integrators left out, lies in the right half plane.</param>
public sealed record RationalFit(
    IReadOnlyList<double> Numerator,
    IReadOnlyList<double> Denominator,
    double Delay,
    double Quality,
    double LargestError,
    bool IsStable
)
{
    const int Rounds = 12,
        Starts = 5,
        MostSteps = 200;

    /// <param name="frequencies">rad/s.</param>
    /// <exception cref="DesignException">There are too few points, or the form makes no sense.</exception>
    public static RationalFit Of(
        IReadOnlyList<double> frequencies,
        IReadOnlyList<Complex> response,
        FitForm form,
        CancellationToken cancellation = default
    )
    {
        if (
            form is { Numerator: < 0 } or { Denominator: < 0 or > 12 } or { Integrators: < 0 or > 4 }
            || form.Numerator > form.Denominator + form.Integrators
        )
            throw new DesignException(
                "order",
                "There is no such model.",
                "Orders go to 12, and the numerator's is not above the denominator's."
            );
        var points = frequencies
            .Zip(response)
            .Where(p => p.First > 0 && double.IsFinite(p.First) && Complex.IsFinite(p.Second) && p.Second.Magnitude > 0)
            .OrderBy(p => p.First)
            .ToList();
        if (2 * points.Count < form.Parameters)
            throw new DesignException(
                "few-points",
                $"The response has {points.Count} usable points, too few for {form.Parameters} numbers.",
                "Measure more frequencies, or take a lower order."
            );
        var work = new Work([.. points.Select(p => p.First)], [.. points.Select(p => p.Second)], form);
        var delays = new List<double> { 0 };
        for (var d = 0.02 / points[^1].First; form.HasDelay && d < 4 * Math.PI / points[0].First; d *= 1.25)
            delays.Add(d);
        var best = delays
            .Select(d =>
            {
                cancellation.ThrowIfCancellationRequested();
                return work.Begun(d);
            })
            .OrderBy(b => b.Cost)
            .Take(Starts)
            .Select(b => work.Refined(b.Coefficients, b.Delay, cancellation))
            .MinBy(r => r.Cost)
            .Fit;
        return best.Numerator.Concat(best.Denominator).Append(best.Quality).Append(best.LargestError).All(double.IsFinite)
            ? best
            : throw new DesignException(
                "unfit",
                "No model of this order could be found: its numbers pass what can be computed with.",
                "Take a lower order, or points that lie nearer to one another."
            );
    }

    /// <summary>The transfer function at s = jω.</summary>
    public Complex At(double frequency)
    {
        var s = new Complex(0, frequency);
        Complex Value(IReadOnlyList<double> c) => c.Aggregate(Complex.Zero, (sum, x) => sum * s + x);
        return Value(Numerator) / Value(Denominator) * Complex.Exp(-s * Delay);
    }

    /// <summary>The best of the small models: of orders one to four, integrating or not, with a dead time or without; a larger one only
    /// where it is clearly better.</summary>
    /// <inheritdoc cref="Of" path="/exception"/>
    public static RationalFit Smallest(
        IReadOnlyList<double> frequencies,
        IReadOnlyList<Complex> response,
        CancellationToken cancellation = default
    )
    {
        RationalFit? best = null;
        foreach (var order in (int[])[1, 2, 3, 4])
        foreach (var integrators in (int[])[0, 1])
        foreach (var hasDelay in (bool[])[false, true])
            for (var zeros = 0; zeros < order; zeros++)
            {
                // Of an integrating one one lag less is as large.
                var form = new FitForm(zeros, order - integrators, integrators, hasDelay);
                if (2 * response.Count < form.Parameters || form.Denominator < 0)
                    continue;
                RationalFit fit;
                try
                {
                    fit = Of(frequencies, response, form, cancellation);
                }
                catch (DesignException e) when (e.Code == "unfit")
                {
                    continue;
                }

                if (best is null || 1 - fit.Quality < ClearlyBetter * (1 - best.Quality))
                    best = fit;
            }

        return best ?? throw new DesignException("few-points", "Too little was measured for a model.", "Measure more frequencies.");
    }

    /// <summary>Error, over that of a smaller model, from which on a larger one is taken.</summary>
    const double ClearlyBetter = 0.5;

    /// <summary>Quality beyond which no larger model is looked for: measured waves are known to a thousandth.</summary>
    const double Enough = 0.998;

    /// <summary>The same as a linear system, the dead time behind all else.</summary>
    public LinearSystem System()
    {
        // From descending powers with the constant term one, or none where it integrates.
        var n = Denominator.Count - 1;
        var lead = Denominator[0];
        var (a, b, c) = (new double[n, n], new double[n], new double[n]);
        double Coefficient(IReadOnlyList<double> of, int power) => power < of.Count ? of[of.Count - 1 - power] / lead : 0;
        var d = Coefficient(Numerator, n);
        for (var i = 0; i < n; i++)
        {
            if (i + 1 < n)
                a[i, i + 1] = 1;
            a[n - 1, i] = -Coefficient(Denominator, i);
            c[i] = Coefficient(Numerator, i) - d * Coefficient(Denominator, i);
        }

        if (n > 0)
            b[n - 1] = 1;
        var system = LinearSystem.Of(a, b, c, d);
        if (Delay <= 0)
            return system;
        var g = new double[1, n];
        for (var i = 0; i < n; i++)
            g[0, i] = c[i];
        return system with
        {
            C = new double[n],
            D = 0,
            E = new double[n, 1],
            F = [1],
            G = g,
            H = [d],
            K = new double[1, 1],
            Delays = [Delay],
        };
    }

    /// <summary>Roots of a polynomial in descending powers, as eigenvalues of its companion matrix.</summary>
    static Complex[] Roots(IReadOnlyList<double> coefficients)
    {
        double[] c = [.. coefficients.SkipWhile(x => x == 0)];
        var n = c.Length - 1;
        if (n < 1)
            return [];
        var companion = new double[n, n];
        for (var j = 0; j < n; j++)
            companion[0, j] = -c[j + 1] / c[0];
        for (var i = 1; i < n; i++)
            companion[i, i - 1] = 1;
        return PolesAndZeros.Eigenvalues(companion);
    }

    sealed class Work(double[] frequencies, Complex[] response, FitForm form)
    {
        readonly double scale = Math.Sqrt(frequencies[0] * frequencies[^1]);

        readonly int n = form.Denominator,
            m = form.Numerator;

        /// <summary>What the fraction without integrators and a dead time has to be.</summary>
        Complex[] Wanted(double delay) =>
            [
                .. frequencies.Select(
                    (w, i) =>
                        response[i] * Complex.Exp(new Complex(0, w * delay)) * Complex.Pow(new Complex(0, w / scale), form.Integrators)
                ),
            ];

        /// <summary>Coefficients to begin with: b₀ … bₘ, a₁ … aₙ. A form that is too small for the response cannot meet all of it: it is
        /// also begun at what looks at high frequencies less. Logarithms judge, by which nothing is not near to something.</summary>
        public (double[] Coefficients, double Delay, double Cost) Begun(double delay)
        {
            var wanted = Wanted(delay);
            var best = new double[m + 1 + n];
            var least = double.PositiveInfinity;
            for (var slope = 0; slope <= Slopes; slope++)
            {
                var weights = wanted.Select((g, i) => Math.Pow(frequencies[0] / frequencies[i], slope) / g.Magnitude).ToArray();
                for (var round = 0; round < Rounds; round++)
                {
                    var solution = Solved(wanted, weights);
                    var cost = Cost(solution, wanted);
                    if (!double.IsFinite(cost))
                        break;
                    if (cost < least)
                        (best, least) = (solution, cost);
                    // Over the last denominator the equation's error becomes the output's.
                    for (var i = 0; i < weights.Length; i++)
                        weights[i] =
                            Math.Pow(frequencies[0] / frequencies[i], slope) / (wanted[i].Magnitude * Denominator(solution, i).Magnitude);
                }
            }

            return (best, delay, least);
        }

        /// <summary>Powers of the frequency by which high ones are looked at less.</summary>
        const int Slopes = 2;

        double Cost(double[] c, Complex[] wanted) =>
            wanted.Select((g, i) => Complex.Log(Value(c, i) / g)).Select(e => e.Real * e.Real + e.Imaginary * e.Imaginary).Average();

        /// <summary>Goes on to the least squares of the logarithm.</summary>
        public (RationalFit Fit, double Cost) Refined(double[] begun, double delay, CancellationToken cancellation)
        {
            var count = begun.Length + (form.HasDelay ? 1 : 0);
            var (at, late) = (begun, delay);
            var cost = Cost(at, Wanted(late));
            var damping = 1e-3;
            for (var step = 0; step < MostSteps && cost > 1e-26; step++)
            {
                cancellation.ThrowIfCancellationRequested();
                var (jacobian, error) = Linear(at, late, count);
                var normal = jacobian.TransposeThisAndMultiply(jacobian);
                var right = -jacobian.TransposeThisAndMultiply(error);
                for (var j = 0; j < count; j++)
                    normal[j, j] += damping * Math.Max(normal[j, j], 1e-30);
                var change = normal.Solve(right);
                var next = at.Select((c, j) => c + change[j]).ToArray();
                var nextDelay = form.HasDelay ? Math.Max(0, late + change[count - 1]) : 0;
                var there = Cost(next, Wanted(nextDelay));
                if (there < cost)
                {
                    var done = cost - there < 1e-13 * cost;
                    (at, late, cost, damping) = (next, nextDelay, there, damping / 4);
                    if (done)
                        break;
                }
                else if ((damping *= 4) > 1e12)
                {
                    break;
                }
            }

            return (Made(at, late), cost);
        }

        /// <summary>The logarithms of the ratios and how they change with the coefficients and the dead time.</summary>
        (Matrix<double> Jacobian, Vector<double> Error) Linear(double[] c, double delay, int count)
        {
            var wanted = Wanted(delay);
            var jacobian = Matrix<double>.Build.Dense(2 * wanted.Length, count);
            var error = Vector<double>.Build.Dense(2 * wanted.Length);
            for (var i = 0; i < wanted.Length; i++)
            {
                var (s, below, value) = (S(i), Denominator(c, i), Value(c, i));
                void Put(int column, Complex slope)
                {
                    jacobian[2 * i, column] = (slope / value).Real;
                    jacobian[2 * i + 1, column] = (slope / value).Imaginary;
                }

                for (var k = 0; k <= m; k++)
                    Put(k, Complex.Pow(s, k) / below);
                for (var k = 1; k <= n; k++)
                    Put(m + k, -value * Complex.Pow(s, k) / below);
                // Turned back with the measured point, a later answer turns the wanted one forward.
                if (form.HasDelay)
                    Put(count - 1, -new Complex(0, frequencies[i]) * value);
                var off = Complex.Log(value / wanted[i]);
                (error[2 * i], error[2 * i + 1]) = (off.Real, off.Imaginary);
            }

            return (jacobian, error);
        }

        Complex S(int i) => new(0, frequencies[i] / scale);

        /// <summary>B − G (A − 1) = G in the least squares sense.</summary>
        double[] Solved(Complex[] wanted, double[] weights)
        {
            var matrix = Matrix<double>.Build.Dense(2 * wanted.Length, m + 1 + n);
            var right = Vector<double>.Build.Dense(2 * wanted.Length);
            for (var i = 0; i < wanted.Length; i++)
            {
                var s = S(i);
                void Put(int column, Complex value)
                {
                    matrix[2 * i, column] = weights[i] * value.Real;
                    matrix[2 * i + 1, column] = weights[i] * value.Imaginary;
                }

                for (var k = 0; k <= m; k++)
                    Put(k, Complex.Pow(s, k));
                for (var k = 1; k <= n; k++)
                    Put(m + k, -wanted[i] * Complex.Pow(s, k));
                right[2 * i] = weights[i] * wanted[i].Real;
                right[2 * i + 1] = weights[i] * wanted[i].Imaginary;
            }

            return [.. matrix.QR(MathNet.Numerics.LinearAlgebra.Factorization.QRMethod.Thin).Solve(right)];
        }

        Complex Denominator(double[] c, int i)
        {
            Complex sum = 1;
            for (var k = 1; k <= n; k++)
                sum += c[m + k] * Complex.Pow(S(i), k);
            return sum;
        }

        Complex Value(double[] c, int i)
        {
            Complex sum = 0;
            for (var k = 0; k <= m; k++)
                sum += c[k] * Complex.Pow(S(i), k);
            return sum / Denominator(c, i);
        }

        RationalFit Made(double[] c, double delay)
        {
            var wanted = Wanted(delay);
            var errors = wanted.Select((g, i) => (Value(c, i) - g).Magnitude / g.Magnitude).ToArray();
            // Back from the scaled frequency.
            var numerator = Enumerable
                .Range(0, m + 1)
                .Select(k => c[k] / Math.Pow(scale, k) * Math.Pow(scale, form.Integrators))
                .Reverse()
                .ToList();
            List<double> denominator = [.. Enumerable.Range(1, n).Select(k => c[m + k] / Math.Pow(scale, k)).Reverse(), 1];
            var poles = Roots(denominator);
            denominator.AddRange(Enumerable.Repeat(0.0, form.Integrators));
            return new RationalFit(
                numerator,
                denominator,
                delay,
                1 - Math.Sqrt(errors.Select(e => e * e).Average()),
                errors.Max(),
                poles.All(p => p.Real < 0)
            );
        }
    }
}
