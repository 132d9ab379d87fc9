using AnchorBend.Modeling.Documents;
using AnchorBend.Workbench.FaultTrees;
using AnchorBend.Workbench.Studies;
using static AnchorBend.Tests.Diagrams;

namespace AnchorBend.Workbench.Tests;

/// <summary>Fault trees: drawn by hand with rates, and found by running sets of faults.</summary>
public sealed class FaultTreeTests : IDisposable
{
    readonly Bench bench = new();

    public void Dispose()
    {
        bench.Studies.Dispose();
        bench.Workers.Dispose();
        bench.RunStore.Dispose();
    }

    static FaultNode Added(string signal, string by) =>
        new()
        {
            Name = $"{signal} adds {by}",
            Kind = FaultKind.Bias,
            Signal = signal,
            Value = by,
        };

    /// <summary>The sum of two levels must stay below 3: three is too much alone, two and one and a half only together.</summary>
    static ModelDocument Sum() =>
        new DiagramDefinition
        {
            Name = "Basin",
            Parts = new()
            {
                ["a"] = Part("Constant", "North", ("k", "0")),
                ["b"] = Part("Constant", "South", ("k", "0")),
                ["c"] = Part("Constant", "West", ("k", "0")),
                ["s"] = Part("Sum", "Sum", ("signs", "{1, 1, 1}")),
                ["i"] = Part("Lag", "Level", ("T", "10 ms")),
            },
            Wires = new()
            {
                ["w1"] = Wire("a.y", "s.u[1]"),
                ["w2"] = Wire("b.y", "s.u[2]"),
                ["w3"] = Wire("c.y", "s.u[3]"),
                ["w4"] = Wire("s.y", "i.u"),
            },
        }.AsModel() with
        {
            Settings = new RunSettings { End = "1 s", Live = false },
            Faults = new()
            {
                ["f1"] = Added("a.y", "3.5"),
                ["f2"] = Added("b.y", "2"),
                ["f3"] = Added("c.y", "1.5"),
            },
            Requirements = new()
            {
                ["q"] = new RequirementNode
                {
                    Name = "Below 3",
                    Signal = "i.y",
                    Limit = "3",
                },
            },
            Studies = new()
            {
                ["t"] = new StudyNode
                {
                    Name = "Sets",
                    Factors = Enumerable
                        .Range(1, 3)
                        .ToDictionary(
                            n => $"f{n}",
                            n => new StudyFactorNode
                            {
                                Target = $"#fault:f{n}",
                                Values = "off, on",
                                Order = n,
                            }
                        ),
                    Search = new StudySearchNode { Worst = "q", Method = "cutsets" },
                },
            },
        };

    [Fact]
    public void Sets_of_faults_are_tried_from_the_smallest_on_and_become_a_tree()
    {
        var session = bench.Models.Session(bench.Create(Sum()));
        var job = bench.Studies.Find(bench.Studies.Start(session, "t", default).Id);
        Assert.True(SpinWait.SpinUntil(() => job.View().State == StudyState.Finished, 60_000));
        // None, three alone, and of the pairs the one without the first: what holds the first is no least set.
        Assert.Equal(5, job.ResultsSince(0).Rows.Count);
        Assert.Equal(
            [
                [0],
                [1, 2],
            ],
            job.CutSets()!.Select(s => s.ToArray())
        );
        Assert.Equal("All sets of up to two are tried.", job.ResultsSince(0).Ended);

        bench.Edit(session.Id, [.. FoundTree.Of(job, session.Document).Operations]);
        var (id, tree) = Assert.Single(session.Document.FaultTrees);
        Assert.Equal(("Below 3: missed", "q", 3), (tree.Name, tree.Requirement, tree.Events.Count));
        Assert.Contains("no rate or probability", FaultTreeView.Of(session.Document, id, tree).Problem, StringComparison.Ordinal);
        foreach (var e in tree.Events.Keys)
            bench.Edit(session.Id, new PatchOperation("replace", $"/faultTrees/{id}/events/{e}/value", "1e-3"));
        var view = FaultTreeView.Of(session.Document, id, session.Document.FaultTrees[id]);
        Assert.Equal(1e-3 + (1 - 1e-3) * 1e-6, view.Probability!.Value, 1e-15);
        Assert.Equal(2, view.Count);
    }

    [Fact]
    public void A_search_that_could_not_try_all_sets_is_refused()
    {
        var document = Sum();
        document.Studies["t"] = document.Studies["t"] with { Search = document.Studies["t"].Search! with { Runs = 6 } };
        var session = bench.Models.Session(bench.Create(document));
        var refused = Assert.Throws<Exploration.ExplorationException>(() => bench.Studies.Start(session, "t", default));
        // None, three alone, three pairs.
        Assert.Contains("7 sets of up to 2 faults", refused.Message, StringComparison.Ordinal);
    }

    static FaultTreeNode Tree(string value, string duration = "1000 h") =>
        new()
        {
            Name = "Stays open",
            Top = "g",
            Duration = duration,
            Gates = new()
            {
                ["g"] = new TreeGateNode { Name = "Valve or pump", Inputs = ["a", "b"] },
            },
            Events = new()
            {
                ["a"] = new TreeEventNode { Name = "Valve sticks", Value = value },
                ["b"] = new TreeEventNode { Name = "Pump stops", Value = "0" },
            },
        };

    static FaultTreeView Of(FaultTreeNode tree) => FaultTreeView.Of(Sum(), "t", tree);

    [Theory]
    [InlineData("1e-3 1/h", 0.6321205588285577)]
    [InlineData("1e-12 1/h", 9.999999995e-10)]
    [InlineData("0.2", 0.2)]
    [InlineData("20 %", 0.2)]
    public void Rates_count_over_the_time_of_the_tree_and_probabilities_as_they_are(string value, double probability) =>
        Assert.Equal(probability, Of(Tree(value)).Probability!.Value, 1e-15);

    [Theory]
    [InlineData("", "no rate or probability")]
    [InlineData("3", "between 0 and 1")]
    [InlineData("2 m", "such as 2e-6 1/h")]
    [InlineData("seldom", "no number with a unit")]
    public void What_is_no_rate_is_told(string value, string told) =>
        Assert.Contains(told, Of(Tree(value)).Problem, StringComparison.Ordinal);

    [Fact]
    public void A_row_of_a_sheet_can_say_the_rate()
    {
        var document = Sum() with
        {
            Sheets = new()
            {
                ["s"] = new SheetNode
                {
                    Name = "Rates",
                    Chooser = "supplier",
                    Active = "\"Second\"",
                    Columns = new()
                    {
                        ["c1"] = new ColumnNode { Name = "First" },
                        ["c2"] = new ColumnNode { Name = "Second" },
                    },
                    Rows = new()
                    {
                        ["r"] = new RowNode
                        {
                            Name = "valve_rate",
                            Unit = "1/h",
                            Values = new() { ["c1"] = "1", ["c2"] = "1e-3" },
                        },
                    },
                },
            },
        };
        Assert.Equal(0.6321205588285577, FaultTreeView.Of(document, "t", Tree("valve_rate")).Probability!.Value, 1e-15);
    }

    [Fact]
    public void What_is_wrong_with_a_tree_is_told()
    {
        var tree = Tree("0.1");
        string? With(TreeGateNode gate) => Of(tree with { Gates = new() { ["g"] = gate } }).Problem;
        var gate = tree.Gates["g"];
        Assert.Contains("below itself", With(gate with { Inputs = ["a", "g"] }), StringComparison.Ordinal);
        Assert.Contains("nothing below it", With(gate with { Inputs = [] }), StringComparison.Ordinal);
        Assert.Contains("is gone", With(gate with { Inputs = ["x"] }), StringComparison.Ordinal);
        Assert.Contains("asks for 3 of 2", With(gate with { Kind = "vote", Least = 3 }), StringComparison.Ordinal);
        Assert.Contains("nothing at its top", Of(tree with { Top = "" }).Problem, StringComparison.Ordinal);
    }
}
