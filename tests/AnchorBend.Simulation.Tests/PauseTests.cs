using AnchorBend.Compiler.Preparation;
using AnchorBend.Simulation;
using AnchorBend.Tests;

namespace AnchorBend.Simulation.Tests;

/// <summary>Pausing, saving, restoring, and the same bits everywhere.</summary>
public class PauseTests
{
    /// <summary>Something of everything: a fast mode, events with reinit, a sampled controller, a delay, an algebraic loop.</summary>
    const string Everything = """
        parameter Real k = 2; Real x(start = 1), v, fast, z; discrete Real u; Integer bounces; Real late;
        equation
        der(x) = v; der(v) = -k * x - 0.1 * v + u + 0.1 * late; der(fast) = -2000 * (fast - x);
        z + 0.1 * sin(z) = fast; late = delay(z, 0.3);
        when sample(0.05, 0.1) then u = -0.2 * z; end when;
        when x < -0.5 then reinit(v, -0.9 * pre(v)); bounces = pre(bounces) + 1; end when;
        """;

    public static TheoryData<IntegrationMethod> Methods() => [.. Enum.GetValues<IntegrationMethod>()];

    static double[] Row(Simulator simulator, RunResult result) =>
        [.. result.Trace.Variables.Select(v => result.Trace[result.Trace.Rows - 1, v])];

    [Theory, MemberData(nameof(Methods))]
    public void A_restored_run_goes_on_with_the_same_bits_as_the_paused_one(IntegrationMethod method)
    {
        var prepared = TextModel.Prepare(Everything);
        var options = new RunOptions
        {
            End = 6,
            Method = method,
            Step = 2e-4,
        };
        using var first = new Simulator(prepared.Compiled!, new ParameterSet(prepared.Model), options);
        Assert.Null(first.RunUntil(2.345));
        Assert.Equal(2.345, first.Time);
        var state = RunState.FromBytes(first.Save().ToBytes());
        var whole = first.Run();
        using var second = Simulator.Restore(prepared.Compiled!, new ParameterSet(prepared.Model), options, state);
        Assert.Equal(state.Content, second.Save().Content);
        var rest = second.Run();
        Assert.Null(whole.Failure);
        Assert.Null(rest.Failure);
        Assert.Equal(Row(first, whole), Row(second, rest));
        Assert.Equal(whole.Statistics.Steps, rest.Statistics.Steps);
    }

    [Fact]
    public void A_paused_pendulum_keeps_its_choice_of_states()
    {
        var prepared = TextModel.Prepare(
            "Real x(start = 1), y, vx, vy(start = -7), F; equation der(x) = vx; der(y) = vy; der(vx) = -F * x; der(vy) = -F * y - 9.81; x ^ 2 + y ^ 2 = 1;"
        );
        var options = new RunOptions { End = 5 };
        using var first = new Simulator(prepared.Compiled!, new ParameterSet(prepared.Model), options);
        foreach (var pause in new[] { 1.1, 1.3, 2.2 })
        {
            first.RunUntil(pause);
            using var second = Simulator.Restore(prepared.Compiled!, new ParameterSet(prepared.Model), options, first.Save());
            var rest = second.Run();
            Assert.Null(rest.Failure);
            Assert.Equal(
                1,
                rest.Trace.At(prepared.Compiled!.Plan.RepresentativeOf("x"), 4) is var x
                    ? x * x + Math.Pow(rest.Trace.At(prepared.Compiled.Plan.RepresentativeOf("y"), 4), 2)
                    : 0,
                1e-4
            );
        }
    }

    [Fact]
    public void A_run_goes_on_with_another_parameter_from_the_pause()
    {
        var prepared = TextModel.Prepare("parameter Real k = 1; Real x(start = 1); equation der(x) = -k * x;");
        var options = new RunOptions { End = 3, RelativeTolerance = 1e-9 };
        using var first = new Simulator(prepared.Compiled!, new ParameterSet(prepared.Model), options);
        first.RunUntil(1);
        var k = prepared.Model.Find("k")!.Index;
        using var second = Simulator.Restore(
            prepared.Compiled!,
            new ParameterSet(prepared.Model, new Dictionary<int, double> { [k] = 3 }),
            options,
            first.Save()
        );
        var result = second.Run();
        Assert.Equal(1, result.Trace.Times[0]);
        Assert.Equal(Math.Exp(-1 - 3 * 2), result.Trace.At(prepared.Compiled!.Plan.RepresentativeOf("x"), 3), 1e-9);
    }

    [Fact]
    public void A_zero_that_changes_needs_another_plan()
    {
        var model = TextModel.Prepare("parameter Real k = 0; Real x(start = 1); equation der(x) = 1 - k * x;").Model;
        Assert.Contains(
            "'k'",
            Assert
                .Throws<ArgumentException>(() => new ParameterSet(model, new Dictionary<int, double> { [model.Find("k")!.Index] = 2 }))
                .Message,
            StringComparison.Ordinal
        );
    }

    [Fact]
    public void A_state_of_another_model_or_a_damaged_one_is_refused()
    {
        var prepared = TextModel.Prepare("Real x(start = 1); equation der(x) = -x;");
        var other = TextModel.Prepare("Real x(start = 1), y; equation der(x) = -x; der(y) = x;");
        using var run = new Simulator(prepared.Compiled!, new ParameterSet(prepared.Model), new RunOptions { End = 1 });
        run.RunUntil(0.5);
        var bytes = run.Save().ToBytes();
        Assert.Throws<InvalidDataException>(() =>
            Simulator.Restore(other.Compiled!, new ParameterSet(other.Model), new RunOptions { End = 1 }, RunState.FromBytes(bytes))
        );
        Assert.Throws<InvalidDataException>(() => RunState.FromBytes(bytes[..(bytes.Length / 2)]));
        Assert.Throws<InvalidDataException>(() => RunState.FromBytes([1, 2, 3, 4, 5, 6, 7, 8]));
    }

    [Theory, MemberData(nameof(Methods))]
    public void The_same_run_gives_the_same_bits_on_any_thread_and_under_load(IntegrationMethod method)
    {
        var prepared = TextModel.Prepare(Everything);
        var options = new RunOptions
        {
            End = 3,
            Method = method,
            Step = 2e-4,
        };
        double[] Once()
        {
            using var simulator = new Simulator(prepared.Compiled!, new ParameterSet(prepared.Model), options);
            var result = simulator.Run();
            return [.. result.Trace.Times, .. result.Trace.Variables.SelectMany(v => result.Trace.Column(v))];
        }

        var alone = Once();
        var together = new double[8][];
        Parallel.For(0, together.Length, new ParallelOptions { MaxDegreeOfParallelism = 8 }, i => together[i] = Once());
        foreach (var run in together)
            Assert.Equal(alone, run);
    }
}
