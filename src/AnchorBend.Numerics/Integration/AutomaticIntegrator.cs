namespace AnchorBend.Numerics.Integration;

/// <summary>A change of method during an automatic run.</summary>
/// <param name="Ratio">Step times fastest eigenvalue at the change.</param>
/// <param name="Instead">The method that went on where the one before found no step; null where stiffness was the reason.</param>
public sealed record MethodSwitch(double Time, bool ToImplicit, double Ratio, string? Instead = null);

/// <summary>A method that can go on where another one finds no step.</summary>
public sealed record SpareMethod(string Title, Func<Integrator> Make);

/// <summary>
/// Integrates with an explicit method while accuracy sets its steps, and with an implicit one while stability would
/// (after Petzold, SIAM J. Sci. Stat. Comput. 4, 1983). To the implicit method it goes after several steps at the border of stability. A
/// fast mode that is driven all the time keeps the steps a little below that border; where one shows for long, the implicit method is tried
/// and kept if its steps are enough longer. Back it goes when the Jacobian's spectral radius, from some power iterations, would let the
/// explicit method take steps as long. Where events follow each other so closely that one step spans what lies between two, an explicit
/// method of lower order takes over, whose steps cost half as much.
/// </summary>
public sealed unsafe class AutomaticIntegrator : Integrator
{
    /// <summary>Steps at the border of stability that make a model stiff.</summary>
    const int FirstStiff = 10;

    /// <summary>Looks that must be harmless before going back; four times as many each time that it was too early.</summary>
    const int SafeAfter = 4,
        MostSafe = 4096;

    /// <summary>Explicit steps after which going back was right.</summary>
    const int WellBack = 500;

    /// <summary>The implicit step, times the spectral radius, below which an explicit one of that length would do.</summary>
    const double ExplicitReach = 1.5;

    const int PowerIterations = 6;

    /// <summary>How far states are shifted for a difference, in their sizes: about the square root of what numbers resolve.</summary>
    const double Shift = 1e-8;

    const int SlopePlace = 2,
        ShiftedPlace = 3;

    /// <summary>From this product of step and eigenvalue on, a fast mode may set the step.</summary>
    const double Suspicious = 0.4;

    /// <summary>Suspicious steps before the first trial; four times as many before each further one.</summary>
    const int FirstTrial = 100;

    /// <summary>Explicit steps before it is looked whether a fast mode hides; twice as many before each further look.</summary>
    const int FirstLook = 1000;

    /// <summary>
    /// Steps the implicit method has to find its size: what the explicit one left of a fast mode at the border of its stability has to die
    /// away first, over some thirty time constants. One of many steps begins at order 1 with tiny ones.
    /// </summary>
    const int TrialSteps = 40,
        ManyTrialSteps = 80;

    /// <summary>The most steps before a trial.</summary>
    const int MostPatience = 1 << 24;

    /// <summary>What a step of the implicit method costs, in steps of the explicit one.</summary>
    const double ImplicitCost = 4;

    /// <summary>How often another method may step in before the model is believed to lead nowhere.</summary>
    const int MostRescues = 20;

    /// <summary>Stretches between restarts that are looked at together, and how many of them one step must have spanned for the order to be
    /// lowered.</summary>
    const int Stretches = 32,
        Spanned = 29;

    /// <summary>Steps of the lower order in such stretches, and in one that is not interrupted, at which it is given up.</summary>
    const int MostBriefSteps = 3 * Stretches / 2,
        LongStretch = 12;

    readonly Func<Integrator> makeImplicit;
    readonly string implicitTitle;
    readonly IReadOnlyList<SpareMethod> spares;
    readonly Integrator?[] spareMethods;
    readonly ErrorScale scale;
    readonly Integrator usual;
    readonly Func<Integrator>? makeBrief;
    readonly List<MethodSwitch> switches = [];
    Integrator? brief;
    Integrator explicitMethod;
    int stretches,
        spanned,
        steps,
        stepsBefore,
        briefAfter = 1,
        briefTrials;
    Integrator? implicitMethod;
    Integrator current;
    double explicitStep;
    int rescues;
    int calm,
        sinceLook,
        suspicious,
        trialAfter,
        trial,
        looked,
        lookAfter,
        stiffAfter = FirstStiff,
        safeAfter = SafeAfter;
    long backAt = -1;

    /// <param name="brief">Makes the explicit method for the time when events are close; null where there is none of lower order.</param>
    /// <param name="stiff">The implicit method, made when it is first needed.</param>
    /// <param name="spares">Further methods, tried in turn where neither of the two finds a step.</param>
    public AutomaticIntegrator(
        OdeSystem system,
        ErrorScale scale,
        Integrator explicitMethod,
        Func<Integrator>? brief,
        SpareMethod stiff,
        IReadOnlyList<SpareMethod> spares
    )
        : base(system, 4)
    {
        (this.scale, this.explicitMethod, makeImplicit, implicitTitle) = (scale, explicitMethod, stiff.Make, stiff.Title);
        (usual, makeBrief) = (explicitMethod, brief);
        (this.spares, spareMethods) = (spares, new Integrator?[spares.Count]);
        if (explicitMethod is IStiffnessWatch watch)
            watch.WatchesStiffness = true;
        lookAfter = FirstLook;
        // A trial makes the derivatives of the whole model and matrices that cost the more the larger it is.
        trialAfter = FirstTrial * (1 + system.Dimension / 50);
        current = explicitMethod;
    }

    /// <summary>All changes so far.</summary>
    public IReadOnlyList<MethodSwitch> Switches => switches;

    public bool IsImplicit => ReferenceEquals(current, implicitMethod);

    /// <summary>Steps made by the implicit method.</summary>
    public long ImplicitSteps => implicitMethod?.Counts.Steps ?? 0;

    public override IntegrationCounts Counts
    {
        get
        {
            var sum = implicitMethod is null ? usual.Counts : usual.Counts.Plus(implicitMethod.Counts);
            if (brief is not null)
                sum = sum.Plus(brief.Counts);
            foreach (var spare in spareMethods)
                if (spare is not null)
                    sum = sum.Plus(spare.Counts);
            return sum;
        }
    }

    /// <summary>The methods made so far besides the explicit one.</summary>
    IEnumerable<Integrator> Others => (spareMethods ?? []).Prepend(implicitMethod).Prepend(brief).OfType<Integrator>();

    public override bool ChecksDenseOutput
    {
        get => usual.ChecksDenseOutput;
        set
        {
            usual.ChecksDenseOutput = value;
            foreach (var other in Others)
                other.ChecksDenseOutput = value;
        }
    }

    public override DiscontinuityPolicy Discontinuities => current.Discontinuities;

    public override bool BetterAtEnds => current.BetterAtEnds;

    public override double* State => current.State;

    public override double NextStep => current.NextStep;

    public override int LimitingState => current.LimitingState;

    public override bool EvaluatedAtEnd => current.EvaluatedAtEnd;

    public override double* EndSlope => current.EndSlope;

    public override double* StartState => current.StartState;

    public override double* StartSlope => current.StartSlope;

    public override bool IsLongStepping => current.IsLongStepping;

    public override void Restart(double time, double* x, double firstStep = 0)
    {
        if (makeBrief is not null && ReferenceEquals(current, explicitMethod))
            ChooseOrder();
        current.Restart(time, x, firstStep);
        Read();
    }

    /// <summary>Before a restart: which explicit method goes on from it.</summary>
    void ChooseOrder()
    {
        spanned += steps - stepsBefore <= 1 ? 1 : 0;
        stepsBefore = steps;
        if (++stretches < Stretches)
            return;
        if (ReferenceEquals(explicitMethod, usual))
        {
            if (spanned >= Spanned && --briefAfter == 0)
                Take(brief ??= Brief());
        }
        else if (steps > MostBriefSteps)
            TakeUsual();
        (stretches, spanned, steps, stepsBefore) = (0, 0, 0, 0);
    }

    /// <summary>Gives the lower order up, the longer the more often it was tried.</summary>
    void TakeUsual()
    {
        briefAfter = 4 << Math.Min(briefTrials++, 10);
        Take(usual);
    }

    void Take(Integrator method)
    {
        (explicitMethod, current) = (method, method);
        (method as IStiffnessWatch)?.ForgetStiffness();
    }

    Integrator Brief()
    {
        var made = Ready(makeBrief!());
        if (made is IStiffnessWatch watch)
            watch.WatchesStiffness = true;
        return made;
    }

    public override void Step(double limit)
    {
        if (++steps - stepsBefore > LongStretch && !ReferenceEquals(explicitMethod, usual) && ReferenceEquals(current, explicitMethod))
        {
            var x = Vector(0);
            VectorKernels.Copy(x, current.State, Dimension);
            var step = current.NextStep;
            TakeUsual();
            (stretches, spanned, steps, stepsBefore) = (0, 0, 1, 0);
            current.Restart(Time, x, step);
        }

        if (IsImplicit)
            LookForTheEnd();
        else if (ReferenceEquals(current, explicitMethod))
            LookForStiffness(limit);
        try
        {
            current.Step(limit);
        }
        catch (StepCollapseException e)
        {
            StepOtherwise(limit, e);
        }

        Read();
    }

    /// <summary>
    /// Where a method finds no step, another may: its stages lie elsewhere about a discontinuity or the edge of where the model is
    /// defined. It goes on from there for good.
    /// </summary>
    void StepOtherwise(double limit, StepCollapseException reason)
    {
        var failed = current;
        var x = Vector(0);
        VectorKernels.Copy(x, failed.State, Dimension);
        var time = failed.Time;
        for (var i = -1; rescues < MostRescues && i < spares.Count; i++)
        {
            var next = i < 0 ? implicitMethod ??= Implicit() : spareMethods[i] ??= Ready(spares[i].Make());
            if (ReferenceEquals(next, failed))
                continue;
            next.Restart(time, x);
            try
            {
                next.Step(limit);
            }
            catch (StepCollapseException)
            {
                continue;
            }

            rescues++;
            switches.Add(new MethodSwitch(time, i < 0, 0, i < 0 ? implicitTitle : spares[i].Title));
            (current, trial, calm) = (next, 0, 0);
            return;
        }

        failed.Restart(time, x);
        Read();
        throw reason;
    }

    public override void Transfer(StateArchive archive)
    {
        base.Transfer(archive);
        // 0 is the explicit method, 1 the implicit one, then come the spares.
        var present =
            ReferenceEquals(current, explicitMethod) ? 0
            : IsImplicit ? 1
            : 2 + Array.IndexOf(spareMethods, current);
        archive.Transfer(ref present);
        var hasImplicit = implicitMethod is not null;
        archive.Transfer(ref hasImplicit);
        if (hasImplicit)
            implicitMethod ??= Implicit();
        var hasBrief = brief is not null;
        archive.Transfer(ref hasBrief);
        if (hasBrief && makeBrief is not null)
            (brief ??= Brief()).Transfer(archive);
        var isBrief = !ReferenceEquals(explicitMethod, usual);
        archive.Transfer(ref isBrief);
        explicitMethod = isBrief && brief is not null ? brief : usual;
        archive.Transfer(ref stretches);
        archive.Transfer(ref spanned);
        archive.Transfer(ref steps);
        archive.Transfer(ref stepsBefore);
        archive.Transfer(ref briefAfter);
        archive.Transfer(ref briefTrials);
        usual.Transfer(archive);
        implicitMethod?.Transfer(archive);
        for (var i = 0; i < spares.Count; i++)
        {
            var isMade = spareMethods[i] is not null;
            archive.Transfer(ref isMade);
            if (isMade)
                (spareMethods[i] ??= Ready(spares[i].Make())).Transfer(archive);
        }

        if (present < 0 || present >= 2 + spares.Count)
            throw new InvalidDataException("The saved run belongs to other settings.");
        current =
            present == 0
                ? explicitMethod
                : (present == 1 ? implicitMethod : spareMethods[present - 2])
                    ?? throw new InvalidDataException("The saved run belongs to other settings.");
        archive.Transfer(ref rescues);
        archive.Transfer(ref explicitStep);
        archive.Transfer(ref calm);
        archive.Transfer(ref sinceLook);
        archive.Transfer(ref suspicious);
        archive.Transfer(ref trialAfter);
        archive.Transfer(ref trial);
        archive.Transfer(ref looked);
        archive.Transfer(ref lookAfter);
        archive.Transfer(ref stiffAfter);
        archive.Transfer(ref safeAfter);
        archive.Transfer(ref backAt);
    }

    Integrator Implicit() => Ready(makeImplicit());

    Integrator Ready(Integrator made)
    {
        made.ChecksDenseOutput = usual.ChecksDenseOutput;
        return made;
    }

    void Read()
    {
        (StepStart, Time) = (current.StepStart, current.Time);
    }

    void LookForStiffness(double limit)
    {
        if (Dimension == 0)
            return;
        var watch = (IStiffnessWatch)explicitMethod;
        var step = explicitMethod.NextStep;
        // A solution that itself turns at the rate of the fast mode needs short steps with any method.
        var harmless = Math.Max(Suspicious, ImplicitCost * watch.Turning);
        if (watch.StepTimesEigenvalue > harmless)
            suspicious++;
        if (++looked >= lookAfter && FastestMode() * step > harmless)
            suspicious = trialAfter;
        if (watch.StiffSteps < stiffAfter && suspicious < trialAfter)
            return;
        if (step > 0 && Time + 5 * step >= limit)
            return;
        implicitMethod ??= Implicit();
        // Short steps from an event on look harmless to the implicit method until its transients have died away.
        if (trial == 0 && backAt >= 0)
            safeAfter = explicitMethod.Counts.Steps - backAt < WellBack ? Math.Min(4 * safeAfter, MostSafe) : SafeAfter;
        explicitStep = step;
        Change(implicitMethod, step, Math.Max(1, watch.StepTimesEigenvalue));
        (calm, trial, suspicious) = (0, implicitMethod is Radau5 ? TrialSteps : ManyTrialSteps, 0);
    }

    /// <summary>
    /// The quotient of slopes misses a fast mode whose part in the differences is small; a power iteration finds it. Products with the
    /// Jacobian are differences of slopes there, which need no derivatives of the model (Sommeijer, Shampine and Verwer, J. Comput. Appl.
    /// Math. 88, 1997, section 3).
    /// </summary>
    double FastestMode()
    {
        looked = 0;
        lookAfter *= 2;
        System.Derivatives(Time, current.State, Vector(SlopePlace));
        explicitMethod.Own.Evaluations += 1 + PowerIterations;
        return SpectralRadius(true);
    }

    /// <summary><c>result = J·direction</c>, both measured in the states' scales, by the difference of two slopes.</summary>
    void MultiplyByDifference(double* direction, double* result)
    {
        double* x = current.State,
            shifted = Vector(ShiftedPlace),
            slope = Vector(SlopePlace);
        for (var i = 0; i < Dimension; i++)
            shifted[i] = x[i] + Shift * Size(i) * direction[i];
        System.Derivatives(Time, shifted, result);
        for (var i = 0; i < Dimension; i++)
            result[i] = (result[i] - slope[i]) / (Shift * Size(i));
    }

    /// <summary>What a state's value is measured by, so that those in small units are shifted by little.</summary>
    double Size(int i) => scale.At(i, current.State[i]) / scale.Relative;

    void MultiplyByMatrix(double* direction, double* result)
    {
        var values = ((Radau5)implicitMethod!).LastJacobian;
        var pattern = System.JacobianPattern;
        new Span<double>(result, Dimension).Clear();
        for (var j = 0; j < Dimension; j++)
        for (var p = pattern.Starts[j]; p < pattern.Starts[j + 1]; p++)
            result[pattern.Rows[p]] += values[p] * direction[j];
    }

    void LookForTheEnd()
    {
        var step = Time - StepStart;
        if (trial > 0)
        {
            if (Math.Max(step, current.NextStep) >= ImplicitCost * explicitStep)
                trial = 0;
            else if (--trial == 0)
                GiveUpTrial();
            return;
        }

        // The look costs a few products with the Jacobian; every other step is often enough.
        if (++sinceLook < 2)
            return;
        sinceLook = 0;
        if (!(step > 0) || implicitMethod is not Radau5)
            return;
        var radius = SpectralRadius(false);
        calm = radius * step < ExplicitReach ? calm + 1 : 0;
        if (calm < safeAfter)
            return;
        calm = 0;
        backAt = explicitMethod.Counts.Steps;
        Change(explicitMethod, step, radius * step);
    }

    /// <summary>Back without a word: a trial that failed is no news.</summary>
    void GiveUpTrial()
    {
        (trialAfter, stiffAfter) = (Math.Min(4 * trialAfter, MostPatience), Math.Min(4 * stiffAfter, MostPatience));
        Change(explicitMethod, explicitStep, 0);
        // A run that was taken up within the trial has not noted its beginning.
        var noted = Math.Min(2, switches.Count);
        switches.RemoveRange(switches.Count - noted, noted);
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
    double SpectralRadius(bool byDifferences)
    {
        var n = Dimension;
        double* v = Vector(0),
            w = Vector(1);
        var size = 0.0;
        for (var i = 0; i < n; i++)
        {
            v[i] = 1 + 0.3 * Math.Sin(i + 1);
            size += v[i] * v[i];
        }

        size = Math.Sqrt(size);
        for (var i = 0; i < n; i++)
            v[i] /= size;
        var growth = 0.0;
        for (var iteration = 0; iteration < PowerIterations; iteration++)
        {
            if (byDifferences)
                MultiplyByDifference(v, w);
            else
                MultiplyByMatrix(v, w);
            var next = 0.0;
            for (var i = 0; i < n; i++)
                next += w[i] * w[i];
            next = Math.Sqrt(next);
            if (!(next > 0))
                return 0;
            // A pair of complex eigenvalues makes the growth go up and down; the mean of two settles it.
            growth = iteration == PowerIterations - 1 ? Math.Sqrt(growth * next) : next;
            for (var i = 0; i < n; i++)
                v[i] = w[i] / next;
        }

        return growth;
    }

    public override void Interpolate(double time, double* x) => current.Interpolate(time, x);

    protected override void Release()
    {
        // One whose making failed is given back, too.
        usual?.Dispose();
        foreach (var other in Others)
            other?.Dispose();
    }
}
