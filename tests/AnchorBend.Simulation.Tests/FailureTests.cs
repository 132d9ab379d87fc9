using AnchorBend.Compiler.Preparation;
using AnchorBend.Modeling.Documents;
using AnchorBend.Tests;

namespace AnchorBend.Simulation.Tests;

public class FailureTests
{
    [Theory]
    [InlineData("Real x(start = 1); Real y; equation der(x) = -1 + 0 * y; y = sqrt(x);", "square root of a negative number", 1)]
    [InlineData("Real x(start = 1); Real y; equation der(x) = -1 + 0 * y; y = log(x);", "logarithm", 1)]
    [InlineData("Real x(start = 1); equation der(x) = x * x;", "", 1)]
    public void A_number_that_is_none_is_caught_where_it_is_born(string text, string reason, double time)
    {
        var result = TextModel.Run(text, 3);
        Assert.NotNull(result.Failure);
        Assert.Contains(reason, result.Failure.Message, StringComparison.Ordinal);
        Assert.Equal(time, result.Failure.Time, 0.01);
        Assert.NotEmpty(result.Failure.Advice);
        Assert.True(result.Trace.Rows > 100);
    }

    [Fact]
    public void A_division_by_zero_at_the_start_names_the_part()
    {
        var result = TextModel.Run("Product p(powers = {1, -1}); equation p.u[1] = 1; p.u[2] = 0 * time;", 1);
        Assert.Equal("not-a-number", result.Failure!.Code);
        Assert.Equal("p", result.Failure.Part);
        Assert.Contains("division by zero", result.Failure.Message, StringComparison.Ordinal);
    }

    [Fact]
    public void A_canceled_run_keeps_what_it_recorded()
    {
        var prepared = TextModel.Prepare("Real x; Real y(start = 1); equation der(x) = y; der(y) = -x;");
        using var cancel = new CancellationTokenSource();
        using var simulator = new Simulator(
            prepared.Compiled!,
            new ParameterSet(prepared.Model),
            new RunOptions { End = 1e6, OutputInterval = 10 }
        );
        var result = simulator.Run(cancel.Token, t =>
        {
            if (t > 100)
                cancel.Cancel();
        });
        Assert.Equal("canceled", result.Failure!.Code);
        Assert.InRange(result.Trace.Rows, 5, 10_000);
    }

    [Fact]
    public void The_budget_of_memory_stops_a_run()
    {
        var result = TextModel.Run(
            "Real x; equation der(x) = cos(time);",
            100,
            new RunOptions
            {
                End = 100,
                OutputInterval = 1e-4,
                TraceBudget = 1 << 20,
            }
        );
        Assert.Equal("trace-budget", result.Failure!.Code);
        Assert.True(result.Trace.Rows > 1000);
    }

    [Theory]
    [InlineData("end", 0, 1e-6, 1e-3)]
    [InlineData("tolerance", 1, 1, 1e-3)]
    [InlineData("step", 1, 1e-6, -1)]
    public void Settings_out_of_range_are_refused(string word, double end, double rtol, double step) =>
        Assert.Contains(
            word,
            new RunOptions
            {
                End = end,
                RelativeTolerance = rtol,
                Step = step,
                Method = IntegrationMethod.RungeKutta4,
            }.Problem(),
            StringComparison.Ordinal
        );

    [Fact]
    public void The_same_run_gives_the_same_bits_on_any_thread()
    {
        var prepared = TextModel.Prepare(
            "Relay r; SecondOrder p(w = 4, D = 0.1); DeadTime d(T = 0.2); Sine s; Sum e; equation connect(s.y, e.u[1]); connect(d.y, e.u[2]); connect(e.y, r.u); connect(r.y, p.u); connect(p.y, d.u);"
        );
        string Fingerprint()
        {
            var trace = TextModel.Run(prepared, new RunOptions { End = 8 }).Trace;
            return string.Join(
                ";",
                trace.Column(prepared.Compiled!.Plan.RepresentativeOf("p.y")).Select(v => BitConverter.DoubleToInt64Bits(v))
            );
        }

        var first = Fingerprint();
        var others = new string[6];
        Parallel.For(0, others.Length, i => others[i] = Fingerprint());
        Assert.All(others, o => Assert.Equal(first, o));
    }

    [Fact]
    public void A_parameter_change_uses_the_same_code()
    {
        const string text = "parameter Real T = 1; Lag l(T = T); equation l.u = 1;";
        var first = TextModel.Prepare(text);
        var second = PreparedModel.Prepare(
            TextModel.Prepare(text, new Dictionary<string, string> { ["T"] = "0.5" }).Model,
            [],
            SourceMap.Empty,
            first
        );
        Assert.Same(first.Compiled, second.Compiled);
        var result = TextModel.Run(second, new RunOptions { End = 1, RelativeTolerance = 1e-9 });
        Assert.Equal(1 - Math.Exp(-2), result.Trace[result.Trace.Rows - 1, second.Compiled!.Plan.RepresentativeOf("l.y")], 1e-7);
    }
}
