using AnchorBend.Modeling.Documents;
using AnchorBend.Workbench.Cases;
using AnchorBend.Workbench.Coverage;
using AnchorBend.Workbench.Models;
using AnchorBend.Workbench.Studies;
using static AnchorBend.Tests.Diagrams;

namespace AnchorBend.Workbench.Tests;

/// <summary>From a hole in coverage to the case that closes it: what a run must come to, the search for one, the case.</summary>
public sealed class ClosedHoleTests : IDisposable
{
    readonly Bench bench = new();

    public void Dispose()
    {
        bench.Studies.Dispose();
        bench.Cases.Dispose();
        bench.Workers.Dispose();
        bench.RunStore.Dispose();
    }

    /// <summary>A level between limits of ±1, with one case that comes by neither.</summary>
    static ModelDocument Limited() =>
        new DiagramDefinition
        {
            Name = "Basin",
            Parts = new() { ["s"] = Part("Constant", "Swell 1", ("k", "0.5")), ["l"] = Part("Saturation", "Stops") },
            Wires = new() { ["w"] = Wire("s.y", "l.u") },
        }.AsModel() with
        {
            Settings = new RunSettings { End = "1 s", Live = false },
            Cases = new() { ["a"] = new CaseNode { Name = "Small" } },
        };

    CoverageView Covered(ModelSession session)
    {
        bench.Cases.Start(session, null, CaseChoice.All, default);
        Assert.True(SpinWait.SpinUntil(() => bench.Cases.View(session).Suite!.State == SuiteState.Finished, 30_000));
        return bench.Cases.Coverage(session, default);
    }

    static CoverageSide Side(CoverageView view, string words) => view.Points.SelectMany(p => p.Sides).Single(s => s.Words == words);

    [Fact]
    public void A_hole_says_what_a_run_must_come_to_in_names_of_the_whole_model()
    {
        var view = Covered(bench.Models.Session(bench.Create(Limited())));
        Assert.Equal("Stops.u > Stops.upper", Side(view, "input never above upper limit").Reach);
        Assert.Equal(
            "(not Stops.u > Stops.upper) and (eventually (Stops.u > Stops.upper))",
            Side(view, "input never rises past upper limit").Reach
        );
        Assert.Equal(
            "(Stops.u > Stops.upper) and (eventually (not Stops.u > Stops.upper))",
            Side(view, "input never falls past upper limit").Reach
        );
        // What was seen asks for nothing.
        Assert.All(view.Points.SelectMany(p => p.Sides).Where(s => s.Count > 0), s => Assert.Null(s.Reach));
    }

    [Fact]
    public void A_search_for_it_finds_a_run_that_becomes_a_case_and_closes_the_hole()
    {
        const string words = "input never above upper limit";
        var id = bench.Create(Limited());
        var session = bench.Models.Session(id);
        var reach = Side(Covered(session), words).Reach;
        var document = Limited() with
        {
            Studies = new()
            {
                ["t"] = new StudyNode
                {
                    Name = "Closes it",
                    Factors = new()
                    {
                        ["f"] = new StudyFactorNode { Target = "s.k", Values = "-2:2" },
                    },
                    Search = new StudySearchNode
                    {
                        Reach = reach,
                        Worst = "",
                        Runs = 40,
                        EndsWhenMissed = true,
                    },
                },
            },
        };
        session = bench.Models.Session(bench.Create(document));
        var job = bench.Studies.Find(bench.Studies.Start(session, "t", default).Id);
        Assert.True(SpinWait.SpinUntil(() => job.View().State == StudyState.Finished, 60_000));
        var row = Enumerable.Range(0, job.View().Rows).First(r => FactorText.NumberIn(job.Row(r)[0].Text, "") > 1);
        // The model itself has no such requirement.
        Assert.Empty(session.Document.Requirements);
        var made = FoundCase.Of(session.Document, "Found", [("s.k", job.Row(row)[0].Text)], null);
        bench.Edit(session.Id, [.. made.Operations]);
        Assert.True(Side(Covered(session), words).Count > 0);
    }

    [Theory]
    [InlineData("if u > 1 then 1 else 0", "Own.u > 1")]
    [InlineData("if abs(u - k) > 1 then 1 else 0", "abs(Own.u - Own.k) > 1")]
    [InlineData("if sum({u, u}) > 1 then 1 else 0", null)]
    public void What_cannot_be_said_of_one_instant_is_not_searched_for(string equation, string? reach)
    {
        var document = new DiagramDefinition
        {
            Name = "Basin",
            Parts = new() { ["s"] = Part("Constant", "Swell", ("k", "0.5")), ["o"] = Part("Own", "Own") },
            Wires = new() { ["w"] = Wire("s.y", "o.u") },
        }
            .AsModel()
            .With(
                "own",
                new TextDefinition
                {
                    Name = "Own",
                    Text = $"block Own \"Own\" input Real u; output Real y; parameter Real k = 0; equation y = {equation}; end Own;",
                }
            ) with
        {
            Settings = new RunSettings { End = "1 s", Live = false },
            Cases = new() { ["a"] = new CaseNode { Name = "Small" } },
        };
        var view = Covered(bench.Models.Session(bench.Create(document)));
        Assert.Equal(reach, view.Points.Single(p => p.Kind == "decision").Sides.Single(s => s.Count == 0).Reach);
    }
}
