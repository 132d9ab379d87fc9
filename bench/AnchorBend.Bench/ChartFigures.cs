using System.Diagnostics;
using AnchorBend.Compiler.Preparation;
using AnchorBend.Modeling.Catalog;
using AnchorBend.Modeling.Charts;
using AnchorBend.Modeling.Documents;
using AnchorBend.Modeling.Written;
using AnchorBend.Simulation;

namespace AnchorBend.Bench;

/// <summary>State charts of growing size: from the document to running, and one look at the inputs.</summary>
static class ChartFigures
{
    const double Period = 0.01;

    /// <summary>Groups of ten states that lead around with every look or stay, by a counter; two transitions for each state.</summary>
    static ModelDocument Document(int states)
    {
        var chart = new ChartDefinition
        {
            Name = "Chart",
            Period = "0.01 s",
            Names =
            {
                ["u"] = new NameNode { Name = "u", Kind = NameKind.Input },
                ["n"] = new NameNode
                {
                    Name = "n",
                    Kind = NameKind.Output,
                    Type = "Integer",
                    Order = 1,
                },
            },
        };
        chart.States["top"] = new ChartStateNode { Name = "Top", Kind = ChartStateKind.Parallel };
        for (var g = 0; g * 10 < states; g++)
        {
            chart.States[$"g{g}"] = new ChartStateNode
            {
                Name = $"Group {g}",
                Parent = "top",
                Order = g,
            };
            for (var s = 0; s < 10; s++)
            {
                chart.States[$"g{g}s{s}"] = new ChartStateNode
                {
                    Name = $"S{s}",
                    Parent = $"g{g}",
                    Order = s,
                    Entry = g == 0 ? "n := n + 1" : null,
                };
                for (var t = 0; t < 2; t++)
                    chart.Transitions[$"g{g}s{s}t{t}"] = new ChartTransitionNode
                    {
                        From = $"g{g}s{s}",
                        To = $"g{g}s{(s + 1 + t) % 10}",
                        Guard =
                            t == 0
                                ? $"u > {g % 10} and u < {g % 10 + 1} and elapsed() > 0.1"
                                : $"u > {g % 10 + 1.5} and u < {g % 10 + 1.75} and elapsed() > 0.1",
                        Priority = t,
                    };
            }
        }

        return new DiagramDefinition
        {
            Name = "Bench",
            Parts =
            {
                ["s"] = new PartNode
                {
                    Type = "Sine",
                    Name = "Source",
                    Parameters = { ["amplitude"] = "10", ["f"] = "0.05 Hz" },
                },
                ["c"] = new PartNode { Type = "#c", Name = "Chart" },
            },
            Wires =
            {
                ["w"] = new WireNode { From = new PortReference("s", "y"), To = new PortReference("c", "u") },
            },
        }
            .AsModel()
            .With("c", chart);
    }

    public static void Print()
    {
        Console.WriteLine("charts: states, from document to running in s, µs a look (one transition in about ten looks), looks");
        foreach (var states in new[] { 30, 100, 300, 600 })
        {
            var document = Document(states);
            var watch = Stopwatch.StartNew();
            var prepared = DocumentPreparation.Prepare(document, PartCatalog.Of(document));
            if (!prepared.CanRun)
                throw new InvalidOperationException(string.Join("\n", prepared.Findings.Select(f => f.Message)));
            _ = prepared.Compiled;
            var made = watch.Elapsed.TotalSeconds;
            double Run(double end)
            {
                using var simulator = new Simulator(
                    prepared.Compiled!,
                    new ParameterSet(prepared.Model),
                    new RunOptions
                    {
                        End = end,
                        OutputInterval = end,
                        Keep = [prepared.Find("Chart.n")!.Index],
                    }
                );
                var each = Stopwatch.StartNew();
                if (simulator.Run().Failure is { } failure)
                    throw new InvalidOperationException(failure.Message);
                return each.Elapsed.TotalSeconds;
            }

            Run(1);
            var (few, many) = (Run(2), Run(202));
            Console.WriteLine($"{states, 6} {made, 8:F2} {(many - few) / (200 / Period) * 1e6, 8:F2} {200 / Period, 8:F0}");
        }
    }
}
