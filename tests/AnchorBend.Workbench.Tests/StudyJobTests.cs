using AnchorBend.Exploration;
using AnchorBend.Modeling.Documents;
using AnchorBend.Workbench.Models;
using AnchorBend.Workbench.Runs;
using AnchorBend.Workbench.Studies;
using static AnchorBend.Tests.Diagrams;

namespace AnchorBend.Workbench.Tests;

public sealed class StudyJobTests : LaggingStudies
{
    [Fact]
    public void All_combinations_are_run_and_judged()
    {
        var job = Ended(Begun(Lagging(Study(("l.k", "1:4:4"), ("l.T", "500 ms, 1000 ms")))));
        var all = job.ResultsSince(0);
        Assert.Equal(8, all.Rows.Count);
        Assert.Equal(["Level.k", "Level.T"], all.Factors.Select(f => f.Name));
        Assert.Equal("ms", all.Factors[1].Unit);
        foreach (var row in all.Rows)
        {
            var wanted = Last(row.Numbers[0]!.Value, 2, row.Numbers[1]!.Value / 1000);
            Assert.Equal(wanted, row.Measures[0]!.Value, 1e-5);
            Assert.Equal(wanted <= 6, row.Met[0]);
            Assert.Equal(6 - wanted, row.Margins[0]!.Value, 1e-5);
        }

        Assert.Equal(1, all.Job.Missed);
        Assert.Empty(job.ResultsSince(all.Job.Changes).Rows);
    }

    [Fact]
    public void Rows_that_are_off_or_break_a_condition_are_not_run()
    {
        var study = Study(("l.k", "1, 2, 3"), ("s.height", "1, 2")) with { Off = [2], Conditions = ["'Level.k' * 'Inflow.height' < 5"] };
        study = study with
        {
            Conditions = ["Level.k * Inflow.height < 5"],
            Rows =
            [
                new StudyRowNode
                {
                    Values = new() { ["f0"] = "7 ", ["f1"] = "0.5" },
                },
            ],
        };
        var job = Ended(Begun(Lagging(study)));
        var rows = job.ResultsSince(0).Rows.OrderBy(r => r.Number).ToList();
        Assert.Equal([1, 3, 4, 5, 7], rows.Select(r => r.Number));
        Assert.Equal(Last(7, 0.5, 1), rows[^1].Measures[0]!.Value, 1e-5);
        var design = Work.Design(bench.Models.Session(job.ModelId), "t", 0, 100, default);
        Assert.Equal((6, 5, 1), (design.Total, design.Runs, design.LeftOut));
        Assert.Equal([true, false, true, true, true, true], design.Rows.Select(r => r.IsOn));
        Assert.True(design.Rows[^1].IsOwn);
    }

    [Fact]
    public void A_paused_study_goes_on_where_it_was_and_runs_no_row_twice()
    {
        var job = Begun(Lagging(Study(("l.k", "1:9:300"))));
        SpinWait.SpinUntil(() => job.View().Done > 5, 10_000);
        bench.Studies.Put(job.Id, StudyState.Paused);
        Ended(job, StudyState.Paused);
        var done = job.View().Done;
        Assert.InRange(done, 1, 299);
        bench.Studies.Put(job.Id, StudyState.Running);
        Ended(job);
        Assert.Equal(300, job.ResultsSince(0).Rows.Select(r => r.Row).Distinct().Count());
        Assert.Equal(300, job.ResultsSince(0).Rows.Count);
    }

    [Fact]
    public void After_the_program_was_killed_a_study_goes_on_with_what_it_had_not_run()
    {
        var document = Lagging(Study(("l.k", "1:9:40")));
        var store = new MemoryStudyStore();
        store.Put(new StoredStudy("run", "m", "t", 0, document.ToJson(), StudyState.Running, 0, DateTime.UtcNow, [], 3));
        store.Add("run", [.. Enumerable.Range(0, 25).Select(i => new StudyResult(i, [-1.0], [new(true, 1)], null))]);
        bench = new Bench(store);
        bench.Studies.Begin();
        var job = Ended(bench.Studies.Find("run"));
        bench.Studies.Dispose();
        Assert.Equal(40, store.Results("run").Count);
        Assert.All(store.Written, w => Assert.Equal(1, w.Value));
        Assert.All(store.Results("run").Take(25), r => Assert.Equal(-1, r.Measures[0]));
        Assert.Equal(Last(9, 2, 1), store.Results("run")[39].Measures[0]!.Value, 1e-5);
        Assert.Equal(StudyState.Finished, Assert.Single(store.List(null)).State);
    }

    [Fact]
    public void A_row_that_fails_says_why_and_is_run_again_alone()
    {
        var job = Ended(Begun(Lagging(Study(("l.T", "1 s, 0 s, nonsense, 2 s")))));
        var rows = job.ResultsSince(0).Rows.OrderBy(r => r.Row).ToList();
        Assert.Equal([false, true, true, false], rows.Select(r => r.IsFailed));
        Assert.Contains("nonsense", rows[2].Problem, StringComparison.Ordinal);
        Assert.True(SpinWait.SpinUntil(() => bench.StudyStore.Results(job.Id).Count == 4, 30_000));
        bench.Studies.Again(job.Id);
        Ended(job);
        Assert.Equal(2, job.View().Failed);
        // A run that fails meets nothing: it counts in every share.
        Assert.Equal(0.5, new StudyAnalysis(job, new HashSet<int>()).Summary().Yield!.Share);
        SpinWait.SpinUntil(() => bench.StudyStore.Written.GetValueOrDefault(1) == 2, 5000);
        Assert.Equal([1, 2, 2, 1], Enumerable.Range(0, 4).Select(i => bench.StudyStore.Written[i]));
    }

    [Theory]
    [InlineData("", "Nothing varies", false)]
    [InlineData("l.k", "Values are needed", true)]
    [InlineData("l.zeal", "no parameter", true)]
    public void A_study_without_rows_says_what_is_missing(string target, string told, bool hasFactor)
    {
        var study = hasFactor ? Study((target, target == "l.k" ? "" : "1, 2")) : Study();
        var refused = Assert.Throws<ExplorationException>(() => Begun(Lagging(study)));
        Assert.Contains(told, refused.Message, StringComparison.Ordinal);
    }

    [Fact]
    public void Faults_stimuli_and_the_end_of_runs_vary_like_parameters()
    {
        var document = Lagging(Study((RowSettings.End, "1 s, 2 s"), ("#fault:x", "off, on")));
        document.Faults["x"] = new FaultNode
        {
            Name = "Dry",
            Signal = "s.y",
            Kind = FaultKind.Bias,
            Value = "1",
        };
        var rows = Ended(Begun(document)).ResultsSince(0).Rows.OrderBy(r => r.Row).ToList();
        Assert.Equal([null, null, null, null], rows.Select(r => r.Problem));
        Assert.Equal(8 * (1 - Math.Exp(-1)), rows[0].Measures[0]!.Value, 1e-4);
        Assert.Equal(12 * (1 - Math.Exp(-1)), rows[1].Measures[0]!.Value, 1e-4);
        Assert.Equal(8 * (1 - Math.Exp(-2)), rows[2].Measures[0]!.Value, 1e-4);
    }

    [Fact]
    public void Two_laws_of_a_part_are_run_side_by_side()
    {
        var document = Lagging(Study(("e.y", "4*sqrt(u[1]), 0.01*u[1]")));
        document.Main.Parts["e"] = Part("Expression", "Law", ("n", "1"), ("y", "u[1]"));
        document.Main.Wires["v"] = Wire("s.y", "e.u[1]");
        document.Measures["m"] = new MeasureNode { Name = "Last", Expression = "final(Law.y)" };
        var rows = Ended(Begun(document)).ResultsSince(0).Rows.OrderBy(r => r.Row).ToList();
        Assert.Equal([null, null], rows.Select(r => r.Problem));
        Assert.Equal(4 * Math.Sqrt(2), rows[0].Measures[0]!.Value, 1e-9);
        Assert.Equal(0.02, rows[1].Measures[0]!.Value, 1e-9);
        Assert.Equal("4*sqrt(u[1])", rows[0].Cells[0]);
    }

    [Fact]
    public void A_search_finds_the_gain_and_its_values_become_an_edit()
    {
        // 2 k (1 − 1/e) is to be 3, so k is 3 / (2 (1 − 1/e)).
        var study = Study(("l.k", "0.1:10")) with
        {
            Search = new StudySearchNode
            {
                Goal = "abs(final(Level.y) - 3)",
                Method = "simplex",
                Runs = 80,
            },
        };
        var job = Ended(Begun(Lagging(study)));
        var best = job.Best!;
        Assert.Equal(3 / (2 * (1 - Math.Exp(-1))), job.Row(best.Index)[0].Number!.Value, 1e-3);
        Assert.NotNull(job.Search!.Ended);
        var improved = job.ResultsSince(0).Improved;
        Assert.Equal(best.Index, improved[^1].Row);
        Assert.Equal(improved.Select(i => i.Value).OrderDescending(), improved.Select(i => i.Value));
        var edit = Assert.Single(StudyWork.Applied(job, best.Index, job.Document));
        Assert.Equal("/definitions/main/parts/l/parameters/k", edit.Path);
        Assert.Equal(job.Row(best.Index)[0].Text, edit.Value!.GetValue<string>());
    }

    [Fact]
    public void A_search_that_was_broken_off_comes_to_the_same_runs()
    {
        var study = Study(("l.k", "0.1:10"), ("l.T", "0.2 s:4 s")) with
        {
            Search = new StudySearchNode
            {
                Goal = "abs(final(Level.y) - 3)",
                Method = "covariance",
                Runs = 60,
                Seed = 5,
            },
        };
        var document = Lagging(study);
        var whole = Ended(Begun(document)).ResultsSince(0).Rows.OrderBy(r => r.Row).ToList();
        var store = new MemoryStudyStore();
        store.Put(new StoredStudy("run", "m", "t", 0, document.ToJson(), StudyState.Running, 0, DateTime.UtcNow, [], 3));
        store.Add("run", [.. whole.Take(23).Select(r => new StudyResult(r.Row, r.Measures, [new(r.Met[0], r.Margins[0])], null))]);
        bench.Studies.Dispose();
        bench = new Bench(store);
        bench.Studies.Begin();
        var again = Ended(bench.Studies.Find("run")).ResultsSince(0).Rows.OrderBy(r => r.Row).ToList();
        Assert.Equal(whole.Select(r => string.Join(' ', r.Cells)), again.Select(r => string.Join(' ', r.Cells)));
        bench.Studies.Dispose();
        Assert.All(store.Written, w => Assert.Equal(1, w.Value));
    }

    [Fact]
    public void The_worst_case_lies_in_the_corner_where_the_margin_is_least()
    {
        var study = Study(("l.k", "± 10 %"), ("l.T", "1 s ± 0.2 s")) with
        {
            Search = new StudySearchNode
            {
                Worst = "",
                Method = "differential",
                Runs = 400,
            },
        };
        var job = Ended(Begun(Lagging(study)));
        Assert.Equal(6 - Last(4.4, 2, 0.8), job.Best!.Verdicts[0].Margin!.Value, 0.02);
    }

    [Fact]
    public void Tolerances_are_drawn_alike_for_every_row_and_judged_with_an_interval()
    {
        var study = Study(("s.height", "1, 2"), ("l.k", "± 50 %")) with
        {
            Design = new StudyDesignNode { Draws = 200, Seed = 3 },
        };
        var job = Ended(Begun(Lagging(study)));
        var rows = job.ResultsSince(0).Rows;
        Assert.Equal(400, rows.Count);
        Assert.Equal(
            rows.Where(r => r.Numbers[0] == 1).Select(r => r.Numbers[1]).Order(),
            rows.Where(r => r.Numbers[0] == 2).Select(r => r.Numbers[1]).Order()
        );
        var summary = new StudyAnalysis(job, new HashSet<int>()).Summary();
        // With a height of 2 the limit of 6 is met below k = 3 / (1 − 1/e), of 2 to 6; with 1 always.
        var share = (1 + (3 / (1 - Math.Exp(-1)) - 2) / 4) / 2;
        Assert.InRange(share, summary.Yield!.Low, summary.Yield.High);
        Assert.Equal(summary.Yield, summary.Requirements[0].Share);
        Assert.Equal("Inflow.height", summary.Requirements[0].Goes);
        Assert.Equal(400, summary.Measures[0].Spread!.Counts.Sum());
    }

    [Fact]
    public void Charts_show_trends_boxes_maps_and_weights()
    {
        var job = Ended(Begun(Lagging(Study(("l.k", "1:4:4"), ("s.height", "1, 2, 3")))));
        var analysis = new StudyAnalysis(job, new HashSet<int>());
        StudyChartNode Chart(string kind, string x, string y) =>
            new()
            {
                Kind = kind,
                X = x,
                Y = y,
                Fit = "line",
            };
        var trend = analysis.Chart(Chart("scatter", "factor:f0", "measure:m"));
        Assert.Equal(2 * 2.5 * (1 - Math.Exp(-1)), trend.Course[30].Y, 0.2);
        Assert.Equal(3, analysis.Chart(Chart("box", "factor:f1", "measure:m")).Boxes.Count);
        var cells = analysis.Chart(Chart("map", "factor:f0", "factor:f1") with { Z = "measure:m" }).Cells;
        Assert.Equal(12, cells.Count);
        Assert.Equal(Last(4, 3, 1), cells.Single(c => c is { X: 4, Y: 3 }).Value, 1e-5);
        var weights = analysis.Chart(Chart("weights", "", "measure:m"));
        Assert.Equal(["Level.k", "Inflow.height"], weights.Weights.Select(w => w.Label));
        Assert.True(weights.Weights[0].High > weights.Weights[0].Low);
        // Rows that are left out are in no figure.
        Assert.Equal(11, new StudyAnalysis(job, new HashSet<int> { 0 }).Summary().Measures[0].Spread!.Count);
        Assert.Throws<DocumentException>(() => analysis.Chart(Chart("scatter", "factor:gone", "run")));
    }

    [Fact]
    public void Shares_of_variance_are_those_of_a_product()
    {
        // y = k h · const with k and h even over 1…3: the shares are known, V = E k² E h² − (E k E h)².
        var study = Study(("l.k", "1:3"), ("s.height", "1:3")) with
        {
            Design = new StudyDesignNode { Kind = "shares", Runs = 256 },
        };
        var job = Ended(Begun(Lagging(study)));
        Assert.Equal(256 * 4, job.View().Rows);
        var weights = new StudyAnalysis(job, new HashSet<int>()).Chart(new StudyChartNode { Kind = "weights", Y = "measure:m" }).Weights;
        var (mean, square) = (2.0, 13.0 / 3);
        var whole = square * square - Math.Pow(mean, 4);
        var first = mean * mean * (square - mean * mean) / whole;
        Assert.All(weights, w => Assert.Equal(first, w.Share!.First, 0.05));
    }

    [Fact]
    public async Task Picked_rows_become_runs_to_look_at()
    {
        var job = Ended(Begun(Lagging(Study(("l.k", "1:4:4")))));
        var work = Work;
        var made = work.Overlay(job, [0, 3]).Runs;
        Assert.Equal([0, 3], made.Keys.Order());
        foreach (var (row, id) in made)
        {
            var run = bench.Runs.Find(id)!;
            await run.Finished;
            Assert.Equal(Last(row + 1, 2, 1), new RunResults(run).Range("l.y")!.Last, 1e-5);
            Assert.Contains($"Level.k {row + 1}", run.Label.Name, StringComparison.Ordinal);
        }

        Assert.Equal(2, bench.Runs.List(job.ModelId).Count);
        Assert.Throws<DocumentException>(() => work.Overlay(job, [17]));
    }

    [Fact]
    public void A_deleted_model_takes_its_studies_along()
    {
        var job = Begun(Lagging(Study(("l.k", "1:9:300"))));
        bench.Models.Delete(job.ModelId);
        Assert.Throws<NotFoundException>(() => bench.Studies.Find(job.Id));
        Assert.Empty(bench.StudyStore.List(null));
    }
}
