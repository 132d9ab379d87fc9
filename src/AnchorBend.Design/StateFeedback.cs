using MathNet.Numerics.LinearAlgebra;
using Complex = System.Numerics.Complex;

namespace AnchorBend.Design;

/// <summary>What a state feedback weighs.</summary>
/// <param name="Effort">Of the square of the input, where that of the output weighs one.</param>
/// <param name="Integral">Of the square of the integral of the output, 1/s²; 0 for none.</param>
/// <param name="Noise">Intensity of the measurement's noise, where that of a load at the input is one.</param>
public sealed record FeedbackWeights(double Effort, double Integral, double Noise)
{
    /// <summary>
    /// Weights that stand for bandwidths: without an integral part the return difference has |1 + L|² = 1 + |G|²/ρ (Kalman, "When is a
    /// linear control system optimal?", J. Basic Eng. 86, 1964), so the loop passes one about where |G|² = ρ; the observer likewise.
    /// </summary>
    /// <param name="bandwidth">Of the loop, rad/s.</param>
    /// <param name="observer">Of the observer, rad/s.</param>
    /// <param name="integral">Of the integral part, rad/s; 0 for none.</param>
    /// <exception cref="DesignException">A bandwidth is not positive.</exception>
    public static FeedbackWeights For(LinearSystem plant, double bandwidth, double observer, double integral)
    {
        if (!(bandwidth > 0) || !(observer > 0) || !(integral >= 0) || !double.IsFinite(bandwidth + observer + integral))
            throw new DesignException("bandwidth", "Bandwidths must be above zero.", "Give them in rad/s.");
        double Squared(double w) => Math.Pow(plant.At(new Complex(0, w)).Magnitude, 2);
        return new FeedbackWeights(Squared(bandwidth), integral * integral, Squared(observer));
    }
}

/// <summary>
/// State feedback with an observer and an integral part, for a plant of one input and output (Anderson and Moore, "Optimal Control: Linear
/// Quadratic Methods", chapters 3, 7 and 8): the feedback makes ∫(y² + q (∫y)² + ρ u²) dt least, the observer the variance of the estimate.
/// </summary>
/// <param name="Feedback">n, of the plant's states, then of the integral where there is one.</param>
/// <param name="Observer">n, of the plant's states.</param>
/// <param name="Controller">From the error to the plant's input.</param>
/// <param name="Loop">The controller with the plant behind it.</param>
public sealed record StateFeedback(
    FeedbackWeights Weights,
    IReadOnlyList<string> States,
    double[] Feedback,
    double[] Observer,
    LinearSystem Controller,
    LinearSystem Loop
)
{
    /// <summary>Of more the equations are no numbers to trust.</summary>
    const int MostStates = 40;

    /// <param name="plant">Dead times are approximated in the design; the loop has them as they are.</param>
    /// <exception cref="DesignException">The plant passes its input on at once, is too large, or cannot be made stable so.</exception>
    public static StateFeedback Of(LinearSystem plant, FeedbackWeights weights)
    {
        if (!(weights.Effort > 0) || !(weights.Noise > 0) || !(weights.Integral >= 0))
            throw new DesignException("weights", "The weights of effort and noise must be above zero.", "Give larger ones.");
        var free = PadeApproximation.WithoutDelays(plant).Reduced();
        if (free.Order is 0 or > MostStates)
            throw new DesignException(
                "order",
                free.Order == 0 ? "There is no plant with states between the signals." : $"The plant has more than {MostStates} states.",
                "Take the output of the controller and the measured value, or a smaller model."
            );
        if (Math.Abs(free.D) > 1e-9 * Math.Abs(free.At(new Complex(0, 1)).Magnitude))
            throw new DesignException(
                "direct",
                "The plant passes its input on at once, for which this design knows no observer.",
                "Put the lag of the measurement into it."
            );
        var n = free.Order;
        var a = Matrix<double>.Build.DenseOfArray(free.A);
        var b = Vector<double>.Build.DenseOfArray(free.B);
        var c = Vector<double>.Build.DenseOfArray(free.C);
        var integrates = weights.Integral > 0;
        var all = n + (integrates ? 1 : 0);
        var (whole, input, cost) = (
            Matrix<double>.Build.Dense(all, all),
            Vector<double>.Build.Dense(all),
            Matrix<double>.Build.Dense(all, all)
        );
        whole.SetSubMatrix(0, 0, a);
        input.SetSubVector(0, n, b);
        cost.SetSubMatrix(0, 0, c.OuterProduct(c));
        if (integrates)
        {
            whole.SetRow(n, 0, n, c);
            cost[n, n] = weights.Integral;
        }

        var feedback = input * Riccati.Solve(whole, input, cost, weights.Effort) / weights.Effort;
        var observer = c * Riccati.Solve(a.Transpose(), c, b.OuterProduct(b), weights.Noise) / weights.Noise;
        // The estimate of the measured value's deviation is steered by −e.
        var own = Matrix<double>.Build.Dense(all, all);
        own.SetSubMatrix(0, 0, a - b.OuterProduct(feedback.SubVector(0, n)) - observer.OuterProduct(c));
        if (integrates)
            own.SetColumn(n, 0, n, -b * feedback[n]);
        var entry = new double[all];
        for (var i = 0; i < n; i++)
            entry[i] = -observer[i];
        if (integrates)
            entry[n] = -1;
        IReadOnlyList<string> names = [.. free.States.Select(s => $"estimate of {s}"), .. integrates ? (string[])["integral"] : []];
        var controller = LinearSystem.Of(own.ToArray(), entry, [.. -feedback], 0, names);
        return new StateFeedback(weights, free.States, [.. feedback], [.. observer], controller, LoopConnection.Series(controller, plant));
    }

    /// <summary>The closed loop from the set-point to the measured value.</summary>
    public LinearSystem Closed => LoopConnection.Closed(Loop);

    /// <summary>From a load at the plant's input to the measured value.</summary>
    public LinearSystem Loaded(LinearSystem plant) => LoopConnection.Loaded(Loop, Controller.Order, plant);

    /// <summary>From the set-point to the plant's input.</summary>
    public LinearSystem Effort =>
        LoopConnection.Closed(Loop) with
        {
            C = [.. Controller.C, .. new double[Loop.Order - Controller.Order]],
            F = new double[Loop.Delays.Length],
        };
}
