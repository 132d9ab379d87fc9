namespace AnchorBend.Numerics.Integration;

/// <summary>A change of method during an automatic run.</summary>
/// <param name="Ratio">Step times fastest eigenvalue at the change.</param>
public sealed record MethodSwitch(double Time, bool ToImplicit, double Ratio);

/// <summary>
/// Integrates with an explicit method while accuracy sets its steps, and with an implicit one while stability would
/// (after Petzold, SIAM J. Sci. Stat. Comput. 4, 1983). To the implicit method it goes after several steps at the border of stability. A fast
/// mode that is driven all the time keeps the steps a little below that border; where one shows for long, the implicit method is tried
/// and kept if its steps are enough longer. Back it goes when the Jacobian's spectral radius, from some power iterations, would let the
/// explicit method take steps as long.
/// </summary>
public sealed unsafe class AutomaticIntegrator : Integrator
{
    /// <summary>Steps at the border of stability that make a model stiff.</summary>
    const int StiffAfter = 10;

    /// <summary>Steps that must look harmless before going back.</summary>
    const int CalmAfter = 4;

    /// <summary>The implicit step, times the spectral radius, below which an explicit one of that length would do.</summary>
    const double ExplicitReach = 1.5;

    const int PowerIterations = 6;

    /// <summary>From this product of step and eigenvalue on, a fast mode may set the step.</summary>
    const double Suspicious = 0.4;

    /// <summary>Suspicious steps before the first trial; four times as many before each further one.</summary>
    const int FirstTrial = 100;

    /// <summary>Explicit steps before the Jacobian itself is asked whether a fast mode hides; twice as many before each further look.</summary>
    const int FirstLook = 1000;

    /// <summary>Steps the implicit method has to find its size.</summary>
    const int TrialSteps = 12;

    /// <summary>What a step of the implicit method costs, in steps of the explicit one.</summary>
    const double ImplicitCost = 4;

    readonly Func<Integrator> makeImplicit;
    readonly Integrator explicitMethod;
    readonly List<MethodSwitch> switches = [];
    Integrator? implicitMethod;
    Integrator current;
    double explicitStep;
    int calm, sinceLook, suspicious, trialAfter, trial, looked, lookAfter;
    double[]? jacobian;

    /// <param name="makeImplicit">Makes the implicit method when it is first needed.</param>
    public AutomaticIntegrator(OdeSystem system, Integrator explicitMethod, Func<Integrator> makeImplicit) : base(system, 2)
    {
        (this.explicitMethod, this.makeImplicit) = (explicitMethod, makeImplicit);
        // The first look has to make the derivatives of the whole model, which must be worth it.
        lookAfter = FirstLook * (1 + system.Dimension / 200);
        // So must a trial, whose matrices cost the more the larger the model is.
        trialAfter = FirstTrial * (1 + system.Dimension / 50);
        current = explicitMethod;
    }

    /// <summary>All changes so far.</summary>
    public IReadOnlyList<MethodSwitch> Switches => switches;

    public bool IsImplicit => !ReferenceEquals(current, explicitMethod);

    /// <summary>Steps made by the implicit method.</summary>
    public long ImplicitSteps => implicitMethod?.Counts.Steps ?? 0;

    public override bool LooksInside
    {
        get => explicitMethod.LooksInside;
        set
        {
            explicitMethod.LooksInside = value;
            if (implicitMethod is not null) implicitMethod.LooksInside = value;
        }
    }

    public override bool BetterAtEnds => current.BetterAtEnds;

    public override double* State => current.State;

    public override double NextStep => current.NextStep;

    public override int LimitingState => current.LimitingState;

    public override bool EvaluatedAtEnd => current.EvaluatedAtEnd;

    public override double* EndSlope => current.EndSlope;

    public override bool IsLongStepping => current.IsLongStepping;

    public override void Restart(double time, double* x, double firstStep = 0)
    {
        current.Restart(time, x, firstStep);
        Read();
    }

    public override void Step(double limit)
    {
        if (IsImplicit) LookForTheEnd();
        else LookForStiffness(limit);
        current.Step(limit);
        Read();
    }

    public override void Exchange(StateArchive archive)
    {
        base.Exchange(archive);
        var isImplicit = IsImplicit;
        var hasImplicit = implicitMethod is not null;
        archive.Exchange(ref isImplicit);
        archive.Exchange(ref hasImplicit);
        if (hasImplicit) implicitMethod ??= Implicit();
        explicitMethod.Exchange(archive);
        implicitMethod?.Exchange(archive);
        current = isImplicit ? implicitMethod! : explicitMethod;
        archive.Exchange(ref explicitStep);
        archive.Exchange(ref calm);
        archive.Exchange(ref sinceLook);
        archive.Exchange(ref suspicious);
        archive.Exchange(ref trialAfter);
        archive.Exchange(ref trial);
        archive.Exchange(ref looked);
        archive.Exchange(ref lookAfter);
    }

    Integrator Implicit()
    {
        var made = makeImplicit();
        made.LooksInside = explicitMethod.LooksInside;
        return made;
    }

    void Read()
    {
        (StepStart, Time) = (current.StepStart, current.Time);
        Counts = implicitMethod is null ? explicitMethod.Counts : explicitMethod.Counts.Plus(implicitMethod.Counts);
    }

    void LookForStiffness(double limit)
    {
        if (Dimension == 0) return;
        var watch = (IStiffnessWatch)explicitMethod;
        if (watch.StepTimesEigenvalue > Suspicious) suspicious++;
        if (++looked >= lookAfter && HidesFastMode()) suspicious = trialAfter;
        if (watch.StiffSteps < StiffAfter && suspicious < trialAfter) return;
        var step = explicitMethod.NextStep;
        if (step > 0 && Time + 5 * step >= limit) return;
        implicitMethod ??= Implicit();
        explicitStep = step;
        Change(implicitMethod, step, Math.Max(1, watch.StepTimesEigenvalue));
        (calm, trial, suspicious) = (0, TrialSteps, 0);
    }

    /// <summary>The quotient of slopes misses a fast mode whose part in the differences is small; the Jacobian does not.</summary>
    bool HidesFastMode()
    {
        looked = 0;
        lookAfter *= 2;
        jacobian ??= new double[Math.Max(1, System.JacobianPattern.Count)];
        fixed (double* j = jacobian) System.Jacobian(Time, current.State, j);
        return SpectralRadius(jacobian) * explicitMethod.NextStep > Suspicious;
    }

    void LookForTheEnd()
    {
        var step = Time - StepStart;
        if (trial > 0 && --trial == 0 && Math.Max(step, current.NextStep) < ImplicitCost * explicitStep)
        {
            GiveUpTrial();
            return;
        }

        // The look costs a few products with the Jacobian; every other step is often enough.
        if (++sinceLook < 2) return;
        sinceLook = 0;
        if (!(step > 0) || implicitMethod is not Radau5 radau) return;
        var radius = SpectralRadius(radau.LastJacobian);
        calm = radius * step < ExplicitReach ? calm + 1 : 0;
        if (calm < CalmAfter) return;
        calm = 0;
        if (trial > 0)
        {
            GiveUpTrial();
            return;
        }

        Change(explicitMethod, step, radius * step);
    }

    /// <summary>Back without a word: a trial that failed is no news.</summary>
    void GiveUpTrial()
    {
        (trial, trialAfter) = (0, trialAfter * 4);
        Change(explicitMethod, explicitStep, 0);
        switches.RemoveRange(switches.Count - 2, 2);
    }

    void Change(Integrator to, double step, double ratio)
    {
        switches.Add(new MethodSwitch(Time, !ReferenceEquals(to, explicitMethod), ratio));
        var x = Vector(0);
        VectorKernels.Copy(x, current.State, Dimension);
        current = to;
        (to as IStiffnessWatch)?.ForgetStiffness();
        to.Restart(Time, x, step);
    }

    /// <summary>Growth of a vector over the last of some products with the Jacobian (power method).</summary>
    double SpectralRadius(ReadOnlySpan<double> values)
    {
        var n = Dimension;
        var pattern = System.JacobianPattern;
        double* v = Vector(0), w = Vector(1);
        for (var i = 0; i < n; i++) v[i] = 1 + 0.3 * Math.Sin(i + 1);
        double growth = 0, size = 0;
        for (var i = 0; i < n; i++) size += v[i] * v[i];
        size = Math.Sqrt(size);
        for (var iteration = 0; iteration < PowerIterations; iteration++)
        {
            new Span<double>(w, n).Clear();
            for (var j = 0; j < n; j++)
                for (var p = pattern.Starts[j]; p < pattern.Starts[j + 1]; p++) w[pattern.Rows[p]] += values[p] * v[j];
            var next = 0.0;
            for (var i = 0; i < n; i++) next += w[i] * w[i];
            next = Math.Sqrt(next);
            if (next == 0) return 0;
            // A pair of complex eigenvalues makes the growth go up and down; the mean of two settles it.
            growth = iteration == PowerIterations - 1 ? Math.Sqrt(growth * next / size) : next / size;
            for (var i = 0; i < n; i++) v[i] = w[i] / next;
            size = 1;
        }

        return growth;
    }

    public override void Interpolate(double time, double* x) => current.Interpolate(time, x);

    protected override void Release()
    {
        explicitMethod.Dispose();
        implicitMethod?.Dispose();
    }
}
