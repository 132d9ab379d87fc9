using System.Numerics;
using AnchorBend.Numerics.Linear;

namespace AnchorBend.Numerics.Integration;

/// <summary>
/// The implicit Runge–Kutta method Radau IIA of order 5 with three stages, stiffly accurate and L-stable: simplified Newton iterations on
/// transformed stages (one real and one complex linear system), error estimate of order 3 filtered by the iteration matrix, predictive step
/// control, collocation polynomial as dense output (Hairer and Wanner, "Solving Ordinary Differential Equations II", 2nd ed., section
/// IV.8).
/// </summary>
public sealed unsafe partial class Radau5 : Integrator
{
    const int MaximumIterations = 7;
    const double Safety = 0.9,
        MostGrowth = 8,
        LeastGrowth = 0.2,
        KeptRatio = 1e-3;

    static readonly double Root6 = Math.Sqrt(6);
    static readonly double C1 = (4 - Root6) / 10,
        C2 = (4 + Root6) / 10;
    static readonly double E1 = -(13 + 7 * Root6) / 3,
        E2 = (-13 + 7 * Root6) / 3,
        E3 = -1.0 / 3;

    /// <summary>The real eigenvalue of the inverse of the method's matrix, and the complex pair.</summary>
    static readonly double Gamma;
    static readonly Complex Pair;

    // The transformation of Hairer and Wanner's program, which makes the method's inverse matrix block diagonal.
    const double T11 = 9.1232394870892942792e-2,
        T12 = -0.14125529502095420843,
        T13 = -3.0029194105147424492e-2;
    const double T21 = 0.24171793270710701896,
        T22 = 0.20412935229379993199,
        T23 = 0.38294211275726193779;
    const double T31 = 0.96604818261509293619;
    const double I11 = 4.3255798900631553510,
        I12 = 0.33919925181580986954,
        I13 = 0.54177053993587487119;
    const double I21 = -4.1787185915519047273,
        I22 = -0.32768282076106238708,
        I23 = 0.47662355450055045196;
    const double I31 = -0.50287263494578687595,
        I32 = 2.5719269498556054292,
        I33 = -0.59603920482822492497;

    static Radau5()
    {
        var third = Math.Cbrt(9);
        var gamma = (6 + third * (third - 1)) / 30;
        var alpha = (12 - third * (third - 1)) / 60;
        var beta = third * (third + 1) * Math.Sqrt(3) / 60;
        var square = alpha * alpha + beta * beta;
        Gamma = 1 / gamma;
        Pair = new Complex(alpha / square, beta / square);
    }

    readonly ErrorScale scale,
        insideScale;
    readonly double maximumStep;
    readonly ShiftedMatrix<double> real;
    readonly ShiftedMatrix<Complex> complex;
    readonly double[] jacobian;
    readonly double* slope,
        sc,
        z1,
        z2,
        z3,
        w1,
        w2,
        w3,
        f1,
        f2,
        f3,
        p1,
        p2,
        p3,
        trial,
        defect,
        change,
        rounding;
    readonly Complex[] pairRight;
    readonly double newtonTolerance;
    double* x,
        next;
    double step,
        lastStep,
        acceptedStep,
        acceptedError,
        theta,
        factoredStep,
        contraction,
        newtonShrink;
    bool slopeKnown,
        jacobianFresh,
        jacobianKnown,
        haveHistory,
        first,
        factorsLost,
        endIsLast;

    /// <param name="maximumStep">No step is longer.</param>
    /// <param name="inside">What values within steps may err where they are looked at; these errors do not add up.</param>
    public Radau5(OdeSystem system, ErrorScale scale, double maximumStep, ErrorScale? inside = null)
        : base(system, 20)
    {
        // The estimate is of order 3, the method of order 5: with this change of tolerance the error follows the tolerance asked for.
        var relative = 0.1 * Math.Pow(scale.Relative, 2.0 / 3);
        insideScale = inside ?? scale;
        this.scale = new ErrorScale(relative, [.. scale.Absolute.Select(a => a * relative / scale.Relative)]);
        this.maximumStep = maximumStep;
        var pattern = system.JacobianPattern;
        jacobian = new double[Math.Max(1, pattern.Count)];
        real = ShiftedMatrix<double>.For(pattern);
        complex = ShiftedMatrix<Complex>.For(pattern);
        pairRight = new Complex[Math.Max(1, Dimension)];
        x = Vector(0);
        next = Vector(1);
        slope = Vector(2);
        sc = Vector(3);
        trial = Vector(4);
        z1 = Vector(5);
        z2 = Vector(6);
        z3 = Vector(7);
        w1 = Vector(8);
        w2 = Vector(9);
        w3 = Vector(10);
        f1 = Vector(11);
        f2 = Vector(12);
        f3 = Vector(13);
        p1 = Vector(14);
        p2 = Vector(15);
        p3 = Vector(16);
        defect = Vector(17);
        change = Vector(18);
        rounding = Vector(19);
        newtonTolerance = Math.Max(10 * 2.2e-16 / relative, Math.Min(0.03, Math.Sqrt(relative)));
    }

    public override double* State => x;

    public override double NextStep => step;

    /// <summary>The Jacobian that the last step used, in the order of the system's pattern.</summary>
    public ReadOnlySpan<double> LastJacobian => jacobian;

    public override void Restart(double time, double* state, double firstStep = 0)
    {
        (StepStart, Time) = (time, time);
        VectorKernels.Copy(x, state, Dimension);
        slopeKnown = jacobianKnown = jacobianFresh = haveHistory = endIsLast = false;
        first = true;
        step = firstStep;
        factoredStep = 0;
        acceptedStep = 0;
        contraction = 1;
    }

    public override void Step(double limit)
    {
        var n = Dimension;
        var t = Time;
        if (!slopeKnown)
            Evaluate(t, x, slope);
        slopeKnown = true;
        if (step == 0)
        {
            step = scale.FirstStep(t, Math.Min(maximumStep, limit - t), x, slope, trial, f1, n, 3, System);
            Own.Evaluations++;
        }

        scale.Fill(x, sc, n);
        var rejected = false;
        var collapse = 0;
        while (true)
        {
            var h = Math.Min(step, maximumStep);
            var ends = t + 1.01 * h >= limit;
            if (ends)
                h = limit - t;
            else if (t + 2 * h > limit)
                h = (limit - t) / 2;
            if (!(h > 0) || t + 0.1 * h == t && !ends || ++collapse > 400)
                throw new StepCollapseException(t, !VectorKernels.AllFinite(slope, n));
            // A little off the step that is factorised is not worth factorising again.
            if (
                !ends
                && jacobianKnown
                && factoredStep > 0
                && h >= factoredStep
                && h <= 1.2 * factoredStep
                && !rejected
                && t + 2 * factoredStep <= limit
            )
                h = factoredStep;
            if (!jacobianKnown)
            {
                fixed (double* j = jacobian)
                    System.Jacobian(t, x, j);
                Own.Jacobians++;
                jacobianKnown = jacobianFresh = true;
                factoredStep = 0;
            }

            if (factoredStep != h || factorsLost)
            {
                factorsLost = false;
                Own.Factorizations++;
                bool regular;
                fixed (double* j = jacobian)
                    regular = real.Factorize(Gamma / h, j) && complex.Factorize(Pair / h, j);
                factoredStep = regular ? h : 0;
                if (!regular)
                {
                    step = h / 2;
                    rejected = true;
                    jacobianKnown = jacobianFresh;
                    continue;
                }
            }

            Predict(h, n);
            var end = ends ? limit : t + h;
            if (!Newton(t, h, end, n, out var iterations))
            {
                Own.NewtonFailures++;
                if (!jacobianFresh)
                    jacobianKnown = false;
                step = h * newtonShrink;
                rejected = true;
                haveHistory = false;
                continue;
            }

            var error = Error(h, t, n, rejected);
            var fac = Math.Min(Safety, Safety * (1 + 2 * MaximumIterations) / (iterations + 2.0 * MaximumIterations));
            var quotient = Math.Max(1 / MostGrowth, Math.Min(1 / LeastGrowth, Math.Sqrt(Math.Sqrt(error)) / fac));
            var suggested = h / quotient;
            if (ChecksDenseOutput && error < 1)
            {
                var inside = DenseOutputError(t, h, n);
                suggested = Math.Min(suggested, h * Math.Clamp(0.9 / Math.Sqrt(Math.Sqrt(inside)), LeastGrowth, MostGrowth));
                // Steps that follow the slower growth of the error within are only refused when they miss it badly.
                if (inside > 4)
                    error = Math.Max(error, inside);
            }

            if (error < 1)
            {
                if (acceptedStep > 0)
                {
                    // The predictive rule of Gustafsson: what the error did over the last two steps.
                    var predictive = acceptedStep / h * Math.Sqrt(Math.Sqrt(error * error / acceptedError)) / Safety;
                    suggested = Math.Min(suggested, h / Math.Max(quotient, Math.Clamp(predictive, 1 / MostGrowth, 1 / LeastGrowth)));
                }

                (acceptedStep, acceptedError) = (h, Math.Max(1e-2, error));
                if (rejected)
                    suggested = Math.Min(suggested, h);
                step = ends && suggested < step ? step : suggested;
                Accept(t, h, end, n);
                return;
            }

            Own.Rejected++;
            rejected = true;
            step =
                !double.IsFinite(error) ? h / 10
                : first ? h / 10
                : suggested;
            if (!jacobianFresh)
                jacobianKnown = false;
        }
    }

    /// <summary>First guess of the stages: the last step's collocation polynomial goes on.</summary>
    void Predict(double h, int n)
    {
        if (!haveHistory)
        {
            new Span<double>(z1, n).Clear();
            new Span<double>(z2, n).Clear();
            new Span<double>(z3, n).Clear();
            new Span<double>(w1, n).Clear();
            new Span<double>(w2, n).Clear();
            new Span<double>(w3, n).Clear();
            return;
        }

        var q = h / lastStep;
        double s1 = C1 * q,
            s2 = C2 * q,
            s3 = q;
        for (var i = 0; i < n; i++)
        {
            double a = p1[i],
                b = p2[i],
                c = p3[i];
            var u1 = s1 * (a + (s1 - C2 + 1) * (b + (s1 - C1 + 1) * c));
            var u2 = s2 * (a + (s2 - C2 + 1) * (b + (s2 - C1 + 1) * c));
            var u3 = s3 * (a + (s3 - C2 + 1) * (b + (s3 - C1 + 1) * c));
            (z1[i], z2[i], z3[i]) = (u1, u2, u3);
            w1[i] = I11 * u1 + I12 * u2 + I13 * u3;
            w2[i] = I21 * u1 + I22 * u2 + I23 * u3;
            w3[i] = I31 * u1 + I32 * u2 + I33 * u3;
        }
    }

    bool Newton(double t, double h, double end, int n, out int iterations)
    {
        var oldNorm = 0.0;
        var oldTheta = 0.0;
        contraction = Math.Pow(Math.Max(contraction, 2.2e-16), 0.8);
        theta = KeptRatio;
        newtonShrink = 0.5;
        double gammaH = Gamma / h,
            alphaH = Pair.Real / h,
            betaH = Pair.Imaginary / h;
        for (iterations = 1; iterations <= MaximumIterations; iterations++)
        {
            for (var i = 0; i < n; i++)
                trial[i] = x[i] + z1[i];
            Evaluate(t + C1 * h, trial, f1);
            for (var i = 0; i < n; i++)
                trial[i] = x[i] + z2[i];
            Evaluate(t + C2 * h, trial, f2);
            for (var i = 0; i < n; i++)
                trial[i] = x[i] + z3[i];
            Evaluate(end, trial, f3);
            fixed (Complex* pair = pairRight)
            {
                for (var i = 0; i < n; i++)
                {
                    double a = f1[i],
                        b = f2[i],
                        c = f3[i];
                    defect[i] = c - EndRate(i) / h;
                    f1[i] = I11 * a + I12 * b + I13 * c - gammaH * w1[i];
                    var re = I21 * a + I22 * b + I23 * c - alphaH * w2[i] + betaH * w3[i];
                    var im = I31 * a + I32 * b + I33 * c - alphaH * w3[i] - betaH * w2[i];
                    pair[i] = new Complex(re, im);
                }

                real.Solve(f1);
                complex.Solve(pair);
                var sum = 0.0;
                for (var i = 0; i < n; i++)
                {
                    double d = 1 / sc[i],
                        a = f1[i] * d,
                        b = pair[i].Real * d,
                        c = pair[i].Imaginary * d;
                    sum += a * a + b * b + c * c;
                }

                var norm = Math.Sqrt(sum / Math.Max(1, 3 * n));
                if (!double.IsFinite(norm))
                    return false;
                if (iterations > 1)
                {
                    var ratio = norm / oldNorm;
                    theta = iterations == 2 ? ratio : Math.Sqrt(ratio * oldTheta);
                    oldTheta = ratio;
                    if (theta >= 0.99)
                        return false;
                    contraction = theta / (1 - theta);
                    var predicted = contraction * norm * Math.Pow(theta, MaximumIterations - 1 - iterations) / newtonTolerance;
                    if (predicted >= 1)
                    {
                        var q = Math.Max(1e-4, Math.Min(20, predicted));
                        newtonShrink = 0.8 * Math.Pow(q, -1.0 / (4 + MaximumIterations - 1 - iterations));
                        return false;
                    }
                }

                oldNorm = Math.Max(norm, 2.2e-16);
                for (var i = 0; i < n; i++)
                {
                    w1[i] += f1[i];
                    w2[i] += pair[i].Real;
                    w3[i] += pair[i].Imaginary;
                    double a = w1[i],
                        b = w2[i],
                        c = w3[i];
                    z1[i] = T11 * a + T12 * b + T13 * c;
                    z2[i] = T21 * a + T22 * b + T23 * c;
                    change[i] = z3[i];
                    z3[i] = T31 * a + b;
                    change[i] -= z3[i];
                }

                if (contraction * norm <= newtonTolerance && !NewtonStagnated(h, end, n))
                    return true;
            }
        }

        return false;
    }

    double Error(double h, double t, int n, bool rejected)
    {
        double a = E1 / h,
            b = E2 / h,
            c = E3 / h;
        for (var i = 0; i < n; i++)
        {
            f2[i] = a * z1[i] + b * z2[i] + c * z3[i];
            f1[i] = f2[i] + slope[i];
        }

        real.Solve(f1);
        var error = Math.Max(1e-10, ErrorScale.Norm(f1, sc, n));
        if (error < 1 || !(first || rejected))
            return error;
        // Once more through the filter: the plain estimate does not vanish for very stiff components.
        for (var i = 0; i < n; i++)
            trial[i] = x[i] + f1[i];
        Evaluate(t, trial, f1);
        endIsLast = false;
        for (var i = 0; i < n; i++)
            f1[i] += f2[i];
        real.Solve(f1);
        return Math.Max(1e-10, ErrorScale.Norm(f1, sc, n));
    }

    void Accept(double t, double h, double end, int n)
    {
        Own.Steps++;
        double c1m1 = C1 - 1,
            c2m1 = C2 - 1,
            c1mc2 = C1 - C2;
        for (var i = 0; i < n; i++)
        {
            next[i] = x[i] + z3[i];
            var a = (z2[i] - z3[i]) / c2m1;
            var k = (z1[i] - z2[i]) / c1mc2;
            var d = (k - z1[i] / C1) / C2;
            var b = (k - a) / c1m1;
            (p1[i], p2[i], p3[i]) = (a, b, b - d);
        }

        var old = x;
        x = next;
        next = old;
        (StepStart, Time) = (t, end);
        lastStep = h;
        haveHistory = true;
        first = false;
        VectorKernels.Copy(slope, f3, n);
        jacobianFresh = false;
        jacobianKnown = theta <= KeptRatio;
    }

    public override void Transfer(StateArchive archive)
    {
        base.Transfer(archive);
        Transfer(archive, ref x);
        Transfer(archive, ref next);
        archive.Transfer(ref step);
        archive.Transfer(ref lastStep);
        archive.Transfer(ref acceptedStep);
        archive.Transfer(ref acceptedError);
        archive.Transfer(ref theta);
        archive.Transfer(ref factoredStep);
        archive.Transfer(ref contraction);
        archive.Transfer(ref newtonShrink);
        archive.Transfer(ref slopeKnown);
        archive.Transfer(ref jacobianFresh);
        archive.Transfer(ref jacobianKnown);
        archive.Transfer(ref haveHistory);
        archive.Transfer(ref first);
        archive.Transfer(jacobian);
        endIsLast = false;
        // The factors are not kept: both sides make them anew, with new pivots.
        factorsLost = true;
        real.Forget();
        complex.Forget();
    }

    public override DiscontinuityPolicy Discontinuities => DiscontinuityPolicy.JumpsAndBends;

    public override bool EvaluatedAtEnd => endIsLast;

    public override double* EndSlope => slope;

    public override int LimitingState
    {
        get
        {
            var (worst, index) = (0.0, -1);
            for (var i = 0; i < Dimension; i++)
                if (Math.Abs(f1[i]) / sc[i] is var scaled && scaled > worst)
                    (worst, index) = (scaled, i);
            return index;
        }
    }

    public override bool BetterAtEnds => true;

    public override void Interpolate(double time, double* result)
    {
        var s = lastStep > 0 ? (time - Time) / lastStep : 0;
        double c1m1 = C1 - 1,
            c2m1 = C2 - 1;
        for (var i = 0; i < Dimension; i++)
            result[i] = x[i] + s * (p1[i] + (s - c2m1) * (p2[i] + (s - c1m1) * p3[i]));
    }

    protected override void Release()
    {
        // One whose making failed is given back, too.
        real?.Dispose();
        complex?.Dispose();
    }
}
