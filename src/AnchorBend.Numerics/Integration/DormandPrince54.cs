namespace AnchorBend.Numerics.Integration;

/// <summary>
/// The explicit Runge–Kutta pair of order 5(4) of Dormand and Prince (J. Comput. Appl. Math. 6, 1980) with the continuous extension of
/// order 4 and the proportional–integral step control of Hairer, Nørsett and Wanner, "Solving Ordinary Differential Equations I", 2nd ed.,
/// sections II.4 to II.6. The error of every step is kept below <c>atol + rtol·|x|</c> in the root mean square over the states.
/// </summary>
public sealed unsafe class DormandPrince54 : Integrator, IStiffnessWatch
{
    /// <summary>Below this an error lets the step grow as far as it may.</summary>
    const double LeastError = 1e-30;

    const double Safety = 0.9,
        Beta = 0.04,
        Shrink = 0.2,
        Grow = 10;

    static readonly double[] C = [0, 0.2, 0.3, 0.8, 8.0 / 9, 1, 1];
    static readonly double[][] A =
    [
        [],
        [0.2],
        [3.0 / 40, 9.0 / 40],
        [44.0 / 45, -56.0 / 15, 32.0 / 9],
        [19372.0 / 6561, -25360.0 / 2187, 64448.0 / 6561, -212.0 / 729],
        [9017.0 / 3168, -355.0 / 33, 46732.0 / 5247, 49.0 / 176, -5103.0 / 18656],
        [35.0 / 384, 0, 500.0 / 1113, 125.0 / 192, -2187.0 / 6784, 11.0 / 84],
    ];

    // Difference of the weights of both orders.
    const double E1 = 71.0 / 57600,
        E3 = -71.0 / 16695,
        E4 = 71.0 / 1920,
        E5 = -17253.0 / 339200,
        E6 = 22.0 / 525,
        E7 = -1.0 / 40;

    readonly ErrorScale scale;
    static readonly double LogSafety = FastPower.Log2(Safety),
        LogLeastError = FastPower.Log2(1e-4);

    readonly double* trial,
        k,
        dense;
    double* x,
        next,
        begin;
    readonly int stride;
    readonly double maximumStep;
    double step,
        logOldError,
        stepSize;
    bool reuse,
        denseReady;
    StiffnessCounter stiffness;

    public DormandPrince54(OdeSystem system, ErrorScale scale, double maximumStep)
        : base(system, 16)
    {
        (this.scale, this.maximumStep) = (scale, maximumStep);
        x = Vector(0);
        next = Vector(1);
        trial = Vector(2);
        begin = Vector(15);
        dense = Vector(3);
        k = Vector(8);
        stride = Stride;
    }

    public override double* State => x;

    public override double NextStep => step;

    public override DiscontinuityPolicy Discontinuities => DiscontinuityPolicy.JumpsAndBends;

    public override bool EvaluatedAtEnd => true;

    public override double* EndSlope => k + 6 * stride;

    public override double* StartState => begin;

    public override double* StartSlope => k;

    public override bool IsLongStepping => false;

    public bool WatchesStiffness { get; set; }

    public int StiffSteps => stiffness.Steps;

    public double StepTimesEigenvalue => stiffness.Product;

    public double Turning => stiffness.Turning;

    public void ForgetStiffness() => stiffness.Forget();

    public override void Restart(double time, double* state, double firstStep = 0)
    {
        (StepStart, Time) = (time, time);
        VectorKernels.Copy(x, state, Dimension);
        reuse = false;
        denseReady = false;
        step = firstStep;
        logOldError = LogLeastError;
    }

    public override void Step(double limit)
    {
        var n = Dimension;
        if (reuse)
            VectorKernels.Copy(k, k + 6 * stride, n);
        else
            Evaluate(Time, x, k);
        reuse = true;
        if (step == 0)
        {
            step = scale.FirstStep(Time, Math.Min(maximumStep, limit - Time), x, k, trial, k + stride, n, 5, System);
            Own.Evaluations++;
        }

        var rejected = false;
        // The start of the step is needed for dense output; the end of the last one is the start of this.
        var t = Time;
        while (true)
        {
            var h = Math.Min(step, maximumStep);
            var ends = t + 1.01 * h >= limit;
            if (ends)
                h = limit - t;
            else if (t + 2 * h > limit)
                h = (limit - t) / 2;
            if (!(h > 0) || t + 0.1 * h == t && !ends)
                throw new StepCollapseException(t, !VectorKernels.AllFinite(k, n));
            if (n <= 4)
                SmallStages(t, h, ends ? limit : t + h, n);
            else
                Stages(t, h, ends ? limit : t + h, n);

            var error = Error(h, n);
            if (error <= 1)
            {
                var logError = FastPower.Log2(Math.Max(error, LeastError));
                var factor = Math.Clamp(
                    FastPower.Exp2((0.2 - Beta * 0.75) * logError - Beta * logOldError - LogSafety),
                    1 / Grow,
                    1 / Shrink
                );
                var suggested = h / factor;
                if (rejected)
                    suggested = Math.Min(suggested, h);
                // A step cut short by the limit says little about the one that could be made.
                step = ends && suggested < step ? step : suggested;
                logOldError = Math.Max(logError, LogLeastError);
                Own.Steps++;
                if (WatchesStiffness)
                    stiffness.Note(h, k, k + 6 * stride, k + 5 * stride, next, trial, n);
                StepStart = t;
                stepSize = h;
                Time = ends ? limit : t + h;
                // The old state stays for dense output; the three buffers go round.
                var free = begin;
                begin = x;
                x = next;
                next = free;
                denseReady = false;
                return;
            }

            Own.Rejected++;
            rejected = true;
            if (double.IsFinite(error))
                step = h / Math.Min(1 / Shrink, FastPower.Exp2((0.2 - Beta * 0.75) * FastPower.Log2(error) - LogSafety));
            else
                step = h * 0.1;
            if (!(Math.Abs(step) > 1e-15 * Math.Max(Math.Abs(t), 1e-290)) || t + step == t)
                throw new StepCollapseException(t, !double.IsFinite(error));
        }
    }

    void Stages(double t, double h, double end, int n)
    {
        Own.Evaluations += 6;
        for (var s = 1; s < 7; s++)
        {
            VectorKernels.Combine(s == 6 ? next : trial, x, h, k, stride, A[s], n);
            System.Derivatives(s >= 5 ? end : t + C[s] * h, s == 6 ? next : trial, k + s * stride);
        }
    }

    /// <summary>The same written out: for a few states calls and loops over coefficients would cost more than the arithmetic.</summary>
    void SmallStages(double t, double h, double end, int n)
    {
        double* x = this.x,
            y = trial,
            z = next,
            k1 = k,
            k2 = k + stride,
            k3 = k2 + stride,
            k4 = k3 + stride,
            k5 = k4 + stride,
            k6 = k5 + stride,
            k7 = k6 + stride;
        var system = System;
        Own.Evaluations += 6;
        for (var i = 0; i < n; i++)
            y[i] = x[i] + h * (0.2 * k1[i]);
        system.Derivatives(t + 0.2 * h, y, k2);
        for (var i = 0; i < n; i++)
            y[i] = x[i] + h * (3.0 / 40 * k1[i] + 9.0 / 40 * k2[i]);
        system.Derivatives(t + 0.3 * h, y, k3);
        for (var i = 0; i < n; i++)
            y[i] = x[i] + h * (44.0 / 45 * k1[i] + -56.0 / 15 * k2[i] + 32.0 / 9 * k3[i]);
        system.Derivatives(t + 0.8 * h, y, k4);
        for (var i = 0; i < n; i++)
            y[i] = x[i] + h * (19372.0 / 6561 * k1[i] + -25360.0 / 2187 * k2[i] + 64448.0 / 6561 * k3[i] + -212.0 / 729 * k4[i]);
        system.Derivatives(t + 8.0 / 9 * h, y, k5);
        for (var i = 0; i < n; i++)
            y[i] =
                x[i]
                + h * (9017.0 / 3168 * k1[i] + -355.0 / 33 * k2[i] + 46732.0 / 5247 * k3[i] + 49.0 / 176 * k4[i] + -5103.0 / 18656 * k5[i]);
        system.Derivatives(end, y, k6);
        for (var i = 0; i < n; i++)
            z[i] =
                x[i] + h * (35.0 / 384 * k1[i] + 500.0 / 1113 * k3[i] + 125.0 / 192 * k4[i] + -2187.0 / 6784 * k5[i] + 11.0 / 84 * k6[i]);
        system.Derivatives(end, z, k7);
    }

    public override void Transfer(StateArchive archive)
    {
        base.Transfer(archive);
        Transfer(archive, ref x);
        Transfer(archive, ref next);
        Transfer(archive, ref begin);
        archive.Transfer(ref step);
        archive.Transfer(ref logOldError);
        archive.Transfer(ref stepSize);
        archive.Transfer(ref reuse);
        stiffness.Transfer(archive);
        denseReady = false;
    }

    /// <summary>Difference of the two orders, scaled by the tolerance; root mean square.</summary>
    double Error(double h, int n)
    {
        if (n == 0)
            return 1e-10;
        fixed (double* absolute = scale.Absolute)
            return VectorKernels.EmbeddedError(dense, h, k, stride, [E1, E3, E4, E5, E6, E7], absolute, scale.Relative, x, next, n);
    }

    public override int LimitingState
    {
        get
        {
            double* k1 = k,
                k3 = k + 2 * stride,
                k4 = k + 3 * stride,
                k5 = k + 4 * stride,
                k6 = k + 5 * stride,
                k7 = k + 6 * stride;
            var (worst, index) = (0.0, -1);
            for (var i = 0; i < Dimension; i++)
            {
                var difference = E1 * k1[i] + E3 * k3[i] + E4 * k4[i] + E5 * k5[i] + E6 * k6[i] + E7 * k7[i];
                var scaled = Math.Abs(difference) / scale.At(i, Math.Max(Math.Abs(begin[i]), Math.Abs(x[i])));
                if (scaled > worst)
                    (worst, index) = (scaled, i);
            }

            return index;
        }
    }

    public override void Interpolate(double time, double* result)
    {
        var n = Dimension;
        double* r1 = begin,
            r2 = dense + stride,
            r3 = dense + 2 * stride,
            r4 = dense + 3 * stride,
            r5 = dense + 4 * stride;
        if (!denseReady)
            PrepareDense(n);
        var theta = stepSize > 0 ? (time - StepStart) / stepSize : 1;
        var rest = 1 - theta;
        for (var i = 0; i < n; i++)
            result[i] = r1[i] + theta * (r2[i] + rest * (r3[i] + theta * (r4[i] + rest * r5[i])));
    }

    void PrepareDense(int n)
    {
        const double d1 = -12715105075.0 / 11282082432,
            d3 = 87487479700.0 / 32700410799,
            d4 = -10690763975.0 / 1880347072,
            d5 = 701980252875.0 / 199316789632,
            d6 = -1453857185.0 / 822651844,
            d7 = 69997945.0 / 29380423;
        double* r1 = begin,
            r2 = dense + stride,
            r3 = dense + 2 * stride,
            r4 = dense + 3 * stride,
            r5 = dense + 4 * stride;
        double* k3 = k + 2 * stride,
            k4 = k + 3 * stride,
            k5 = k + 4 * stride,
            k6 = k + 5 * stride,
            k7 = k + 6 * stride;
        for (var i = 0; i < n; i++)
        {
            var difference = x[i] - r1[i];
            var slope = stepSize * k[i] - difference;
            r2[i] = difference;
            r3[i] = slope;
            r4[i] = difference - stepSize * k7[i] - slope;
            r5[i] = stepSize * (d1 * k[i] + d3 * k3[i] + d4 * k4[i] + d5 * k5[i] + d6 * k6[i] + d7 * k7[i]);
        }

        denseReady = true;
    }
}
