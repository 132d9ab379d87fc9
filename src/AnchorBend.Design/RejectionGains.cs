using System.Numerics;
using Matrix = MathNet.Numerics.LinearAlgebra.Double.Matrix;
using Vector = MathNet.Numerics.LinearAlgebra.Double.Vector;

namespace AnchorBend.Design;

/// <summary>
/// Gains of a disturbance-rejecting controller of first or second order with an extended state observer, between its limits (Gao,
/// "Scaling and bandwidth-parameterization based controller tuning", American Control Conference 2003; sampled after Miklosovic, Radke and
/// Gao, American Control Conference 2006).
/// </summary>
/// <param name="Order">1 or 2: whether the plant's rate or its acceleration follows the output.</param>
/// <param name="InputGain">b0: rate or acceleration of the measured value for a unit of output.</param>
/// <param name="Bandwidth">ωc, rad/s.</param>
/// <param name="Ratio">Observer bandwidth over ωc.</param>
public sealed record RejectionGains(int Order, double InputGain, double Bandwidth, double Ratio) : LoopController
{
    public const double UsualRatio = 5,
        MostRatio = 1000;

    public static string NameOf(int order) => $"rejection{order}";

    /// <summary>The order that a name stands for; null for other forms.</summary>
    public static int? OrderOf(string? name) =>
        name == NameOf(1) ? 1
        : name == NameOf(2) ? 2
        : null;

    /// <summary>The input gain of a plant as an integrator or a double one: its gain at a frequency times that frequency's power.</summary>
    /// <param name="plant">On the plane of samples where there is a period.</param>
    /// <param name="frequency">Where the loop shall work, rad/s.</param>
    /// <param name="sign">1 or −1, of the plant.</param>
    public static double InputGainOf(LinearSystem plant, int order, double frequency, int sign, double period = 0)
    {
        var w = SampledPlane.Place(frequency, period);
        return sign * plant.At(new Complex(0, w)).Magnitude * Math.Pow(w, order);
    }

    public override string Name => NameOf(Order);

    public override string Told => $"disturbance-rejecting controller of {(Order == 1 ? "first" : "second")} order";

    public override bool HasIntegral => true;

    double Observer => Ratio * Bandwidth;

    public override double IntegralGain =>
        Period > 0 ? AtZero()
        : Order == 1 ? Observer * Observer * Bandwidth / (InputGain * (Bandwidth + 2 * Observer))
        : Math.Pow(Observer, 3)
            * Bandwidth
            * Bandwidth
            / (InputGain * (Bandwidth * Bandwidth + 6 * Bandwidth * Observer + 3 * Observer * Observer));

    /// <summary>What s C(s) comes to: its real part is even in the frequency, so so far down only rounding is left.</summary>
    double AtZero()
    {
        var s = new Complex(0, 1e-5 * Bandwidth);
        return (s * Feedback(s)).Real;
    }

    public override Complex Feedback(Complex s) => Transfer()(s);

    /// <summary>The feedback transfer function, for many frequencies.</summary>
    /// <remarks>The continuous observer's states are eliminated by hand: its estimate of the disturbance is ωo^n (y − z1)/s.</remarks>
    public Func<Complex, Complex> Transfer()
    {
        double wc = Bandwidth,
            wo = Observer,
            b0 = InputGain;
        if (Period > 0)
            return Sampled().Transfer();
        if (Order == 1)
            return s => ((2 * wo * wc + wo * wo) * s + wo * wo * wc) / (b0 * s * (s + wc + 2 * wo));
        double second = 3 * wo * wc * wc + 6 * wc * wo * wo + wo * wo * wo,
            first = 3 * wo * wo * wc * wc + 2 * wo * wo * wo * wc,
            last = wo * wo * wo * wc * wc,
            slow = 6 * wc * wo + wc * wc + 3 * wo * wo;
        return s => ((second * s + first) * s + last) / (b0 * s * ((s + 2 * wc + 3 * wo) * s + slow));
    }

    public override LinearController Realised() => Period > 0 ? Sampled() : Continuous();

    LinearController Continuous()
    {
        double wc = Bandwidth,
            wo = Observer,
            b0 = InputGain;
        // With its own output in the observer the estimated disturbance cancels out of the last estimate's rate.
        return Order == 1
            ? new LinearController(
                new[,]
                {
                    { -wc - 2 * wo, 0 },
                    { -wo * wo, 0 },
                },
                [wc, 0],
                [-2 * wo, -wo * wo],
                [-wc / b0, -1 / b0],
                wc / b0,
                0,
                ["estimated value", "estimated disturbance"]
            )
            : new LinearController(
                new[,]
                {
                    { -3 * wo, 1, 0 },
                    { -wc * wc - 3 * wo * wo, -2 * wc, 0 },
                    { -wo * wo * wo, 0, 0 },
                },
                [0, wc * wc, 0],
                [-3 * wo, -3 * wo * wo, -wo * wo * wo],
                [-wc * wc / b0, -2 * wc / b0, -1 / b0],
                wc * wc / b0,
                0,
                ["estimated value", "estimated rate", "estimated disturbance"]
            );
    }

    /// <summary>
    /// With p predicted before a sample, l the observer's gains and z = p + l (y − p1) the estimates after it, the output is
    /// (kp r − κ·z)/b0 and the next prediction follows from z and it; brought on to the plane of <see cref="SampledPlane"/>.
    /// </summary>
    LinearController Sampled()
    {
        var (t, wc, beta) = (Period, Bandwidth, Math.Exp(-Observer * Period));
        var n = Order + 1;
        var (kp, kd) = Order == 1 ? (wc, 0.0) : (wc * wc, 2 * wc);
        double[] l =
            Order == 1
                ? [1 - beta * beta, (1 - beta) * (1 - beta) / t]
                : [1 - beta * beta * beta, 3 * (1 - beta) * (1 - beta) * (1 + beta) / (2 * t), Math.Pow(1 - beta, 3) / (t * t)];
        double[] weights = Order == 1 ? [kp, 1] : [kp, kd, 1];
        // What the estimates after a sample become at the next one; the disturbance cancels.
        double[,] next =
            Order == 1
                ? new[,]
                {
                    { 1 - t * kp, 0 },
                    { 0, 1 },
                }
                : new[,]
                {
                    { 1 - t * t / 2 * kp, t - t * t / 2 * kd, 0 },
                    { -t * kp, 1 - t * kd, 0 },
                    { 0, 0, 1 },
                };
        var m = Matrix.Build.DenseOfArray(next);
        var gains = Vector.Build.DenseOfArray(l);
        var correct = Matrix.Build.DenseIdentity(n);
        correct.SetColumn(0, correct.Column(0) - gains);
        var kappa = Vector.Build.DenseOfArray(weights) / InputGain;
        var a = m * correct;
        var setPoint = Vector.Build.DenseOfArray(Order == 1 ? [t * kp, 0] : [t * t / 2 * kp, t * kp, 0]);
        var measured = -(m * gains);
        var c = -(kappa * correct);
        // The bilinear transformation, for both inputs.
        var one = Matrix.Build.DenseIdentity(n);
        var sum = (a + one).LU();
        var (r, y) = (sum.Solve(setPoint), sum.Solve(measured));
        return new LinearController(
            (sum.Solve(a - one) * (2 / t)).ToArray(),
            [.. r * (2 / t)],
            [.. y * (2 / t)],
            [.. (a + one).Transpose().LU().Solve(c) * 2],
            kp / InputGain - c * r,
            kappa * gains - c * y,
            Order == 1 ? ["predicted value", "predicted disturbance"] : ["predicted value", "predicted rate", "predicted disturbance"]
        );
    }
}
