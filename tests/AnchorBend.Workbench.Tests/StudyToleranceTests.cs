using AnchorBend.Exploration;
using AnchorBend.Modeling.Documents;
using AnchorBend.Workbench.Studies;

namespace AnchorBend.Workbench.Tests;

/// <summary>Tolerances of the model, what attempts of a search stand, when enough is known, and what runs keep.</summary>
public sealed class StudyToleranceTests : LaggingStudies
{
    static ModelDocument Toleranced(StudyNode study, double? correlation = null) =>
        Lagging(study) with
        {
            Tolerances = new()
            {
                ["a"] = new ToleranceNode
                {
                    Target = "l.k",
                    Values = "± 50 %",
                    Group = correlation is null ? null : "g",
                },
                ["b"] = new ToleranceNode
                {
                    Target = "l.T",
                    Values = "± 0.2 s",
                    Group = correlation is null ? null : "g",
                    Order = 1,
                },
            },
            ToleranceGroups = correlation is { } c
                ? new()
                {
                    ["g"] = new ToleranceGroupNode { Name = "One batch", Correlation = c },
                }
                : [],
        };

    static StudyDesignNode Draws(int count) => new() { Draws = count, HasTolerances = true };

    [Fact]
    public void A_study_draws_what_the_model_says_beside_its_own_factors()
    {
        var job = Ended(Begun(Toleranced(Study(("s.height", "1, 2")) with { Design = Draws(50) })));
        var all = job.ResultsSince(0);
        Assert.Equal(["Inflow.height", "Level.k", "Level.T"], all.Factors.Select(f => f.Name));
        Assert.Equal(100, all.Rows.Count);
        Assert.All(all.Rows, r => Assert.InRange(r.Numbers[1]!.Value, 2, 6));
        foreach (var r in all.Rows.Take(10))
            Assert.Equal(Last(r.Numbers[1]!.Value, r.Numbers[0]!.Value, r.Numbers[2]!.Value), r.Measures[0]!.Value, 1e-4);
        // Taking a row takes its drawn values too.
        Assert.Contains("/definitions/main/parts/l/parameters/T", StudyWork.Applied(job, 3, job.Document).Select(o => o.Path));
    }

    [Fact]
    public void A_factor_of_the_study_goes_before_a_tolerance_of_the_same_value()
    {
        var job = Ended(Begun(Toleranced(Study(("l.k", "3")) with { Design = Draws(20) })));
        Assert.Equal(["Level.k", "Level.T"], job.Columns.Factors.Select(f => f.Name));
        Assert.All(job.ResultsSince(0).Rows, r => Assert.Equal(3, r.Numbers[0]));
    }

    [Theory]
    [InlineData("grid")]
    [InlineData("latin")]
    public void Values_of_one_batch_go_together(string kind)
    {
        var study = Study(("s.height", "1, 2")) with { Design = Draws(200) with { Kind = kind, Runs = 200 } };
        var rows = Ended(Begun(Toleranced(study, 1))).ResultsSince(0).Rows;
        Assert.All(rows, r => Assert.Equal((r.Numbers[1]!.Value - 2) / 4, (r.Numbers[2]!.Value - 0.8) / 0.4, 1e-9));
    }

    [Fact]
    public void Groups_that_cannot_be_and_limits_that_are_not_there_are_told()
    {
        var three = Toleranced(Study(), -0.9);
        three.Tolerances["c"] = new ToleranceNode
        {
            Target = "s.height",
            Values = "± 1",
            Group = "g",
        };
        var session = bench.Models.Session(bench.Create(three));
        Assert.Contains("cannot have a correlation", StudyWork.Tolerances(session, default).Problem, StringComparison.Ordinal);
        three.Tolerances["c"] = new ToleranceNode { Target = "s.height", Values = "limits" };
        session = bench.Models.Session(bench.Create(three));
        var told = StudyWork.Tolerances(session, default);
        Assert.Contains("no two limits", told.Tolerances.Single(t => t.Id == "t~c").Problem, StringComparison.Ordinal);
        Assert.Null(told.Tolerances.Single(t => t.Id == "t~a").Problem);
    }

    [Fact]
    public void The_limits_of_a_sheet_are_a_tolerance()
    {
        var document = Lagging(Study() with { Design = Draws(100) }) with
        {
            Sheets = new()
            {
                ["sh"] = new SheetNode
                {
                    Name = "Sizes",
                    Chooser = "size",
                    Active = "\"one\"",
                    Columns = new() { ["c"] = new ColumnNode { Name = "one" } },
                    Rows = new()
                    {
                        ["r"] = new RowNode
                        {
                            Name = "lag",
                            Unit = "s",
                            Minimum = "0.5",
                            Maximum = "2",
                            Values = new() { ["c"] = "1" },
                        },
                    },
                },
            },
            Tolerances = new()
            {
                ["a"] = new ToleranceNode { Target = "lag", Values = "limits" },
            },
        };
        document.Main.Parts["l"].Parameters["T"] = "lag";
        var rows = Ended(Begun(document)).ResultsSince(0).Rows;
        Assert.All(rows, r => Assert.Equal(Last(4, 2, r.Numbers[0]!.Value), r.Measures[0]!.Value, 1e-4));
        Assert.True(rows.Min(r => r.Numbers[0]) is >= 0.5 and < 0.6);
        Assert.True(rows.Max(r => r.Numbers[0]) is > 1.9 and <= 2);
    }

    [Fact]
    public void An_attempt_that_stands_the_corners_is_as_good_as_its_worst_run()
    {
        // |final − 3| is least in the worst case where the ends of the height, 1.8 and 2.2, miss 3 by the same: k (1 − 1/e) · 2 = 3.
        var study = Study(("l.k", "0.1:10"), ("s.height", "2 ± 0.2")) with
        {
            Search = new StudySearchNode
            {
                Goal = "abs(final(Level.y) - 3)",
                Method = "simplex",
                Runs = 160,
                Under = "corners",
                KeepsRequirements = false,
            },
        };
        var job = Ended(Begun(Lagging(study)));
        var best = job.Best!;
        Assert.Equal(3 / (2 * (1 - Math.Exp(-1))), job.Row(best.Index)[0].Number!.Value, 2e-3);
        Assert.Equal(0.3, best.Measures[^1]!.Value, 2e-3);
        var rows = job.ResultsSince(0).Rows.OrderBy(r => r.Row).ToList();
        Assert.All(rows.Chunk(2), pair => Assert.Equal(["1.8", "2.2"], pair.Select(r => r.Cells[1])));
        Assert.All(rows.Chunk(2), pair => Assert.Equal(pair[0].Cells[0], pair[1].Cells[0]));
        // Only what was searched is taken into the model.
        Assert.Equal("/definitions/main/parts/l/parameters/k", Assert.Single(StudyWork.Applied(job, best.Index, job.Document)).Path);
    }

    [Fact]
    public void A_search_says_what_it_cannot_stand()
    {
        var search = new StudySearchNode
        {
            Goal = "final(Level.y)",
            Under = "corners",
            Runs = 50,
        };
        string Told(params (string, string)[] factors) =>
            Assert.Throws<ExplorationException>(() => Begun(Lagging(Study(factors) with { Search = search }))).Message;
        Assert.Contains("nothing that each attempt", Told(("l.k", "1:2")), StringComparison.Ordinal);
        var many = Enumerable.Range(0, 7).Select(_ => ("l.k", "± 5 %")).ToArray();
        Assert.Contains("128 runs", Told(many), StringComparison.Ordinal);
    }

    [Fact]
    public void A_study_ends_by_itself_as_soon_as_the_share_is_decided_and_goes_on_if_wanted()
    {
        // All meet the limit of 6 with a gain below 3 / (1 − 1/e) = 4.7.
        var study = Study(("l.k", "uniform(1, 4)")) with
        {
            WantedYield = 0.9,
            Design = new StudyDesignNode { Draws = 400, Ending = "decided" },
        };
        var job = Ended(Begun(Lagging(study)));
        Assert.InRange(job.View().Done, 50, 50 + 2 * Environment.ProcessorCount);
        Assert.Contains("decided", job.ResultsSince(0).Ended, StringComparison.Ordinal);
        bench.Studies.Put(job.Id, StudyState.Running);
        Ended(job);
        Assert.Equal(400, job.View().Done);
    }

    [Fact]
    public void A_study_ends_when_its_share_is_known_well_enough()
    {
        var study = Study(("l.k", "uniform(1, 9)")) with
        {
            Design = new StudyDesignNode
            {
                Draws = 1000,
                Ending = "known",
                Within = 0.1,
            },
        };
        var job = Ended(Begun(Lagging(study)));
        Assert.InRange(job.View().Done, 100, 150 + 2 * Environment.ProcessorCount);
        Assert.Contains("as well as wanted", job.ResultsSince(0).Ended, StringComparison.Ordinal);
    }

    [Theory]
    [InlineData("sheets", 1)]
    [InlineData("all", 2)]
    [InlineData("none", 0)]
    public void Runs_keep_courses_and_a_band_shows_where_they_lie(string keeps, int least)
    {
        var document = Lagging(Study(("l.k", "1:5:5")) with { Keeps = keeps }) with
        {
            PlotSheets = new()
            {
                ["p"] = new PlotSheetNode
                {
                    Name = "One",
                    Tiles = new() { ["t"] = new TileNode { Curves = new() { ["c"] = new CurveNode { Signal = "l.y" } } } },
                },
            },
        };
        var job = Ended(Begun(document));
        var design = Work.Design(bench.Models.Session(job.ModelId), "t", 0, 10, default);
        Assert.True(design.KeptSignals >= least);
        Assert.Equal(design.KeptSignals * 5L * 401 * 8, design.KeptBytes);
        Assert.True(SpinWait.SpinUntil(() => bench.StudyStore.Results(job.Id).Count == 5, 10_000));
        var found = Work.Bands(job, [0, 1, 4], ["l.y", "s.y"]);
        if (keeps == "none")
        {
            Assert.NotNull(found.Problem);
            return;
        }

        Assert.Equal(keeps == "all" ? 2 : 1, found.Bands.Count);
        var band = found.Bands.Single(b => b.Signal == "l.y");
        Assert.Equal((3, 401), (found.Runs, band.Times.Count));
        Assert.Equal(Last(1, 2, 1), band.Least[^1], 1e-4);
        Assert.Equal(Last(2, 2, 1), band.Median[^1], 1e-4);
        Assert.Equal(Last(5, 2, 1), band.Largest[^1], 1e-4);
        Assert.Equal(10 * (1 - Math.Exp(-0.5)), band.Largest[200], 1e-3);
    }

    [Theory]
    [InlineData("Level.k,Inflow.height\n3,1\n4,2", "3", "1")]
    [InlineData("Inflow.height;note;Level.k, 1\n1;first;3\n2;second;4", "3", "1")]
    [InlineData("3\t1\n4\t2", "3", "1")]
    public void Rows_of_a_file_come_under_their_names_or_in_their_order(string text, string gain, string height)
    {
        var document = Lagging(Study(("l.k", "1, 2"), ("s.height", "1, 2")));
        var session = bench.Models.Session(bench.Create(document));
        var action = StudyWork.RowsOf(session, "t", System.Text.Encoding.UTF8.GetBytes(text), default);
        var rows = action.Operations[0].Value!.AsArray();
        Assert.Equal(2, rows.Count);
        Assert.Equal(gain, rows[0]!["values"]!["f0"]!.GetValue<string>());
        Assert.Equal(height, rows[0]!["values"]!["f1"]!.GetValue<string>());
        Assert.Throws<DocumentException>(() => StudyWork.RowsOf(session, "t", "Level.k\n"u8.ToArray(), default));
    }

    [Fact]
    public void A_bare_number_in_a_row_is_meant_in_the_unit_of_its_factor()
    {
        var study = Study(("l.T", "500 ms, 1000 ms")) with
        {
            Design = new StudyDesignNode { Kind = "own" },
            Rows = [new StudyRowNode { Values = new() { ["f0"] = "800" } }],
        };
        var row = Ended(Begun(Lagging(study))).ResultsSince(0).Rows[0];
        Assert.Equal(Last(4, 2, 0.8), row.Measures[0]!.Value, 1e-5);
    }

    [Fact]
    public void A_map_has_lines_of_one_value()
    {
        var job = Ended(Begun(Lagging(Study(("l.k", "1:5:5"), ("s.height", "1, 2, 3")))));
        var map = new StudyAnalysis(job, new HashSet<int>()).Chart(
            new StudyChartNode
            {
                Kind = "map",
                X = "factor:f0",
                Y = "factor:f1",
                Z = "measure:m",
            }
        );
        Assert.NotEmpty(map.Lines);
        // Between two heights the value goes straight with the gain, so a line lies where k h (1 − 1/e) is its level.
        foreach (var line in map.Lines)
            for (var i = 0; i < line.X.Count; i++)
                if (line.Y[i] == Math.Round(line.Y[i]))
                    Assert.Equal(line.Level, Last(1 + line.X[i], 1 + line.Y[i], 1), 1e-3);
    }
}
