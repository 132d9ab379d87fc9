namespace AnchorBend.Numerics.Integration;

/// <summary>
/// What an error in each state counts: <c>absoluteᵢ + relative·|xᵢ|</c>, and the root mean square over the states of errors so scaled
/// (Hairer, Nørsett and Wanner, "Solving Ordinary Differential Equations I", 2nd ed., section II.4).
/// </summary>
public sealed unsafe class ErrorScale(double relative, double[] absolute)
{
    public double Relative { get; } = relative;

    /// <summary>One for each state, in the state's unit.</summary>
    public double[] Absolute { get; } = absolute;

    public double At(int i, double value) => Absolute[i] + Relative * Math.Abs(value);

    /// <summary>Fills in the scale of every state at <paramref name="x"/>.</summary>
    public void Fill(double* x, double* scale, int n)
    {
        for (var i = 0; i < n; i++)
            scale[i] = Absolute[i] + Relative * Math.Abs(x[i]);
    }

    /// <summary>Root mean square of <c>errorᵢ / scaleᵢ</c>.</summary>
    public static double Norm(double* error, double* scale, int n)
    {
        var sum = 0.0;
        for (var i = 0; i < n; i++)
        {
            var scaled = error[i] / scale[i];
            sum += scaled * scaled;
        }

        return Math.Sqrt(sum / Math.Max(1, n));
    }

    /// <summary>
    /// The starting step of Hairer, Nørsett and Wanner, section II.4: such that an explicit Euler step and the change of the derivative
    /// along it are small.
    /// </summary>
    /// <param name="slope">The derivative at the start.</param>
    /// <param name="trial">Work space of n numbers.</param>
    /// <param name="trialSlope">Work space of n numbers.</param>
    /// <param name="order">Order of the method.</param>
    public double FirstStep(
        double time,
        double span,
        double* x,
        double* slope,
        double* trial,
        double* trialSlope,
        int n,
        int order,
        OdeSystem system
    )
    {
        if (n == 0)
            return span;
        double d0 = 0,
            d1 = 0;
        for (var i = 0; i < n; i++)
        {
            var scale = At(i, x[i]);
            d0 += x[i] / scale * (x[i] / scale);
            d1 += slope[i] / scale * (slope[i] / scale);
        }

        (d0, d1) = (Math.Sqrt(d0 / n), Math.Sqrt(d1 / n));
        var h0 = d0 < 1e-5 || d1 < 1e-5 ? 1e-6 : 0.01 * d0 / d1;
        h0 = Math.Min(h0, span);
        for (var i = 0; i < n; i++)
            trial[i] = x[i] + h0 * slope[i];
        system.Derivatives(time + h0, trial, trialSlope);
        var d2 = 0.0;
        for (var i = 0; i < n; i++)
        {
            var scaled = (trialSlope[i] - slope[i]) / At(i, x[i]);
            d2 += scaled * scaled;
        }

        d2 = Math.Sqrt(d2 / n) / h0;
        var largest = Math.Max(d1, d2);
        var h1 = largest <= 1e-15 ? Math.Max(1e-6, h0 * 1e-3) : Math.Pow(0.01 / largest, 1.0 / order);
        // A state that happens to be next to zero makes h0 vanish; the step control finds the right size from any start that time can
        // resolve.
        var first = Math.Min(Math.Max(Math.Min(100 * h0, h1), 1e-12 * Math.Max(Math.Abs(time), span)), span);
        return double.IsFinite(first) && first > 0 ? first : span * 1e-6;
    }
}
