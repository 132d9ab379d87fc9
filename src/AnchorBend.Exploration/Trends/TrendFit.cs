using MathNet.Numerics.Distributions;
using MathNet.Numerics.LinearAlgebra;
using MathNet.Numerics.LinearAlgebra.Double;

namespace AnchorBend.Exploration.Trends;

public enum TrendKind
{
    /// <summary>A polynomial of a degree; of the first one a straight line.</summary>
    Polynomial,

    /// <summary>a x^b, straight over logarithms.</summary>
    Power,
}

/// <summary>A value on a fitted course with the band in which the course lies.</summary>
public sealed record TrendPoint(double X, double Y, double Low, double High);

/// <summary>
/// A course fitted to points by least squares, with the band that holds the true course with a confidence, for errors that are independent,
/// normal and of one size (Draper and Smith, "Applied Regression Analysis", section 5.3). A power is fitted to logarithms, so its errors
/// are shares.
/// </summary>
/// <param name="Coefficients">Of a polynomial from the constant on; of a power its factor and exponent.</param>
/// <param name="Errors">Standard errors of them; of a power's factor as a share of it.</param>
/// <param name="Determination">R²: the share of the variance that the course explains, over logarithms for a power.</param>
/// <param name="Deviation">Of the points about the course: standard deviation with the degrees of freedom that are left.</param>
public sealed record TrendFit(
    TrendKind Kind,
    IReadOnlyList<double> Coefficients,
    IReadOnlyList<double> Errors,
    double Determination,
    double Deviation,
    IReadOnlyList<TrendPoint> Course
)
{
    public const int MostDegree = 6;

    /// <param name="degree">Of a polynomial.</param>
    /// <param name="confidence">Of the band.</param>
    /// <param name="count">Points of the course, evenly from the least to the largest x.</param>
    /// <exception cref="ExplorationException">There are too few points, or none that the course could have.</exception>
    public static TrendFit Of(
        IReadOnlyList<double> x,
        IReadOnlyList<double> y,
        TrendKind kind,
        int degree = 1,
        double confidence = 0.95,
        int count = 60
    )
    {
        var pairs = x.Zip(y).Where(p => double.IsFinite(p.First) && double.IsFinite(p.Second)).ToList();
        if (kind == TrendKind.Power)
        {
            if (
                pairs.Any(p => p.First <= 0)
                || pairs.Select(p => Math.Sign(p.Second)).Distinct().Count() > 1
                || pairs.Any(p => p.Second == 0)
            )
                throw new ExplorationException(
                    "trend",
                    "A power fits values above zero only, with results of one sign.",
                    "Take a polynomial, or leave those runs out."
                );
            degree = 1;
        }

        if (degree is < 0 or > MostDegree)
            throw new ExplorationException("trend", $"A polynomial of degree {degree} is not fitted.", $"Take from 0 to {MostDegree}.");
        if (pairs.Select(p => p.First).Distinct().Count() < degree + 1 || pairs.Count < degree + 2)
            throw new ExplorationException(
                "trend",
                $"{pairs.Count} points are too few for this course.",
                $"It needs {degree + 2}, at {degree + 1} or more different places."
            );
        var sign = kind == TrendKind.Power && pairs[0].Second < 0 ? -1 : 1;
        double In(double v) => kind == TrendKind.Power ? Math.Log(v) : v;
        return new Work([.. pairs.Select(p => In(p.First))], [.. pairs.Select(p => In(sign * p.Second))], degree).Fit(
            kind,
            sign,
            confidence,
            count
        );
    }

    sealed class Work
    {
        readonly double middle,
            half;
        readonly double[] x,
            y;
        readonly int degree;

        public Work(double[] x, double[] y, int degree)
        {
            (this.x, this.y, this.degree) = (x, y, degree);
            // Between −1 and 1 powers stay apart.
            middle = (x.Max() + x.Min()) / 2;
            half = x.Max() > x.Min() ? (x.Max() - x.Min()) / 2 : 1;
        }

        double[] Row(double at)
        {
            var z = (at - middle) / half;
            var row = new double[degree + 1];
            row[0] = 1;
            for (var i = 1; i <= degree; i++)
                row[i] = row[i - 1] * z;
            return row;
        }

        public TrendFit Fit(TrendKind kind, int sign, double confidence, int count)
        {
            var design = DenseMatrix.OfRowArrays(x.Select(Row));
            var qr = design.QR(MathNet.Numerics.LinearAlgebra.Factorization.QRMethod.Thin);
            var scaled = qr.Solve(DenseVector.OfArray(y));
            var left = DenseVector.OfArray(y) - design * scaled;
            var free = x.Length - degree - 1;
            var variance = left.DotProduct(left) / free;
            var inverse = (Matrix<double>)qr.R.TransposeThisAndMultiply(qr.R).Inverse();
            var quantile = StudentT.InvCDF(0, 1, free, (1 + confidence) / 2);
            // From powers of (x − middle)/half to those of x.
            var back = DenseMatrix.Create(degree + 1, degree + 1, 0);
            for (var i = 0; i <= degree; i++)
            for (var j = 0; j <= i; j++)
                back[j, i] = Choose(i, j) * Math.Pow(-middle, i - j) / Math.Pow(half, i);
            var own = back * scaled;
            var covariance = back * inverse * back.Transpose() * variance;
            var mean = y.Average();
            var total = y.Sum(v => (v - mean) * (v - mean));
            TrendPoint Point(double at)
            {
                var row = DenseVector.OfArray(Row(at));
                var value = row * scaled;
                var off = quantile * Math.Sqrt(Math.Max(0, variance * (row * (inverse * row))));
                double Out(double v) => kind == TrendKind.Power ? sign * Math.Exp(v) : v;
                double one = Out(value - off),
                    other = Out(value + off);
                return new TrendPoint(kind == TrendKind.Power ? Math.Exp(at) : at, Out(value), Math.Min(one, other), Math.Max(one, other));
            }

            double[] coefficients = [.. own],
                errors = [.. Enumerable.Range(0, degree + 1).Select(i => Math.Sqrt(Math.Max(0, covariance[i, i])))];
            if (kind == TrendKind.Power)
                coefficients[0] = sign * Math.Exp(coefficients[0]);
            return new TrendFit(
                kind,
                coefficients,
                errors,
                total > 0 ? 1 - left.DotProduct(left) / total : 1,
                Math.Sqrt(variance),
                [.. Enumerable.Range(0, count).Select(i => Point(middle + half * (2.0 * i / Math.Max(1, count - 1) - 1)))]
            );
        }

        static double Choose(int n, int k)
        {
            var c = 1.0;
            for (var i = 1; i <= k; i++)
                c = c * (n - k + i) / i;
            return c;
        }
    }
}
