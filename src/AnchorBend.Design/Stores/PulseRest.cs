using MathNet.Numerics.LinearAlgebra;

namespace AnchorBend.Design.Stores;

/// <summary>The rest after a pulse.</summary>
/// <param name="pulse">First sample of the pulse.</param>
/// <param name="first">First sample without current.</param>
/// <param name="end">One past the last one.</param>
/// <param name="current">That of the pulse, A; positive charges.</param>
/// <param name="charge">State of charge in the rest.</param>
sealed class PulseRest(double[] time, double[] voltage, int pulse, int first, int end, double current, double charge)
{
    /// <summary>The part by which the current changed within the pulse.</summary>
    public double Unsteady { get; init; }

    public double Duration => time[end - 1] - time[first];

    /// <summary>The shortest time between two samples of the rest, s.</summary>
    public double Shortest => Enumerable.Range(first + 1, end - first - 1).Min(k => time[k] - time[k - 1]);

    /// <summary>Voltage at rest, then the size of each exponential, from linear least squares; and the sum of squares that is
    /// left.</summary>
    public (Vector<double> Sizes, double Left) Sizes(IReadOnlyList<double> taus)
    {
        var matrix = Matrix<double>.Build.Dense(end - first, taus.Count + 1, (row, column) =>
            column == 0 ? 1 : Math.Exp(-(time[first + row] - time[first]) / taus[column - 1])
        );
        var measured = Vector<double>.Build.Dense(end - first, row => voltage[first + row]);
        var sizes = matrix.QR().Solve(measured);
        return (sizes, (matrix * sizes - measured).PointwisePower(2).Sum());
    }

    public PulsePoint Point(IReadOnlyList<double> taus)
    {
        var (sizes, left) = Sizes(taus);
        var length = time[first] - time[pulse];
        // An exponential of the rest is what its branch has come to over the pulse.
        var branches = taus.Select((tau, j) => sizes[j + 1] / (current * -double.ExpM1(-length / tau))).ToArray();
        var series = (voltage[first - 1] - sizes.Sum()) / current - Meanwhile(taus, branches, length);
        return new PulsePoint(charge, sizes[0], series, branches, Math.Sqrt(left / (end - first)));
    }

    /// <summary>What the branches still gain between the last sample of the pulse and its end, as a resistance: it does not belong to the
    /// jump.</summary>
    double Meanwhile(IReadOnlyList<double> taus, double[] branches, double length)
    {
        var before = time[first] - time[first - 1];
        return -taus.Select((tau, j) => branches[j] * (Math.Exp(-(length - before) / tau) - Math.Exp(-length / tau))).Sum();
    }
}
