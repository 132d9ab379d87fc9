using System.Numerics;
using AnchorBend.Design;

namespace AnchorBend.Cli;

/// <summary>What <c>linear</c> prints of a system with several inputs or outputs.</summary>
static class MatrixLinear
{
    public static object Of(LinearMatrix matrix, OperatingPoint point, IReadOnlyList<string> open, IReadOnlyList<double> frequencies) =>
        new
        {
            from = matrix.From,
            to = matrix.To,
            open,
            operatingPoint = LinearCommand.Name(point),
            states = matrix.States,
            a = LinearCommand.Rows(matrix.A),
            b = LinearCommand.Rows(matrix.B),
            c = LinearCommand.Rows(matrix.C),
            d = LinearCommand.Rows(matrix.D),
            delays = matrix.Delays,
            poles = PolesAndZeros.Poles(matrix.Entries[0][0]).Select(LinearCommand.Pair),
            transmissionZeros = matrix.TransmissionZeros()?.Select(LinearCommand.Pair),
            response = frequencies.Select(w =>
            {
                var value = matrix.At(w);
                return new
                {
                    frequency = w,
                    re = Rows(value, v => v.Real),
                    im = Rows(value, v => v.Imaginary),
                    singularValues = LinearMatrix.SingularValues(value),
                };
            }),
        };

    static IEnumerable<IEnumerable<double>> Rows(Complex[,] values, Func<Complex, double> part) =>
        Enumerable.Range(0, values.GetLength(0)).Select(i => Enumerable.Range(0, values.GetLength(1)).Select(j => part(values[i, j])));
}
