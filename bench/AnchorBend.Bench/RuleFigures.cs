using System.Diagnostics;
using AnchorBend.Compiler.Preparation;
using AnchorBend.Simulation;
using AnchorBend.Verification.Temporal;
using AnchorBend.Workbench.Models;

namespace AnchorBend.Bench;

/// <summary>What rules over time cost with the rows of a run.</summary>
static class RuleFigures
{
    const double End = 100;

    static readonly string[] Rules =
    [
        "always x < 2",
        "always (x < 0.9 or within 1 s x < 0)",
        "always (x < 2 until within 5 s x > 0.9)",
        "whenever x > 0.5 then within 1 s (x < 0 for at least 0.2 s)",
    ];

    public static void Print()
    {
        var source = ModelSource.OfText(
            "model M Real x, p(start = 0), q(start = 1); equation der(p) = 6.283185307 * q; der(q) = -6.283185307 * p; x = p; end M;"
        );
        var prepared = source.Prepare();
        foreach (var rows in new[] { 10_000, 100_000, 1_000_000 })
        {
            var parameters = new ParameterSet(prepared.Model);
            using var session = new RunSession(prepared, parameters, new RunOptions { End = End, OutputInterval = End / rows });
            session.Advance(new PauseAt(), default);
            using var trace = session.Result().Trace;
            foreach (var rule in Rules)
            {
                var watch = Stopwatch.StartNew();
                var outcome = new RuleCheck(prepared, parameters.Values, trace, 0, End).Check(rule, t =>
                    double.Parse(t[..^2], System.Globalization.CultureInfo.InvariantCulture)
                );
                var seconds = watch.Elapsed.TotalSeconds;
                Console.WriteLine(
                    $"  {rows} rows, {rule}: {1000 * seconds:F0} ms, {1e9 * seconds / rows:F0} ns a row ({outcome.Kind}, {outcome.Margin:G4})"
                );
            }
        }
    }
}
