using AnchorBend.Simulation;
using AnchorBend.Tests;

namespace AnchorBend.Simulation.Tests;

/// <summary>Stiff models with values from exact solutions or from a run of a general numeric library at 1e-12 (Radau, SciPy).</summary>
public class StiffTests
{
    const string VanDerPol = "Real x(start = 2), v; equation der(x) = v; der(v) = 1000 * (1 - x ^ 2) * v - x;";

    static readonly (double Time, double X)[] VanDerPolValues =
    [
        (500, 1.5967689510525782),
        (800, 1.0839233646425388),
        (1000, -1.8636462548081925),
        (1500, -1.3547459194865903),
    ];

    public static TheoryData<IntegrationMethod, double> Cases()
    {
        var data = new TheoryData<IntegrationMethod, double>();
        foreach (var method in new[] { IntegrationMethod.Auto, IntegrationMethod.Radau5, IntegrationMethod.BackwardDifferences })
        foreach (var tolerance in new[] { 1e-4, 1e-6, 1e-8 })
            data.Add(method, tolerance);
        return data;
    }

    [Theory, MemberData(nameof(Cases))]
    public void The_van_der_Pol_oscillator_is_right_within_ten_tolerances(IntegrationMethod method, double tolerance)
    {
        var options = new RunOptions
        {
            End = 1500,
            Method = method,
            RelativeTolerance = tolerance,
            AbsoluteTolerance = tolerance,
        };
        var values = TextModel.Values(VanDerPol, "x", [.. VanDerPolValues.Select(v => v.Time)], options);
        for (var i = 0; i < values.Length; i++)
            Assert.Equal(VanDerPolValues[i].X, values[i], 10 * tolerance * Math.Abs(VanDerPolValues[i].X));
    }

    [Fact]
    public void An_automatic_run_tells_when_it_changed_its_method_and_why()
    {
        var result = TextModel.Run(
            TextModel.Prepare("Real x(start = 1), y(start = 1); equation der(x) = -5000 * (x - cos(time)); der(y) = x - y;"),
            new RunOptions { End = 10 }
        );
        Assert.Null(result.Failure);
        var change = Assert.Single(result.Statistics.Switches);
        Assert.True(change.ToImplicit);
        Assert.InRange(change.Time, 0, 1);
        Assert.True(result.Statistics.ImplicitSteps > result.Statistics.Steps / 2);
    }

    [Fact]
    public void An_automatic_run_of_a_smooth_model_stays_explicit() =>
        Assert.Empty(
            TextModel
                .Run(TextModel.Prepare("Real x(start = 1), v; equation der(x) = v; der(v) = -x;"), new RunOptions { End = 50 })
                .Statistics.Switches
        );

    [Fact]
    public void Diffusion_in_500_cells_uses_the_sparse_structure()
    {
        // One sine wave decays with the smallest eigenvalue of the chain, 4 N² sin²(π / 2N) for N intervals.
        const int n = 500;
        var text =
            $"parameter Integer n = {n}; Real u[n](start = {{sin(3.141592653589793 * i / (n + 1)) for i in 1:n}}); equation for i in 1:n loop der(u[i]) = (n + 1) ^ 2 * ((if i > 1 then u[max(i - 1, 1)] else 0) - 2 * u[i] + (if i < n then u[min(i + 1, n)] else 0)); end for;";
        var rate = 4.0 * (n + 1) * (n + 1) * Math.Pow(Math.Sin(Math.PI / (2 * (n + 1))), 2);
        var expected = Math.Sin(Math.PI * 250 / (n + 1)) * Math.Exp(-rate * 0.1);
        Assert.Equal(
            expected,
            TextModel.Values(
                text,
                "u[250]",
                [0.1],
                new RunOptions
                {
                    End = 0.1,
                    RelativeTolerance = 1e-7,
                    AbsoluteTolerance = 1e-9,
                }
            )[0],
            1e-6 * expected
        );
    }

    [Theory]
    [InlineData(IntegrationMethod.Euler, 2e-2)]
    [InlineData(IntegrationMethod.Heun, 2e-4)]
    [InlineData(IntegrationMethod.RungeKutta4, 2e-8)]
    [InlineData(IntegrationMethod.ImplicitEuler, 2e-2)]
    public void Fixed_step_methods_run_models(IntegrationMethod method, double allowed)
    {
        // The allowance is the method's error constant times the step of 0.01 to its order over one time unit.
        var values = TextModel.Values(
            "Real x(start = 1); equation der(x) = -x;",
            "x",
            [1],
            new RunOptions
            {
                End = 1,
                Method = method,
                Step = 0.01,
            }
        );
        Assert.InRange(Math.Abs(values[0] - Math.Exp(-1)), 1e-12, allowed);
    }

    [Fact]
    public void A_stiff_loop_has_its_Jacobian_through_the_algebraic_loop()
    {
        // z solves z + z³/3 = x; the state is drawn to it 10⁴ times faster than it moves.
        const string text =
            "Real x(start = 1), z; equation z + z ^ 3 / 3 = x; der(x) = -1e4 * (z - sin(time)) + cos(time) * (1 + sin(time) ^ 2);";
        var result = TextModel.Run(TextModel.Prepare(text), new RunOptions { End = 3, Method = IntegrationMethod.Radau5 });
        Assert.Null(result.Failure);
        Assert.True(result.Statistics.NewtonFailures < result.Statistics.Steps / 10 + 5);
        Assert.Equal(
            Math.Sin(3),
            TextModel.Values(
                text,
                "z",
                [3],
                new RunOptions
                {
                    End = 3,
                    RelativeTolerance = 1e-7,
                    AbsoluteTolerance = 1e-7,
                }
            )[0],
            1e-6
        );
    }

    [Fact]
    public void A_motion_as_fast_as_the_fastest_mode_stays_explicit()
    {
        // An oscillator's own eigenvalue makes long steps look suspicious; an implicit method could not make longer ones.
        var result = TextModel.Run(
            """
            Real x[2]; Boolean on(start = true); equation on = pre(on) and x[1] < 1 or x[1] < -1;
            der(x[1]) = x[2]; der(x[2]) = (if on then 30 else -30) - 4 * x[1] - 0.8 * x[2];
            """,
            200,
            new RunOptions
            {
                End = 200,
                RelativeTolerance = 1e-6,
                AbsoluteTolerance = 1e-6,
            }
        );
        Assert.Equal(483, result.Statistics.StateEvents);
        Assert.Equal(0, result.Statistics.Jacobians);
        Assert.Empty(result.Statistics.Switches);
    }

    [Theory]
    [InlineData(IntegrationMethod.Auto), InlineData(IntegrationMethod.BackwardDifferences), InlineData(IntegrationMethod.Radau5)]
    public void A_root_of_zero_stops_no_method(IntegrationMethod method)
    {
        // The root mean square of a step is the root of the time since then over the window.
        const string text =
            "Step w(startTime = 0.25); RootMeanSquare r(T = 1); Lag slow(T = 100); equation connect(w.y, r.u); connect(r.y, slow.u);";
        Assert.Equal(
            [0, 0.5, 1],
            TextModel.Values(
                text,
                "r.y",
                [0.2, 0.5, 1.5],
                new RunOptions
                {
                    Method = method,
                    End = 2,
                    RelativeTolerance = 1e-8,
                    AbsoluteTolerance = 1e-8,
                }
            ),
            (a, b) => Math.Abs(a - b) < 1e-7
        );
    }

    [Fact]
    public void A_large_stiff_model_goes_over_to_the_implicit_method_and_stays_there()
    {
        // A warm plate of 46 × 46 cells, kept at zero on its edge. With its source, x (1 − x) y (1 − y) is its rest, also on the grid. A
        // trial of a few steps once told nothing of a method that begins at order 1, and the run went to and fro without end.
        const string text = """
            parameter Integer n = 46; parameter Real h = 1 / (n + 1); Real u[n, n]; equation
            for i in 1:n loop for j in 1:n loop
            der(u[i, j]) = ((if i > 1 then u[max(i - 1, 1), j] else 0) + (if i < n then u[min(i + 1, n), j] else 0) + (if j > 1 then u[i, max(j - 1, 1)] else 0)
                + (if j < n then u[i, min(j + 1, n)] else 0) - 4 * u[i, j]) / h ^ 2 + 2 * (i * h * (1 - i * h) + j * h * (1 - j * h));
            end for; end for;
            """;
        var prepared = TextModel.Prepare(text);
        var result = TextModel.Run(
            prepared,
            new RunOptions
            {
                End = 3,
                RelativeTolerance = 1e-5,
                AbsoluteTolerance = 1e-7,
                OutputTimes = [3],
                TimeBudget = TimeSpan.FromMinutes(2),
            }
        );
        Assert.Null(result.Failure);
        double x = 20.0 / 47,
            y = 31.0 / 47;
        Assert.Equal(
            x * (1 - x) * y * (1 - y),
            result.Trace[result.Trace.Rows - 1, prepared.Compiled!.Plan.RepresentativeOf("u[20,31]")],
            1e-5
        );
        Assert.InRange(result.Statistics.Steps, 1, 2000);
        Assert.Single(result.Statistics.Switches);
    }
}
