using AnchorBend.Exploration.Designs;
using MathNet.Numerics.LinearAlgebra;
using MathNet.Numerics.LinearAlgebra.Double;

namespace AnchorBend.Exploration.Search;

/// <summary>
/// Evolution strategy with an adapted covariance matrix (CMA-ES: Hansen, "The CMA evolution strategy: a tutorial", arXiv 1604.00772, with
/// its default settings); places outside the bounds are brought back to them and only their outcome there counts. For bent valleys and
/// noisy outcomes of some ten factors.
/// </summary>
public sealed class CovarianceAdaptation : ISearch
{
    const double FirstStep = 0.2,
        Fine = 1e-9;

    /// <summary>Without a better place for so many rounds for each dimension and ten more, it stands.</summary>
    const int Patience = 12;

    readonly int n,
        size,
        parents;
    readonly SeededDraw draw;
    readonly double[] weights;
    readonly double effective,
        pathOfStep,
        damping,
        pathOfShape,
        rankOne,
        rankMu,
        usual;
    Vector<double> mean;
    Matrix<double> covariance;
    Vector<double> stepPath,
        shapePath;
    double step = FirstStep;
    int rounds,
        since;
    Outcome? best;
    Matrix<double> axes;
    Vector<double> lengths;
    double[][] asked = [];

    /// <param name="start">The middle of the first places; null for that of the ranges.</param>
    public CovarianceAdaptation(int dimensions, ulong seed, double[]? start, int? size = null)
    {
        n = dimensions;
        draw = new SeededDraw(seed);
        this.size = size ?? 4 + (int)(3 * Math.Log(n));
        parents = this.size / 2;
        double[] raw = [.. Enumerable.Range(1, parents).Select(i => Math.Log(parents + 0.5) - Math.Log(i))];
        weights = [.. raw.Select(w => w / raw.Sum())];
        effective = 1 / weights.Sum(w => w * w);
        pathOfStep = (effective + 2) / (n + effective + 5);
        damping = 1 + 2 * Math.Max(0, Math.Sqrt((effective - 1) / (n + 1)) - 1) + pathOfStep;
        pathOfShape = (4 + effective / n) / (n + 4 + 2 * effective / n);
        rankOne = 2 / ((n + 1.3) * (n + 1.3) + effective);
        rankMu = Math.Min(1 - rankOne, 2 * (effective - 2 + 1 / effective) / ((n + 2) * (n + 2) + effective));
        usual = Math.Sqrt(n) * (1 - 1.0 / (4 * n) + 1.0 / (21.0 * n * n));
        mean = DenseVector.OfArray(start ?? [.. Enumerable.Repeat(0.5, n)]);
        covariance = DenseMatrix.CreateIdentity(n);
        (stepPath, shapePath) = (DenseVector.Create(n, 0), DenseVector.Create(n, 0));
        (axes, lengths) = (DenseMatrix.CreateIdentity(n), DenseVector.Create(n, 1));
        asked = Next();
    }

    public string? Ended { get; private set; }

    public IReadOnlyList<double[]> Ask() => Ended is null ? asked : [];

    double Normal() => Math.Sqrt(-2 * Math.Log(1 - draw.Share())) * Math.Cos(2 * Math.PI * draw.Share());

    double[][] Next() =>
        [
            .. Enumerable
                .Range(0, size)
                .Select(_ =>
                {
                    var z = DenseVector.Create(n, _ => Normal());
                    var x = mean + step * (axes * lengths.PointwiseMultiply(z));
                    return x.Select(v => Math.Clamp(v, 0, 1)).ToArray();
                }),
        ];

    public void Tell(IReadOnlyList<Outcome> outcomes)
    {
        var order = Enumerable.Range(0, size).OrderBy(i => outcomes[i]).ToArray();
        var found = outcomes[order[0]];
        since = best is null || found < best ? 0 : since + 1;
        if (since == 0)
            best = found;
        rounds++;
        var steps = order.Take(parents).Select(i => (DenseVector.OfArray(asked[i]) - mean) / step).ToArray();
        Vector<double> moved = DenseVector.Create(n, 0);
        for (var i = 0; i < parents; i++)
            moved += weights[i] * steps[i];
        mean += step * moved;
        // C^(−1/2) times what the mean moved by.
        var whitened = axes * (axes.TransposeThisAndMultiply(moved)).PointwiseDivide(lengths);
        stepPath = (1 - pathOfStep) * stepPath + Math.Sqrt(pathOfStep * (2 - pathOfStep) * effective) * whitened;
        var isCalm = stepPath.L2Norm() / Math.Sqrt(1 - Math.Pow(1 - pathOfStep, 2 * rounds)) < (1.4 + 2 / (n + 1.0)) * usual;
        shapePath = (1 - pathOfShape) * shapePath;
        if (isCalm)
            shapePath += Math.Sqrt(pathOfShape * (2 - pathOfShape) * effective) * moved;
        var lost = isCalm ? 0 : pathOfShape * (2 - pathOfShape);
        covariance = (1 - rankOne - rankMu + rankOne * lost) * covariance + rankOne * shapePath.OuterProduct(shapePath);
        for (var i = 0; i < parents; i++)
            covariance += rankMu * weights[i] * steps[i].OuterProduct(steps[i]);
        step *= Math.Exp(pathOfStep / damping * (stepPath.L2Norm() / usual - 1));
        var evd = covariance.Evd(Symmetricity.Symmetric);
        axes = evd.EigenVectors;
        lengths = DenseVector.Create(n, i => Math.Sqrt(Math.Max(evd.EigenValues[i].Real, 1e-30)));
        if (step * lengths.Max() < Fine)
            Ended = "Its steps have become too small to matter.";
        else if (since > Patience * n + 10 * 10)
            Ended = "Nothing better was found for a long time.";
        else
            asked = Next();
    }
}
