using AnchorBend.Tests;

namespace AnchorBend.Simulation.Tests;

public class EventTests
{
    static readonly RunOptions Tight = new()
    {
        End = 1,
        RelativeTolerance = 1e-10,
        AbsoluteTolerance = 1e-12,
    };

    [Fact]
    public void A_state_event_is_found_at_its_exact_time()
    {
        // e^−t = 0.25 at ln 4.
        var result = TextModel.Run("Real x(start = 1); Boolean low; equation der(x) = -x; low = x < 0.25;", 3, Tight);
        var time = Assert.Single(result.Events).Time;
        Assert.Equal(Math.Log(4), time, 1e-9);
    }

    [Fact]
    public void Both_sides_of_an_event_are_recorded()
    {
        var prepared = TextModel.Prepare("Step s(startTime = 0.5);");
        var trace = TextModel.Run(prepared, new RunOptions { End = 1 }).Trace;
        var rows = Enumerable.Range(0, trace.Rows).Where(r => trace.Times[r] == 0.5).ToArray();
        var y = prepared.Compiled!.Plan.RepresentativeOf("s.y");
        Assert.Equal([0.0, 1], rows.Select(r => trace[r, y]));
    }

    [Fact]
    public void A_bouncing_ball_meets_the_ground_at_the_computed_instants()
    {
        var prepared = TextModel.Prepare(
            """
            parameter Real g = 9.81; parameter Real e = 0.8; Real h(start = 1); Real v; Integer n(start = 0);
            equation
              der(h) = v; der(v) = -g;
              when h <= 0 then reinit(v, -e * pre(v)); n = pre(n) + 1; end when;
            """
        );
        var result = TextModel.Run(prepared, Tight with { End = 2 });
        Assert.Null(result.Failure);
        var fall = Math.Sqrt(2 / 9.81);
        var expected = new List<double> { fall };
        for (var up = 0.8 * 2 * fall; expected[^1] + up < 2; up *= 0.8)
            expected.Add(expected[^1] + up);
        // Each bounce is two crossings of zero: down and up.
        var downs = result.Events.Select(x => x.Time).Where((t, i) => i == 0 || t - result.Events[i - 1].Time > 1e-6).ToArray();
        Assert.Equal(expected.Count, downs.Length);
        foreach (var (want, got) in expected.Zip(downs))
            Assert.Equal(want, got, 1e-8 * want + 1e-9);
    }

    [Fact]
    public void Sample_clocks_never_drift_and_meet_exactly()
    {
        var prepared = TextModel.Prepare(
            """
            discrete Real fast(start = 0); discrete Real slow(start = 0); discrete Real together(start = 0);
            equation
              when sample(0, 0.1) then fast = pre(fast) + 1; end when;
              when sample(0, 0.3) then slow = pre(slow) + 1; together = fast; end when;
            """
        );
        var result = TextModel.Run(prepared, new RunOptions { End = 300.05 });
        double Last(string name) => result.Trace[result.Trace.Rows - 1, prepared.Compiled!.Plan.RepresentativeOf(name)];
        Assert.Equal(3001, Last("fast"));
        Assert.Equal(1001, Last("slow"));
        Assert.Equal(3001, Last("together"));
        Assert.Contains(300.0, result.Trace.Times);
        // One time event for each tick of the fast clock, none doubled where both tick; the one at zero belongs to the start.
        Assert.Equal(3000, result.Statistics.TimeEvents);
    }

    [Fact]
    public void A_relay_keeps_its_state_between_its_thresholds()
    {
        // u = sin t: on above 0.5 at π/6, off below −0.5 at 7π/6.
        var result = TextModel.Run("Relay r; equation r.u = sin(time);", 6, Tight with { End = 6 });
        Assert.Null(result.Failure);
        var y = TextModel.Values("Relay r; equation r.u = sin(time);", "r.y", [0.5, 0.53, 3.66, 3.67], Tight with { End = 6 });
        Assert.Equal([-1.0, 1, 1, -1], y);
    }

    [Fact]
    public void A_saturated_integrator_leaves_its_limit_at_once()
    {
        // Input 1 until t = 2, then −1; limit 0.5 is reached at 0.5 and left at 2.
        const string text =
            "Integrator i(limited = true, yMax = 0.5); Step s(height = -2, offset = 1, startTime = 2); equation connect(s.y, i.u);";
        var y = TextModel.Values(text, "i.y", [0.25, 1.5, 2.25]);
        Assert.Equal(0.25, y[0], 1e-9);
        Assert.Equal(0.5, y[1], 1e-9);
        Assert.Equal(0.25, y[2], 1e-9);
    }

    [Fact]
    public void A_reset_acts_at_its_instant()
    {
        const string text = "Integrator i(resettable = true, yReset = 3); equation i.u = 1; i.reset = time >= 1.25;";
        var y = TextModel.Values(text, "i.y", [1.2, 1.5]);
        Assert.Equal(1.2, y[0], 1e-9);
        Assert.Equal(3.25, y[1], 1e-9);
    }

    [Fact]
    public void A_sampled_controller_follows_its_recurrence()
    {
        // Plant y' = u, sampled every 0.1: y(k+1) = y(k) + 0.1 u(k) exactly.
        const string text = "SampledPI c(k = 2, Ti = 0.5, T = 0.1); Integrator p; equation c.r = 1; connect(p.y, c.y); connect(c.u, p.u);";
        double y = 0,
            integral = 0;
        for (var k = 0; k < 10; k++)
        {
            var e = 1 - y;
            y += 0.1 * (2 * e + integral);
            integral += 2 * 0.1 / 0.5 * e;
        }

        Assert.Equal(y, TextModel.Values(text, "p.y", [1.0])[0], 1e-10);
    }

    [Fact]
    public void A_sampled_value_that_is_itself_a_slope_is_held()
    {
        // x'' = u with u sampled every 0.1 s: between samples u is constant, so each interval has its exact solution.
        double x = 1,
            v = 0,
            u = 0;
        for (var k = 0; k < 20; k++)
        {
            u = -2 * x - 2 * v;
            (x, v) = (x + 0.1 * v + 0.005 * u, v + 0.1 * u);
        }

        const string text =
            "Real x(start = 1), v; Real u(start = 0); equation der(x) = v; der(v) = u; when sample(0, 0.1) then u = -2 * x - 2 * v; end when;";
        Assert.Equal(x, TextModel.Values(text, "x", [1.9999999999])[0], 1e-9);
        Assert.Equal(u, TextModel.Values(text, "u", [1.95])[0], 1e-9);
    }

    [Fact]
    public void Anti_windup_keeps_the_integral_near_the_limit()
    {
        const string text = "PID c(k = 1, Ti = 0.1, limited = true, uMax = 1, Tt = 0.1); equation c.r = 10; c.y = 0;";
        // At rest the integral part balances: k e/Ti = (v − u)/Tt, so v = u + k e = 11.
        Assert.Equal(1, TextModel.Values(text, "c.u", [5])[0], 1e-9);
        Assert.Equal(11, TextModel.Values(text, "c.v", [5])[0], 1e-6);
    }

    [Fact]
    public void Floor_and_modulo_step_at_the_right_instants()
    {
        const string text = "Real saw; Real area; equation saw = mod(time, 0.75); der(area) = saw;";
        // Each tooth has the area 0.75²/2.
        Assert.Equal(4 * 0.28125, TextModel.Values(text, "area", [3])[0], 1e-9);
    }

    [Fact]
    public void Square_and_pulse_keep_their_phases()
    {
        const string text = "Square q(period = 0.5, amplitude = 2, startTime = 0.25); PulseTrain p(width = 0.2, period = 1); equation ;";
        var trimmed = text.Replace("equation ;", "", StringComparison.Ordinal);
        Assert.Equal([0.0, 2, -2, 2], TextModel.Values(trimmed, "q.y", [0.2, 0.3, 0.6, 0.8]));
        Assert.Equal([1.0, 0, 1, 0], TextModel.Values(trimmed, "p.y", [0.1, 0.3, 7.19, 7.21]));
    }

    [Fact]
    public void A_mirrored_switch_that_chatters_is_stopped_and_named()
    {
        var result = TextModel.Run("Real x; equation der(x) = if x > 0 then -1 else 1;", 1);
        Assert.Equal("chattering", result.Failure!.Code);
        Assert.True(result.Trace.Rows > 0);
    }

    [Fact]
    public void Conditions_that_contradict_each_other_are_stopped()
    {
        var result = TextModel.Run("Boolean a(start = false); equation a = not pre(a);", 1);
        Assert.Equal("event-iteration", result.Failure!.Code);
    }

    [Fact]
    public void Limits_that_are_switched_off_make_no_events()
    {
        const string text =
            "parameter Boolean on = false; PID c(k = 1, Ti = 0.5, limited = on, uMax = 2, uMin = 0.95); Lag p(T = 0.3); equation c.r = 1; connect(c.u, p.u); connect(p.y, c.y);";
        Assert.Equal(0, TextModel.Run(text, 5).Statistics.StateEvents);
        Assert.NotEqual(0, TextModel.Run(text.Replace("on = false", "on = true", StringComparison.Ordinal), 5).Statistics.StateEvents);
    }
}

/// <summary>Crossings there and back, and delays that vary.</summary>
public class CrossingTests
{
    [Theory]
    [InlineData(1e-3)]
    [InlineData(1e-6)]
    [InlineData(1e-9)]
    public void A_peak_that_only_just_reaches_the_threshold_is_not_missed(double tolerance)
    {
        // Beyond the threshold for 3 ms in steps of about half a second; the error of the amplitude stays below the 1e-6 that reach over
        // it.
        const string text = """
            Real x, v(start = 1); Integer n; discrete Real te(start = -1);
            equation der(x) = v; der(v) = -x;
            when x > 1 - 1e-6 then n = pre(n) + 1; te = time; end when;
            """;
        var options = new RunOptions
        {
            End = 10,
            RelativeTolerance = tolerance,
            AbsoluteTolerance = 1e-9,
        };
        Assert.Equal(2, TextModel.Values(text, "n", [10], options)[0]);
        Assert.Equal(Math.Asin(1 - 1e-6) + 2 * Math.PI, TextModel.Values(text, "te", [10], options)[0], 1e-5);
    }

    [Fact]
    public void Switching_times_are_right_to_eight_digits_at_any_tolerance()
    {
        const string text = """
            Real x; Boolean on(start = true); Integer n; discrete Real te;
            equation der(x) = (if on then 2 else -1) - x;
            on = if pre(on) then not (x > 0.5) else x < -0.5;
            when change(on) then te = time; n = pre(n) + 1; end when;
            """;
        // A lag between thresholds: ln(4/3) once, then ln 3 down and ln(5/3) up in turn.
        double expected = Math.Log(2 / 1.5),
            count = 1;
        while (true)
        {
            var next = expected + (count % 2 == 1 ? Math.Log(1.5 / 0.5) : Math.Log(2.5 / 1.5));
            if (next > 10)
                break;
            (expected, count) = (next, count + 1);
        }

        foreach (var tolerance in new[] { 1e-3, 1e-6, 1e-9 })
        {
            var options = new RunOptions
            {
                End = 10,
                RelativeTolerance = tolerance,
                AbsoluteTolerance = tolerance,
            };
            Assert.Equal(count, TextModel.Values(text, "n", [10], options)[0]);
            Assert.Equal(expected, TextModel.Values(text, "te", [10], options)[0], 1e-8 * expected);
        }
    }

    [Fact]
    public void A_delay_may_vary_during_the_run()
    {
        const string text = "Real x(start = 1), y, T; equation der(x) = -x; T = 0.5 + 0.3 * sin(time); y = delay(x, T, 1);";
        foreach (var t in new[] { 1.0, 2.0, 3.0 })
            Assert.Equal(Math.Exp(-(t - 0.5 - 0.3 * Math.Sin(t))), TextModel.Values(text, "y", [t])[0], 1e-7);
    }

    [Fact]
    public void A_varying_delay_needs_its_longest_time() =>
        Assert.Throws<Xunit.Sdk.TrueException>(() => TextModel.Values("Real x, T; equation T = 1 + time; x = delay(time, T);", "x", [1]));
}

/// <summary>Signals made of time alone, which no state's error keeps the steps short for.</summary>
public class SourceCrossingTests
{
    [Theory]
    [InlineData(10, 0.5, 20)]
    [InlineData(10, 0.0, 20)]
    [InlineData(7.3, 0.999, 20)]
    [InlineData(100, 0.5, 30)]
    public void Every_crossing_of_a_fast_sine_counts(double frequency, double threshold, double end)
    {
        var text =
            $"Sine s(f = {frequency.ToString(System.Globalization.CultureInfo.InvariantCulture)}, phase = 0.1); Integer n; discrete Real te; equation when s.y > {threshold.ToString(System.Globalization.CultureInfo.InvariantCulture)} then n = pre(n) + 1; te = time; end when;";
        var period = 1 / frequency;
        var first = (Math.Asin(threshold) - 0.1) / (2 * Math.PI * frequency);
        if (first <= 0)
            first += period;
        var count = (int)Math.Floor((end - first) / period) + 1;
        Assert.Equal(count, TextModel.Values(text, "n", [end], new RunOptions { End = end })[0]);
        Assert.Equal(first + (count - 1) * period, TextModel.Values(text, "te", [end], new RunOptions { End = end })[0], 1e-8 * end);
    }
}

public class MisledStepTests
{
    /// <summary>
    /// A lag follows a ramp without error at any step, so an explicit method leaps over its fast mode, and values within such a step mean
    /// nothing. The lag crosses zero one time constant after the ramp.
    /// </summary>
    [Theory]
    [InlineData(1e-6)]
    [InlineData(1e-8)]
    [InlineData(1e-10)]
    public void A_crossing_within_a_step_beyond_the_border_of_stability_is_found_where_it_is(double tolerance)
    {
        const double start = -0.4,
            slope = 0.138782;
        var text =
            $"Real x(start = {start - slope * 0.0125}, fixed = true), y(start = 0, fixed = true); discrete Real at(start = 0, fixed = true); equation 0.0125 * der(x) = {start} + {slope} * time - x; der(y) = sin(0.3 * time); when x > -0.09411 then at = time; end when;";
        foreach (var method in new[] { IntegrationMethod.Auto, IntegrationMethod.DormandPrince54, IntegrationMethod.DormandPrince853 })
        {
            var found = TextModel.Values(
                text,
                "at",
                [10.0],
                new RunOptions
                {
                    End = 10,
                    Method = method,
                    RelativeTolerance = tolerance,
                    AbsoluteTolerance = tolerance,
                }
            )[0];
            var exact = (-0.09411 - start) / slope + 0.0125;
            // A drift of 3e-8 over a step of ten time constants or more is let pass; the lag moves by 0.139 a second.
            Assert.Equal(exact, found, 3e-8 * 1.1 / 10 / slope + 1e-8 * exact);
        }
    }
}
