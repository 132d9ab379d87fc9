using AnchorBend.Numerics.Linear;

namespace AnchorBend.Numerics.Integration;

/// <summary>
/// Backward differentiation of variable order 1 to 5 with quasi-constant steps in the modified form that errs less (numerical
/// differentiation formulas of Shampine and Reichelt, SIAM J. Sci. Comput. 18, 1997). One linear system a step and few evaluations, which
/// suits large stiff models; after an event it starts again at order 1.
/// </summary>
public sealed unsafe class BackwardDifferences : Integrator
{
    const int MaximumOrder = 5,
        MaximumIterations = 4;
    const double LeastFactor = 0.2,
        MostFactor = 10;

    static readonly double[] Kappa = [0, -0.1850, -1.0 / 9, -0.0823, -0.0415, 0];
    static readonly double[] Sum = new double[MaximumOrder + 1],
        Alpha = new double[MaximumOrder + 1],
        ErrorConstant = new double[MaximumOrder + 2];

    static BackwardDifferences()
    {
        for (var k = 1; k <= MaximumOrder; k++)
            Sum[k] = Sum[k - 1] + 1.0 / k;
        for (var k = 0; k <= MaximumOrder; k++)
        {
            Alpha[k] = (1 - Kappa[k]) * Sum[k];
            ErrorConstant[k] = Kappa[k] * Sum[k] + 1.0 / (k + 1);
        }
    }

    readonly ErrorScale scale;
    readonly double maximumStep,
        newtonTolerance;
    readonly ShiftedMatrix<double> matrix;
    readonly double[] jacobian;
    readonly double*[] differences = new double*[MaximumOrder + 3];
    readonly double*[] spare = new double*[MaximumOrder + 1];
    readonly double* predicted,
        weights,
        psi,
        correction,
        slope,
        change,
        y;

    /// <summary>Change of step and order that waits until dense output of the last step is no longer needed.</summary>
    double pending = 1;
    int nextOrder = 1;

    /// <summary>Order of the polynomial of the last step.</summary>
    int usedOrder = 1;
    int order,
        equalSteps;
    double step,
        stepSize,
        factoredSigma;
    bool started,
        jacobianFresh,
        jacobianKnown;

    public BackwardDifferences(OdeSystem system, ErrorScale scale, double maximumStep)
        : base(system, 2 * MaximumOrder + 11)
    {
        (this.scale, this.maximumStep) = (scale, maximumStep);
        var pattern = system.JacobianPattern;
        jacobian = new double[Math.Max(1, pattern.Count)];
        matrix = ShiftedMatrix<double>.For(pattern);
        for (var i = 0; i < differences.Length; i++)
            differences[i] = Vector(i);
        var at = differences.Length;
        for (var i = 0; i < spare.Length; i++)
            spare[i] = Vector(at++);
        predicted = Vector(at + 0);
        weights = Vector(at + 1);
        psi = Vector(at + 2);
        correction = Vector(at + 3);
        slope = Vector(at + 4);
        change = Vector(at + 5);
        y = Vector(at + 6);
        newtonTolerance = Math.Max(10 * 2.2e-16 / scale.Relative, Math.Min(0.03, Math.Sqrt(scale.Relative)));
    }

    public override DiscontinuityPolicy Discontinuities => DiscontinuityPolicy.Jumps;

    public override double* State => differences[0];

    public override double NextStep => step * pending;

    /// <summary>The order in use.</summary>
    public int Order => order;

    public override void Restart(double time, double* state, double firstStep = 0)
    {
        (StepStart, Time) = (time, time);
        VectorKernels.Copy(differences[0], state, Dimension);
        started = false;
        step = 0;
    }

    public override void Transfer(StateArchive archive)
    {
        base.Transfer(archive);
        archive.Transfer(ref pending);
        archive.Transfer(ref nextOrder);
        archive.Transfer(ref usedOrder);
        archive.Transfer(ref order);
        archive.Transfer(ref equalSteps);
        archive.Transfer(ref step);
        archive.Transfer(ref stepSize);
        archive.Transfer(ref started);
        archive.Transfer(ref jacobianFresh);
        archive.Transfer(ref jacobianKnown);
        archive.Transfer(jacobian);
        // The factors are not kept: both sides make them anew, with new pivots.
        factoredSigma = 0;
        matrix.Forget();
    }

    void Begin(double limit)
    {
        var n = Dimension;
        Evaluate(Time, differences[0], slope);
        // Whatever step was right at a higher order says nothing about one of order 1.
        step = scale.FirstStep(Time, Math.Min(maximumStep, limit - Time), differences[0], slope, y, change, n, 1, System);
        Own.Evaluations++;
        step = Math.Min(step, limit - Time);
        stepSize = step;
        for (var i = 2; i < differences.Length; i++)
            new Span<double>(differences[i], n).Clear();
        for (var i = 0; i < n; i++)
            differences[1][i] = step * slope[i];
        order = nextOrder = usedOrder = 1;
        pending = 1;
        equalSteps = 0;
        started = true;
        jacobianKnown = false;
        factoredSigma = 0;
    }

    public override void Step(double limit)
    {
        if (!started)
            Begin(limit);
        var n = Dimension;
        if (pending != 1 || nextOrder != order)
        {
            order = nextOrder;
            Resize(pending);
            pending = 1;
        }

        var t = Time;
        var collapse = 0;
        var cutFrom = 0.0;
        while (true)
        {
            if (step > maximumStep)
                Resize(maximumStep / step);
            var ends = t + 1.01 * step >= limit;
            if (ends && step != limit - t)
            {
                cutFrom = Math.Max(cutFrom, step);
                Resize((limit - t) / step);
                step = limit - t;
            }

            var h = step;
            if (!(h > 0) || t + 0.1 * h == t && !ends || ++collapse > 400)
                throw new StepCollapseException(t, !VectorKernels.AllFinite(slope, n));
            var end = ends ? limit : t + h;
            for (var i = 0; i < n; i++)
            {
                double sum = 0,
                    ahead = 0;
                for (var k = 0; k <= order; k++)
                    sum += differences[k][i];
                for (var k = 1; k <= order; k++)
                    ahead += differences[k][i] * Sum[k];
                predicted[i] = sum;
                psi[i] = ahead / Alpha[order];
            }

            scale.Fill(predicted, weights, n);
            var solved = Newton(end, h, n, out var iterations);
            if (!solved)
            {
                Own.NewtonFailures++;
                if (!jacobianFresh)
                {
                    jacobianKnown = false;
                    continue;
                }

                Resize(0.5);
                continue;
            }

            var safety = 0.9 * (2 * MaximumIterations + 1) / (2 * MaximumIterations + iterations);
            var error = Math.Abs(ErrorConstant[order]) * ErrorScale.Norm(correction, weights, n);
            if (!(error <= 1))
            {
                Own.Rejected++;
                Resize(double.IsFinite(error) ? Math.Max(LeastFactor, safety * Math.Pow(error, -1.0 / (order + 1))) : 0.1);
                continue;
            }

            Own.Steps++;
            (StepStart, Time) = (t, end);
            stepSize = h;
            equalSteps++;
            for (var i = 0; i < n; i++)
            {
                differences[order + 2][i] = correction[i] - differences[order + 1][i];
                differences[order + 1][i] = correction[i];
                for (var k = order; k >= 0; k--)
                    differences[k][i] += differences[k + 1][i];
            }

            usedOrder = order;
            jacobianFresh = false;
            pending = Choose(error, safety, n);
            if (cutFrom > 0 && pending < cutFrom / h)
                pending = cutFrom / h > MostFactor ? MostFactor : cutFrom / h;
            return;
        }
    }

    bool Newton(double end, double h, int n, out int iterations)
    {
        var sigma = Alpha[order] / h;
        new Span<double>(correction, n).Clear();
        VectorKernels.Copy(y, predicted, n);
        iterations = 0;
        if (!jacobianKnown)
        {
            Own.Jacobians++;
            jacobianFresh = true;
            factoredSigma = 0;
            fixed (double* j = jacobian)
            {
                System.Jacobian(end, predicted, j);
                jacobianKnown = VectorKernels.AllFinite(j, jacobian.Length);
            }

            if (!jacobianKnown)
                return false;
        }

        if (factoredSigma != sigma)
        {
            Own.Factorizations++;
            bool regular;
            fixed (double* j = jacobian)
                regular = matrix.Factorize(sigma, j);
            factoredSigma = regular ? sigma : 0;
            if (!regular)
                return false;
        }

        var before = 0.0;
        for (iterations = 1; iterations <= MaximumIterations; iterations++)
        {
            Evaluate(end, y, slope);
            for (var i = 0; i < n; i++)
                change[i] = slope[i] - (psi[i] + correction[i]) * sigma;
            matrix.Solve(change);
            var norm = ErrorScale.Norm(change, weights, n);
            if (!double.IsFinite(norm))
                return false;
            // In the shortest steps what is left is rounding, which does not get smaller.
            var isRounding = norm < 1e-3 * newtonTolerance;
            var rate = iterations > 1 ? norm / before : 0;
            if (
                !isRounding
                && iterations > 1
                && (rate >= 1 || Math.Pow(rate, MaximumIterations - iterations) / (1 - rate) * norm > newtonTolerance)
            )
                return false;
            for (var i = 0; i < n; i++)
            {
                y[i] += change[i];
                correction[i] += change[i];
            }

            if (isRounding || iterations > 1 && rate / (1 - rate) * norm < newtonTolerance)
                return true;
            before = norm;
        }

        return false;
    }

    /// <summary>Order and factor of the next step: the order whose error allows the longest one.</summary>
    double Choose(double error, double safety, int n)
    {
        nextOrder = order;
        if (equalSteps < order + 1)
            return 1;
        double Factor(double e, int k) => Math.Pow(Math.Max(e, 1e-12), -1.0 / (k + 1));
        var best = Factor(error, order);
        if (order > 1)
        {
            var lower = Factor(Math.Abs(ErrorConstant[order - 1]) * ErrorScale.Norm(differences[order], weights, n), order - 1);
            if (lower > best)
                (best, nextOrder) = (lower, order - 1);
        }

        if (order < MaximumOrder)
        {
            var higher = Factor(Math.Abs(ErrorConstant[order + 1]) * ErrorScale.Norm(differences[order + 2], weights, n), order + 1);
            if (higher > best)
                (best, nextOrder) = (higher, order + 1);
        }

        var factor = Math.Min(MostFactor, safety * best);
        // A little longer is not worth a factorisation.
        return nextOrder == order && factor is > 0.9 and < 1.2 ? 1 : factor;
    }

    /// <summary>Differences for another step size: the polynomial through them is read off at the new distances.</summary>
    void Resize(double factor)
    {
        Span<double> r = stackalloc double[(MaximumOrder + 1) * (MaximumOrder + 1)],
            u = stackalloc double[(MaximumOrder + 1) * (MaximumOrder + 1)];
        Fill(r, factor);
        Fill(u, 1);
        var n = Dimension;
        for (var k = 0; k <= order; k++)
            VectorKernels.Copy(spare[k], differences[k], n);
        for (var k = 0; k <= order; k++)
        {
            new Span<double>(differences[k], n).Clear();
            for (var m = 0; m <= order; m++)
            {
                var weight = 0.0;
                for (var j = 0; j <= order; j++)
                    weight += r[m * (MaximumOrder + 1) + j] * u[j * (MaximumOrder + 1) + k];
                if (weight == 0)
                    continue;
                for (var i = 0; i < n; i++)
                    differences[k][i] += weight * spare[m][i];
            }
        }

        step *= factor;
        equalSteps = 0;

        void Fill(Span<double> matrix, double f)
        {
            for (var j = 0; j <= order; j++)
            {
                matrix[j] = 1;
                for (var i = 1; i <= order; i++)
                    matrix[i * (MaximumOrder + 1) + j] = j == 0 ? 0 : matrix[(i - 1) * (MaximumOrder + 1) + j] * (i - 1 - f * j) / i;
            }
        }
    }

    public override int LimitingState
    {
        get
        {
            var (worst, index) = (0.0, -1);
            for (var i = 0; i < Dimension; i++)
                if (Math.Abs(correction[i]) / weights[i] is var scaled && scaled > worst)
                    (worst, index) = (scaled, i);
            return index;
        }
    }

    public override void Interpolate(double time, double* result)
    {
        var n = Dimension;
        VectorKernels.Copy(result, differences[0], n);
        var product = 1.0;
        for (var k = 1; k <= usedOrder; k++)
        {
            product *= (time - (Time - stepSize * (k - 1))) / (stepSize * k);
            for (var i = 0; i < n; i++)
                result[i] += product * differences[k][i];
        }
    }

    protected override void Release() => matrix?.Dispose();
}
