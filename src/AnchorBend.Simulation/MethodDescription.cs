namespace AnchorBend.Simulation;

public enum IntegrationMethod
{
    Auto,
    DormandPrince54,
    DormandPrince853,
    Radau5,
    BackwardDifferences,
    Euler,
    Heun,
    RungeKutta4,
    ImplicitEuler,
}

/// <summary>A method as users choose it.</summary>
/// <param name="Name">Short name in documents, on the command line and in statistics.</param>
/// <param name="Title">Name on screen.</param>
/// <param name="Guidance">When to take it, in one sentence.</param>
public sealed record MethodDescription(
    IntegrationMethod Method,
    string Name,
    string Title,
    bool IsFixedStep,
    bool IsImplicit,
    string Guidance
)
{
    public static IReadOnlyList<MethodDescription> All { get; } =
    [
        new(
            IntegrationMethod.Auto,
            "auto",
            "Automatic",
            false,
            false,
            "Chooses by tolerance and stiffness and switches during the run; right for almost every model."
        ),
        new(
            IntegrationMethod.DormandPrince54,
            "dopri54",
            "Dormand–Prince 5(4)",
            false,
            false,
            "Explicit, order 5: smooth models without fast modes, at loose and medium tolerances."
        ),
        new(
            IntegrationMethod.DormandPrince853,
            "dopri853",
            "Dormand–Prince 8(5,3)",
            false,
            false,
            "Explicit, order 8: smooth models at tight tolerances, with few events."
        ),
        new(
            IntegrationMethod.Radau5,
            "radau5",
            "Radau IIA 5",
            false,
            true,
            "Implicit, order 5: stiff models, also at tight tolerances and with many events."
        ),
        new(
            IntegrationMethod.BackwardDifferences,
            "bdf",
            "Backward differentiation 1–5",
            false,
            true,
            "Implicit, variable order: large stiff models at loose tolerances with few events."
        ),
        new(
            IntegrationMethod.Euler,
            "euler",
            "Euler, fixed step",
            true,
            false,
            "Equal steps of order 1: to see what a simple real-time target does."
        ),
        new(
            IntegrationMethod.Heun,
            "heun",
            "Heun, fixed step",
            true,
            false,
            "Equal steps of order 2: real-time targets with a little more accuracy."
        ),
        new(
            IntegrationMethod.RungeKutta4,
            "rk4",
            "Runge–Kutta 4, fixed step",
            true,
            false,
            "Equal steps of order 4: accurate real-time runs of models that are not stiff."
        ),
        new(
            IntegrationMethod.ImplicitEuler,
            "implicit-euler",
            "Implicit Euler, fixed step",
            true,
            true,
            "Equal steps of order 1 that stay stable: real-time runs of stiff models."
        ),
    ];

    public static MethodDescription Of(IntegrationMethod method) => All.First(d => d.Method == method);

    public static MethodDescription? Named(string name) => All.FirstOrDefault(d => d.Name == name);
}
