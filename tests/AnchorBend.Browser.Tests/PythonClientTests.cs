using System.Diagnostics;

namespace AnchorBend.Browser.Tests;

/// <summary>The client in Python against a running server: its examples do what they say, and errors come in the server's words.</summary>
[Collection("application")]
public sealed class PythonClientTests(Application application) : IDisposable
{
    readonly string folder = Directory.CreateTempSubdirectory("anchor-bend-python-").FullName;

    public void Dispose() => Directory.Delete(folder, true);

    static string Clients()
    {
        var root = AppContext.BaseDirectory;
        while (!File.Exists(Path.Combine(root, "AnchorBend.slnx")))
            root = Path.GetDirectoryName(root)!;
        return Path.Combine(root, "clients", "python");
    }

    (int Code, string Output) Python(params string[] arguments)
    {
        var start = new ProcessStartInfo("python3")
        {
            WorkingDirectory = folder,
            RedirectStandardOutput = true,
            RedirectStandardError = true,
        };
        foreach (var argument in arguments)
            start.ArgumentList.Add(argument);
        start.Environment["PYTHONDONTWRITEBYTECODE"] = "1";
        using var process = Process.Start(start)!;
        var error = process.StandardError.ReadToEndAsync();
        var output = process.StandardOutput.ReadToEnd();
        Assert.True(process.WaitForExit(120_000), "it goes on and on");
        return (process.ExitCode, output + error.Result);
    }

    (int Code, string Output) Example(string name, params string[] arguments) =>
        Python([Path.Combine(Clients(), "examples", name + ".py"), .. arguments]);

    (int Code, string Output) Script(string text)
    {
        var file = Path.Combine(folder, "script.py");
        File.WriteAllText(
            file,
            $"""
            import sys
            sys.path.insert(0, "{Clients()}")
            from anchor_bend import Bench, Problem
            bench = Bench("{application.Address}")
            {text}
            """
        );
        return Python(file);
    }

    [PythonFact]
    public void A_sweep_measures_each_run()
    {
        var (code, output) = Example("sweep", application.Address);
        Assert.True(code == 0, output);
        Assert.Equal(3, output.Split('\n').Count(l => l.Contains("largest lag", StringComparison.Ordinal)));
        Assert.Equal(3, output.Split('\n').Where(l => l.Length > 0).Select(l => l.Split(',')[0].Split(':')[1]).Distinct().Count());
    }

    [PythonFact]
    public void A_search_finds_a_gain()
    {
        var (code, output) = Example("tune", application.Address);
        Assert.True(code == 0, output);
        Assert.Matches(@"^gain \d+\.\d+ 1/m: largest lag \d", output);
    }

    /// <summary>30,000 steps of 0.1 ms by the first law, then 5,000 by the second one.</summary>
    [PythonFact]
    public void Code_on_a_target_is_handed_over()
    {
        var (code, output) = Example("target", application.Address);
        Assert.True(code == 0, output);
        Assert.Contains("Disturbance-rejecting has the machine, handed over 1 time", output, StringComparison.Ordinal);
        Assert.Contains("Proportional-integral: 3000", output, StringComparison.Ordinal);
    }

    [PythonFact]
    public void An_exchange_unit_is_sent_as_it_is()
    {
        var (code, output) = Script(
            """
            try:
                bench.unit(b"no archive")
            except Problem as problem:
                print(problem.status, problem.message)
            """
        );
        Assert.True(code == 0, output);
        Assert.Contains("422", output, StringComparison.Ordinal);
    }

    /// <summary>Four cases of the demo miss something, so it ends with 1; all of them are the same on the code.</summary>
    [PythonFact]
    public void Cases_and_code_are_proved()
    {
        var (code, output) = Example("prove", application.Address);
        Assert.True(code == 1, output);
        Assert.Contains("Full stroke: failed", output, StringComparison.Ordinal);
        Assert.Contains("20 of 20 cases the same", output, StringComparison.Ordinal);
    }

    [PythonFact]
    public void A_report_is_written()
    {
        var (code, output) = Example("report", folder, application.Address);
        Assert.True(code == 0, output);
        Assert.Equal("opening.csv report.html report.xml", output.Trim());
        Assert.StartsWith("time [s],", File.ReadAllText(Path.Combine(folder, "opening.csv")), StringComparison.Ordinal);
    }

    [PythonFact]
    public void What_goes_wrong_comes_in_the_servers_words()
    {
        var (code, output) = Script(
            """
            model = bench.create(name="Empty")
            edit = {"op": "dance", "path": "/x"}
            for wrong in (lambda: bench.model("nobody"), lambda: model.check("none"), lambda: model.edit("", edit)):
                try:
                    wrong()
                    print("taken")
                except Problem as problem:
                    print(problem.status, problem.message)
            """
        );
        Assert.True(code == 0, output);
        Assert.Contains("404 There is no model 'nobody'.", output, StringComparison.Ordinal);
        Assert.Contains("404 This delivery is not in the model any more.", output, StringComparison.Ordinal);
        Assert.DoesNotContain("taken", output, StringComparison.Ordinal);
        Assert.DoesNotContain("500", output, StringComparison.Ordinal);
    }

    /// <summary>Whoever listens is told of an edit that another makes.</summary>
    [PythonFact]
    public void Events_tell_of_an_edit()
    {
        var (code, output) = Script(
            """
            model = bench.create(example="hatchery-tank")
            for kind, told in model.events():
                print(kind)
                if kind == "listening":
                    model.edit("Another end", {"op": "replace", "path": "/settings/end", "value": "10 s"})
                elif kind == "changed":
                    print(told["revision"])
                    break
            """
        );
        Assert.True(code == 0, output);
        Assert.Equal(["listening", "changed", "1"], output.Split('\n', StringSplitOptions.RemoveEmptyEntries));
    }
}

/// <summary>A test that needs Python, which the product itself does not.</summary>
sealed class PythonFactAttribute : FactAttribute
{
    public PythonFactAttribute() =>
        Skip = (Environment.GetEnvironmentVariable("PATH") ?? "").Split(':').Any(p => File.Exists(Path.Combine(p, "python3")))
            ? null
            : "There is no Python on this machine: apt-get install python3.";
}
