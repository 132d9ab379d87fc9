using System.Diagnostics;
using System.Globalization;
using AnchorBend.Compiler.Preparation;
using AnchorBend.Language.Syntax;
using AnchorBend.Modeling.Catalog;
using AnchorBend.Modeling.Documents;
using AnchorBend.Modeling.Flattening;
using AnchorBend.Simulation;

// Prints each figure as a ratio to the C program of the same run, or with its growth.
CultureInfo.CurrentCulture = CultureInfo.InvariantCulture;
var references = args.Length > 0 ? args[0] : ".build/reference";

var only = args.Length > 1 ? args[1] : "";
var name = args.Length > 2 ? args[2] : "";

PreparedModel Prepare(string text)
{
    var (classes, errors) = Parser.ParseFile(text);
    if (errors.Count > 0)
        throw new InvalidOperationException(errors[0].ToString());
    var (model, findings) = Flattener.Flatten(classes[^1], new ClassList(classes, PartCatalog.Standard));
    var prepared = PreparedModel.Prepare(model, findings, SourceMap.Empty);
    if (!prepared.CanRun)
        throw new InvalidOperationException(string.Join("\n", prepared.Findings));
    return prepared;
}

double Median(int count, Func<double> measure)
{
    var values = Enumerable.Range(0, count).Select(_ => measure()).Order().ToArray();
    return values[count / 2];
}

double Time(Action work)
{
    var watch = Stopwatch.StartNew();
    work();
    return watch.Elapsed.TotalSeconds;
}

(double Seconds, double Value) Timed(string name, string argument)
{
    using var process = Process.Start(new ProcessStartInfo(Path.Combine(references, name), argument) { RedirectStandardOutput = true })!;
    var numbers = process.StandardOutput.ReadToEnd().Split(' ').Select(double.Parse).ToArray();
    return (numbers[0], numbers[1]);
}

RunResult Run(PreparedModel prepared, RunOptions options)
{
    using var simulator = new Simulator(prepared.Compiled!, new ParameterSet(prepared.Model), options);
    return simulator.Run();
}

IEnumerable<Problem> Named(Problem[] problems) => problems.Where(p => name is "" || p.Name == name);

if (only is "" or "charts")
    AnchorBend.Bench.ChartFigures.Print();

if (only is "" or "rules")
{
    Console.WriteLine("Rules over time");
    AnchorBend.Bench.RuleFigures.Print();
}

if (only is "" or "counting")
{
    Console.WriteLine("Runs that count");
    AnchorBend.Bench.CountingFigures.Print();
}

if (only is "" or "studies")
    AnchorBend.Bench.StudyFigures.Print();

if (only is "" or "traces")
    TraceFigures.Print();

if (only is "" or "gains")
    AnchorBend.Bench.GainFigures.Print(Path.Combine(references, "gains"));

if (only is "" or "stiff")
{
    Console.WriteLine(
        "Stiff problems against a C suite's backward differentiation at equal error (time of ours / its cheapest of at most that error):"
    );
    new Comparison(
        new Reference(Path.Combine(references, "stiff.so")),
        2,
        [IntegrationMethod.Auto, IntegrationMethod.Radau5, IntegrationMethod.BackwardDifferences],
        Math.Abs
    ).Run(Named(Problems.Stiff), Prepare);
}

if (only is "" or "explicit")
{
    Console.WriteLine("Other problems against Dormand–Prince 5(4) written by hand in C at equal error:");
    new Comparison(
        new Reference(Path.Combine(references, "explicit.so")),
        1,
        [IntegrationMethod.Auto, IntegrationMethod.DormandPrince54, IntegrationMethod.DormandPrince853],
        exact => 1 + Math.Abs(exact)
    ).Run(Named(Problems.Explicit), Prepare);
}

if (only is "" or "suite")
{
    Console.WriteLine(
        "The same problems but the delay against the C suite, the cheaper of Adams' methods and backward differentiation at equal error:"
    );
    // Its own exact values come from the program written by hand, which is right to the last digits.
    new Comparison(
        new Reference(Path.Combine(references, "suite.so")),
        2,
        [IntegrationMethod.Auto],
        exact => 1 + Math.Abs(exact),
        new Reference(Path.Combine(references, "explicit.so"))
    ).Run(Named([.. Problems.Explicit.Where(p => p.Name != "delayed")]), Prepare);
}

if (only is not ("" or "rest"))
    return;
Console.WriteLine("From text to running, warm (flatten, plan, compile, first point), ms:");
foreach (var equations in new[] { 1000, 3000, 10_000, 50_000 })
{
    var text = Problems.Chain(equations / 3);
    double Ready() => Time(() => Run(Prepare(text), new RunOptions { End = 1e-6, OutputTimes = [1e-6] }));
    // Warm: the run-time compiler has replaced its quick code, in several rounds.
    var best = double.PositiveInfinity;
    for (var (warm, since) = (Stopwatch.StartNew(), 0.0); warm.Elapsed.TotalSeconds < 3 || warm.Elapsed.TotalSeconds - since < 2; )
        if (Ready() is var now && now < 0.98 * best)
            (best, since) = (now, warm.Elapsed.TotalSeconds);
    var ready = Median(equations > 20_000 ? 7 : 15, Ready);
    Console.WriteLine($"  {equations, 6} equations  {1000 * ready, 8:F1} ms  {1e6 * ready / equations, 6:F1} µs an equation");
}

Console.WriteLine("Fixed step, Runge–Kutta 4, chain of 100 masses, 20000 steps:");
{
    var prepared = Prepare(Problems.Chain(100));
    var options = new RunOptions
    {
        End = 20,
        Method = IntegrationMethod.RungeKutta4,
        Step = 1e-3,
        OutputTimes = [20],
    };
    var last = prepared.Compiled!.Plan.RepresentativeOf("x[100]");
    var (value, end) = (0.0, 0.0);
    double Once() =>
        Time(() =>
        {
            var result = Run(prepared, options);
            value = result.Trace[result.Trace.Rows - 1, last];
        });
    Once();
    // In turn, so that what else the machine does meets both alike.
    var ratio = Median(7, () =>
    {
        (var c, end) = Timed("chain", "20000");
        return Median(7, Once) / c;
    });
    Console.WriteLine($"  ratio {ratio:F2}; last position differs by {Math.Abs(value - end):E1}");
}

Console.WriteLine("A parameter change on the chain of 1000 equations: the value exchanged, and elaborated again with the code kept:");
{
    var text = Problems.Chain(333);
    var first = Prepare(text);
    var (classes, _) = Parser.ParseFile(text);
    double Again(string k) =>
        Time(() =>
        {
            var (model, findings) = Flattener.Flatten(
                classes[^1],
                new ClassList(classes, PartCatalog.Standard),
                new Dictionary<string, Expression> { ["k"] = Parser.ParseExpression(k) }
            );
            var second = PreparedModel.Prepare(model, findings, SourceMap.Empty, first);
            if (!ReferenceEquals(second.Compiled, first.Compiled))
                throw new InvalidOperationException("it was compiled again");
        });
    double Exchanged(string k) =>
        Time(() => _ = ValueChange.Apply(first, [("k", k)]) ?? throw new InvalidOperationException("it was not exchanged"));
    Again("41");
    Exchanged("41");
    Console.WriteLine($"  {1000 * Median(9, () => Exchanged("42")):F2} ms and {1000 * Median(9, () => Again("42")):F1} ms");
}

Console.WriteLine("Ten million recorded samples of an oscillator, Runge–Kutta 4:");
{
    var prepared = Prepare("model M Real x(start = 1), v; equation der(x) = v; der(v) = -x; end M;");
    var options = new RunOptions
    {
        End = 1e4,
        Method = IntegrationMethod.RungeKutta4,
        Step = 1e-3,
        OutputTimes = [1e4],
        Keep = [prepared.Compiled!.Plan.RepresentativeOf("x")],
    };
    long resident = 0;
    double Recorded(double? interval) =>
        Time(() =>
            resident = Run(
                prepared,
                interval is null ? options : options with { OutputTimes = null, OutputInterval = interval }
            ).Trace.ResidentBytes
        );
    var ratio = Median(5, () => 1 / Recorded(null) * Recorded(1e-3));
    Console.WriteLine($"  ratio to the run without recording {ratio:F2}; {resident >> 20} MiB of the trace in memory");
}

Console.WriteLine("Two runs at once, chain of 1000 equations:");
{
    var prepared = Prepare(Problems.Chain(333));
    var options = new RunOptions
    {
        End = 20,
        Method = IntegrationMethod.RungeKutta4,
        Step = 1e-3,
        OutputTimes = [20],
    };
    Run(prepared, options);
    double One() => Time(() => Run(prepared, options));
    double Two() => Time(() => Parallel.Invoke(() => Run(prepared, options), () => Run(prepared, options)));
    Console.WriteLine($"  ratio {Median(9, () => 1 / One() * Two()):F2}");
}

Console.WriteLine("From cancellation to the end of a run, chain of 10,000 equations:");
{
    var prepared = Prepare(Problems.Chain(3333));
    var worst = Enumerable
        .Range(0, 5)
        .Max(_ =>
        {
            using var cancel = new CancellationTokenSource();
            using var simulator = new Simulator(prepared.Compiled!, new ParameterSet(prepared.Model), new RunOptions { End = 1e6 });
            var run = Task.Run(() => simulator.Run(cancel.Token));
            Thread.Sleep(300);
            var watch = Stopwatch.StartNew();
            cancel.Cancel();
            run.Wait();
            return watch.Elapsed.TotalMilliseconds;
        });
    Console.WriteLine($"  at most {worst:F1} ms");
}
