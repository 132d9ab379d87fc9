using System.Diagnostics;
using System.Globalization;
using System.Text.Json;

namespace AnchorBend.Cli.Tests;

/// <summary>Runs the built program as a user does.</summary>
public sealed class CommandTests : IDisposable
{
    readonly string folder = Directory.CreateTempSubdirectory("anchor-bend-cli-").FullName;

    public void Dispose() => Directory.Delete(folder, true);

    static string Root()
    {
        var at = AppContext.BaseDirectory;
        while (!File.Exists(Path.Combine(at, "AnchorBend.slnx")))
            at = Path.GetDirectoryName(at)!;
        return at;
    }

    (int Code, string Output, string Error) Run(params string[] arguments)
    {
        var start = new ProcessStartInfo("dotnet")
        {
            RedirectStandardOutput = true,
            RedirectStandardError = true,
            WorkingDirectory = folder,
        };
        start.ArgumentList.Add(Path.Combine(AppContext.BaseDirectory, "anchor-bend.dll"));
        foreach (var argument in arguments)
            start.ArgumentList.Add(argument);
        using var process = Process.Start(start)!;
        var error = process.StandardError.ReadToEndAsync();
        var output = process.StandardOutput.ReadToEnd();
        process.WaitForExit();
        return (process.ExitCode, output, error.Result);
    }

    string Write(string name, string text)
    {
        var path = Path.Combine(folder, name);
        File.WriteAllText(path, text);
        return path;
    }

    [Theory]
    [InlineData("", "holds no model")]
    [InlineData("\u0001\u0002\ufffd\u0000binary", "is not a character")]
    [InlineData("model if Real x; equation der(x) = 1; end if;", "the name of the class is expected")]
    public void A_text_that_is_no_model_is_told_by_every_command(string text, string expected)
    {
        var file = Write("m.mo", text);
        foreach (
            var arguments in (string[][])
                [
                    ["check", file],
                    ["run", file, "--to", "1"],
                    ["linear", file, "--from", "u", "--to", "y"],
                    ["tune", file, "--part", "c", "--bandwidth", "1"],
                    ["text", file],
                ]
        )
        {
            var (code, output, error) = Run(arguments);
            Assert.InRange(code, 1, 2);
            Assert.Contains(expected, output + error, StringComparison.Ordinal);
            Assert.DoesNotContain("   at ", output + error, StringComparison.Ordinal);
        }
    }

    [Fact]
    public void A_largest_step_is_taken_and_a_small_state_is_warned_of()
    {
        var (code, output, error) = Run(
            "run",
            Write("m.mo", "model M Real x(start = 1e-12, fixed = true); equation der(x) = 1e-9 * exp(-((time - 5) / 1e-3) ^ 2); end M;"),
            "--to",
            "10",
            "--at",
            "10",
            "--max-step",
            "1 ms",
            "--atol",
            "1e-7"
        );
        Assert.Equal(0, code);
        Assert.Equal(
            1e-12 * (1 + Math.Sqrt(Math.PI)),
            double.Parse(output.Trim().Split('\n')[^1].Split(',')[1], CultureInfo.InvariantCulture),
            1e-15
        );
        Assert.Contains("warning: 'x'", error, StringComparison.Ordinal);
    }

    [Fact]
    public void Names_with_commas_in_brackets_are_kept_whole()
    {
        var (code, output, error) = Run(
            "run",
            Write(
                "m.mo",
                "model M Real u[2, 2](each start = 1); equation "
                    + "for i in 1:2 loop for j in 1:2 loop der(u[i, j]) = -u[i, j]; end for; end for; end M;"
            ),
            "--to",
            "1",
            "--at",
            "1",
            "--keep",
            "u[1,2], u[2,1]"
        );
        Assert.True(code == 0, error);
        Assert.StartsWith("time,", output, StringComparison.Ordinal);
        Assert.Equal(3, output.Trim().Split('\n')[^1].Split(',').Length);
    }

    const string Decay = "model Decay\n  parameter Real T = 2;\n  Real x(start = 1);\nequation\n  T * der(x) = -x;\nend Decay;\n";

    [Fact]
    public void Run_writes_full_precision_columns()
    {
        var csv = Path.Combine(folder, "out.csv");
        var (code, _, error) = Run(
            "run",
            Write("d.mo", Decay),
            "--to",
            "4",
            "--at",
            "1,2,4",
            "--rtol",
            "1e-9",
            "--set",
            "T=1",
            "--keep",
            "x",
            "--csv",
            csv
        );
        Assert.Equal((0, ""), (code, error));
        var lines = File.ReadAllLines(csv);
        Assert.Equal("time,x", lines[0]);
        var last = lines[^1].Split(',').Select(v => double.Parse(v, CultureInfo.InvariantCulture)).ToArray();
        Assert.Equal(4, last[0]);
        Assert.Equal(Math.Exp(-4), last[1], 1e-8);
    }

    [Fact]
    public void What_a_run_holds_constant_is_written_as_it_was_set()
    {
        var (code, output, error) = Run("run", Write("d.mo", Decay), "--to", "1", "--at", "1", "--set", "T=7", "--keep", "x,T");
        Assert.True(code == 0, error);
        Assert.Equal("7", output.Trim().Split('\n')[^1].Trim().Split(',')[2]);
    }

    [Fact]
    public void A_document_goes_to_text_and_back_and_runs_to_its_own_end()
    {
        var example = Path.Combine(Root(), "examples", "tide-gate.json");
        var text = Path.Combine(folder, "gate.mo");
        var back = Path.Combine(folder, "gate.json");
        Assert.Equal(0, Run("text", example, "--out", text).Code);
        Assert.Equal(0, Run("text", text, "--out", back).Code);
        var (direct, viaText) = (Run("run", example, "--at", "60", "--keep", "Gate.s"), Run("run", back, "--at", "60", "--keep", "Gate.s"));
        Assert.Equal((0, direct.Output), (viaText.Code, viaText.Output));
        // The text alone, without what our annotation says, is the same plant.
        var plain = Run("run", text, "--to", "60", "--at", "60", "--keep", "Gate.s").Output.Trim().Split('\n')[^1].Split(',')[1];
        Assert.Equal(
            double.Parse(direct.Output.Trim().Split('\n')[^1].Split(',')[1], CultureInfo.InvariantCulture),
            double.Parse(plain, CultureInfo.InvariantCulture),
            1e-6
        );
        var (code, _, error) = Run("text", Write("bad.mo", "model A Gain g; equation connect(g.y, ); end A;"));
        Assert.Equal(2, code);
        Assert.Contains("Line 1, column", error, StringComparison.Ordinal);
    }

    [Fact]
    public void Run_prints_statistics()
    {
        var (code, output, _) = Run("run", Write("d.mo", Decay), "--to", "4", "--method", "rk4", "--step", "0.01", "--stats");
        Assert.Equal(0, code);
        var stats = JsonDocument.Parse(output).RootElement;
        Assert.Equal("rk4", stats.GetProperty("method").GetString());
        Assert.Equal(400, stats.GetProperty("steps").GetInt32());
    }

    [Fact]
    public void Check_tells_errors_with_line_and_column_and_fails()
    {
        var (code, output, _) = Run("check", Write("bad.mo", "model Bad\n  Real x;\nequation\n  der(x) = -y;\nend Bad;\n"));
        Assert.Equal(1, code);
        Assert.Contains("line 4, column 13: There is no 'y'", output, StringComparison.Ordinal);
        (code, output, _) = Run("check", Write("d.mo", Decay), "--json");
        Assert.Equal(0, code);
        Assert.Equal(1, JsonDocument.Parse(output).RootElement.GetProperty("equations").GetInt32());
    }

    [Fact]
    public void Linear_gives_state_space_and_margins()
    {
        var text = "model L\n  TransferFunction f(b = {4}, a = {1, 3, 3, 1});\nequation\n  f.u = 0;\nend L;\n";
        var (code, output, _) = Run("linear", Write("l.mo", text), "--from", "f.u", "--to", "f.y", "--freq", "1", "--json");
        Assert.Equal(0, code);
        var root = JsonDocument.Parse(output).RootElement;
        Assert.Equal(3, root.GetProperty("poles").GetArrayLength());
        Assert.Equal(2, root.GetProperty("gainMargins")[0].GetProperty("factor").GetDouble(), 1e-6);
        Assert.Equal(4 / Math.Pow(Math.Sqrt(2), 3), root.GetProperty("response")[0].GetProperty("magnitude").GetDouble(), 1e-9);
    }

    [Fact]
    public void Linear_takes_several_signals_and_cuts()
    {
        var file = Write(
            "m.mo",
            "model M Real u1 = 0; Real u2 = 0; Real x1(start = 0); Real x2(start = 0); Real y1; Real y2; "
                + "equation der(x1) = -x1 + u1; der(x2) = -2 * x2 + u1 + u2; y1 = x1; y2 = x1 + x2; end M;"
        );
        var (code, output, error) = Run("linear", file, "--from", "u1,u2", "--to", "y1,y2", "--freq", "1");
        Assert.True(code == 0, error);
        var root = JsonDocument.Parse(output).RootElement;
        Assert.Equal(
            "[[1,0],[1,1]]",
            root.GetProperty("b").GetRawText().Replace("\n", "", StringComparison.Ordinal).Replace(" ", "", StringComparison.Ordinal)
        );
        Assert.Equal(2, root.GetProperty("response")[0].GetProperty("singularValues").GetArrayLength());
        Assert.Equal(0, root.GetProperty("transmissionZeros").GetArrayLength());
        (code, _, error) = Run("linear", file, "--from", "u1,u2", "--to", "y1", "--discrete", "0.1");
        Assert.NotEqual(0, code);
        Assert.Contains("one input and one output", error, StringComparison.Ordinal);
    }

    [Fact]
    public void Tune_gives_the_largest_gain_of_a_P_and_steady_keeps_a_signal_within_bounds()
    {
        var loop = Write(
            "p.mo",
            "model L PID c; TransferFunction g(b = {1}, a = {1, 3, 3, 1}); equation c.r = 0; g.u = c.u; c.y = g.y; end L;"
        );
        var (code, output, error) = Run("tune", loop, "--part", "c", "--max-sensitivity", "2", "--form", "p", "--json");
        Assert.True(code == 0, error);
        var best = JsonDocument.Parse(output).RootElement.GetProperty("candidates")[0];
        Assert.Equal("P", best.GetProperty("form").GetString());
        Assert.Equal(2, best.GetProperty("maxSensitivity").GetDouble(), 0.01);

        var tank = Write(
            "t.mo",
            "model T parameter Real q = 1; Real h(start = 1); Real s(start = 0); equation der(h) = q - 2 * sqrt(h); der(s) = h; end T;"
        );
        (code, output, error) = Run("steady", tank, "--fix", "h=4..", "--free", "q", "--move", "s", "--json");
        Assert.True(code == 0, error);
        var found = JsonDocument.Parse(output).RootElement;
        Assert.Equal(4, found.GetProperty("free")[0].GetProperty("value").GetDouble(), 1e-4);
        Assert.False(found.GetProperty("fixed")[0].TryGetProperty("wanted", out var wanted) && wanted.ValueKind == JsonValueKind.Number);
    }

    [Fact]
    public void Tune_finds_gains_and_refuses_what_is_no_controller()
    {
        var example = Path.Combine(Root(), "examples", "winch-flat.json");
        var (code, output, _) = Run("tune", example, "--part", "Depth controller", "--bandwidth", "0.8", "--phase-margin", "65", "--json");
        Assert.Equal(0, code);
        var pi = JsonDocument
            .Parse(output)
            .RootElement.GetProperty("candidates")
            .EnumerateArray()
            .Single(c => c.GetProperty("name").GetString() == "PI");
        Assert.Equal(65, pi.GetProperty("phaseMargin").GetDouble(), 0.1);
        (code, _, var error) = Run("tune", example, "--part", "Drive", "--bandwidth", "1");
        Assert.Equal(1, code);
        Assert.Contains("not a controller that can be tuned", error, StringComparison.Ordinal);
    }

    [Fact]
    public void Tune_finds_the_best_gains_under_limits_the_best_form_first()
    {
        var example = Path.Combine(Root(), "examples", "winch-flat.json");
        string[] wish = ["tune", example, "--part", "Depth controller", "--max-sensitivity", "1.4"];
        foreach (
            var (goal, figure, sign) in ((string, string, int)[])[("ki", "ki", -1), ("load", "loadIae", 1), ("setpoint", "setpointIae", 1)]
        )
        {
            var (code, output, _) = Run([.. wish, "--goal", goal, "--max-noise-gain", "5", "--json"]);
            Assert.Equal(0, code);
            var candidates = JsonDocument.Parse(output).RootElement.GetProperty("candidates").EnumerateArray().ToList();
            Assert.Equal(2, candidates.Count);
            Assert.All(candidates, c => Assert.InRange(c.GetProperty("maxSensitivity").GetDouble(), 1, 1.4002));
            Assert.All(candidates, c => Assert.InRange(c.GetProperty("noiseGain").GetDouble(), 0, 5.001));
            Assert.All(candidates, c => Assert.True(c.GetProperty("isStable").GetBoolean()));
            var costs = candidates.Select(c => sign * Math.Abs(c.GetProperty(figure).GetDouble())).ToList();
            Assert.Equal(costs.Order(), costs);
            var best = candidates[0];
            Assert.Equal(best.GetProperty("k").GetDouble() / best.GetProperty("ti").GetDouble(), best.GetProperty("ki").GetDouble(), 1e-12);
        }

        var (refused, _, error) = Run([.. wish, "--bandwidth", "1"]);
        Assert.Equal(2, refused);
        Assert.Contains("either", error, StringComparison.Ordinal);
    }

    [Fact]
    public void Linear_tells_all_of_a_loop_and_its_discrete_system()
    {
        var file = Path.Combine(Path.GetTempPath(), $"loop-{Guid.NewGuid():N}.mo");
        File.WriteAllText(file, "model L TransferFunction f(b = {1}, a = {1, 0.4, 0}); Step s; equation f.u = s.y - f.y; end L;");
        try
        {
            string[] loop = ["linear", file, "--from", "f.u", "--to", "f.y", "--open", "f.u", "--at", "0", "--all"];
            var (code, output, error) = Run([.. loop, "--discrete", "100 ms", "--hold", "tustin", "--freq", "1"]);
            Assert.True(code == 0, error);
            var root = JsonDocument.Parse(output).RootElement;
            Assert.Equal([0, 0.4], root.GetProperty("modes").EnumerateArray().Select(m => m.GetProperty("naturalFrequency").GetDouble()));
            Assert.True(root.GetProperty("closed").GetProperty("maxSensitivity").GetDouble() > 1);
            // Tustin's response at 1 rad/s is the continuous one at 20 tan(0.05).
            var bent = 20 * Math.Tan(0.05);
            var magnitude = 1 / (bent * Math.Sqrt(bent * bent + 0.16));
            var discrete = root.GetProperty("discrete");
            Assert.Equal(magnitude, discrete.GetProperty("response")[0].GetProperty("magnitude").GetDouble(), 1e-9);
        }
        finally
        {
            File.Delete(file);
        }
    }

    [Fact]
    public void Linear_of_a_sampled_loop_is_the_discrete_system_of_its_samples()
    {
        var file = Path.Combine(Path.GetTempPath(), $"sampled-{Guid.NewGuid():N}.mo");
        File.WriteAllText(
            file,
            "model L Constant r(k = 1); SampledPI c(k = 2, Ti = 0.8, T = 0.1); Lag p(T = 1); "
                + "equation connect(r.y, c.r); connect(c.u, p.u); connect(p.y, c.y); end L;"
        );
        try
        {
            var (code, output, error) = Run("linear", file, "--from", "r.y", "--to", "p.y", "--freq", "1");
            Assert.True(code == 0, error);
            var root = JsonDocument.Parse(output).RootElement;
            Assert.Equal(0.1, root.GetProperty("period").GetDouble());
            Assert.True(root.GetProperty("isStable").GetBoolean());
            // The sum of the poles is that of (z − a)(z − 1) + (1 − a) k (z − 1 + T/Ti).
            var a = Math.Exp(-0.1);
            Assert.Equal(a + 1 - 2 * (1 - a), root.GetProperty("poles").EnumerateArray().Sum(p => p.GetProperty("re").GetDouble()), 1e-9);
            Assert.Equal(1, root.GetProperty("responseAtSamples").GetArrayLength());

            var (cut, loop, _) = Run("linear", file, "--from", "c.u", "--to", "c.u", "--open", "c.u");
            Assert.Equal(0, cut);
            // At its highest frequency, z = −1, the loop is −k (1 − T/(2 Ti)) (1 − a)/(1 + a).
            var margin = JsonDocument.Parse(loop).RootElement.GetProperty("gainMargins")[0];
            Assert.Equal((1 + a) / (2 * (1 - 0.1 / 1.6) * (1 - a)), margin.GetProperty("factor").GetDouble(), 1e-6);
            Assert.Equal(Math.PI / 0.1, margin.GetProperty("frequency").GetDouble(), 1e-9);
        }
        finally
        {
            File.Delete(file);
        }
    }

    [Fact]
    public void Steady_finds_the_flow_for_a_wanted_level_and_tells_where_there_is_none()
    {
        var file = Path.Combine(Path.GetTempPath(), $"tank-{Guid.NewGuid():N}.mo");
        File.WriteAllText(
            file,
            "model Tank parameter Real q = 1; Real h(start = 1, unit = \"m\"); equation der(h) = q - 2 * sqrt(h); end Tank;"
        );
        try
        {
            var (code, output, error) = Run("steady", file, "--fix", "h=400 cm", "--free", "q", "--json");
            Assert.True(code == 0, error);
            var root = JsonDocument.Parse(output).RootElement;
            Assert.True(root.GetProperty("isMet").GetBoolean());
            Assert.Equal(4, root.GetProperty("free")[0].GetProperty("value").GetDouble(), 1e-7);
            Assert.Equal(4, root.GetProperty("values").GetProperty("h").GetDouble(), 1e-7);
            (code, output, error) = Run("steady", file, "--fix", "h=4", "--free", "q=2:0.5..3");
            Assert.Equal(1, code);
            Assert.Contains("q = 3  at its bound", output, StringComparison.Ordinal);
            Assert.Contains("nearest", error, StringComparison.Ordinal);
            (code, _, error) = Run("steady", file, "--fix", "h=4 kg", "--free", "q");
            Assert.Equal(2, code);
            Assert.Contains("does not fit", error, StringComparison.Ordinal);
        }
        finally
        {
            File.Delete(file);
        }
    }

    [Fact]
    public void Test_runs_cases_tells_what_failed_and_writes_what_others_read()
    {
        var example = Path.Combine(Root(), "examples", "tide-gate.json");
        var (code, output, _) = Run(
            "test",
            example,
            "--suite",
            "calm",
            "--results",
            "kept.json",
            "--junit",
            "out.xml",
            "--report",
            "out.html"
        );
        Assert.Equal(1, code);
        Assert.Contains("passed   As planned", output, StringComparison.Ordinal);
        Assert.Contains("Never far from the plan: missed by 0.1208 m", output, StringComparison.Ordinal);
        Assert.Contains("4 passed, 2 not.", output, StringComparison.Ordinal);
        Assert.Contains("<testcase name=\"Small step\"", File.ReadAllText(Path.Combine(folder, "out.xml")), StringComparison.Ordinal);
        Assert.Contains("<h1>Tide gate</h1>", File.ReadAllText(Path.Combine(folder, "out.html")), StringComparison.Ordinal);

        // Those that failed are known from the file of results.
        (code, output, _) = Run("test", example, "--suite", "calm", "--results", "kept.json", "--failed");
        Assert.Equal(1, code);
        Assert.Contains("0 passed, 2 not.", output, StringComparison.Ordinal);

        (code, output, _) = Run("test", example, "--case", "Controller alone", "--json", "--coverage", "--traces", "runs");
        Assert.Equal(0, code);
        var answer = JsonDocument.Parse(output).RootElement;
        Assert.Equal((1, 0), (answer.GetProperty("passed").GetInt32(), answer.GetProperty("failed").GetInt32()));
        Assert.Equal(1, answer.GetProperty("coverage").GetProperty("cases").GetInt32());
        var table = File.ReadAllLines(Path.Combine(folder, "runs", "Controller alone.csv"));
        Assert.Contains("Position controller.u", table[0], StringComparison.Ordinal);
        Assert.StartsWith("6,", table[^1], StringComparison.Ordinal);
    }

    [Fact]
    public void Falsify_finds_a_run_that_misses_a_requirement_and_keeps_it_as_a_case()
    {
        var example = Path.Combine(Root(), "examples", "tide-gate.json");
        var (code, output, _) = Run(
            "falsify",
            example,
            "--requirement",
            "TG-2",
            "--vary",
            "Motor speed.k=1200 rpm:1450 rpm",
            "--save",
            "found.json"
        );
        Assert.Equal(1, code);
        Assert.Contains("It has found a run that misses it.", output, StringComparison.Ordinal);
        (code, output, _) = Run("test", Path.Combine(folder, "found.json"), "--case", "Found by search");
        Assert.Equal(1, code);
        Assert.Contains("Never far from the plan: missed", output, StringComparison.Ordinal);

        // No speed that the motor has takes the gate past its stop.
        (code, output, _) = Run("falsify", example, "--requirement", "TG-3", "--vary", "Motor speed.k=1400 rpm:1450 rpm", "--runs", "8");
        Assert.Equal(0, code);
        Assert.Contains("not missed in 8 runs", output, StringComparison.Ordinal);
    }

    [Theory]
    [InlineData("There is no case called 'Nobody'", "--case", "Nobody")]
    [InlineData("no group of cases, and no tag, called 'winters'", "--suite", "winters")]
    [InlineData("--failed needs the file", "--failed")]
    public void Test_says_what_it_does_not_find(string told, params string[] arguments)
    {
        var (code, _, error) = Run(["test", Path.Combine(Root(), "examples", "tide-gate.json"), .. arguments]);
        Assert.Equal(2, code);
        Assert.Contains(told, error, StringComparison.Ordinal);
    }

    [Fact]
    public void Verify_fails_on_a_missed_requirement_and_passes_after_tuning()
    {
        var example = Path.Combine(Root(), "examples", "winch-flat.json");
        var (code, output, _) = Run("verify", example, "--json");
        Assert.Equal(1, code);
        Assert.Equal(1, JsonDocument.Parse(output).RootElement.GetProperty("missed").GetInt32());
        (code, _, _) = Run("verify", example, "--set", "Depth controller.k=0.7 1/s", "--set", "Depth controller.Ti=3.3 s");
        Assert.Equal(0, code);
    }

    [Theory]
    [InlineData("run", "nowhere.mo", "--to", "1")]
    [InlineData("run", "d.mo", "--to", "minus")]
    [InlineData("run", "d.mo", "--to", "1", "--keep", "xx")]
    [InlineData("run", "d.mo", "--to", "1", "--set", "Tee=2")]
    [InlineData("run", "d.json", "--to", "1")]
    [InlineData("linear", "d.mo", "--from", "x", "--to", "nothing")]
    public void Wrong_input_gets_one_line_and_no_stack_trace(params string[] arguments)
    {
        Write("d.mo", Decay);
        Write("d.json", "{\"name\": 3}");
        var (code, _, error) = Run(arguments);
        Assert.NotEqual(0, code);
        Assert.NotEmpty(error);
        Assert.DoesNotContain("   at ", error, StringComparison.Ordinal);
    }

    [Fact]
    public void Alternatives_are_listed_and_run_as_on_the_bench()
    {
        var gate = Path.Combine(Root(), "examples", "tide-gate.json");
        var (code, listed, _) = Run("alternatives", gate, "--list");
        Assert.Equal(0, code);
        Assert.Contains("Four-way valve.alternative: Gain and lag (in now), Spool, Pilot stage", listed);
        Assert.Contains("with_jet_forces: off (in now), on", listed);
        var (ran, output, _) = Run("alternatives", gate, "--only", "Four-way valve.alternative=Spool", "--keep", "opening", "--json");
        Assert.Equal(0, ran);
        var rows = JsonDocument.Parse(output).RootElement.EnumerateArray().ToList();
        Assert.Equal(["with_jet_forces off", "with_jet_forces on"], rows.Select(r => r.GetProperty("label").GetString()));
        Assert.All(rows, r => Assert.Equal(0.5, r.GetProperty("last").GetProperty("opening").GetDouble(), 0.005));
        var (refused, _, error) = Run("alternatives", gate, "--only", "nothing=x");
        Assert.Equal(2, refused);
        Assert.Contains("--list", error);
    }

    const string Bob =
        "model Bob\nReal x(unit = \"m\", start = 1); Real v(unit = \"m/s\", start = 0);\nequation der(x) = v; der(v) = -4*x;\nend Bob;\n";

    [Fact]
    public void Measures_have_value_unit_and_instant()
    {
        Write("bob.mo", Bob);
        var (code, output, _) = Run(
            "measure",
            "bob.mo",
            "minimum(x, from = 1)",
            "rms(v)",
            "--to",
            "3.14159265358979",
            "--rtol",
            "1e-9",
            "--json"
        );
        Assert.Equal(0, code);
        var rows = JsonDocument.Parse(output).RootElement;
        Assert.Equal("minimum(x, from = 1)", rows[0].GetProperty("expression").GetString());
        // x = cos 2t and v = -2 sin 2t; straight lines between 2,000 points miss a curve by less than 2e-6.
        Assert.Equal(-1, rows[0].GetProperty("value").GetDouble(), 2e-6);
        Assert.Equal("m", rows[0].GetProperty("unit").GetString());
        Assert.Equal(Math.PI / 2, rows[0].GetProperty("instant").GetDouble(), 1e-4);
        Assert.Equal(Math.Sqrt(2), rows[1].GetProperty("value").GetDouble(), 4e-6);
        Assert.False(rows[1].TryGetProperty("instant", out _));
        var (wrong, told, _) = Run("measure", "bob.mo", "maximum(y)", "--to", "1");
        Assert.Equal(1, wrong);
        Assert.Contains("There is no signal 'y'.", told, StringComparison.Ordinal);
    }

    [Fact]
    public void Runs_are_written_as_columns_and_compared()
    {
        Write("bob.mo", Bob);
        Assert.Equal(0, Run("run", "bob.mo", "--to", "2", "--csv", "a.csv", "--parquet", "a.parquet", "--arrow", "a.arrow").Code);
        Assert.Equal("PAR1"u8, File.ReadAllBytes(Path.Combine(folder, "a.parquet")).AsSpan(0, 4));
        Assert.Equal("ARROW1"u8, File.ReadAllBytes(Path.Combine(folder, "a.arrow")).AsSpan(0, 6));
        Assert.Equal(0, Run("compare", "a.csv", "a.csv").Code);
        Assert.Equal(0, Run("run", "bob.mo", "--to", "2", "--csv", "b.csv", "--every", "0.01", "--rtol", "1e-9").Code);
        Assert.Equal(0, Run("compare", "a.csv", "b.csv", "--abs", "1e-3").Code);
        var (code, output, _) = Run("compare", "a.csv", "b.csv", "--abs", "0", "--rel", "1e-12");
        Assert.Equal(1, code);
        Assert.StartsWith("They part at ", output, StringComparison.Ordinal);
        var (broken, _, error) = Run("compare", "a.csv", "bob.mo");
        Assert.Equal(2, broken);
        Assert.Contains("bob.mo: ", error, StringComparison.Ordinal);
    }

    [Fact]
    public void A_measured_response_becomes_a_model()
    {
        Write(
            "loop.mo",
            "model Loop PID c(k = 2, Ti = 1.5); TransferFunction f(b = {3}, a = {2, 1}); equation c.r = 1; connect(c.u, f.u); "
                + "connect(f.y, c.y); end Loop;"
        );

        var measured = Run(
            "response",
            "loop.mo",
            "--at",
            "c.u",
            "--from",
            "f.u",
            "--to",
            "f.y",
            "--freq",
            "0.2..5:8",
            "--amplitude",
            "0.1",
            "--csv",
            "r.csv",
            "--json"
        );
        Assert.Equal(0, measured.Code);
        var points = JsonDocument.Parse(measured.Output).RootElement.GetProperty("points");
        Assert.Equal(8, points.GetArrayLength());
        Assert.Equal(3 / Math.Sqrt(1 + 0.16), points[0].GetProperty("magnitude").GetDouble(), 0.01);

        var (code, output, _) = Run("fit", "r.csv", "--order", "1", "--json");
        Assert.Equal(0, code);
        var fit = JsonDocument.Parse(output).RootElement;
        Assert.Equal(3, fit.GetProperty("numerator")[0].GetDouble(), 0.01);
        Assert.Equal(2, fit.GetProperty("denominator")[0].GetDouble(), 0.02);
        Assert.True(fit.GetProperty("quality").GetDouble() > 0.998);

        var refused = Run("response", "loop.mo", "--at", "c.u", "--freq", "5..1:3");
        Assert.Equal(2, refused.Code);
        Assert.Contains("rising", refused.Error, StringComparison.Ordinal);
        Write("bad.csv", "w,re\n1,2\n");
        Assert.Contains("no column 'frequency'", Run("fit", "bad.csv", "--order", "1").Error, StringComparison.Ordinal);
    }

    [Fact]
    public void Sweep_writes_a_table_of_measures_and_goes_on_where_it_was()
    {
        var model = Write(
            "lag.mo",
            "model M parameter Real T(unit = \"s\") = 1; Real x(start = 1); equation T * der(x) = -x; assert(T < 5, \"too slow\"); end M;"
        );
        string[] sweep =
        [
            "sweep",
            model,
            "--vary",
            "T=1 s:2 s:3",
            "--measure",
            "last = final(x)",
            "--to",
            "2",
            "--resume",
            Path.Combine(folder, "kept"),
        ];
        var (code, output, error) = Run(sweep);
        Assert.True(code == 0, error);
        var rows = output.Split('\n', StringSplitOptions.RemoveEmptyEntries).Select(l => l.Trim().Split(',')).ToArray();
        Assert.Equal(["run", "T", "last", "problem"], rows[0]);
        Assert.Equal(["1", "1.5", "2"], rows[1..].Select(r => r[1]));
        foreach (var row in rows[1..])
            Assert.Equal(
                Math.Exp(-2 / double.Parse(row[1], CultureInfo.InvariantCulture)),
                double.Parse(row[2], CultureInfo.InvariantCulture),
                1e-5
            );

        // Another number of runs at once, and from what was kept: bit for bit the same.
        Assert.Equal(output, Run([.. sweep, "--jobs", "1"]).Output);
        Assert.Equal(output, Run([.. sweep[..^2], "--jobs", "3"]).Output);
        Assert.Equal(2, Run([.. sweep, "--rtol", "1e-8"]).Code);

        var (failed, table, _) = Run("sweep", model, "--vary", "T=1,9", "--measure", "final(x)", "--to", "2");
        Assert.Equal(1, failed);
        Assert.Contains("too slow", table, StringComparison.Ordinal);
        Assert.Equal(2, Run("sweep", model, "--vary", "T", "--measure", "final(x)", "--to", "2").Code);
        var drawn = Run("sweep", model, "--vary", "T=1:2", "--design", "sobol", "--runs", "5", "--measure", "final(x)", "--to", "2");
        Assert.Equal(6, drawn.Output.Split('\n', StringSplitOptions.RemoveEmptyEntries).Length);
    }

    [Fact]
    public void A_study_of_the_document_is_swept_by_its_name()
    {
        var winch = Path.Combine(Root(), "examples", "plankton-winch.json");
        var (code, output, error) = Run("sweep", winch, "--study", "Net mass");
        Assert.True(code == 0, error);
        var lines = output.Split('\n', StringSplitOptions.RemoveEmptyEntries);
        Assert.Equal(8, lines.Length);
        Assert.StartsWith("run,net_m,Deepest point after 5 s,", lines[0], StringComparison.Ordinal);
        Assert.Contains("\"Cable load, margin\"", lines[0], StringComparison.Ordinal);
        Assert.Equal(output, Run("sweep", winch, "--study", "mass", "--jobs", "1").Output);
        Assert.Contains("It has: Net mass", Run("sweep", winch, "--study", "none").Error, StringComparison.Ordinal);
        Assert.Contains("is a search", Run("sweep", winch, "--study", "gains").Error, StringComparison.Ordinal);
        Assert.Equal(2, Run("sweep", winch).Code);
    }

    [Fact]
    public void An_optimum_can_stand_the_ends_of_tolerances()
    {
        var model = Write("level.mo", "model M parameter Real a = 1; parameter Real b = 1; Real y; equation y = (a - b) ^ 2; end M;");
        string[] asked =
        [
            "optimise",
            model,
            "--vary",
            "a=0:4",
            "--vary",
            "b=1 ± 1",
            "--minimise",
            "final(y)",
            "--under",
            "corners",
            "--runs",
            "120",
            "--to",
            "1",
            "--json",
        ];
        var (_, output, error) = Run(asked);
        Assert.True(output.Length > 0, error);
        // Of b from 0 to 2 the worst end is at least 1 away, where a is 1.
        var best = JsonDocument.Parse(output).RootElement.GetProperty("best");
        Assert.Equal(1, double.Parse(best.GetProperty("values").GetProperty("a").GetString()!, CultureInfo.InvariantCulture), 1e-2);
        Assert.Equal(1, best.GetProperty("goal").GetDouble(), 2e-2);
        Assert.False(best.GetProperty("values").TryGetProperty("b", out _));
    }

    [Fact]
    public void Monte_Carlo_tells_the_share_that_meets_the_requirements()
    {
        var winch = Path.Combine(Root(), "examples", "plankton-winch.json");
        string[] drawn =
        [
            "montecarlo",
            winch,
            "--vary",
            "Controller.Depth controller.k=0.9 1/s ± 10 %",
            "--vary",
            "Controller.Depth controller.Ti=2 s ± 20 %",
            "--runs",
            "40",
            "--seed",
            "4",
            "--json",
        ];
        var (_, output, error) = Run(drawn);
        var answer = JsonDocument.Parse(output).RootElement;
        Assert.True(answer.GetProperty("runs").GetInt32() == 40, error);
        var share = answer.GetProperty("all").GetProperty("share");
        Assert.InRange(share.GetProperty("share").GetDouble(), share.GetProperty("low").GetDouble(), share.GetProperty("high").GetDouble());
        Assert.Equal(5, answer.GetProperty("requirements").GetArrayLength());
        // The same seed draws the same, however many run at once.
        Assert.Equal(output, Run([.. drawn, "--jobs", "1"]).Output);
        var decided = Run([.. drawn[..^5], "--runs", "2000", "--wanted", "0.05"]);
        Assert.True(decided.Code == 0, decided.Error);
        Assert.Contains("decided", decided.Output, StringComparison.Ordinal);
        Assert.Equal(2, Run("montecarlo", winch, "--vary", "nothing.k=± 1 %").Code);
    }

    [Fact]
    public void Optimise_finds_the_value_that_is_wanted()
    {
        var model = Write("lag.mo", "model M parameter Real T(unit = \"s\") = 1; Real x(start = 1); equation T * der(x) = -x; end M;");
        string[] search =
        [
            "optimise",
            model,
            "--vary",
            "T=0.1 s:5 s",
            "--minimise",
            "abs(final(x) - 0.25)",
            "--to",
            "2",
            "--method",
            "simplex",
            "--runs",
            "60",
            "--json",
        ];
        var (code, output, error) = Run(search);
        Assert.True(code == 0, error);
        var best = JsonDocument.Parse(output).RootElement.GetProperty("best");
        // e^(−2/T) is a quarter at T = 2 / ln 4.
        var found = double.Parse(best.GetProperty("values").GetProperty("T").GetString()!.Split(' ')[0], CultureInfo.InvariantCulture);
        Assert.Equal(2 / Math.Log(4), found, 1e-3);
        Assert.Equal(output, Run([.. search, "--jobs", "1"]).Output);
        Assert.Equal(2, Run([.. search, "--subject-to-requirements"]).Code);
    }

    [Fact]
    public void A_sweep_is_written_as_columns_too()
    {
        var model = Write("lag.mo", "model M parameter Real T(unit = \"s\") = 1; Real x(start = 1); equation T * der(x) = -x; end M;");
        var parquet = Path.Combine(folder, "out.parquet");
        var (code, output, error) = Run(
            "sweep",
            model,
            "--vary",
            "T=1 s:2 s:3",
            "--measure",
            "final(x)",
            "--to",
            "2",
            "--parquet",
            parquet
        );
        Assert.True(code == 0, error);
        Assert.Empty(output);
        Assert.Equal("PAR1"u8.ToArray(), File.ReadAllBytes(parquet)[..4]);
        Assert.Contains(
            "no parameter",
            Run("sweep", model, "--vary", "Tea=1,2", "--measure", "final(x)", "--to", "2").Error,
            StringComparison.Ordinal
        );
    }

    [Fact]
    public void Code_is_written_and_checked_against_the_model()
    {
        var example = Path.Combine(Root(), "examples", "plankton-winch.json");
        var (code, output, error) = Run("code", example, "--part", "Controller", "--out", "made", "--check", "--steps", "200", "--json");
        Assert.True(code == 0, error);
        var told = JsonDocument.Parse(output).RootElement;
        Assert.Equal(200, told.GetProperty("check").GetProperty("steps").GetInt32());
        Assert.Equal(3, told.GetProperty("files").GetArrayLength());
        Assert.Contains("controller_step(", File.ReadAllText(Path.Combine(folder, "made", "controller.h")), StringComparison.Ordinal);
        Assert.Contains(
            "\"Controller.Ratio\"",
            File.ReadAllText(Path.Combine(folder, "made", "controller_lines.csv")),
            StringComparison.Ordinal
        );
    }

    [Theory]
    [InlineData("Nobody", "1e-3", "has no part 'Nobody'")]
    [InlineData("Controller", "0", "step")]
    [InlineData("Controller", "soon", "--step")]
    public void Code_of_what_is_none_is_refused(string part, string step, string said)
    {
        var example = Path.Combine(Root(), "examples", "plankton-winch.json");
        var (code, _, error) = Run("code", example, "--part", part, "--out", "made", "--step", step);
        Assert.NotEqual(0, code);
        Assert.Contains(said, error, StringComparison.Ordinal);
        Assert.False(Directory.Exists(Path.Combine(folder, "made")));
    }

    [Theory]
    [InlineData("Controller", "2.0", 3)]
    [InlineData("", "3.0", 0)]
    public void A_part_or_a_whole_model_becomes_an_exchange_unit(string part, string version, int inputs)
    {
        var example = Path.Combine(Root(), "examples", "plankton-winch.json");
        var (code, output, error) = Run("unit", "export", example, "--part", part, "--version", version, "--out", "made.fmu", "--json");
        Assert.True(code == 0, error);
        var told = JsonDocument.Parse(output).RootElement;
        Assert.Equal(inputs, told.GetProperty("inputs").GetArrayLength());
        Assert.NotEqual(0, told.GetProperty("outputs").GetArrayLength());
        using var archive = System.IO.Compression.ZipFile.OpenRead(Path.Combine(folder, "made.fmu"));
        using var reader = new StreamReader(archive.GetEntry("modelDescription.xml")!.Open());
        Assert.Contains($"fmiVersion=\"{version}\"", reader.ReadToEnd(), StringComparison.Ordinal);
    }

    /// <summary>A unit is read, tried, put into a model, and runs there with the model that it came from gone.</summary>
    [Theory]
    [InlineData("co-simulation")]
    [InlineData("model-exchange")]
    public void An_exchange_unit_becomes_a_part_of_another_model(string kind)
    {
        if (!AnchorBend.Delivery.NativeCode.HasCompiler)
            return;
        string At(string name) => Path.Combine(folder, name);
        var example = Path.Combine(Root(), "examples", "quay-crane.json");
        Assert.Equal(0, Run("unit", "export", example, "--kind", kind, "--step", "1 ms", "--out", At("crane.fmu")).Code);
        var (code, output, error) = Run("unit", "check", At("crane.fmu"), "--json");
        Assert.True(code == 0, error);
        using (var told = JsonDocument.Parse(output))
            Assert.Equal(9, told.RootElement.GetProperty("after").GetArrayLength());

        var (imported, _, why) = Run(
            "unit",
            "import",
            At("crane.fmu"),
            Path.Combine(Root(), "examples", "lamp-buoy.json"),
            "--name",
            "Crane beside",
            "--out",
            At("both.json")
        );
        Assert.True(imported == 0, why);
        var (ran, table, stopped) = Run("run", At("both.json"), "--to", "0.5", "--keep", "Crane beside.boom_angle");
        Assert.True(ran == 0, stopped);
        var last = table.Trim().Split('\n')[^1].Split(',');
        Assert.Equal(0.5, double.Parse(last[0], System.Globalization.CultureInfo.InvariantCulture), 1e-9);
        Assert.NotEqual(0, double.Parse(last[1], System.Globalization.CultureInfo.InvariantCulture));

        File.WriteAllText(At("none.fmu"), "no archive");
        var (refused, _, reason) = Run("unit", "check", At("none.fmu"));
        Assert.NotEqual(0, refused);
        Assert.Contains("no archive that can be unpacked", reason, StringComparison.Ordinal);
    }

    [Fact]
    public void Code_on_a_target_hands_over_by_command()
    {
        if (!AnchorBend.Delivery.NativeCode.HasCompiler)
            return;
        var example = Path.Combine(Root(), "examples", "synchronous-winch.json");
        string[] laws = ["--delivery", "Proportional-integral", "--delivery", "Disturbance-rejecting"];
        var (code, output, error) = Run(["target", "run", example, .. laws, "--hand-over", "Disturbance-rejecting@1.8", "--json"]);
        Assert.True(code == 0, error);
        using var told = JsonDocument.Parse(output);
        var target = told.RootElement.GetProperty("target");
        Assert.Equal(1, target.GetProperty("handOvers").GetArrayLength());
        Assert.Equal(2, target.GetProperty("active").GetInt32());
        Assert.Contains("no delivery 'None'", Run("target", "run", example, "--delivery", "None").Error, StringComparison.Ordinal);
    }

    [Fact]
    public void What_cannot_be_an_exchange_unit_is_told()
    {
        var example = Path.Combine(Root(), "examples", "warm-loop.json");
        var (code, _, error) = Run("unit", "export", example, "--out", "made.fmu");
        Assert.NotEqual(0, code);
        Assert.Contains("has no C code", error, StringComparison.Ordinal);
        Assert.False(File.Exists(Path.Combine(folder, "made.fmu")));
    }

    [Theory]
    [InlineData("bash", "complete -o default")]
    [InlineData("zsh", "compdef")]
    [InlineData("fish", "complete -c")]
    public void Shells_are_told_how_to_complete(string shell, string told)
    {
        var (code, output, error) = Run("completion", shell);
        Assert.True(code == 0, error);
        Assert.Contains(told, output, StringComparison.Ordinal);
        Assert.NotEqual(0, Run("completion", "none").Code);
    }

    /// <summary>The words that a shell asks for: commands, and options of a command.</summary>
    [Theory]
    [InlineData("anchor-bend un", "unit")]
    [InlineData("anchor-bend code --tun", "--tunable")]
    public void Words_are_completed(string line, string word)
    {
        var (_, output, _) = Run($"[suggest:{line.Length}]", line);
        Assert.Contains(word, output.Split('\n'));
    }
}
