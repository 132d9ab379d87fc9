namespace AnchorBend.Numerics.Integration;

// The values between the ends of a step.
public sealed unsafe partial class DormandPrince853
{
    /// <summary>Where the polynomial is compared with the model: a little before its largest error, at 0.83, the slopes show it
    /// best.</summary>
    const double Before = 0.65;

    /// <summary>
    /// An error of the polynomial makes one of its slope, times the step, about seven times as large where the step is short for every
    /// mode, and about as many times as the step times the fastest mode's eigenvalue where that is large (found by steps of linear
    /// equations).
    /// </summary>
    const double SlopeOverValue = 5;

    public override bool BetterAtEnds => true;

    static double DenseOutputFactor(double error) => Math.Clamp(0.9 / Math.Sqrt(Math.Sqrt(Math.Sqrt(error))), 0.3, 6);

    /// <summary>
    /// The error of the polynomial within the step as a part of the tolerance: how far its slope is from the model's
    /// (the defect; Enright, "A New Error-Control for Initial Value Solvers", Appl. Math. Comput. 31, 1989). Beyond the border of
    /// stability of a mode at rest a step can end well and be far off in between, and neither the error estimate nor slopes at the ends
    /// show it.
    /// </summary>
    double DenseOutputError(int n)
    {
        PrepareDense(n);
        const double s = Before,
            r = 1 - s;
        double* d0 = dense,
            d1 = dense + stride,
            d2 = dense + 2 * stride,
            d3 = slopes[13],
            d4 = slopes[14],
            d5 = slopes[15],
            d6 = extra,
            polynomial = defect + stride;
        for (var i = 0; i < n; i++)
        {
            var value = d5[i] + s * d6[i];
            var slope = d6[i];
            (value, slope) = (d4[i] + r * value, r * slope - value);
            (value, slope) = (d3[i] + s * value, s * slope + value);
            (value, slope) = (d2[i] + r * value, r * slope - value);
            (value, slope) = (d1[i] + s * value, s * slope + value);
            (value, slope) = (d0[i] + r * value, r * slope - value);
            trial[i] = begin[i] + s * value;
            polynomial[i] = s * slope + value;
        }

        Evaluate(StepStart + Before * stepSize, trial, defect);
        var sum = 0.0;
        for (var i = 0; i < n; i++)
        {
            var error = (stepSize * defect[i] - polynomial[i]) / scale.At(i, Math.Max(Math.Abs(begin[i]), Math.Abs(x[i])));
            sum += error * error;
        }

        return Math.Sqrt(sum / Math.Max(1, n)) / SlopeOverValue;
    }

    public override void Interpolate(double time, double* result)
    {
        var n = Dimension;
        if (!denseReady)
            PrepareDense(n);
        var s = stepSize > 0 ? (time - StepStart) / stepSize : 1;
        var r = 1 - s;
        double* d0 = dense,
            d1 = dense + stride,
            d2 = dense + 2 * stride,
            d3 = slopes[13],
            d4 = slopes[14],
            d5 = slopes[15],
            d6 = extra;
        for (var i = 0; i < n; i++)
            result[i] = begin[i] + s * (d0[i] + r * (d1[i] + s * (d2[i] + r * (d3[i] + s * (d4[i] + r * (d5[i] + s * d6[i]))))));
    }

    void PrepareDense(int n)
    {
        for (var s = 13; s < 16; s++)
        {
            VectorKernels.Combine(trial, begin, stepSize, k, stride, Used[s], Weights[s], n);
            Evaluate(StepStart + C[s] * stepSize, trial, slopes[s]);
        }

        endIsLast = false;
        double* d0 = dense,
            d1 = dense + stride,
            d2 = dense + 2 * stride;
        double* k1 = slopes[0],
            k6 = slopes[5],
            k7 = slopes[6],
            k8 = slopes[7],
            k9 = slopes[8],
            k10 = slopes[9],
            k11 = slopes[10],
            k12 = slopes[11],
            k13 = slopes[12],
            k14 = slopes[13],
            k15 = slopes[14],
            k16 = slopes[15];
        double[] a = D[0],
            b = D[1],
            c = D[2],
            d = D[3];
        for (var i = 0; i < n; i++)
        {
            var difference = x[i] - begin[i];
            d0[i] = difference;
            d1[i] = stepSize * k1[i] - difference;
            d2[i] = 2 * difference - stepSize * (k13[i] + k1[i]);
            double Row(double[] w) =>
                stepSize
                * (
                    w[0] * k1[i]
                    + w[5] * k6[i]
                    + w[6] * k7[i]
                    + w[7] * k8[i]
                    + w[8] * k9[i]
                    + w[9] * k10[i]
                    + w[10] * k11[i]
                    + w[11] * k12[i]
                    + w[12] * k13[i]
                    + w[13] * k14[i]
                    + w[14] * k15[i]
                    + w[15] * k16[i]
                );
            var (r0, r1, r2, r3) = (Row(a), Row(b), Row(c), Row(d));
            // The extra slopes are not needed any more: their places hold the polynomial.
            (k14[i], k15[i], k16[i], extra[i]) = (r0, r1, r2, r3);
        }

        denseReady = true;
    }
}
