using AnchorBend.Tests;

namespace AnchorBend.Simulation.Tests;

/// <summary>Switched motions with exact solutions, by the automatic method at several tolerances: errors within ten tolerances.</summary>
public class HybridProblemTests
{
    sealed record Problem(string Text, string[] Outputs, double[] Times, Func<double, double[]> Exact);

    static readonly Dictionary<string, Problem> Problems = new()
    {
        ["a relay between walls: a triangle"] = new(
            "Real x(start = 0, fixed = true); Boolean up(start = true, fixed = true); equation up = pre(up) and not (x > 1) or x < -1; der(x) = if up then 1 else -1;",
            ["x"],
            [0.5, 7.3, 99.7],
            t => [Triangle(t)]
        ),
        ["a square wave from the sign of a sine"] = new(
            "Real x(start = 0, fixed = true), u; equation u = if sin(2 * 3.141592653589793 * time) >= 0 then 1 else -1; der(x) = u - x;",
            ["x"],
            [0.3, 3.7, 20.2],
            Square
        ),
        ["dry friction without rest"] = new(
            "Real x(start = 1, fixed = true), v(start = 0, fixed = true); Boolean forward(start = false, fixed = true); equation forward = v > 0; der(x) = v; der(v) = -x - (if forward then 0.1 else -0.1);",
            ["x", "v"],
            [1, 5, 12],
            DryFriction
        ),
        ["a clutch that engages and locks"] = new(
            """
            Real w1(start = 10, fixed = true), w2(start = 0, fixed = true), tau, rel; Boolean locked(start = false, fixed = true), on;
            equation on = time >= 1; rel = w1 - w2; locked = pre(locked) or on and rel <= 0; der(w1) = -tau; 2 * der(w2) = tau;
            if locked then der(rel) = 0; else tau = if on then 1.5 else 0; end if;
            """,
            ["w1", "w2"],
            [0.5, 3, 9],
            Clutch
        ),
        ["pulse widths from sampled values"] = new(
            """
            Real x(start = 0, fixed = true), u; discrete Real d(start = 0, fixed = true), t0(start = 0, fixed = true);
            equation when sample(0, 0.2) then d = min(1, max(0, 0.5 * (1 - x) + 0.3)) * 0.2; t0 = time; end when; u = if time < t0 + d then 1 else 0; der(x) = u - x;
            """,
            ["x"],
            [0.1, 1.05, 6.33],
            PulseWidths
        ),
        ["sampled control of a lag"] = new(
            """
            Real x(start = 0, fixed = true); discrete Real i(start = 0, fixed = true), u(start = 0, fixed = true);
            equation when sample(0, 0.1) then i = pre(i) + 0.15 * (1 - x); u = 2 * (1 - x) + i; end when; der(x) = u - x;
            """,
            ["x", "u"],
            [0.55, 3.05, 20.05],
            SampledControl
        ),
        ["emptying a tank"] = new(
            "Real x(start = 1, fixed = true); Boolean empty(start = false, fixed = true); equation empty = pre(empty) or x < 1e-4; der(x) = if empty then 0 else -sqrt(max(x, 0));",
            ["x"],
            [1, 1.9],
            t => [Math.Pow(1 - t / 2, 2)]
        ),
        ["a ramp through dead time"] = new(
            "Real x(start = 0, fixed = true), u; equation u = if time > 0.3 then time - 0.3 else 0; der(x) = delay(u, 0.7) - x;",
            ["x"],
            [0.9, 1.4, 5],
            t => [t > 1 ? t - 2 + Math.Exp(1 - t) : 0]
        ),
        ["a fast mode behind a switch"] = new(
            "Real x(start = 0, fixed = true), u; equation u = if time < 1 then 1 else 0; der(x) = -1e5 * (x - u * cos(time));",
            ["x"],
            [0.5, 1.5],
            t => [t < 1 ? (1e10 * Math.Cos(t) + 1e5 * Math.Sin(t)) / (1e10 + 1) : 0]
        ),
        ["switching at thirds"] = new(
            "Real x(start = 0, fixed = true); equation der(x) = if mod(time, 1 / 3) < 1 / 6 then 1 else 0;",
            ["x"],
            [0.1, 5.4, 50],
            t => [Math.Floor(3 * t + 1e-12) / 6 + Math.Min(t - Math.Floor(3 * t + 1e-12) / 3, 1.0 / 6)]
        ),
        ["the last zero of a chirp"] = new(
            "discrete Real te(start = 0, fixed = true); Real s; equation s = sin(time^2); when s > 0 then te = time; end when;",
            ["te"],
            [5, 20],
            t => [Math.Sqrt(2 * Math.PI * Math.Floor(t * t / (2 * Math.PI)))]
        ),
    };

    public static TheoryData<string, double> Cases()
    {
        var data = new TheoryData<string, double>();
        foreach (var name in Problems.Keys)
        foreach (var tolerance in new[] { 1e-3, 1e-5, 1e-7, 1e-9 })
            data.Add(name, tolerance);
        return data;
    }

    [Theory]
    [MemberData(nameof(Cases))]
    public void Switched_motions_are_right_within_ten_tolerances(string name, double tolerance)
    {
        var problem = Problems[name];
        var options = new RunOptions
        {
            End = problem.Times[^1],
            RelativeTolerance = tolerance,
            AbsoluteTolerance = tolerance,
        };
        for (var o = 0; o < problem.Outputs.Length; o++)
        {
            var values = TextModel.Values(problem.Text, problem.Outputs[o], problem.Times, options);
            for (var i = 0; i < values.Length; i++)
            {
                var exact = problem.Exact(problem.Times[i])[o];
                Assert.Equal(exact, values[i], 10 * tolerance * Math.Max(1, Math.Abs(exact)));
            }
        }
    }

    static double Triangle(double t)
    {
        if (t < 1)
            return t;
        var s = (t - 1) % 4;
        return s < 2 ? 1 - s : s - 3;
    }

    static double[] Square(double t)
    {
        var x = 0.0;
        var halves = (int)Math.Floor(t / 0.5);
        for (var k = 0; k <= halves; k++)
        {
            var u = k % 2 == 0 ? 1 : -1;
            x = u + (x - u) * Math.Exp(-(k < halves ? 0.5 : t - 0.5 * halves));
        }

        return [x];
    }

    /// <summary>Half swings about ±0.1 in turn, each 0.2 shorter than the one before.</summary>
    static double[] DryFriction(double t)
    {
        double from = 1,
            begun = 0;
        while (true)
        {
            var centre = from > 0 ? 0.1 : -0.1;
            if (Math.Abs(from) <= 0.1)
                return [from, 0];
            if (t - begun < Math.PI)
                return [centre + (from - centre) * Math.Cos(t - begun), -(from - centre) * Math.Sin(t - begun)];
            (from, begun) = (2 * centre - from, begun + Math.PI);
        }
    }

    static double[] Clutch(double t)
    {
        var locks = 1 + 10 / (1.5 + 0.75);
        return t < 1 ? [10, 0]
            : t < locks ? [10 - 1.5 * (t - 1), 0.75 * (t - 1)]
            : [10.0 / 3, 10.0 / 3];
    }

    static double[] PulseWidths(double t)
    {
        var x = 0.0;
        var periods = (int)(t / 0.2 + 1e-9);
        for (var k = 0; k <= periods; k++)
        {
            var length = Math.Min(0.2, t - 0.2 * k);
            var on = Math.Min(Math.Clamp(0.5 * (1 - x) + 0.3, 0, 1) * 0.2, length);
            x = (1 + (x - 1) * Math.Exp(-on)) * Math.Exp(-(length - on));
        }

        return [x];
    }

    static double[] SampledControl(double t)
    {
        double x = 0,
            i = 0,
            u = 0;
        var samples = (int)(t / 0.1 + 1e-9);
        for (var k = 0; k <= samples; k++)
        {
            i += 0.15 * (1 - x);
            u = 2 * (1 - x) + i;
            x = u + (x - u) * Math.Exp(-(k < samples ? 0.1 : t - 0.1 * samples));
        }

        return [x, u];
    }
}
