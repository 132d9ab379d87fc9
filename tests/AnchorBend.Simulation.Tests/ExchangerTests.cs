using AnchorBend.Media;
using AnchorBend.Tests;
using static AnchorBend.Simulation.Tests.PhysicalRun;

namespace AnchorBend.Simulation.Tests;

/// <summary>Heat exchangers against exact relations and formulas worked out by hand.</summary>
public class ExchangerTests
{
    static RunOptions Close { get; } = new() { End = 5, RelativeTolerance = 1e-8 };

    /// <summary>A part between given flows of its fluids, each from the near end where positive.</summary>
    static string Bench(string part, double first, double second, string fluid = "water", string more = "")
    {
        var text = new System.Text.StringBuilder();
        text.Append($"LoopFluid f1(kind = LoopFluid.Kind.water); LoopFluid f2(kind = LoopFluid.Kind.{fluid}); {part};");
        text.Append(FormattableString.Invariant($"FlowBoundary g1(m = {Math.Abs(first)}, T = 353.15); PressureBoundary t1(T = 353.15);"));
        text.Append(FormattableString.Invariant($"FlowBoundary g2(m = {Math.Abs(second)}, T = 293.15); PressureBoundary t2(T = 293.15);"));
        text.Append($"{more} equation connect(f1.a, g1.a); connect(f2.a, g2.a);");
        foreach (var (side, flow) in new[] { (1, first), (2, second) })
            text.Append(
                flow > 0
                    ? $"connect(g{side}.a, x.a{side}); connect(x.b{side}, t{side}.a);"
                    : $"connect(g{side}.a, x.b{side}); connect(x.a{side}, t{side}.a);"
            );
        return text.ToString();
    }

    static double[] Ends(string text, double end, params string[] names)
    {
        var prepared = TextModel.Prepare(text);
        Assert.True(prepared.CanRun, string.Join("\n", prepared.Findings.Select(f => $"{f.Part} {f.Item} {f.Message}")));
        var result = TextModel.Run(prepared, Close with { End = end });
        Assert.True(result.Failure is null, result.Failure?.ToString());
        using var trace = result.Trace;
        var constants = prepared.Model.ParameterValues();
        return
        [
            .. names
                .Select(n => prepared.Compiled!.Plan.Representative[prepared.Find(n)!.Index])
                .Select(v => trace.Has(v) ? trace[trace.Rows - 1, v] : constants[v]),
        ];
    }

    static double Value(string expression) => Ends($"Real y; equation y = {expression} + 0 * time;", 1, "y")[0];

    static double LogMean(double a, double b) => Math.Abs(a - b) < 1e-9 * a ? a : (a - b) / Math.Log(a / b);

    /// <summary>Kays and London's relations where they are simplest: no capacity on one side, and equal ones.</summary>
    [Theory]
    [InlineData("counterEffectiveness(1.5, 0)", 0.7768698398515702)] // 1 - exp(-1.5)
    [InlineData("parallelEffectiveness(1.5, 0)", 0.7768698398515702)]
    [InlineData("crossEffectiveness(1.5, 0)", 0.7768698398515702)]
    [InlineData("counterEffectiveness(3, 1)", 0.75)] // N / (1 + N)
    [InlineData("parallelEffectiveness(3, 1)", 0.49876062391116668)] // (1 - exp(-2 N)) / 2
    [InlineData("counterEffectiveness(2, 0.5)", 0.77460001)] // (1 - exp(-1)) / (1 - exp(-1) / 2)
    [InlineData("shellEffectiveness(1.5, 0)", 0.7768698398515702)]
    [InlineData("crossEffectiveness(1, 0.5)", 0.5447637120146873)] // 1 - exp((exp(-0.5) - 1) / 0.5)
    public void Effectiveness_is_that_of_the_arrangement(string call, double expected) => Near(expected, Value(call), 2e-5);

    /// <summary>Two halves of a counter-flow exchanger in opposite order are the whole one, whichever way it is cut.</summary>
    [Theory]
    [InlineData(2, 0.3, 2)]
    [InlineData(1.2, 1, 5)]
    [InlineData(4, 0.9999, 3)]
    public void Pieces_of_counter_flow_make_the_whole(double ntu, double ratio, int pieces)
    {
        var whole = Value(FormattableString.Invariant($"counterEffectiveness({ntu}, {ratio})"));
        var cut = Value(FormattableString.Invariant($"counterSeries(counterEffectiveness({ntu} / {pieces}, {ratio}), {ratio}, {pieces})"));
        Near(whole, cut, 1e-9);
        var along = Value(FormattableString.Invariant($"parallelEffectiveness({ntu}, {ratio})"));
        var pieced = Value(
            FormattableString.Invariant($"parallelSeries(parallelEffectiveness({ntu} / {pieces}, {ratio}), {ratio}, {pieces})")
        );
        Near(along, pieced, 1e-9);
    }

    /// <summary>Heat is overall transfer times the logarithmic mean of the differences at the ends, which effectiveness does not know
    /// of; and each fluid gives and takes as much.</summary>
    [Theory]
    [InlineData("DoublePipe x", 0.3, 0.2)]
    [InlineData("DoublePipe x", 0.3, -0.2)]
    [InlineData("DoublePipe x", -0.3, 0.2)]
    [InlineData("PlateExchanger x", 0.8, -0.8)]
    [InlineData("PlateExchanger x", 2, 1)]
    [InlineData("ShellAndTube x(tubePasses = 1)", 2, -1.5)]
    public void Heat_follows_from_the_logarithmic_mean_difference(string part, double first, double second)
    {
        var v = Ends(Bench(part, first, second), 600, "x.duty", "x.UA", "x.TIn[1]", "x.TAway[1]", "x.TIn[2]", "x.TAway[2]");
        var counter = first * second < 0;
        var mean = counter ? LogMean(v[2] - v[5], v[3] - v[4]) : LogMean(v[2] - v[4], v[3] - v[5]);
        // Specific heats change along the exchanger, which the relation takes as constant: by 4 parts in 1000 from 20 to 80 degrees.
        Near(v[1] * mean, v[0], 4e-3);
        var water = Mediums.Of(1, 0);
        double Given(double flow, double from, double to) => Math.Abs(flow) * (water.Enthalpy(1e5, from) - water.Enthalpy(1e5, to));
        Near(v[0], Given(first, v[2], v[3]), 2e-4);
        Near(-v[0], Given(second, v[4], v[5]), 2e-4);
    }

    /// <summary>With two passes the heat is less than in counter flow by the known factor of Bowman, Mueller and Nagle (1940).</summary>
    [Fact]
    public void Two_tube_passes_have_the_known_correction_factor()
    {
        var v = Ends(Bench("ShellAndTube x", 2, -1.5), 600, "x.duty", "x.UA", "x.TIn[1]", "x.TAway[1]", "x.TIn[2]", "x.TAway[2]");
        var (r, p) = ((v[2] - v[3]) / (v[5] - v[4]), (v[5] - v[4]) / (v[2] - v[4]));
        var s = Math.Sqrt(r * r + 1);
        var factor = s / (r - 1) * Math.Log((1 - p) / (1 - p * r)) / Math.Log((2 - p * (r + 1 - s)) / (2 - p * (r + 1 + s)));
        Near(v[1] * factor * LogMean(v[2] - v[5], v[3] - v[4]), v[0], 4e-3);
    }

    /// <summary>Laminar by Hagen and Poiseuille, turbulent within the error that Haaland states against Colebrook.</summary>
    [Theory]
    [InlineData(1000, 0)]
    [InlineData(5e4, 1e-4)]
    [InlineData(1e6, 1e-3)]
    public void Friction_of_tubes_is_that_of_pipes(double reynolds, double rough)
    {
        var friction = Value(FormattableString.Invariant($"tubeFriction({reynolds}, {rough})"));
        Near(reynolds, PipeFlow.Reynolds(friction * reynolds * reynolds, rough), 0.01);
    }

    /// <summary>Martin's friction factor at a Reynolds number of 5000 and an angle of 60 degrees, worked out by hand.</summary>
    [Fact]
    public void Plates_have_the_friction_of_their_corrugation() => Near(1.83216, Value("plateFriction(5000, 1.0471975511965976)"), 2e-5);

    /// <summary>Friction that grows with the flow, through every change from one law to the next.</summary>
    [Theory]
    [InlineData("plateFriction({0}, 1)")]
    [InlineData("tubeFriction({0}, 0.001)")]
    [InlineData("louvreFriction({0}, 27, 0.0016, 0.0014, 0.009, 0.04, 0.0075, 0.012, 0.003, 0.0001, 0.0026)")]
    public void Pressure_losses_grow_with_the_flow(string friction)
    {
        double[] flows = [20, 60, 120, 135, 150, 180, 225, 240, 600, 1400, 1600, 2000, 2400, 3000, 3900, 4100, 9000];
        var declared = string.Join("", flows.Select((_, i) => $"Real y{i};"));
        var equations = string.Join("", flows.Select((r, i) => $"y{i} = {string.Format(null, friction, r)} * {r} ^ 2 + 0 * time;"));
        var losses = Ends($"{declared} equation {equations}", 1, [.. flows.Select((_, i) => $"y{i}")]);
        for (var i = 1; i < flows.Length; i++)
            Assert.True(losses[i] > losses[i - 1], $"At a Reynolds number of {flows[i]} the loss falls.");
    }

    /// <summary>Gray and Webb's factor and Schmidt's fin, worked out from what the run says of the flow.</summary>
    [Fact]
    public void Fins_transfer_by_their_correlations()
    {
        var v = Ends(
            Bench("FinnedTubes x(rows = 4)", -0.5, 1, "air"),
            60,
            "x.reynolds[2]",
            "x.prandtl[2]",
            "x.nusselt[2]",
            "x.alpha[2]",
            "x.fin",
            "x.free[2]"
        );
        // Four rows have no factor for their number.
        var j = 0.14 * Math.Pow(v[0], -0.328) * Math.Pow(38.0 / 33, -0.502) * Math.Pow(3.35 / 16, 0.0312);
        Near(j * v[0] * Math.Cbrt(v[1]), v[2], 1e-9);
        var out2 = 1.27 * 38 / 16 * Math.Sqrt(Math.Sqrt(19.0 * 19 + 33 * 33) / 38 - 0.3);
        var ml = Math.Sqrt(2 * v[3] / (200 * 0.25e-3)) * 0.008 * (out2 - 1) * (1 + 0.35 * Math.Log(out2));
        Near(Math.Tanh(ml) / ml, v[4], 1e-9);
        Near(0.6 * (1 - 0.25 / 3.6) * 16 * 0.022, v[5], 1e-12);
    }

    /// <summary>A flow that stops and turns: no number is lost, no heat without flow, nothing warmer than its source.</summary>
    [Theory]
    [InlineData("DoublePipe x")]
    [InlineData("FinnedTubes x")]
    [InlineData("PlateExchanger x(holds = true)")]
    public void A_flow_may_stop_and_turn(string part)
    {
        var text =
            $"LoopFluid f1; LoopFluid f2; {part}; FlowBoundary g1(m = 0.3, T = 353.15); PressureBoundary t1(T = 353.15);"
            + "FlowBoundary g2(flowSignal = true, T = 293.15); PressureBoundary t2(T = 293.15); Real given; Real taken; Real out;"
            + "equation connect(f1.a, g1.a); connect(f2.a, g2.a); connect(g1.a, x.a1); connect(x.b1, t1.a); connect(g2.a, x.a2);"
            + "connect(x.b2, t2.a); g2.mIn = 0.2 - 0.04 * time; given = x.Q[1]; taken = x.Q[2]; out = x.TAway[2];";
        var prepared = TextModel.Prepare(text);
        var result = TextModel.Run(prepared, Close with { End = 10, OutputInterval = 0.05 });
        Assert.True(result.Failure is null, result.Failure?.ToString());
        using var trace = result.Trace;
        double At(string name, int row) => trace[row, prepared.Compiled!.Plan.Representative[prepared.Find(name)!.Index]];
        for (var row = 0; row < trace.Rows; row++)
        {
            var flow = At("x.m[2]", row);
            Assert.True(double.IsFinite(At("given", row)));
            // It is never warmer than what warms it.
            Assert.InRange(At("out", row), 293.14, 353.16);
            if (Math.Abs(flow) < 1e-6)
                Assert.InRange(At("taken", row), -50, 50);
        }
    }

    /// <summary>Two loops that exchange heat, closed but for it: what both hold together stays as it is.</summary>
    [Fact]
    public void Nothing_is_lost_between_two_closed_loops()
    {
        const string Text =
            "LoopFluid f1; LoopFluid f2; PlateExchanger x(T1 = 340, T2 = 290, holds = true, T0 = 310); Vessel v(V = 0.05, T0 = 350);"
            + "Vessel w(V = 0.08, T0 = 290); LoopPump p(kind = LoopPump.Given.given, m0 = 0.4, eta = 1);"
            + "LoopPump q(kind = LoopPump.Given.given, m0 = 0.5, eta = 1); Real all;"
            + "equation connect(f1.a, v.a); connect(f2.a, w.a); connect(v.b, p.a); connect(p.b, x.a1); connect(x.b1, v.a);"
            + "connect(w.b, q.a); connect(q.b, x.b2); connect(x.a2, w.a);"
            + "all = v.U + w.U + x.held[1] * x.h[1] + x.held[2] * x.h[2] + x.metal * x.rhoC * x.T;";
        var work = "p.power + q.power";
        var text = Text.Replace("Real all;", "Real all; Real done(start = 0, fixed = true);") + $"der(done) = {work};";
        var begin = Ends(text, 1e-6, "all", "done", "v.T");
        var end = Ends(text, 300, "all", "done", "v.T");
        Assert.True(Math.Abs(end[2] - begin[2]) > 10);
        // By what the pumps did it is more.
        Assert.InRange(end[0] - begin[0] - (end[1] - begin[1]), -1e-8 * 4e7, 1e-8 * 4e7);
    }

    /// <summary>Metal at another temperature than the fluids wish settles to rest without losing heat: what it takes is its
    /// capacity by its rise.</summary>
    [Fact]
    public void Metal_holds_what_it_takes()
    {
        const string Sum = "Real taken(start = 0, fixed = true); equation der(taken) = x.Q[1] - x.Q[2]; connect(f1.a, g1.a);";
        var text = Bench("PlateExchanger x(holds = true, T0 = 293.15)", 0.5, -0.5).Replace("equation connect(f1.a, g1.a);", Sum);
        var v = Ends(text, 200, "taken", "x.metal", "x.T", "x.Trest");
        Near(v[1] * 3.9e6 * (v[2] - 293.15), v[0], 1e-4);
        Near(v[3], v[2], 1e-5);
    }

    [Theory]
    [InlineData("DoublePipe x(D = 0.05)", "does not fit")]
    [InlineData("ShellAndTube x(n = 400)", "More tubes than fit")]
    [InlineData("ShellAndTube x(pitch = 0.015)", "touch")]
    [InlineData("FinnedTubes x(thick = 0.004)", "fins touch")]
    [InlineData("LouvredFins x(opening = 0.02)", "longer than the fins")]
    [InlineData("PlateExchanger x(port = 0.15)", "ports do not fit")]
    public void Geometry_that_cannot_be_is_told_before_a_run(string part, string words)
    {
        var prepared = TextModel.Prepare(Bench(part, 0.5, -0.5));
        Assert.False(prepared.CanRun);
        var finding = Assert.Single(prepared.Findings, f => f.Severity == Modeling.Severity.Error);
        Assert.Contains(words, finding.Message, StringComparison.Ordinal);
        Assert.Equal("x", finding.Part);
    }

    [Fact]
    public void Outside_of_its_correlation_a_part_warns()
    {
        var prepared = TextModel.Prepare(Bench("PlateExchanger x", 0.05, -0.5));
        var result = TextModel.Run(prepared, Close with { End = 1 });
        using var trace = result.Trace;
        Assert.Contains(result.Events, e => e.ToString().Contains("below 400", StringComparison.Ordinal));
    }
}
