using AnchorBend.Modeling.Catalog;
using AnchorBend.Modeling.Documents;
using AnchorBend.Workbench.Cases;
using AnchorBend.Workbench.Models;
using AnchorBend.Workbench.Studies;
using static AnchorBend.Tests.Diagrams;

namespace AnchorBend.Workbench.Tests;

/// <summary>Points of a stimulus that vary, the search for what breaks a requirement, and what it found as a case.</summary>
public sealed class FoundCaseTests : IDisposable
{
    readonly Bench bench = new();

    public void Dispose()
    {
        bench.Studies.Dispose();
        bench.Cases.Dispose();
        bench.Workers.Dispose();
        bench.RunStore.Dispose();
    }

    /// <summary>An integrator that three points a second apart fill: at the end it is at (v1 + 2 v2 + v3) / 2.</summary>
    static ModelDocument Filled() =>
        new DiagramDefinition
        {
            Name = "Basin",
            Parts = new() { ["s"] = Part("Constant", "Inflow"), ["i"] = Part("Integrator", "Level") },
            Wires = new() { ["w"] = Wire("s.y", "i.u") },
        }.AsModel() with
        {
            Settings = new RunSettings
            {
                End = "2 s",
                Stimulus = "a",
                Live = false,
            },
            Requirements = new()
            {
                ["q"] = new RequirementNode
                {
                    Name = "Not over 3",
                    Signal = "i.y",
                    Limit = "3",
                },
            },
            Stimuli = new()
            {
                ["a"] = new StimulusNode
                {
                    Name = "Flood",
                    Tracks = new()
                    {
                        ["t"] = new TrackNode
                        {
                            Target = "s.y",
                            Times = [0, 1, 2],
                            Values = [0, 1, 0],
                        },
                    },
                },
            },
        };

    const string Middle = "#track:a:t:value:1";

    static ModelDocument With(string values, bool ends, int runs = 60) =>
        Filled() with
        {
            Studies = new()
            {
                ["t"] = new StudyNode
                {
                    Name = "Breaks it",
                    Factors = new()
                    {
                        ["f"] = new StudyFactorNode { Target = Middle, Values = values },
                    },
                    Search = new StudySearchNode
                    {
                        Worst = "q",
                        Runs = runs,
                        EndsWhenMissed = ends,
                    },
                },
            },
        };

    StudyJob Ended(ModelDocument document)
    {
        var session = bench.Models.Session(bench.Create(document));
        var job = bench.Studies.Find(bench.Studies.Start(session, "t", default).Id);
        Assert.True(SpinWait.SpinUntil(() => job.View().State == StudyState.Finished, 60_000));
        return job;
    }

    [Fact]
    public void A_point_of_a_stimulus_is_offered_with_bounds_and_read_in_its_unit()
    {
        var document = Filled();
        var offered = TrackPoint.Candidates(document).ToList();
        Assert.Equal(("Flood, value 2", "1", "0:1"), (offered[1].Label, offered[1].Present, offered[1].Values));
        var instant = offered.Single(c => c.Label.StartsWith("Flood, instant", StringComparison.Ordinal));
        Assert.Equal(("1 s", "0.5:1.5 s"), (instant.Present, instant.Values));
        Assert.Equal([0, -2.5, 0], RowSettings.Set(document, Middle, "-2.5").Stimuli["a"].Tracks["t"].Values);
        Assert.Equal([0, 0.25, 2], RowSettings.Set(document, instant.Target, "250 ms").Stimuli["a"].Tracks["t"].Times);
        Assert.Equal([0, 1, 0], document.Stimuli["a"].Tracks["t"].Values);
        foreach (
            var (target, text) in ((string, string)[])
                [(Middle, "much"), (Middle, "3 m"), (instant.Target, "3 s"), ("#track:a:t:value:9", "1")]
        )
            Assert.Throws<DocumentException>(() => RowSettings.Set(document, target, text));
    }

    [Fact]
    public void A_search_ends_with_the_first_run_that_misses_and_that_becomes_a_case()
    {
        // The level ends at 1 · v: above 3 it is missed.
        var job = Ended(With("0:9", true));
        var rows = job.ResultsSince(0);
        Assert.Equal("It has found a run that misses it.", rows.Ended);
        Assert.True(rows.Rows.Count < 60);
        var row = rows.Rows.First(r => r.Met[0] == false);
        Assert.Equal(3 - row.Numbers[0]!.Value, row.Margins[0]!.Value, 1e-6);

        var session = bench.Models.Session(job.ModelId);
        var made = FoundCase.Of(session.Document, "Found", [(Middle, row.Cells[0])], "q");
        bench.Edit(session.Id, [.. made.Operations]);
        var (id, node) = Assert.Single(session.Document.Cases);
        Assert.Equal(["q"], node.Requirements!);
        Assert.Equal([0, 1, 0], session.Document.Stimuli["a"].Tracks["t"].Values);
        Assert.Equal("Flood, Found", session.Document.Stimuli[node.Stimulus!].Name);
        var result = new CaseRun(session.Document, d => PartCatalog.Of(d), 0).Of(id, default);
        Assert.Equal(CaseOutcome.Failed, result.Outcome);
        Assert.Equal(row.Margins[0]!.Value, result.Requirements[0].Verdict.Margin!.Value, 1e-6);
    }

    [Fact]
    public void Where_nothing_misses_it_comes_near_the_least_margin()
    {
        var rows = Ended(With("0:2", true)).ResultsSince(0);
        Assert.DoesNotContain(rows.Rows, r => r.Met[0] == false);
        // The least margin is 1, with the largest value that it may have.
        Assert.InRange(rows.Rows.Min(r => r.Margins[0]!.Value), 1 - 1e-6, 1.05);
    }

    [Fact]
    public void Settings_of_a_row_become_those_of_the_case()
    {
        var document = Filled() with
        {
            Faults = new()
            {
                ["f"] = new FaultNode
                {
                    Name = "Doubled",
                    Kind = FaultKind.Gain,
                    Signal = "s.y",
                    Value = "2",
                },
            },
        };
        var made = FoundCase.Of(document, "Found", [("#end", "1 s"), ("#stimulus", "\"Flood\""), ("#fault:f", "on"), ("s.k", "4")], null);
        var session = bench.Models.Session(bench.Create(document));
        bench.Edit(session.Id, [.. made.Operations]);
        var node = Assert.Single(session.Document.Cases).Value;
        Assert.Equal(("1 s", "a", 2), (node.End, node.Stimulus, node.Values.Count));
        Assert.Null(node.Requirements);
        Assert.Single(session.Document.Stimuli);
    }
}
