using AnchorBend.Language.Terms;
using AnchorBend.Numerics.Integration;

namespace AnchorBend.Simulation;

/// <summary>Makes the integrator that a run's options ask for.</summary>
static class IntegratorChoice
{
    /// <summary>From this relative tolerance on down, long steps of order 8 cost less than short ones of order 5.</summary>
    const double TightTolerance = 1e-6;

    /// <summary>From this many states on, one linear system a step is worth more than the higher order.</summary>
    const int LargeModel = 2000;

    /// <summary>
    /// What one step may err, as a part of the tolerance: errors of many steps add up, most at loose tolerances, where a little more
    /// care costs little.
    /// </summary>
    static double LocalShare(double tolerance) => 0.02 * Math.Clamp(Math.Sqrt(1e-6 / tolerance), 0.1, 1);

    /// <summary>Where relations are watched, events should be right to eight digits whatever the tolerance for the rest.</summary>
    const double EventTolerance = 1e-7;

    /// <summary>Where states are chosen anew again and again, what one of them errs is passed on through the constraints to the others,
    /// enlarged.</summary>
    const double ConstrainedShare = 0.03;

    /// <param name="watches">Whether state events may occur.</param>
    public static Integrator Make(ModelInstance model, RunOptions options, double maximumStep, bool watches)
    {
        var system = model.Ode;
        var (relative, absolute) = (options.RelativeTolerance, options.AbsoluteTolerance);
        if (watches)
            (relative, absolute) = (Math.Min(relative, EventTolerance), Math.Min(absolute, EventTolerance));
        var share =
            LocalShare(relative)
            * (model.Compiled.Plan.Reduced is { } reduced && reduced.Model.Choices.Any(c => c.IsDynamic) ? ConstrainedShare : 1);
        ErrorScale Scale(double part) => new(Math.Max(2e-14, part * relative), Absolute(model, part * absolute));
        var scale = Scale(share);
        Integrator Adaptive(IntegrationMethod method) =>
            method switch
            {
                IntegrationMethod.DormandPrince54 => new DormandPrince54(system, scale, maximumStep),
                IntegrationMethod.DormandPrince853 => new DormandPrince853(system, scale, maximumStep),
                IntegrationMethod.Radau5 => new Radau5(system, Scale(0.4 * share), maximumStep, Scale(watches ? 0.15 : 0.5)),
                _ => new BackwardDifferences(system, Scale(0.01 * share), maximumStep),
            };
        switch (options.Method)
        {
            case IntegrationMethod.Euler:
                return new ExplicitEuler(system, options.Step, options.Start);
            case IntegrationMethod.Heun:
                return new Heun(system, options.Step, options.Start);
            case IntegrationMethod.RungeKutta4:
                return new RungeKutta4(system, options.Step, options.Start);
            case IntegrationMethod.ImplicitEuler:
                return new ImplicitEuler(system, scale, options.Step, options.Start);
            case IntegrationMethod.Auto:
                // Between samples, long steps gain little, and with a past to keep nothing.
                var order8 =
                    model.Compiled.Plan.Model is { Delays.Count: 0 } flat
                    && relative <= (flat.Clocks.Count == 0 ? TightTolerance : 0.1 * TightTolerance);
                var implicitMethod = model.StateCount >= LargeModel ? IntegrationMethod.BackwardDifferences : IntegrationMethod.Radau5;
                var explicitMethod = order8 ? IntegrationMethod.DormandPrince853 : IntegrationMethod.DormandPrince54;
                SpareMethod Spare(IntegrationMethod method) => new(MethodDescription.Of(method).Title, () => Adaptive(method));
                IntegrationMethod[] others =
                [
                    IntegrationMethod.DormandPrince54,
                    IntegrationMethod.Radau5,
                    IntegrationMethod.BackwardDifferences,
                ];
                return new AutomaticIntegrator(
                    system,
                    scale,
                    Adaptive(explicitMethod),
                    order8 && watches ? () => Adaptive(IntegrationMethod.DormandPrince54) : null,
                    Spare(implicitMethod),
                    [.. others.Where(m => m != implicitMethod && m != explicitMethod).Select(Spare)]
                );
            default:
                return Adaptive(options.Method);
        }
    }

    /// <summary>The absolute tolerance of each state: the one asked for, times the state's nominal value where it declares one.</summary>
    public static double[] Absolute(ModelInstance model, double tolerance)
    {
        var plan = model.Compiled.Plan;
        var evaluator = new TermEvaluator(i => model.Parameters.Values[i]);
        return
        [
            .. plan.States.Select(s =>
                plan.Model.Variables[s].Nominal is { } nominal
                && Math.Abs(evaluator.Evaluate(nominal)) is var size
                && size > 0
                && double.IsFinite(size)
                    ? size * tolerance
                    : tolerance
            ),
        ];
    }
}
