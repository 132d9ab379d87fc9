using System.Globalization;
using AnchorBend.Compiler.Preparation;
using AnchorBend.Modeling.Catalog;
using AnchorBend.Modeling.Charts;
using AnchorBend.Modeling.Documents;
using AnchorBend.Modeling.Written;
using AnchorBend.Simulation;
using AnchorBend.Simulation.Recording;
using static AnchorBend.Tests.Diagrams;

namespace AnchorBend.Workbench.Tests;

/// <summary>Random charts run as the class that they come to, and by an interpreter of the standard's algorithm: both do the
/// same.</summary>
public class RandomChartTests
{
    const int Looks = 40;

    /// <summary>Two numbers and two events by the number of the look, from 0 on.</summary>
    static int First(int k) => (7 * k * k + 3 * k) % 5;

    static int Second(int k) => (5 * k * k + k) % 4;

    static bool Rises(int k, int e) => (k * k + 2 * e * k) % 3 == 1;

    const string Inputs = """
        block Inputs
        output Integer u; output Integer v; output Boolean e; output Boolean f;
        protected Integer k(start = -1, fixed = true);
        algorithm
        when sample(0, 0.1) then
        k := k + 1;
        u := mod(7 * k * k + 3 * k, 5);
        v := mod(5 * k * k + k, 4);
        e := mod(k * k + 2 * k, 3) == 1;
        f := mod(k * k + 4 * k, 3) == 1;
        end when;
        end Inputs;
        """;

    static ChartDefinition Chart(Random random)
    {
        var states = new Dictionary<string, ChartStateNode>();
        void Grow(string? parent, int depth)
        {
            var isParallel = parent is not null && states[parent].Kind == ChartStateKind.Parallel;
            for (var i = random.Next(2, 4); i > 0; i--)
            {
                var id = $"s{states.Count}";
                var isDeep = depth < 3 && random.Next(3) > 0;
                states[id] = new ChartStateNode
                {
                    Name = id,
                    Parent = parent,
                    Order = states.Count,
                    Kind = isDeep && !isParallel && random.Next(3) == 0 ? ChartStateKind.Parallel : ChartStateKind.State,
                    Entry = Action(random, 2),
                    Exit = Action(random, 2),
                    While = Action(random, 4),
                };
                if (isDeep)
                    Grow(id, depth + 1);
            }

            if (parent is not null && !isParallel && random.Next(3) == 0)
                states[$"h{states.Count}"] = new ChartStateNode
                {
                    Name = $"h{states.Count}",
                    Parent = parent,
                    Order = states.Count,
                    Kind = random.Next(2) == 0 ? ChartStateKind.History : ChartStateKind.DeepHistory,
                };
        }

        Grow(null, 0);
        var ids = states.Keys.ToList();
        var sources = ids.Where(i => i.StartsWith('s')).ToList();
        var transitions = new Dictionary<string, ChartTransitionNode>();
        for (var i = random.Next(4, 14); i > 0; i--)
            transitions[$"t{transitions.Count}"] = new ChartTransitionNode
            {
                From = sources[random.Next(sources.Count)],
                To = random.Next(8) == 0 ? null : ids[random.Next(ids.Count)],
                Event = random.Next(3) switch
                {
                    0 => null,
                    1 => "e",
                    _ => random.Next(2) == 0 ? "f" : "again",
                },
                Guard =
                    random.Next(4) == 0 ? null
                    : random.Next(2) == 0 ? $"u == {random.Next(5)}"
                    : $"v == {random.Next(4)}",
                Action = Action(random, 2),
                IsLocal = random.Next(3) == 0,
                Priority = transitions.Count,
            };
        return new ChartDefinition
        {
            Name = "Random",
            States = states,
            Transitions = transitions,
            Names = new()
            {
                ["u"] = Name("u", NameKind.Input),
                ["v"] = Name("v", NameKind.Input),
                ["e"] = Name("e", NameKind.Event),
                ["f"] = Name("f", NameKind.Event),
                ["again"] = Name("again", NameKind.Signal),
                ["log"] = Name("log", NameKind.Output),
            },
        };

        NameNode Name(string name, NameKind kind) =>
            new()
            {
                Name = name,
                Kind = kind,
                Type = "Integer",
                Order = name == "e" ? 0 : 1,
            };
    }

    static string? Action(Random random, int seldom) =>
        random.Next(seldom) > 0
            ? null
            : $"log := mod(31 * log + {random.Next(1, 97)}, 9973)" + (random.Next(6) == 0 ? "; again := true" : "");

    /// <summary>What is active and the log after each look; null where the chart goes around without an end.</summary>
    static List<string>? Interpreted(ChartDefinition chart)
    {
        var (log, k) = (0, 0);
        var interpreter = new ChartInterpreter(
            chart,
            guard =>
            {
                var wanted = int.Parse(guard[5..], CultureInfo.InvariantCulture);
                return (guard[0] == 'u' ? First(k) : Second(k)) == wanted;
            },
            statements =>
            {
                var from = statements.IndexOf('+', StringComparison.Ordinal) + 2;
                var number = int.Parse(statements[from..statements.IndexOf(',', from)], CultureInfo.InvariantCulture);
                log = (31 * log + number) % 9973;
                return statements.Contains("again", StringComparison.Ordinal) ? ["again"] : [];
            }
        );
        var told = new List<string>();
        for (; k < Looks; k++)
        {
            var events = new[] { ("e", 1), ("f", 2) }
                .Where(e => Rises(k, e.Item2) && !(k > 0 && Rises(k - 1, e.Item2)))
                .Select(e => e.Item1);
            if (!interpreter.Look(events.ToList()))
                return null;
            told.Add($"{log} {string.Join(' ', chart.States.Keys.Where(interpreter.IsActive))}");
        }

        return told;
    }

    static List<string> Run(ChartDefinition chart)
    {
        var document = new DiagramDefinition
        {
            Name = "Test",
            Parts = { ["s"] = Part("Inputs", "Source"), ["c"] = Part("#c", "Chart") },
            Wires = new[] { "u", "v", "e", "f" }.ToDictionary(n => n, n => Wire($"s.{n}", $"c.{n}")),
        }
            .AsModel()
            .With("c", chart)
            .With("inputs", new TextDefinition { Name = "Inputs", Text = Inputs });
        var prepared = DocumentPreparation.Prepare(DocumentLimits.Checked(document), PartCatalog.Of(document));
        Assert.True(prepared.CanRun, string.Join("\n", prepared.Findings.Select(f => $"{f.Part} {f.Item}: {f.Message}")));
        var parameters = new ParameterSet(prepared.Model);
        using var session = new RunSession(prepared, parameters, new RunOptions { End = 0.1 * Looks - 0.02, OutputInterval = 0.05 });
        session.Advance(new PauseAt(), default);
        Assert.Null(session.Failure);
        var names = chart.States.Where(s => s.Key[0] == 's').ToDictionary(s => s.Key, s => $"Chart.in {Path(s.Key)}");
        var curves = names
            .Values.Append("Chart.log")
            .ToDictionary(
                n => n,
                n => new Verification.Curve(
                    [.. session.Trace.Times],
                    RecordedSignal.Values(prepared, parameters.Values, session.Trace, prepared.Find(n)!)
                )
            );
        double At(string name, int k) => curves[name].At(0.1 * k + 0.05)!.Value;
        return
        [
            .. Enumerable
                .Range(0, Looks)
                .Select(k => $"{At("Chart.log", k)} {string.Join(' ', names.Where(n => At(n.Value, k) == 1).Select(n => n.Key))}"),
        ];

        string Path(string id) => chart.States[id].Parent is { } parent ? $"{Path(parent)}/{id}" : id;
    }

    [Theory]
    [InlineData(1, 12)]
    [InlineData(1000, 12)]
    [InlineData(2000, 12)]
    [InlineData(3000, 12)]
    public void They_do_what_the_standard_says(int first, int count)
    {
        for (var seed = first; count > 0; seed++)
        {
            var chart = Chart(new Random(seed));
            if (Interpreted(chart) is not { } expected)
                continue;
            count--;
            var found = Run(chart);
            for (var k = 0; k < Looks; k++)
                Assert.True(expected[k] == found[k], $"Chart {seed}, look {k}: expected {expected[k]}, found {found[k]}");
        }
    }
}
