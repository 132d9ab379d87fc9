using System.Diagnostics;
using AnchorBend.Compiler.Preparation;
using AnchorBend.Modeling.Catalog;
using AnchorBend.Simulation;
using AnchorBend.Workbench.Models;

namespace AnchorBend.Bench;

/// <summary>What a run costs whose code counts what it decides, beside one whose code does not.</summary>
static class CountingFigures
{
    const int Runs = 9;

    public static void Print()
    {
        foreach (var key in (string[])["tide-gate", "plankton-winch", "tide-gate-modes", "survey-mission"])
        {
            var document = Examples.All()[key];
            var plain = DocumentPreparation.Prepare(document, PartCatalog.Of(document));
            var options = DocumentRun.OptionsOf(document);
            var counting = plain.Counting();
            double Seconds(PreparedModel prepared)
            {
                var watch = Stopwatch.StartNew();
                using var session = new RunSession(prepared, new ParameterSet(prepared.Model), options);
                session.Advance(new PauseAt());
                using var trace = session.Result().Trace;
                return watch.Elapsed.TotalSeconds;
            }

            // In turn, so that both meet the machine as it is; the first pair compiles.
            var pairs = Enumerable.Range(0, Runs + 1).Select(_ => (Plain: Seconds(plain), Counting: Seconds(counting))).Skip(1).ToList();
            double Median(Func<(double Plain, double Counting), double> of) => pairs.Select(of).Order().ElementAt(Runs / 2);
            Console.WriteLine(
                $"  {key}: {1000 * Median(p => p.Plain):F0} ms, counting {1000 * Median(p => p.Counting):F0} ms, "
                    + $"ratio {Median(p => p.Counting / p.Plain):F2} ({counting.Compiled!.Counters.Count} places)"
            );
        }
    }
}
